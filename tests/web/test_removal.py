"""Each removal says what it did, and is had back by the address that its answer names."""

import json

import pytest

from levelmoor.records import tables as t
from levelmoor.web.removal import REMOVABLE
from tests.web.whole_team import RULES, one_of_everything

HTMX = {"HX-Request": "true"}


@pytest.fixture
def everything(maker, member):
    """A team with one row of everything that can be removed: by kind its id, and the address that removes it."""
    with maker.begin() as session:
        team = session.get(t.Team, member.team_id)
        ids = one_of_everything(session, team, "Whip")
    home = f"/e/{ids['evaluation']}"
    places = {
        **{
            kind: f"{home}/remove/{kind}/{ids[kind]}"
            for kind in ("claim", "setting", "picture", "sweep", "sample", "setup")
        },
        "element": f"{home}/adjust/elements/{ids['element']}/remove",
        "adjustment": f"{home}/adjust/moves/{ids['adjustment']}/undone",
        "strip": f"{home}/adjust/strips/{ids['strip']}/remove",
        "comparison": f"{home}/compare/chosen/{ids['comparison']}/remove",
        "network": f"{home}/tuner/networks/{ids['network']}/remove",
        "through": f"{home}/through/sweeps/{ids['through']}/remove",
        "record": f"{home}/through/records/{ids['record']}/remove",
        "trial": f"{home}/tuner/trials/{ids['trial']}/remove",
        "width": f"{home}/adjust/widths/{ids['width']}/remove",
        "comment": f"{home}/comments/{ids['comment']}/remove",
        "capture": f"{home}/emissions/captures/{ids['capture']}/remove",
        "filter": f"{home}/emissions/filters/{ids['filter']}/remove",
        "file": f"{home}/sweeps/waiting/{ids['file']}/remove",
        "calibration": f"{home}/bench/calibrations/{ids['calibration']}/remove",
        "check": f"{home}/bench/checks/{ids['check']}/remove",
        "piece": f"/equipment/pad/{ids['piece']}/remove",
        "instrument": f"/equipment/instrument/{ids['instrument']}/remove",
        "driver": f"/equipment/live/drivers/{ids['driver']}/remove",
        "rules": f"/team/rules/{ids['rules']}/remove",
        "evaluation": f"/evaluations/{ids['evaluation']}/remove",
    }
    return {kind: (ids[kind], place) for kind, place in places.items()}


MODELS = {
    "claim": t.Claim, "setting": t.ArticleSetting, "picture": t.Picture, "sweep": t.Sweep, "capture": t.Capture,
    "filter": t.Filter, "file": t.PendingFile, "calibration": t.Calibration, "check": t.BenchCheck, "piece": t.Owned,
    "instrument": t.Instrument, "driver": t.Driver, "rules": t.RuleSet, "evaluation": t.Evaluation,
    "sample": t.Sample, "setup": t.Setup, "comment": t.Comment,
    "element": t.ArticleElement, "adjustment": t.Adjustment, "width": t.WidthReading, "strip": t.TimeStrip, "comparison": t.ChosenComparison,
    "network": t.TunerNetwork, "trial": t.Trial, "through": t.ThroughSweep, "record": t.FieldRecord,
}  # fmt: skip


def test_what_was_removed_is_had_back(signed_in, everything, maker):
    came = {}
    for kind, model in MODELS.items():
        ident, place = everything[kind]
        answer = signed_in.post(place, headers=HTMX)
        told = json.loads(answer.headers["HX-Trigger"])["removed"]
        with maker() as session:
            gone = session.get(model, ident).deleted_at is not None
        fresh = json.loads(signed_in.post(told["undo"], headers=HTMX).headers["HX-Trigger"])
        with maker() as session:
            last = session.query(t.AuditEntry).filter_by(kind="restored").order_by(t.AuditEntry.id.desc()).first()
            came[kind] = gone, fresh, session.get(model, ident).deleted_at, bool(last.what)
    assert came == dict.fromkeys(MODELS, (True, {"redraw": True}, None, True))


def test_editing_what_somebody_removed_says_so(signed_in, everything):
    ident, place = everything["claim"]
    signed_in.post(place, headers=HTMX)
    answer = signed_in.post(f"{place.split('/remove')[0]}/cell/claim/{ident}/limit", data={"value": "3"}, headers=HTMX)
    assert (answer.status_code, "was removed" in answer.text) == (422, True)


def test_what_stands_is_not_had_back(signed_in, everything):
    assert signed_in.post(f"/undo/claim/{everything['claim'][0]}").status_code == 404


