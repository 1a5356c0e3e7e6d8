"""What rests on a sample, a setup or a setting: it is taken out only where nothing does."""

from collections.abc import Iterable
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.kinds import name_of
from levelmoor.records.mapping import claim_of


def why_kept(session: Session, row: t.Evaluation, kind: str, row_id: int) -> str:
    """Why a row is not taken out, and what to do instead; nothing where it can be."""
    if kind not in ("sample", "setup", "setting", "sweep"):
        return ""
    if kind == "sweep":
        hangs = next((name_of(x) for x in row.trials if x.load_sweep_id == row_id), "")
        return f"It is the load of the trial {hangs}; say another load there first." if hangs else ""
    if kind != "setting" and len(getattr(row, f"{kind}s")) == 1:
        return f"An evaluation keeps one {kind} at least; rename this one."
    used = next(iter(_resting(session, row, f"{kind}_id", row_id)), "")
    if not used:
        return ""
    if kind == "setting":
        return f"{used} was swept in it; choose another there first."
    return f"{used} rests on it, so it stays. Write under Set aside why nothing of it is heard."


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
