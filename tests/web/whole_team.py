"""A team with one row of everything."""

import json
from dataclasses import asdict

from levelmoor.core.model.rule_sets import shipped_rule_sets
from levelmoor.instruments.driver import shipped_drivers
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.captures import Circumstances, add_capture
from levelmoor.records.database import now
from levelmoor.records.raw_files import keep_raw

RAW = b"# MHz S RI R 50\n14 0.1 0\n14.1 0.1 0\n"
TWO_PORT = b"# MHz S RI R 50\n14 0 0 1 0 1 0 0 0\n15 0 0 1 0 1 0 0 0\n"
RULES = json.loads(json.dumps({**asdict(next(iter(shipped_rule_sets().values()))), "id": "ours"}))
COMMANDS = next(iter(shipped_drivers().values())).model_dump(mode="json")
NAMED = {
    "sweep_id": "sweep", "picture_id": "picture", "setup_id": "setup", "element_id": "element", "width_id": "width",
    "move_id": "adjustment", "strip_id": "strip", "comparison_id": "comparison", "trial_id": "trial", "through_id": "through", "record_id": "record",
    "network_id": "network", "instrument_id": "instrument", "pending_id": "file", "comment_id": "comment",
    "capture_id": "capture", "filter_id": "filter", "row_id": "claim", "user_id": "user", "entry_id": "entry",
}  # fmt: skip
"""Parts of addresses that are ids, each with the kind it is of."""


def one_of_everything(session, team, name):
    """An evaluation, and by kind the id of a row of it or of what the team owns."""
    row = store.open_evaluation(session, team, name)
    raw = keep_raw(session, team.id, RAW)
    row.claims.append(t.Claim(quantity="swr", windows=[], limit=2.0))
    row.settings.append(t.ArticleSetting(name="mark 2", windows=[]))
    row.elements.append(t.ArticleElement(name="Whip", kind="whip", unit="cm", at=50.0, bands=[]))
    trip = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id, "round": 1}
    row.adjustments.append(t.Adjustment(**trip, moves=[], words="Whip: 1 cm shorter", made_at="2026-10-03T10:00"))
    place = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id}
    place["instrument_id"] = row.bench_instrument_id
    row.comparisons.append(t.ChosenComparison(sweep_ids=[], question="setups"))
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
    user_id = session.query(t.Membership).filter_by(team_id=team.id).first().user_id
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
    ids |= {"width": row.widths[0].id, "strip": row.strips[0].id, "comparison": row.comparisons[0].id}
    ids |= {"element": row.elements[0].id, "adjustment": row.adjustments[0].id}
    ids |= {"sweep": sweep.id, "capture": capture.id, "evaluation": row.id}
    entry = t.AuditEntry(
        team_id=team.id, user_id=user_id, at=now(), who="Other", kind="change", what="limit", row_kind="claim",
        evaluation_id=row.id, row_id=row.claims[0].id, field="limit", old_value=1.5, new_value=2.0,
    )  # fmt: skip
    session.add(entry)
    session.flush()
    return {**ids, "entry": entry.id}