def test_a_rule_set_gives_way_to_one_that_came_meanwhile(signed_in, everything, maker, member):
    ident, place = everything["rules"]
    signed_in.post(place, headers=HTMX)
    with maker.begin() as session:
        session.add(t.RuleSet(team_id=member.team_id, rule_id="ours", rules=RULES))
    answer = signed_in.post(f"/undo/rules/{ident}")
    assert (answer.status_code, "There is another ours now" in answer.text) == (409, True)


@pytest.mark.parametrize(("kind", "status"), [("rules", 403), ("driver", 403), ("claim", 200)])
def test_who_is_no_editor_has_back_what_members_remove(signed_in, everything, maker, member, kind, status):
    ident, place = everything[kind]
    signed_in.post(place, headers=HTMX)
    with maker.begin() as session:
        session.query(t.Membership).filter_by(team_id=member.team_id).one().role = "member"
    assert signed_in.post(f"/undo/{kind}/{ident}").status_code == status


def test_every_kind_that_can_be_removed_is_among_these():
    """A reading's removal and undo go by the sheet's own changes: tests/browser/test_nothing_lost.py."""
    assert set(MODELS) | {"reading"} == REMOVABLE


def test_what_is_had_back_brings_back_what_it_rests_on(signed_in, everything, maker):
    """A sweep was removed, and then the setup that it alone was swept in."""
    setup_id, setup_place = everything["setup"]
    sweep_id, sweep_place = everything["sweep"]
    with maker.begin() as session:
        session.get(t.Sweep, sweep_id).setup_id = setup_id
    kept = signed_in.post(setup_place, headers=HTMX)
    assert (kept.status_code, "rests on it, so it cannot be removed" in kept.text) == (422, True)
    signed_in.post(sweep_place, headers=HTMX)
    assert signed_in.post(setup_place, headers=HTMX).status_code == 200
    signed_in.post(f"/undo/sweep/{sweep_id}")
    with maker() as session:
        assert session.get(t.Setup, setup_id).deleted_at is None


def test_the_last_sample_stays(signed_in, everything, maker):
    _ident, place = everything["sample"]
    signed_in.post(place, headers=HTMX)
    home = place.split("/remove")[0]
    with maker() as session:
        first = session.query(t.Sample).filter_by(evaluation_id=int(home[3:]), deleted_at=None).one().id
    answer = signed_in.post(f"{home}/remove/sample/{first}", headers=HTMX)
    assert (answer.status_code, "needs at least one sample" in answer.text) == (422, True)


def test_a_captures_cell_that_another_changed_meanwhile_is_not_written_over(signed_in, everything, maker):
    """The page had seen the history up to where it went before the other's change."""
    ident, place = everything["capture"]
    cell = f"{place.removesuffix('/remove')}/mode"
    assert signed_in.post(cell, data={"value": "FM", "seen": "999999999"}, headers=HTMX).status_code == 200
    answer = signed_in.post(cell, data={"value": "SSB", "seen": "0"}, headers=HTMX)
    assert (answer.status_code, "changed this to FM in the meantime, so yours (SSB) was not saved" in answer.text) == (
        422,
        True,
    )
    with maker() as session:
        assert session.get(t.Capture, ident).mode == "FM"


def test_a_figure_of_the_plan_that_another_changed_meanwhile_is_not_written_over(signed_in, everything):
    ident, _place = everything["evaluation"]
    figure = f"/e/{ident}/plan/figure/rebuild_min"
    assert signed_in.post(figure, data={"value": "30", "seen": "999999999"}, headers=HTMX).status_code == 200
    answer = signed_in.post(figure, data={"value": "10", "seen": "0"}, headers=HTMX)
    assert (answer.status_code, "changed this to 30 in the meantime, so yours (10) was not saved" in answer.text) == (
        422,
        True,
    )


@pytest.mark.parametrize("kind", ["evaluation", "piece", "instrument", "calibration"])
def test_what_a_team_removed_is_had_back_from_its_record_for_good(signed_in, everything, kind):
    ident, place = everything[kind]
    signed_in.post(place, headers=HTMX)
    assert f'hx-post="/undo/{kind}/{ident}"' in signed_in.get("/team/record").text


def test_a_figure_of_a_piece_is_told_as_its_cell_writes_it(signed_in, everything):
    ident, _place = everything["instrument"]
    cell = f"/equipment/instrument/{ident}/high_hz"
    signed_in.post(cell, data={"value": "144.3125 MHz", "seen": "999999999"}, headers=HTMX)
    answer = signed_in.post(cell, data={"value": "900 MHz", "seen": "0"}, headers=HTMX).text
    assert 'data-value="144.3125 MHz"' in answer and ">144.3125 MHz</span>" in answer
