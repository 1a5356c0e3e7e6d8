"""What a team no longer has and evidence rests on: it is retired, not lost, and keeps its figures."""

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.formats.owned_kinds import piece
from levelmoor.records import tables as t
from levelmoor.records.bench import PLACES, TeamBench, instrument_of

_BY_INSTRUMENT = ("sweeps", "captures", "widths", "strips", "trials", "throughs", "field_records")


def with_retired(session: Session, row: t.Evaluation, bench: TeamBench) -> TeamBench:
    """The team's bench with the instruments and pieces that were removed since, as far as evidence of the evaluation or
    a record of the bench names them."""
    have = {i.id for i in bench.instruments}
    gone = {i for i in _instruments_named(row, bench) if i not in have}
    instruments = _rows(session, t.Instrument, gone)
    owned = bench.equipment
    kept = {x.id for place in PLACES.values() for x in getattr(owned, place)}
    pieces: dict[str, list[Any]] = {}
    for lost in _rows(session, t.Owned, {i for i in _pieces_named(row, bench) if i not in kept}):
        made = piece(lost.kind, str(lost.id), lost.name, lost.facts)
        if made is not None and hasattr(made, "retired"):
            pieces.setdefault(PLACES[lost.kind], []).append(replace(made, retired=True))
    if not instruments and not pieces:
        return bench
    return replace(
        bench,
        instruments=(*bench.instruments, *(replace(instrument_of(i), retired=True) for i in instruments)),
        equipment=replace(owned, **{place: (*getattr(owned, place), *found) for place, found in pieces.items()}),
    )


def _rows(session: Session, model: Any, ids: set[str]) -> list[Any]:
    if not ids:
        return []
    return list(session.scalars(select(model).where(model.id.in_([int(i) for i in ids])).order_by(model.id)))


def _instruments_named(row: t.Evaluation, bench: TeamBench) -> Iterable[str]:
    evidence: Iterable[Any] = (x for kind in _BY_INSTRUMENT for x in getattr(row, kind))
    of_bench: Iterable[Any] = (*bench.calibrations, *bench.checks)
    return {str(x.instrument_id) for x in (*evidence, *of_bench) if x.instrument_id}


def _pieces_named(row: t.Evaluation, bench: TeamBench) -> Iterable[str]:
    with_line: Iterable[Any] = (*row.setups, *row.captures)
    lines = (x.line_id for x in with_line)
    pads = (i for c in row.captures for i in c.pad_ids)
    used = (i for c in bench.calibrations for i in (c.kit_id, c.load_id))
    checked = (c.item_id for c in bench.checks)
    return {str(i) for i in (*lines, *pads, *used, *checked) if i}
