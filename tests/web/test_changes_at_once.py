"""Several change one evaluation at the same time."""

from concurrent.futures import ThreadPoolExecutor, wait
from types import SimpleNamespace

import pytest
from sqlalchemy import select

from levelmoor.records import history
from levelmoor.records import tables as t


def test_an_answer_shows_what_another_kept_while_it_waited(signed_in, maker):
    at = signed_in.post("/evaluations", data={"product": "Mine"}).location
    with ThreadPoolExecutor(1) as hand:
        with maker.begin() as session:
            row = session.get(t.Evaluation, int(at.rsplit("/", 1)[1]), with_for_update=True)
            row.claims.append(t.Claim(quantity="swr", windows=[], limit=2.0))
            session.flush()
            answer = hand.submit(signed_in.post, f"{at}/cell/evaluation/{row.id}/rule", data={"value": "simple"})
            assert not wait([answer], 0.3).done
            new = f'id="wording-{row.claims[0].id}"'
        assert new in answer.result().text


@pytest.fixture
def coil(signed_in, maker):
    """Where a knob of a network is changed, how the page saw it before, and where what was changed is put back."""
    at = signed_in.post("/evaluations", data={"product": "Mine"}).location
    signed_in.post(f"{at}/tuner/networks", data={"kind": "t"})
    with maker() as session:
        row = session.get(t.Evaluation, int(at.rsplit("/", 1)[1]))
        seen = history.latest(session, row.team_id, row.id)
        knobs = f"{at}/tuner/networks/{row.networks[0].id}/knobs"

    def change(fact, value, seen=seen):
        return signed_in.post(f"{knobs}/{fact}", data={"value": value, "seen": seen}).status_code

    def put_back(field):
        with maker() as session:
            query = select(t.AuditEntry.id).where(t.AuditEntry.row_kind == "network", t.AuditEntry.field == field)
            entry = session.scalar(query.order_by(t.AuditEntry.id.desc()).limit(1))
        return signed_in.post(f"{at}/history/{entry}/restore")

    return SimpleNamespace(change=change, put_back=put_back)


@pytest.mark.parametrize("other", ["c_in/table", "coil/name"])
def test_two_facts_of_a_network_are_changed_from_one_look_at_it(coil, other):
    assert coil.change(other, "0 10; 100 250") == 200
    assert coil.change("coil/table", "0 0.2; 100 28") == 200


def test_the_same_fact_of_a_knob_is_not_written_over(coil):
    assert coil.change("coil/table", "0 0.3; 100 30") == 200
    assert coil.change("coil/table", "0 0.2; 100 28") == 422


def test_an_end_of_a_dial_is_not_put_back_behind_the_other(coil):
    for fact, value in (("high", "200"), ("low", "150")):
        assert coil.change(f"coil/{fact}", value, seen="") == 200
    refused = coil.put_back("coil high")
    assert refused.status_code == 409
    assert "the lower mark first" in refused.text


def test_a_table_that_was_put_back_is_read_again(coil):
    for table in ("0 0.3; 100 30", "0 0.2; 100 28"):
        assert coil.change("coil/table", table, seen="") == 200
    assert coil.put_back("coil table").status_code == 200
    assert coil.change("coil/name", "roller", seen="") == 200
