"""What rests on a sample, a setup or a setting: it is taken out only where nothing does."""

from collections.abc import Iterable
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from levelmoor.core.words.counting import counted
from levelmoor.records import tables as t
from levelmoor.records.kinds import name_of
from levelmoor.records.mapping import claim_of


def why_kept(session: Session, row: t.Evaluation, kind: str, row_id: int) -> str:
    """Why a row is not taken out, and what to do instead; nothing where it can be."""
    if kind not in ("sample", "setup", "setting", "sweep"):
        return ""
    if kind == "sweep":
        hangs = next((name_of(x) for x in row.trials if x.load_sweep_id == row_id), "")
        return f"It is the load of the trial {hangs}; choose another load there first." if hangs else ""
    if kind != "setting" and len(getattr(row, f"{kind}s")) == 1:
        return f"An evaluation needs at least one {kind}; rename this one instead."
    used = next(iter(_resting(session, row, f"{kind}_id", row_id)), "")
    if not used:
        return ""
    if kind == "setting":
        return f"{used} was swept in it; choose another setting there first."
    return f"{used} rests on it, so it cannot be removed. Leave it out of the verdict with a reason instead."


def _resting(session: Session, row: t.Evaluation, column: str, row_id: int) -> Iterable[str]:
    parts: tuple[Any, ...] = (
        *(*row.sweeps, *row.captures, *row.adjustments),
        *(*row.widths, *row.strips, *row.trials, *row.throughs, *row.field_records),
    )
    yield from (name_of(p) for p in parts if getattr(p, column, None) == row_id)
    yield from (claim_of(c).wording for c in row.claims if getattr(c, column, None) == row_id)
    sheets = select(t.ReadingSheet).where(
        t.ReadingSheet.evaluation_id == row.id,
        t.ReadingSheet.deleted_at.is_(None),
        getattr(t.ReadingSheet, column) == row_id,
    )
    if any(sheet.readings for sheet in session.scalars(sheets)):
        yield "A sheet of readings"


def restore_what_it_rests_on(session: Session, row: Any) -> None:
    """What is had back brings back the sample, setup, setting or claim that it names."""
    of = {
        "sample_id": t.Sample,
        "setup_id": t.Setup,
        "setting_id": t.ArticleSetting,
        "claim_id": t.Claim,
        "network_id": t.TunerNetwork,
        "load_sweep_id": t.Sweep,
        "through_id": t.ThroughSweep,
    }
    for column, model in of.items():
        named: Any = session.get(model, value) if (value := getattr(row, column, None)) else None
        if named is not None:
            named.deleted_at = None


def rests_on_piece(session: Session, team_id: int, kind: str, row_id: int) -> str:
    """What keeps the figures of a piece of equipment that is removed, in words; nothing where nothing does."""
    named = [(words, n) for words, n in _named_by(session, team_id, kind, row_id) if n]
    return " and ".join(counted(n, words) for words, n in named)


def _named_by(session: Session, team_id: int, kind: str, row_id: int) -> Iterable[tuple[str, int]]:
    def count(model: Any, *wanted: Any) -> int:
        of_team = model.team_id == team_id if hasattr(model, "team_id") else model.evaluation_id.in_(_of_team(team_id))
        query = select(func.count()).select_from(model).where(of_team, model.deleted_at.is_(None), *wanted)
        return session.scalar(query) or 0

    if kind == "instrument":
        measured = (t.Sweep, t.Capture, t.ThroughSweep, t.WidthReading, t.Trial, t.FieldRecord)
        yield "measurement", sum(count(m, m.instrument_id == row_id) for m in measured)
        yield "bench record", sum(count(m, m.instrument_id == row_id) for m in (t.Calibration, t.BenchCheck))
        return
    if kind == "line":
        yield "setup", count(t.Setup, t.Setup.line_id == row_id)
        yield "capture", count(t.Capture, t.Capture.line_id == row_id)
    if kind == "pad":
        rows = session.scalars(select(t.Capture).where(t.Capture.evaluation_id.in_(_of_team(team_id))))
        yield "capture", sum(1 for c in rows if c.deleted_at is None and row_id in c.pad_ids)
    if kind in ("kit", "load"):
        yield "calibration", count(t.Calibration, getattr(t.Calibration, f"{kind}_id") == row_id)
    yield "bench check", count(t.BenchCheck, t.BenchCheck.item_id == row_id)


def _of_team(team_id: int) -> Any:
    return select(t.Evaluation.id).where(t.Evaluation.team_id == team_id, t.Evaluation.deleted_at.is_(None))
