"""Sweeps as kept: read from their raw files, joined, corrected, and put into rows."""

from dataclasses import asdict

from sqlalchemy.orm import Session, object_session

from levelmoor.core.bench.calibration import ErrorTerms
from levelmoor.core.model.bench_records import RawPart
from levelmoor.core.model.state import setting_named
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.bounds import EVALUATION_POINTS
from levelmoor.core.words.counting import counted, grouped
from levelmoor.formats.evidence_files import correction_of, sweep_of_parts
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import ReadOptions, SweepFile, read_sweep_file
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.arrays import pack
from levelmoor.records.article_state import latest_round, setting_of
from levelmoor.records.bench import calibration_of, parts_of, team_bench
from levelmoor.records.database import now
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw, raw_data


def add_sweep(
    session: Session,
    row: t.Evaluation,
    name: str,
    data: bytes,
    options: ReadOptions | None = None,
    taken_on: str = "",
    place: Place | None = None,
) -> t.Sweep:
    """Read a file and keep it as a sweep of what is on the bench, or of another place.

    Raises
    ------
    FileProblem
        Where it cannot be read, or the evaluation has too many points; nothing is kept then.
    """
    read = read_apart(read_sweep_file, name, data, options)
    _check_room(row, name, read.sweep.points)
    place = place or Place.on_bench(row)
    setting_id = place.setting_id
    if setting_id is None:
        named = setting_named(name, tuple(setting_of(s) for s in row.settings))
        setting_id = int(named.id) if named else None
    sweep = t.Sweep(
        sample_id=place.sample_id,
        setup_id=place.setup_id,
        instrument_id=place.instrument_id,
        raw_file=keep_raw(session, row.team_id, data),
        file_name=name[-200:],
        calibration=place.calibration,
        calibration_id=place.calibration_id,
        setting_id=setting_id,
        round=max(place.round, latest_round(row, place.sample_id, place.setup_id, setting_id)),
        name=name.rsplit(".", 1)[0][:200],
        taken_on=taken_on,
        raw=False,
        segments=[],
        created_at=now(),
    )
    fill_sweep(sweep, read)
    row.sweeps.append(sweep)
    session.flush()
    session.refresh(sweep, ["instrument"])
    return sweep


def _check_room(row: t.Evaluation, name: str, points: int) -> None:
    have = sum(s.points for s in row.sweeps)
    if have + points > EVALUATION_POINTS:
        found = f"{counted(points, 'point')}, and the sweeps of this evaluation already have {grouped(have)}"
        right = f"at most {grouped(EVALUATION_POINTS)} in all; sweep with fewer points"
        raise FileProblem(name, 1, 1, found, right)


def fill_sweep(row: t.Sweep, read: SweepFile) -> None:
    """Put what was read into the row: arrays, extremes, and how it was read."""
    row.format, row.ports, row.port = read.format, read.ports, read.options.port
    row.unit, row.kind, row.columns = read.options.unit, read.options.kind, read.options.columns
    row.guessed = list(read.guessed)
    row.file_z0_ohm = read.file_z0_ohm
    _fill_arrays(row, read.sweep)


def _fill_arrays(row: t.Sweep, sweep: Sweep) -> None:
    row.z0_ohm, row.scalar = sweep.z0_ohm, sweep.scalar
    row.points, row.low_hz, row.high_hz = sweep.points, sweep.low_hz, sweep.high_hz
    row.largest_step_hz = sweep.largest_step_hz
    row.best_hz, row.best_gamma = sweep.best()
    row.worst_gamma = sweep.worst()[1]
    row.frequency, row.gamma = pack(sweep.frequency_hz), pack(sweep.gamma)
    row.content = sweep.content
    row.half_step = pack(sweep.half_step_gamma) if sweep.half_step_gamma is not None else None


def read_again(row: t.Sweep, options: ReadOptions) -> None:
    """Read the raw file of a sweep anew with other choices of port, unit or kind."""
    fill_sweep(row, read_apart(read_sweep_file, row.file_name, row.raw_file.data, options))
    if row.segments or row.raw:
        compose(row)


def compose(row: t.Sweep) -> None:
    """Make the arrays anew from all raw files of the sweep: segments joined, a raw one corrected.

    Raises
    ------
    ValueError
        Where the segments do not belong together, or there is nothing to correct with.
    """
    session = object_session(row)
    assert session is not None
    first = RawPart(row.file_name, row.raw_file.sha256, row.port, row.unit, row.kind, columns=row.columns)
    parts = (first, *parts_of(row.segments))
    files = dict(raw_data(session, row.raw_file.team_id, (p.sha256 for p in parts)))
    terms = _terms(session, row) if row.raw else None
    _fill_arrays(row, sweep_of_parts(parts, files, terms))


def _terms(session: Session, row: t.Sweep) -> ErrorTerms:
    record = session.get(t.Calibration, row.calibration_id) if row.calibration_id else None
    if record is None:
        raise ValueError("choose the calibration on record to correct this raw sweep with")
    core = calibration_of(record)
    kits = {k.id: k for k in team_bench(session, record.team_id).equipment.kits}
    files = raw_data(session, record.team_id, (p.sha256 for p in core.parts))
    return correction_of(core, kits.get(core.kit_id), files)


def join(row: t.Sweep, other: t.Sweep) -> None:
    """Take another sweep's files in as further segments of this one; the other is then to be taken out.

    Raises
    ------
    ValueError
        Where the two do not belong together.
    """
    same = ("sample_id", "setup_id", "instrument_id", "raw", "setting_id", "round")
    if any(getattr(row, n) != getattr(other, n) for n in same):
        raise ValueError("the parts of one sweep need the same sample, setup, setting and instrument")
    more = RawPart(other.file_name, other.raw_file.sha256, other.port, other.unit, other.kind, columns=other.columns)
    before = row.segments
    row.segments = [*before, asdict(more), *other.segments]
    try:
        compose(row)
    except ValueError:
        row.segments = before
        raise
