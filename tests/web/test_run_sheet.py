"""The run sheet as it is printed, the plan's actions, and the team's own figures."""

import re
from dataclasses import replace

import pytest

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Equipment, Pad
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.plan import cautions
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.trials.trial_plan import trials_to_make
from levelmoor.records import tables as t
from levelmoor.services.on_paper import on_paper
from levelmoor.services.run_sheet import sheet_html, sheet_parts, sheet_pdf
from tests.core.plan.test_plan import CASE, EMISSION, SPECTRUM, TWENTY

ADDRESS = "http://127.0.0.1/e/1/plan/sheet"


def test_every_run_is_on_the_sheet_with_span_points_chain_room_and_a_code():
    plan = make_plan(CASE)
    html = sheet_html(plan, CASE, ADDRESS)
    todo = [r for r in plan.runs if not r.problem and not r.done_by]
    assert html.count('class="run"') == len(todo)
    assert html.count('class="code"') == len(todo)
    assert html.count('class="write"') == len(todo)
    assert html.count("calibrate at its end") == len(todo)
    for run in todo:
        for segment in run.segments:
            assert f"{segment.points} points" in html
    assert "counter(page)" in html
    assert "counter(pages)" in html


def test_without_an_address_runs_are_named_instead_of_coded():
    html = sheet_html(make_plan(CASE), CASE)
    assert 'class="code"' not in html
    assert make_plan(CASE).runs[0].key in html


def test_cautions_stand_where_each_thing_is_put_up():
    parts = sheet_parts(make_plan(CASE), CASE)
    assert len(parts) == 4
    assert all(cautions.RAISING in p.cautions for p in parts)
    tuned = replace(
        CASE,
        setups=(replace(CASE.setups[0], tuner_in_line=True),),
        claims=(Claim("1", Quantity.SWR, (TWENTY,), 2.0, tuner="with"),),
    )
    assert cautions.HIGH_VOLTAGE in sheet_parts(make_plan(tuned), tuned)[0].cautions


def test_emission_run_tells_the_pad_before_the_radio():
    case = replace(
        CASE, claims=(EMISSION,), instruments=(SPECTRUM,), equipment=Equipment(pads=(Pad("p", "forty", 40, 25),))
    )
    html = " ".join(sheet_html(make_plan(case), case).split())
    assert "pad forty" in html
    assert cautions.PAD_FIRST in html.replace("&#39;", "'")
    assert cautions.RAISING not in html


def test_what_people_typed_is_escaped():
    case = replace(CASE, title="<script>", samples=(replace(CASE.samples[0], label="<b>A</b>"),))
    html = sheet_html(make_plan(case), case, ADDRESS)
    assert "<script>" not in html
    assert "<b>A</b>" not in html


def test_paper_knows_no_variables():
    import base64

    image = on_paper('<svg xmlns="http://www.w3.org/2000/svg" class="lm-fig"><rect class="sky"/></svg>')
    svg = base64.b64decode(image.split("base64,")[1].split('"')[0]).decode()
    assert "var(" not in svg
    assert re.search(r"\n\.sky \{ fill: #\w+;", svg)


def test_plan_without_a_run_still_prints():
    assert sheet_pdf(make_plan(replace(CASE, claims=())), CASE).startswith(b"%PDF")


RANGED = Claim("r", Quantity.TUNER_RANGE, (TWENTY,), 1.5, stated="16 to 150 Ω")


def test_trials_of_a_tuner_are_on_the_sheet_each_with_its_box_and_the_caution():
    case = replace(CASE, claims=(RANGED,))
    html, each = sheet_html(make_plan(case), case), trials_to_make(case)
    assert html.count('<span class="box"></span></td>') == sum(len(trials.trials) for _, trials in each) > 0
    assert all(f"{load}</td>" in html for _, trials in each for load in trials.loads)
    assert all(f"{sample.label}: tuner trials" in html for sample, _ in each)
    assert "touches it or the end of the wire" in html
    assert "no run in the plan can be made" not in html


# -- Actions on the page ---------------------------------------------------------------------------------------------


@pytest.fixture
def planned(signed_in):
    """The address of an evaluation with a claim on two bands."""
    signed_in.post("/evaluations", data={"product": "Yard dipole"})
    address = "/e/" + signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0]
    signed_in.post(f"{address}/claims", data={"text": "SWR < 1.5 20m 2m"})
    return address


