"""A tuner that was tried very often: its page shows a part of the trials, so that it comes as soon as any other."""

import re

import pytest

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.web.tuner.view import TRIALS_A_PART


@pytest.fixture
def tuner(signed_in, member, maker):
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Box")
        state = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id, "dials": [], "outcome": "matched"}
        row.trials.extend(
            t.Trial(**state, entry_id=f"n{n}", frequency_hz=7e6 + 1e3 * n, load="25 - j100", swr_after=1.2)
            for n in range(TRIALS_A_PART + 5)
        )
        session.flush()
        return f"/e/{row.id}/tuner"


@pytest.mark.parametrize(("part", "count"), [("1", TRIALS_A_PART), ("2", 5), ("9", 5), ("x", TRIALS_A_PART)])
def test_the_latest_come_first_and_the_others_in_parts(signed_in, tuner, part, count):
    page = signed_in.get(f"{tuner}?trials={part}").text
    assert len(re.findall(r"Remove the trial on", page)) == count
    assert 'aria-label="Parts of the trials"' in page


def test_a_change_shows_the_part_it_was_made_in(signed_in, tuner):
    page = signed_in.get(f"{tuner}?trials=2").text
    path = re.search(r'hx-post="([^"]*/trials/\d+/note)"', page)[1]
    headers = {"HX-Request": "true", "HX-Current-URL": f"http://localhost{tuner}?trials=2"}
    answer = signed_in.post(path, data={"value": "at dusk"}, headers=headers).text
    assert len(re.findall(r"Remove the trial on", answer)) == 5 and "at dusk" in answer
