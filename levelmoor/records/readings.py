"""Reading sheets as kept: entries come once however often they are sent, and join into a sweep with its raw file."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.readings.reading_sheet import FIRST, Entry, SheetLine
from levelmoor.core.readings.readings import FIELD_WORDS, ReadingKind
from levelmoor.formats.readings_file import write_readings
from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round
from levelmoor.records.database import now
from levelmoor.records.place import Place
from levelmoor.records.reading_rows import sheets_of
from levelmoor.records.sweeps import add_sweep

MOST_TEXT = 40


@dataclass(frozen=True)
class Change:
    """What happened to a sheet: `add` a reading, `answer` a question about it, `change` one figure, `remove` it,
    `restore` it."""

    op: str
    reading: str
    typed: dict[str, str] = field(default_factory=dict)
    kind: str = ""
    answer: str = ""
    made_at: str = ""


@dataclass(frozen=True)
class SheetPlace:
    """What a sheet is of. It names the sheet in an address, whether or not anything was read on it yet."""

    kind: ReadingKind
    sample_id: int
    setup_id: int
    instrument_id: int
    setting_id: int = 0
    round: int = 1

    def __str__(self) -> str:
        ids = (self.sample_id, self.setup_id, self.instrument_id, self.setting_id, self.round)
        return "-".join((self.kind.value, *map(str, ids)))

    @classmethod
    def at(cls, row: t.Evaluation, kind: ReadingKind, place: Place) -> "SheetPlace":
        state = (place.sample_id or 0, place.setup_id or 0)
        return cls(
            kind, *state, place.instrument_id or 0, place.setting_id or 0, latest_round(row, *state, place.setting_id)
        )

    @classmethod
    def on_bench(cls, row: t.Evaluation, kind: ReadingKind) -> "SheetPlace":
        return cls.at(row, kind, Place.on_bench(row))

    @classmethod
    def of(cls, sheet: t.ReadingSheet) -> "SheetPlace":
        ids = (sheet.sample_id, sheet.setup_id, sheet.instrument_id, sheet.setting_id or 0, sheet.round)
        return cls(ReadingKind(sheet.kind), *ids)

    @classmethod
    def parse(cls, text: str) -> "SheetPlace":
        """Raises ValueError where the text is no such name."""
        kind, *ids = text.rsplit("-", 5)
        sample, setup, instrument, setting, round_ = (int(i) for i in ids)
        return cls(ReadingKind(kind), sample, setup, instrument, setting, round_)


def sheet_at(session: Session, row: t.Evaluation, place: SheetPlace) -> t.ReadingSheet:
    """The sheet of a place; where there is none yet a new one, which is kept once it is added to the session."""
    for sheet in sheets_of(session, row.id):
        if SheetPlace.of(sheet) == place:
            return sheet
    return t.ReadingSheet(
        evaluation_id=row.id,
        sample_id=place.sample_id,
        setup_id=place.setup_id,
        instrument_id=place.instrument_id,
        setting_id=place.setting_id or None,
        round=place.round,
        kind=place.kind.value,
        created_at=now(),
    )


def sheet_on_bench(session: Session, row: t.Evaluation, kind: ReadingKind) -> t.ReadingSheet:
    """The sheet of what is on the bench, made where there is none."""
    sheet = sheet_at(session, row, SheetPlace.on_bench(row, kind))
    session.add(sheet)
    session.flush()
    return sheet


def keep_changes(session: Session, sheet: t.ReadingSheet, changes: Iterable[Change], by: str) -> None:
    """Apply changes in their order. One that came before changes nothing; one for a reading that is gone neither."""
    every = session.scalars(select(t.Reading).where(t.Reading.sheet_id == sheet.id)).all()
    known = {r.entry_id: r for r in every}
    for change in changes:
        row = known.get(change.reading)
        if change.op == "add" and row is None:
            known[change.reading] = _added(session, sheet, change, by)
        elif row is not None and change.op == "restore":
            row.deleted_at = None
        elif row is None or row.deleted_at is not None:
            continue
        elif change.op == "answer":
            row.answers = {**row.answers, change.kind: change.answer[:200]}
        elif change.op == "change":
            _change(row, change)
        elif change.op == "remove":
            row.deleted_at = now()
    session.flush()
    session.expire(sheet, ["readings"])


def _added(session: Session, sheet: t.ReadingSheet, change: Change, by: str) -> t.Reading:
    row = t.Reading(
        sheet_id=sheet.id,
        entry_id=change.reading,
        typed=_typed(change.typed),
        answers={},
        made_at=change.made_at[:30],
        made_by=by,
        received_at=now(),
    )
    session.add(row)
    return row


def _typed(given: dict[str, str]) -> dict[str, str]:
    return {name: given[name].strip()[:MOST_TEXT] for name in FIELD_WORDS if given.get(name, "").strip()}


def _change(row: t.Reading, change: Change) -> None:
    """Another figure in place of what was typed, which is told with the reading; answers to the old one go."""
    new = {**row.typed, **_typed(change.typed)}
    if new == row.typed:
        return
    before = ", ".join(f"{FIELD_WORDS[n]} {row.typed[n]}" for n in new if n in row.typed and new[n] != row.typed[n])
    told = row.answers.get(FIRST, f"typed first: {before}")
    row.typed, row.answers = new, {FIRST: told[:200]}


def entries_of(sheet: t.ReadingSheet) -> list[Entry]:
    return [Entry(r.entry_id, dict(r.typed), dict(r.answers)) for r in sheet.readings]


def join_sheet(
    session: Session,
    row: t.Evaluation,
    sheet: t.ReadingSheet,
    lines: Sequence[SheetLine],
    calibration: str = "unstated",
) -> t.Sweep:
    """The readings that count as a sweep with a raw file of its own, in place of the one joined before.

    Raises
    ------
    ValueError
        Where none counts.
    """
    counted = [line for line in lines if line.counts and line.reading]
    if not counted:
        raise ValueError("no reading counts yet; answer the questions, or add another reading")
    rows = [
        {**line.entry.typed, "frequency": f"{line.reading.frequency_hz / 1e6:.9g}", "note": line.note}
        for line in counted
        if line.reading
    ]
    data = write_readings(ReadingKind(sheet.kind), rows)
    before = session.get(t.Sweep, sheet.sweep_id) if sheet.sweep_id else None
    taken = max(r.made_at for r in sheet.readings)[:16]
    place = Place(
        sheet.sample_id, sheet.setup_id, sheet.instrument_id, calibration,
        setting_id=sheet.setting_id, round=sheet.round,
    )  # fmt: skip
    sweep = add_sweep(session, row, f"readings-{sheet.id}.csv", data, taken_on=taken, place=place)
    sweep.name = before.name if before else f"Readings, {sweep.instrument.name}"
    if before:
        before.deleted_at = now()
        sweep.calibration, sweep.calibration_id = before.calibration, before.calibration_id
        sweep.not_adjusted, sweep.set_aside, sweep.round = before.not_adjusted, before.set_aside, before.round
    sheet.sweep_id = sweep.id
    session.flush()
    session.expire(row, ["sweeps"])
    return sweep
