"""Files taken in: what each became, which are here already, and which wait for a person to name their columns."""

from dataclasses import dataclass, field
from hashlib import sha256

from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.columns import header_key
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.several_files import unpacked
from levelmoor.formats.sweepfile import Look, ReadOptions, columns_named, look_at
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.database import now
from levelmoor.records.kept import Kept
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw
from levelmoor.records.sweeps import add_sweep

_looked_at: Kept[Look] = Kept(200)
"""What files that wait show, so that a page need not read them again."""


@dataclass
class Intake:
    """What became of the files of one drop."""

    added: list[t.Sweep] = field(default_factory=list)
    here_already: list[tuple[str, t.Sweep]] = field(default_factory=list)
    waiting: list[str] = field(default_factory=list)
    problems: list[FileProblem] = field(default_factory=list)


@dataclass(frozen=True)
class Waiting:
    """A file that waits, with its headings and first rows to tell the columns by."""

    row: t.PendingFile
    look: Look

    @property
    def key(self) -> str:
        """The same for files whose columns are named alike."""
        return header_key(self.look.asked_of)


def take_in(
    session: Session,
    row: t.Evaluation,
    found: Intake,
    name: str,
    data: bytes,
    taken_on: str = "",
    place: Place | None = None,
) -> None:
    """Take a file in, or each file of a zipped folder, as a sweep of a place, or of what is on the bench, or note why
    not; nothing of it is lost."""
    try:
        files = read_apart(unpacked, name, data)
    except FileProblem as problem:
        found.problems.append(problem)
        return
    for one, content in files:
        _take_one(session, row, found, one, content, taken_on, place)


def _take_one(
    session: Session, row: t.Evaluation, found: Intake, name: str, data: bytes, taken_on: str, place: Place | None
) -> None:
    digest = sha256(data).hexdigest()
    same = next((s for s in row.sweeps if s.raw_file.sha256 == digest), None)
    if same is not None:
        found.here_already.append((name, same))
        return
    try:
        found.added.append(add_sweep(session, row, name, data, taken_on=taken_on, place=place))
    except ColumnsProblem as problem:
        kept = mapping_of(session, row.team_id, problem.asked_of)
        if kept is None:
            _wait(session, row, name, data, taken_on)
            found.waiting.append(name)
            return
        try:
            options = ReadOptions(unit=kept.unit, columns=kept.columns)
            found.added.append(add_sweep(session, row, name, data, options, taken_on=taken_on, place=place))
        except FileProblem as again:
            found.problems.append(again)
    except FileProblem as problem:
        found.problems.append(problem)


def _wait(session: Session, row: t.Evaluation, name: str, data: bytes, taken_on: str) -> None:
    """What was sent twice waits once."""
    raw, one = keep_raw(session, row.team_id, data), t.PendingFile
    same = (one.evaluation_id == row.id) & (one.raw_file_id == raw.id) & one.deleted_at.is_(None)
    if session.scalar(select(one.id).where(same).limit(1)) is None:
        session.add(one(evaluation_id=row.id, raw_file=raw, file_name=name[-200:], taken_on=taken_on))
        session.flush()


def waiting(session: Session, evaluation_id: int) -> list[Waiting]:
    """The files of an evaluation that wait for their columns to be named."""
    query = select(t.PendingFile).where(
        t.PendingFile.evaluation_id == evaluation_id, t.PendingFile.deleted_at.is_(None)
    )
    found = []
    for one in session.scalars(query.order_by(t.PendingFile.id)):
        data = one.raw_file.data
        key = (one.raw_file.sha256, one.file_name)
        found.append(Waiting(one, _looked_at.get(key, lambda: read_apart(look_at, one.file_name, data))))  # noqa: B023
    return found


def mapping_of(session: Session, team_id: int, asked_of: tuple[str, ...], of: str = "") -> t.ColumnMapping | None:
    """What the team said of these headings, and lines over them, before; `of` keeps other kinds of files than sweeps
    apart."""
    query = select(t.ColumnMapping).where(
        t.ColumnMapping.team_id == team_id, t.ColumnMapping.header_sha256 == _digest(asked_of, of)
    )
    return session.scalar(query)


def _digest(asked_of: tuple[str, ...], of: str) -> str:
    return sha256((of + header_key(asked_of)).encode()).hexdigest()


def name_columns(
    session: Session, row: t.Evaluation, pending: t.PendingFile, columns: str, unit: str, place: Place | None = None
) -> Intake:
    """Read a waiting file by what its columns are said to be, remember that for its headings and the lines over them
    that say what figures are, and take in with it every other file that waits under the same.

    Raises
    ------
    ValueError
        Where the columns cannot be what they are said to be; the file keeps waiting then.
    """
    asked_of, unit = read_apart(columns_named, pending.file_name, pending.raw_file.data, columns, unit)
    found = Intake()
    found.added.append(_read_waiting(session, row, pending, columns, unit, place))
    remember(session, row.team_id, asked_of, columns, unit)
    for other in waiting(session, row.id):
        if other.key == header_key(asked_of):
            try:
                found.added.append(_read_waiting(session, row, other.row, columns, unit, place))
            except FileProblem as problem:
                found.problems.append(problem)
    return found


def _read_waiting(
    session: Session, row: t.Evaluation, pending: t.PendingFile, columns: str, unit: str, place: Place | None
) -> t.Sweep:
    options = ReadOptions(unit=unit, columns=columns)
    data = pending.raw_file.data
    sweep = add_sweep(session, row, pending.file_name, data, options, taken_on=pending.taken_on, place=place)
    pending.deleted_at = now()
    session.flush()
    return sweep


def remember(session: Session, team_id: int, asked_of: tuple[str, ...], columns: str, unit: str, of: str = "") -> None:
    """Keep what the columns of such files are, also where it is said several times at the same moment."""
    new = insert(t.ColumnMapping).values(
        team_id=team_id, header_sha256=_digest(asked_of, of), columns=columns, unit=unit
    )
    session.execute(new.on_duplicate_key_update(columns=new.inserted.columns, unit=new.inserted.unit))
    session.expire_all()
