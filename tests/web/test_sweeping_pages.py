"""Readings, live and compare over HTTP: what is refused, and what a stranger's input does."""

import io
import json
from datetime import timedelta

import pytest

from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.readings import SheetPlace
from levelmoor.web.live.runs import VARIABLE
from tests.sweeps import rlc_sweep


@pytest.fixture
def case(signed_in, member, maker):
    """The address of an evaluation of one's own with two sweeps."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Wire")
        address = f"/e/{row.id}"
    for i, f0 in enumerate((7.1e6, 7.2e6)):
        sweep = rlc_sweep(6.6e6, 7.7e6, 201, f0=f0)
        data = {"files": (io.BytesIO(write_s1p(sweep).encode()), f"wire-{i}.s1p")}
        signed_in.post(f"{address}/sweeps", data=data, content_type="multipart/form-data")
    return address


def sheet_of(signed_in, case, maker):
    with maker() as session:
        return SheetPlace.on_bench(session.get(t.Evaluation, int(case.split("/")[-1])), ReadingKind.SWR)


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ("nonsense", "Invalid JSON"),
        ({"changes": [{"id": "1", "op": "burn", "reading": "a"}]}, "changes.0.op"),
        ({"changes": [{"id": "1", "op": "add", "reading": "x" * 99}]}, "changes.0.reading"),
        ({"changes": [{"id": "1", "op": "add", "reading": "a", "more": 1}]}, "changes.0.more"),
    ],
)
def test_changes_that_are_none_are_refused_with_their_place(signed_in, case, maker, body, words):
    address = f"{case}/readings/{sheet_of(signed_in, case, maker)}/changes"
    answer = signed_in.post(address, data=body if isinstance(body, str) else json.dumps(body))
    assert (answer.status_code, words in answer.json["problem"]) == (422, True)


def test_changes_are_told_back_by_their_own_ids(signed_in, case, maker):
    address = f"{case}/readings/{sheet_of(signed_in, case, maker)}/changes"
    change = {"id": "c1", "op": "add", "reading": "r1", "typed": {"frequency": "7.1", "swr": "1.5", "evil": "<b>"}}
    for _ in range(2):
        answer = signed_in.post(address, data=json.dumps({"changes": [change]}))
        assert answer.json["kept"] == ["c1"]
    assert answer.json["html"].count('data-reading="r1"') == 1
    assert "<b>" not in answer.json["html"].replace("<b>7", "").replace("<b>1", "")


def test_a_typed_text_that_is_markup_is_shown_as_text(signed_in, case, maker):
    address = f"{case}/readings/{sheet_of(signed_in, case, maker)}/changes"
    change = {"id": "c1", "op": "add", "reading": "r1", "typed": {"frequency": "<i>7</i>", "swr": "1"}}
    html = signed_in.post(address, data=json.dumps({"changes": [change]})).json["html"]
    assert "&lt;i&gt;7&lt;/i&gt;" in html
    assert "<i>7" not in html


@pytest.mark.parametrize(
    "query",
    [
        "",
        "?s=",
        "?s=999999",
        "?q=nonsense",
        "?view=77",
        "?low=1&high=0",
        "?low=x",
        "?against=999",
        "?plane=both&figure=each",
    ],
)
def test_a_comparison_answers_whatever_its_address_says(signed_in, case, query):
    assert signed_in.get(f"{case}/compare{query}").status_code == 200


@pytest.mark.parametrize("query", ["?figure=pie", "?plane=mars"])
def test_figures_and_planes_that_are_none_are_not_there(signed_in, case, query):
    assert signed_in.get(f"{case}/compare{query}").status_code == 404


def test_a_setup_is_not_copied_without_a_change(signed_in, case, maker):
    with maker() as session:
        row = session.get(t.Evaluation, int(case.split("/")[-1]))
        setup = row.bench_setup_id
    for data, words in (
        ({"fact": "height", "value": ""}, "Nothing is different"),
        ({"fact": "colour", "value": "red"}, "Choose what is different"),
    ):
        answer = signed_in.post(f"{case}/setups/{setup}/copy", data=data)
        assert (answer.status_code, words in answer.text) == (422, True)


@pytest.mark.parametrize(("form", "status"), [("s1p", 200), ("csv", 200), ("exe", 404)])
def test_sweeps_go_out_in_the_forms_there_are(signed_in, case, maker, form, status):
    with maker() as session:
        sweep = session.get(t.Evaluation, int(case.split("/")[-1])).sweeps[0].id
    assert signed_in.get(f"{case}/sweeps/{sweep}/as/{form}").status_code == status


# -- Live ----------------------------------------------------------------------------------------------------------


@pytest.fixture
def instrument(maker, member):
    with maker.begin() as session:
        row = t.Instrument(
            team_id=member.team_id, name="Live", address="127.0.0.1:10", driver="Generic one-port analyzer"
        )
        session.add(row)
        session.flush()
        return row.id


def test_without_the_installations_leave_nothing_is_reached(signed_in, case, instrument, monkeypatch):
    monkeypatch.delenv(VARIABLE, raising=False)
    answer = signed_in.get(f"{case}/live/{instrument}/stream?low=140&high=150&points=101")
    assert answer.mimetype == "text/event-stream"
    assert "not an address that this installation may reach" in answer.text
    assert signed_in.post(f"{case}/live/{instrument}/keep", data={"number": 1}).status_code == 404


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("low=x&high=150&points=5", "is not a frequency"),
        ("low=150&high=140&points=5", "lower to a higher"),
        ("points=1e9", "number of points"),
    ],
)
def test_a_span_that_is_none_is_refused(signed_in, case, instrument, monkeypatch, query, words):
    monkeypatch.setenv(VARIABLE, "127.0.0.1:10")
    assert words in signed_in.get(f"{case}/live/{instrument}/stream?{query}").text


def test_a_member_who_is_no_editor_does_not_change_what_is_reached(signed_in, case, instrument, member, maker):
    with maker.begin() as session:
        session.query(t.Membership).filter_by(team_id=member.team_id).one().role = "member"
    assert signed_in.post(f"/equipment/live/{instrument}", data={"address": "127.0.0.1:1"}).status_code == 403
    assert signed_in.post("/equipment/live/drivers", data={"commands": "{}"}).status_code == 403


def test_spots_of_the_team_are_kept_or_refused(signed_in, member, maker):
    with maker() as session:
        team = session.get(t.Team, member.team_id)
        form = {
            "name": team.name, "region": "1", "rule": "guarded", "profile": "radio-safe", "profile_limit": "2",
            "bench_rule": "stated", "age_limit_h": "24", "rebuild_min": "20", "calibration_min": "6", "sweep_min": "2",
            "spread_hz": "5",
        }  # fmt: skip
    assert signed_in.post("/team", data={**form, "spots": "145.500 calling; nonsense"}).status_code == 422
    assert signed_in.post("/team", data={**form, "spots": "145.600 repeater; 7090 kHz low power"}).status_code == 200
    with maker() as session:
        spots = session.get(t.Team, member.team_id).spots
    assert spots == [{"hz": 7.09e6, "name": "low power"}, {"hz": 145.6e6, "name": "repeater"}]


def test_a_sweep_of_swr_alone_has_no_phase_to_go_out_as_touchstone():
    scalar = Sweep(
        rlc_sweep(6.6e6, 7.7e6, 11).frequency_hz, rlc_sweep(6.6e6, 7.7e6, 11).magnitude.astype(complex), 50, True
    )
    with pytest.raises(ValueError, match="no phase"):
        write_s1p(scalar)


def test_instrument_in_another_teams_hands_is_not_followed_nor_kept_from(
    signed_in, case, instrument, maker, monkeypatch
):
    monkeypatch.setenv(VARIABLE, "127.0.0.1:10")
    with maker.begin() as session:
        session.merge(t.Lease(address="127.0.0.1:10", team_id=0, until=now() + timedelta(minutes=1), floor=0))
    try:
        assert "another team" in signed_in.get(f"{case}/live/{instrument}/stream").text
        for action in ("keep", "correction", "calibrate/open", "span"):
            answer = signed_in.post(f"{case}/live/{instrument}/{action}")
            assert (action, answer.status_code) == (action, 409)
            assert "another team" in answer.get_json()["problem"]
    finally:
        with maker.begin() as session:
            session.delete(session.get(t.Lease, "127.0.0.1:10"))
