"""Captures, rule sets and filters as kept, and as the core knows them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.captures import Capture
from levelmoor.core.model.rule_sets import RuleSet, rule_set_from, shipped_rule_sets
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.bounds import EVALUATION_POINTS
from levelmoor.formats.capture_file import CaptureFile, read_capture_file
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.columns import header_key
from levelmoor.formats.equipment_fields import curve_data
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.by_name import core_from, row_from
from levelmoor.records.database import now
from levelmoor.records.intake import mapping_of, remember
from levelmoor.records.kept import Kept
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw, raw_data

SPECTRA = "spectrum "
"""Keeps what was said of the columns of spectra apart from what was said of sweeps."""
_read: Kept[CaptureFile] = Kept(256, lambda read: read.trace.frequency_hz.size, EVALUATION_POINTS)
"""What was read, by the raw file and how it is read."""


@dataclass(frozen=True)
class Circumstances:
    """What is said of a capture besides its file; pads and cable by the ids of rows, or an offset in their place."""

    carrier_hz: float
    rbw_hz: float = 0.0
    mode: str = ""
    pad_ids: tuple[int, ...] = ()
    line_id: int | None = None
    offset: Curve | None = None
    filter_name: str = ""
    columns: str = ""
    unit: str = ""
    taken_on: str = ""
    name: str = field(default="")
    entered_db: float = 0.0


def add_capture(
    session: Session,
    row: t.Evaluation,
    file_name: str,
    data: bytes,
    said: Circumstances,
    place: Place | None = None,
) -> t.Capture:
    """Read a spectrum and keep it as a capture of what is on the bench, or of another place.

    Its columns are those that were named for its headings before, where they do not tell themselves.

    Raises
    ------
    FileProblem
        Where it cannot be read; nothing is kept then.
    """
    columns = said.columns
    try:
        read = read_apart(read_capture_file, file_name, data, said.unit, columns)
    except ColumnsProblem as problem:
        named = mapping_of(session, row.team_id, problem.asked_of, SPECTRA)
        if named is None:
            raise
        columns = named.columns
        read = read_apart(read_capture_file, file_name, data, said.unit, columns)
    place = place or Place.on_bench(row)
    capture = row_from(
        t.Capture,
        said,
        sample_id=place.sample_id,
        setup_id=place.setup_id,
        instrument_id=place.instrument_id,
        raw_file=keep_raw(session, row.team_id, data),
        name=said.name or file_name.rsplit(".", 1)[0][:200],
        file_name=file_name[-200:],
        offset=curve_data(said.offset) if said.offset else {},
        unit=read.frequency_unit,
        columns=columns,
        setting_id=place.setting_id,
        round=place.round_of(row),
        created_at=now(),
    )
    row.captures.append(capture)
    session.flush()
    session.refresh(capture, ["instrument"])
    return capture


def name_columns(
    session: Session, team_id: int, given: Sequence[tuple[str, bytes]], headings: Sequence[str], columns: str
) -> None:
    """Remember what the columns under these headings are, once the files that have them can be read so.

    Raises
    ------
    FileProblem
        Where they cannot; nothing is remembered then.
    """
    asked = set[tuple[str, ...]]()
    for file_name, data in given:
        try:
            read_apart(read_capture_file, file_name, data)
        except ColumnsProblem as problem:
            if header_key(problem.headings) == header_key(tuple(headings)):
                read_apart(read_capture_file, file_name, data, columns=columns)
                asked.add(problem.asked_of)
    for asked_of in asked:
        remember(session, team_id, asked_of, columns, "", SPECTRA)


def take_out(session: Session, row: t.Capture) -> None:
    """Remove a capture, and what was said of its columns with it: it may be out because that was wrong."""
    row.deleted_at = now()
    if row.columns:
        asked_of = read_capture_file(row.file_name, row.raw_file.data, row.unit, row.columns).asked_of
        named = mapping_of(session, row.raw_file.team_id, asked_of, SPECTRA)
        if named is not None:
            session.delete(named)
    session.flush()


def unit_named(row: t.Capture) -> bool:
    """Whether the file or somebody named the unit of its levels; else dBm was assumed."""
    return _reading(row).unit_named


def name_unit(row: t.Capture, unit: str) -> None:
    """Read the levels of a capture in another unit.

    Raises
    ------
    FileProblem
        Where it is none, or they cannot be in it; the capture stays as it was.
    """
    columns = _reading(row).columns_with(unit)
    read_apart(read_capture_file, row.file_name, row.raw_file.data, row.unit, columns)
    row.columns = columns


def _reading(row: t.Capture, data: bytes | None = None) -> CaptureFile:
    """What a capture's file holds, read once."""
    key = (row.raw_file.sha256, row.unit, row.columns)
    return _read.get(key, lambda: _kept(row, data or row.raw_file.data))


def _kept(row: t.Capture, data: bytes) -> CaptureFile:
    return read_capture_file(row.file_name, data, row.unit, row.columns, first=True)


def captures_of(session: Session, rows: Sequence[t.Capture]) -> tuple[Capture, ...]:
    """The captures with their traces; raw files not read before come in one query."""
    missing = {r.raw_file.sha256 for r in rows if (r.raw_file.sha256, r.unit, r.columns) not in _read}
    files = raw_data(session, rows[0].raw_file.team_id, missing) if missing else {}
    return tuple(_capture(r, _reading(r, files.get(r.raw_file.sha256)).trace) for r in rows)


def _capture(row: t.Capture, trace: Trace) -> Capture:
    return core_from(Capture, row, trace=trace, sha256=row.raw_file.sha256)


def rule_rows(session: Session, team_id: int) -> Sequence[t.RuleSet]:
    query = select(t.RuleSet).where(t.RuleSet.team_id == team_id, t.RuleSet.deleted_at.is_(None))
    return session.scalars(query.order_by(t.RuleSet.id)).all()


def rule_sets_of(session: Session, team_id: int) -> Mapping[str, RuleSet]:
    """The rule sets that come along, and the team's own."""
    own = [rule_set_from(r.rules) for r in rule_rows(session, team_id)]
    return {**shipped_rule_sets(), **{r.id: r for r in own}}
