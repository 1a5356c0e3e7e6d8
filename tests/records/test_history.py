"""The history: each change as the database takes it, who made it, and how it was before."""

from datetime import timedelta

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

from levelmoor.records import history, store
from levelmoor.records import tables as t
from levelmoor.records.audit import Actor


@pytest.fixture
def row(session, member):
    found = store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip")
    found.claims.append(t.Claim(quantity="swr", limit=2.0, windows=[{"low_hz": 7e6, "high_hz": 7.2e6, "name": "40m"}]))
    session.flush()
    session.info[history.ACTOR] = Actor("Ann", None, "127.0.0.1")
    yield found
    session.info.pop(history.ACTOR)


def told(session, row):
    """What the history says, the latest last: kind, thing, field, what it was and became."""
    found = reversed(history.entries(session, row.id))
    return [(e.kind, e.row_kind, e.field, e.old_value, e.new_value) for e in found]


CHANGES = {
    "a figure": (lambda r: setattr(r.claims[0], "limit", 1.5), ("change", "claim", "limit", 2.0, 1.5)),
    "a text": (lambda r: setattr(r, "notes", "Rain"), ("change", "evaluation", "notes", "", "Rain")),
    "the product": (lambda r: setattr(r.product, "maker", "Us"), ("change", "product", "maker", "", "Us")),
    "a condition": (
        lambda r: setattr(r.setups[0], "conditions", {"height": "6 m"}),
        ("change", "setup", "height", None, "6 m"),
    ),
    "a new one": (lambda r: r.samples.append(t.Sample(label="B")), ("addition", "sample", None, None, None)),
}


@pytest.mark.parametrize("name", CHANGES)
def test_every_change_is_told_with_what_it_was(session, row, name):
    change, expected = CHANGES[name]
    change(row)
    session.flush()
    assert told(session, row) == [expected]


def test_what_follows_from_others_and_what_nobody_does_is_not_told(session, row):
    row.card, row.worst_verdict = {"x": 1}, "pass"
    session.flush()
    with history.unnoted(session):
        row.notes = "taken in"
    assert told(session, row) == []


def test_a_field_is_put_back_and_that_is_a_change_of_its_own(session, row):
    row.setups[0].conditions = {"height": "6 m"}
    session.flush()
    row.setups[0].conditions = {"height": "9 m"}
    session.flush()
    history.put_back(session, history.entries(session, row.id)[0])
    session.flush()
    assert row.setups[0].conditions == {"height": "6 m"}
    assert told(session, row)[-1] == ("change", "setup", "height", "9 m", "6 m")


def test_what_was_changed_together_is_put_back_together(session, row):
    row.profile, row.profile_limit = "own", 2.5
    session.flush()
    entry = next(e for e in history.entries(session, row.id) if e.field == "profile")
    history.put_back(session, entry)
    assert (row.profile, row.profile_limit) == ("radio-safe", 2.0)


@pytest.mark.parametrize("seconds", [0, 90])
def test_what_another_act_changed_is_not_put_back_with_it(session, row, seconds, monkeypatch):
    row.profile, row.profile_limit = "own", 2.5
    session.flush()
    if not seconds:
        row.notes = "between the two"  # one second, two acts
        session.flush()
    later = history.now() + timedelta(seconds=seconds)
    monkeypatch.setattr(history, "now", lambda: later)
    row.profile_limit = 3.0
    session.flush()
    entry = history.entries(session, row.id)[0]
    history.put_back(session, entry)
    assert (row.profile, row.profile_limit) == ("own", 2.5)


def test_a_field_of_a_row_that_was_removed_is_not_put_back(session, row):
    second = t.Setup(name="Second", conditions={})
    row.setups.append(second)
    session.flush()
    second.name = "Third"
    session.flush()
    entry = history.entries(session, row.id)[0]
    second.deleted_at = row.created_at
    session.flush()
    with pytest.raises(history.CannotRestore, match="the setup was removed; restore it first"):
        history.put_back(session, entry)
    assert second.name == "Third"


def test_what_a_field_named_and_is_gone_keeps_it_from_being_put_back(session, row):
    second = t.Setup(name="Second", conditions={})
    row.setups.append(second)
    session.flush()
    row.claims[0].setup_id = second.id
    session.flush()
    row.claims[0].setup_id = None
    second.deleted_at = row.created_at
    session.flush()
    entry = next(e for e in history.entries(session, row.id) if e.field == "setup_id")
    with pytest.raises(history.CannotRestore, match="the setup it belonged to was removed"):
        history.put_back(session, entry)


def test_what_was_told_as_a_whole_once_is_not_put_back_over_its_facts(session, row):
    network = t.TunerNetwork(name="Inside", kind="t", knobs={"coil name": "Coil"}, q_source="")
    row.networks.append(network)
    session.flush()
    with pytest.raises(history.CannotRestore, match="write them again"):
        history._set(session, network, "knobs", [])


def test_a_later_change_is_found_for_its_own_cell_alone(session, row):
    claim = row.claims[0]
    seen = history.latest(session, row.team_id, row.id)
    claim.limit = 1.5
    session.flush()
    found = history.later_change(session, "claim", claim.id, ("limit",), seen)
    assert (found.who, found.new_value) == ("Ann", 1.5)
    assert history.later_change(session, "claim", claim.id, ("source",), seen) is None
    assert history.later_change(session, "claim", claim.id, ("limit",), found.id) is None


@pytest.mark.parametrize("act", ["UPDATE audit SET who = 'Nobody'", "DELETE FROM audit"])
def test_no_account_changes_the_history(session, row, act):
    row.notes = "Rain"
    session.flush()
    with pytest.raises(DBAPIError):
        session.execute(text(act))
