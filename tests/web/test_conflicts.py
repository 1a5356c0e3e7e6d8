"""A list that two people changed: both choices are told by what they are called, never by an id or a code."""

import re

import pytest

from levelmoor.records import history, store
from levelmoor.records import tables as t


@pytest.fixture
def case(maker, member, signed_in):
    """An evaluation with a sweep: its row's id, a second setup's id, and what everybody has seen so far."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Yard dipole")
        row.setups.append(t.Setup(name="From a branch"))
        session.flush()
        ids = {"sample": row.samples[0].id, "setup": row.setups[0].id}
        return row.id, ids, history.latest(session, row.team_id, row.id)


@pytest.mark.parametrize(
    ("kind", "name", "theirs", "mine", "said"),
    [
        ("sample", "obtained", "bought", "lent", ("bought by the team", "lent by its owner")),
        ("setup", "plane", "shack", "connector", ("the shack end of the feed line", "the sample&#39;s connector")),
        ("setup", "role", "comparison", "option", None),
    ],
)
def test_both_choices_are_told_in_words(signed_in, case, kind, name, theirs, mine, said):
    evaluation, ids, seen = case
    address = f"/e/{evaluation}/cell/{kind}/{ids[kind]}/{name}"
    headers = {"HX-Request": "true"}
    assert signed_in.post(address, data={"value": theirs}, headers=headers).status_code == 200
    if mine == "connector":  # it was that before, so another's change to it is no conflict
        signed_in.post(address, data={"value": "shack"}, headers=headers)
    answer = signed_in.post(address, data={"value": mine, "seen": seen}, headers=headers)
    values = re.findall(r'class="value">(.*?)</span>', answer.text, re.DOTALL)
    assert answer.status_code == 422
    assert len(values) == 2
    assert not {theirs, mine} & set(values)
    if said:
        assert tuple(values) == said
