"""Each removal says what it did, and is had back by the address that its answer names."""

import json
from dataclasses import asdict

import pytest

from levelmoor.core.model.rule_sets import shipped_rule_sets
from levelmoor.instruments.driver import shipped_drivers
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.captures import Circumstances, add_capture
from levelmoor.records.database import now
from levelmoor.records.raw_files import keep_raw
from levelmoor.web.removal import REMOVABLE

RAW = b"# MHz S RI R 50\n14 0.1 0\n14.1 0.1 0\n"
TWO_PORT = b"# MHz S RI R 50\n14 0 0 1 0 1 0 0 0\n15 0 0 1 0 1 0 0 0\n"
HTMX = {"HX-Request": "true"}
RULES = json.loads(json.dumps({**asdict(next(iter(shipped_rule_sets().values()))), "id": "ours"}))
COMMANDS = next(iter(shipped_drivers().values())).model_dump(mode="json")


@pytest.fixture
def everything(maker, member):
    """A team with one row of everything that can be removed: by kind its id, and the address that removes it."""
    with maker.begin() as session:
        team = session.get(t.Team, member.team_id)
        row = store.open_evaluation(session, team, "Whip")
        home, raw = f"/e/{row.id}", keep_raw(session, team.id, RAW)
        row.claims.append(t.Claim(quantity="swr", windows=[], limit=2.0))
        row.settings.append(t.ArticleSetting(name="mark 2", windows=[]))
        row.elements.append(t.ArticleElement(name="Whip", kind="whip", unit="cm", at=50.0, bands=[]))
        trip = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id, "round": 1}
        row.adjustments.append(t.Adjustment(**trip, moves=[], words="Whip: 1 cm shorter", made_at="2026-10-03T10:00"))
        place = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id}
        place["instrument_id"] = row.bench_instrument_id
        row.strips.append(t.TimeStrip(**place, kind="wind", wanted_hz=[7e6], points=[[0, [1.5], None, True]], marks=[]))
        row.widths.append(t.WidthReading(**place, band="40m", low_hz=7e6, high_hz=7.1e6, swr=2.0))
        row.networks.append(t.TunerNetwork(name="Inside", kind="t", knobs={}, q_source=""))
        row.trials.append(t.Trial(**place, entry_id="1", frequency_hz=7e6, load="50 Ω", outcome="matched"))
        two = keep_raw(session, team.id, TWO_PORT)
        row.throughs.append(t.ThroughSweep(**place, raw_file=two, name="Pad", file_name="p.s2p", fixture="through"))
        level = {"kind": "noise", "frequency_hz": 7e6, "values": [7], "unit": "S", "power_w": None, "taken_on": ""}
        row.field_records.append(t.FieldRecord(entry_id="1", kind="level", data=level, words="noise on 7 MHz"))
        row.pictures.append(t.Picture(raw_file=raw, file_name="p.png", width=1, height=1, media_type="image/png"))
        sweep = sweeps.add_sweep(session, row, "a.s1p", RAW)
        capture = add_capture(session, row, "c.csv", b"MHz,dBm\n146,-3\n", Circumstances(146e6))
        alone = {
            "filter": t.Filter(evaluation_id=row.id, raw_file=keep_raw(session, team.id, TWO_PORT), file_name="f.s2p"),
            "file": t.PendingFile(evaluation_id=row.id, raw_file=raw, file_name="w.csv"),
            "calibration": t.Calibration(team_id=team.id, instrument_id=row.bench_instrument_id, low_hz=1e6, high_hz=2e6),
            "check": t.BenchCheck(team_id=team.id, kind="noise"),
            "piece": t.Owned(team_id=team.id, kind="pad", name="Tap", facts={}),
            "instrument": t.Instrument(team_id=team.id, name="Second"),
            "driver": t.Driver(team_id=team.id, name="Ours", commands=COMMANDS),
            "rules": t.RuleSet(team_id=team.id, rule_id="ours", rules=RULES),
        }  # fmt: skip
        user_id = session.query(t.Membership).filter_by(team_id=team.id).one().user_id
        alone["sample"] = t.Sample(evaluation_id=row.id, label="Second")
        alone["setup"] = t.Setup(evaluation_id=row.id, name="Second", conditions={})
        alone["comment"] = t.Comment(
            evaluation_id=row.id, about_kind="evaluation", words="Look", made_by_id=user_id, made_at=now()
        )
        session.add_all(alone.values())
        session.flush()
        ids = {kind: one.id for kind, one in alone.items()}
        ids |= {"claim": row.claims[0].id, "setting": row.settings[0].id, "picture": row.pictures[0].id}
        ids |= {"network": row.networks[0].id, "trial": row.trials[0].id}
        ids |= {"through": row.throughs[0].id, "record": row.field_records[0].id}
        ids |= {"width": row.widths[0].id, "strip": row.strips[0].id}
        ids |= {"element": row.elements[0].id, "adjustment": row.adjustments[0].id}
        ids |= {"sweep": sweep.id, "capture": capture.id, "evaluation": row.id}
    places = {
        **{
            kind: f"{home}/remove/{kind}/{ids[kind]}"
            for kind in ("claim", "setting", "picture", "sweep", "sample", "setup")
        },
        "element": f"{home}/adjust/elements/{ids['element']}/remove",
        "adjustment": f"{home}/adjust/moves/{ids['adjustment']}/undone",
        "strip": f"{home}/adjust/strips/{ids['strip']}/remove",
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
        "evaluation": f"/evaluations/{row.id}/remove",
    }
    return {kind: (ids[kind], place) for kind, place in places.items()}