def keys(text):
    return re.findall(r'id="run-([^"]+)"', text)


def test_runs_are_dropped_restored_moved_and_put_back(signed_in, planned):
    before = keys(signed_in.get(f"{planned}/plan").data.decode())
    dropped = signed_in.post(f"{planned}/plan/run/drop", data={"key": before[1]}).data.decode()
    assert keys(dropped) == [before[0], before[2]]
    assert keys(signed_in.post(f"{planned}/plan/run/restore", data={"key": before[1]}).data.decode()) == before
    moved = keys(signed_in.post(f"{planned}/plan/run/up", data={"key": before[2]}).data.decode())
    assert moved == [before[0], before[2], before[1]]
    assert keys(signed_in.post(f"{planned}/plan/run/unordered").data.decode()) == before
    assert signed_in.post(f"{planned}/plan/run/explode").status_code == 404


def test_own_run_comes_and_goes(signed_in, planned, maker, member):
    with maker() as session:
        row = session.query(t.Evaluation).filter_by(team_id=member.team_id).one()
        sample, setup = (
            session.query(t.Sample).filter_by(evaluation_id=row.id).one().id,
            session.query(t.Setup).filter_by(evaluation_id=row.id).one().id,
        )
    data = {"sample_id": sample, "setup_id": setup, "low": "136", "high": "140"}
    added = signed_in.post(f"{planned}/plan/own", data=data).data.decode()
    (own,) = [k for k in keys(added) if k.endswith("136000-140000")]
    assert own not in keys(signed_in.post(f"{planned}/plan/run/remove", data={"key": own}).data.decode())
    assert signed_in.post(f"{planned}/plan/own", data={**data, "sample_id": "0"}).status_code == 422
    with maker() as session:
        session.get(t.Team, member.team_id).bands = [{"low_hz": 35e6, "high_hz": 35.2e6, "name": "Fell relay"}]
        session.commit()
    named = signed_in.post(f"{planned}/plan/own", data={**data, "low": "fell relay", "high": ""}).data.decode()
    assert [k for k in keys(named) if k.endswith("35000-35200")]


@pytest.mark.parametrize(
    ("name", "typed", "kept"), [("sweep_min", "3,5", 3.5), ("shift_hz", "12", 12e3), ("rbw_hz", "1", 1e3)]
)
def test_figures_are_kept_in_si_units(signed_in, planned, maker, member, name, typed, kept):
    assert signed_in.post(f"{planned}/plan/figure/{name}", data={"value": typed}).status_code == 200
    with maker() as session:
        row = session.query(t.Evaluation).filter_by(team_id=member.team_id).one()
        assert row.wishes[name] == kept


def test_figure_that_is_none_is_refused_and_nothing_is_kept(signed_in, planned, maker, member):
    answer = signed_in.post(f"{planned}/plan/figure/sweep_min", data={"value": "soon"})
    assert answer.status_code == 422
    assert "is not a number" in answer.data.decode()
    assert signed_in.post(f"{planned}/plan/figure/nothing", data={"value": "1"}).status_code == 404
    with maker() as session:
        assert session.query(t.Evaluation).filter_by(team_id=member.team_id).one().wishes == {}


def test_team_keeps_its_own_minutes_and_new_evaluations_reckon_with_them(signed_in, maker, member):
    form = {
        "name": member.team, "region": "1", "rule": "guarded", "profile": "strict", "profile_limit": "2", "bench_rule": "proven",
        "age_limit_h": "12", "rebuild_min": "35", "calibration_min": "6", "sweep_min": "2", "spread_hz": "4",
    }  # fmt: skip
    assert signed_in.post("/team", data=form).status_code == 200
    assert signed_in.post("/team", data={**form, "rebuild_min": "-1"}).status_code == 422
    signed_in.post("/evaluations", data={"product": "Antenna"})
    with maker() as session:
        row = session.query(t.Evaluation).filter_by(team_id=member.team_id).one()
        assert (row.bench_rule, row.age_limit_h) == ("proven", 12.0)
        assert session.get(t.Team, member.team_id).spread_hz == 4000
    address = "/e/" + signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0]
    assert 'value="35"' in signed_in.get(f"{address}/plan").data.decode()


def test_script_of_the_sheet_is_served_from_the_root(client):
    with client.get("/sheet-worker.js") as answer:
        assert answer.status_code == 200
        assert "javascript" in answer.content_type
