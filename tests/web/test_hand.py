"""The bench in hand: where it begins, and what others removed."""

import pytest

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.in_hand import in_hand
from levelmoor.records.sign_ins import begin


@pytest.fixture
def case(session, member):
    row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip")
    session.flush()
    return row


@pytest.fixture
def device(session, member):
    """A new device of the member's with each call."""
    user = session.query(t.User).filter_by(email=member.email).one()

    def made():
        begin(session, user, "127.0.0.1", "device")
        return session.query(t.SignIn).filter_by(user_id=user.id).order_by(t.SignIn.id.desc()).first()

    return made


def test_it_begins_as_the_evaluation_does(session, case, device):
    hand = in_hand(session, case, device())
    assert (hand.sample_id, hand.setup_id) == (case.samples[0].id, case.setups[0].id)


def test_a_new_device_begins_with_what_its_person_had_last(session, case, device):
    case.samples.append(t.Sample(label="Sample 2"))
    session.flush()
    hand = in_hand(session, case, device())
    hand.sample_id = case.samples[1].id
    session.add(hand)
    session.flush()
    assert in_hand(session, case, device()).sample_id == case.samples[1].id


def test_what_others_removed_is_in_nobodys_hand(session, case, device):
    setting = t.ArticleSetting(name="mark 2", windows=[])
    case.settings.append(setting)
    record = t.Calibration(team_id=case.team_id, instrument_id=case.bench_instrument_id, low_hz=1e6, high_hz=2e6)
    session.add(record)
    session.flush()
    here = device()
    hand = in_hand(session, case, here)
    hand.setting_id, hand.calibration, hand.calibration_id = setting.id, "at_plane", record.id
    session.add(hand)
    session.flush()
    record.deleted_at = setting.deleted_at = now()
    session.flush()
    session.expire(case, ["settings"])
    found = in_hand(session, case, here)
    assert (found.setting_id, found.calibration, found.calibration_id) == (None, "unstated", None)