MODELS = {
    "claim": t.Claim, "setting": t.ArticleSetting, "picture": t.Picture, "sweep": t.Sweep, "capture": t.Capture,
    "filter": t.Filter, "file": t.PendingFile, "calibration": t.Calibration, "check": t.BenchCheck, "piece": t.Owned,
    "instrument": t.Instrument, "driver": t.Driver, "rules": t.RuleSet, "evaluation": t.Evaluation,
    "sample": t.Sample, "setup": t.Setup, "comment": t.Comment,
    "element": t.ArticleElement, "adjustment": t.Adjustment, "width": t.WidthReading, "strip": t.TimeStrip,
    "network": t.TunerNetwork, "trial": t.Trial, "through": t.ThroughSweep, "record": t.FieldRecord,
}  # fmt: skip


@pytest.mark.parametrize("kind", MODELS)
def test_what_was_removed_is_had_back(signed_in, everything, maker, kind):
    ident, place = everything[kind]
    answer = signed_in.post(place, headers=HTMX)
    told = json.loads(answer.headers["HX-Trigger"])["removed"]
    assert "was " in told["words"]
    with maker() as session:
        assert session.get(MODELS[kind], ident).deleted_at is not None
    assert signed_in.post(told["undo"]).headers["HX-Refresh"] == "true"
    with maker() as session:
        assert session.get(MODELS[kind], ident).deleted_at is None
        assert session.query(t.AuditEntry).filter_by(kind="restored").order_by(t.AuditEntry.id.desc()).first().what


def test_editing_what_somebody_removed_says_so(signed_in, everything):
    ident, place = everything["claim"]
    signed_in.post(place, headers=HTMX)
    answer = signed_in.post(f"{place.split('/remove')[0]}/cell/claim/{ident}/limit", data={"value": "3"}, headers=HTMX)
    assert (answer.status_code, "was removed meanwhile" in answer.text) == (422, True)


def test_what_stands_is_not_had_back(signed_in, everything):
    assert signed_in.post(f"/undo/claim/{everything['claim'][0]}").status_code == 404


def test_a_rule_set_gives_way_to_one_that_came_meanwhile(signed_in, everything, maker, member):
    ident, place = everything["rules"]
    signed_in.post(place, headers=HTMX)
    with maker.begin() as session:
        session.add(t.RuleSet(team_id=member.team_id, rule_id="ours", rules=RULES))
    answer = signed_in.post(f"/undo/rules/{ident}")
    assert (answer.status_code, "Another ours has come meanwhile" in answer.text) == (409, True)


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
    assert (kept.status_code, "rests on it, so it stays" in kept.text) == (422, True)
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
    assert (answer.status_code, "keeps one sample at least" in answer.text) == (422, True)


def test_a_captures_cell_that_another_changed_meanwhile_is_not_written_over(signed_in, everything, maker):
    """The page had seen the history up to where it went before the other's change."""
    ident, place = everything["capture"]
    cell = f"{place.removesuffix('/remove')}/mode"
    assert signed_in.post(cell, data={"value": "FM", "seen": "999999999"}, headers=HTMX).status_code == 200
    answer = signed_in.post(cell, data={"value": "SSB", "seen": "0"}, headers=HTMX)
    assert (answer.status_code, "changed this to FM meanwhile; yours, SSB, is not kept" in answer.text) == (422, True)
    with maker() as session:
        assert session.get(t.Capture, ident).mode == "FM"


def test_a_figure_of_the_plan_that_another_changed_meanwhile_is_not_written_over(signed_in, everything):
    ident, _place = everything["evaluation"]
    figure = f"/e/{ident}/plan/figure/rebuild_min"
    assert signed_in.post(figure, data={"value": "30", "seen": "999999999"}, headers=HTMX).status_code == 200
    answer = signed_in.post(figure, data={"value": "10", "seen": "0"}, headers=HTMX)
    assert (answer.status_code, "changed this to 30 meanwhile; yours, 10, is not kept" in answer.text) == (422, True)


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
