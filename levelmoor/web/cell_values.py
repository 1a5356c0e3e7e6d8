"""What a cell takes, by kind of value: what was typed, as it is kept, or the error that says what would be right."""

from collections.abc import Callable
from datetime import date
from enum import StrEnum
from typing import Any

from sqlalchemy.orm import object_session

from levelmoor.core.adjusting.dip_names import names_text, parse_names
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.adjusting import UNITS
from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.evaluation import Calibration
from levelmoor.core.model.usability import PROFILES, own_profile
from levelmoor.core.rf.bandplan import REGIONS
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.rf.own_bands import read_own_bands, with_names, with_ranges
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import parse_load
from levelmoor.core.words.bounds import LONG_LETTERS, NUMBERS, ROUNDS, TEXTS, WINDOWS, one_line, unprintable
from levelmoor.core.words.figures import format_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.equipment_fields import number as read_number
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.bench import calibration_rows, rows_of


class CellProblem(ValueError):
    """What is wrong with what was typed; nothing is stored then."""


Parser = Callable[[str, t.Evaluation], Any]


def text_cell(of: str, needed: str = "") -> Parser:
    """A text of a kind of row and field, as `sample.label`, within its bounds."""
    longest = TEXTS[of]

    def parse(typed: str, _evaluation: t.Evaluation) -> str:
        bare = " ".join(typed.split()) if longest <= 200 else typed.strip()
        if needed and not bare:
            raise CellProblem(needed)
        if len(bare) > longest:
            raise CellProblem(f"At most {longest} characters; this has {len(bare)}.")
        if sign := unprintable(bare):
            raise CellProblem(f"It holds {sign}, which cannot be typed; write it again.")
        return bare

    return parse


def number(typed: str, what: str, low: float, high: float) -> float:
    """A number as people write it, decimal comma allowed, within bounds."""
    try:
        return read_number(typed.strip().removesuffix(":1").lstrip("<≤ "), what, low, high)
    except ValueError as problem:
        raise CellProblem(f"{problem}.") from None


def frequency(typed: str) -> float:
    """A frequency in Hz as people write it."""
    try:
        return parse_frequency(typed)
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def number_cell(what: str, low: float, high: float) -> Parser:
    return lambda typed, _evaluation: number(typed, what, low, high)


def choice(kind: type[StrEnum], typed: str) -> str:
    try:
        return kind(typed).value
    except ValueError:
        raise CellProblem(f'"{typed}" is not one of {", ".join(kind)}.') from None


def choice_cell(kind: type[StrEnum]) -> Parser:
    return lambda typed, _evaluation: choice(kind, typed)


def rule_cell(typed: str) -> str:
    return choice(DecisionRule, typed)


def region_cell(typed: str) -> int:
    if typed not in [str(r) for r in REGIONS]:
        raise CellProblem(f'"{typed}" is not an ITU region; choose 1, 2 or 3.')
    return int(typed)


def profile_cell(name: str, limit: str) -> tuple[str, float]:
    """A profile by name; `own` takes its limit from the second text."""
    if name in PROFILES:
        return name, PROFILES[name].limit_swr
    if name != "own":
        raise CellProblem(f'"{name}" is not a profile.')
    value = number(limit or "2", "an SWR above 1, as in 2.5", 1.01, 1000)
    return "own", own_profile(value).limit_swr


def spots_cell(typed: str) -> list[dict[str, object]]:
    """Frequencies with what they are for, from `145.500 calling; 145.6 repeater`."""
    found: list[dict[str, object]] = []
    try:
        parts = [p.strip() for p in one_line(typed).split(";") if p.strip()]
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None
    if len(parts) > WINDOWS:
        raise CellProblem(f"At most {WINDOWS} frequencies are allowed; you wrote {len(parts)}.")
    for part in parts:
        written, _, name = part.partition(" ")
        if name[:3].lower() in ("mhz", "khz"):
            unit, _, name = name.partition(" ")
            written += unit
        hz = frequency(written)
        found.append({"hz": hz, "name": name.strip()[:40] or f"{format_mhz(hz)} MHz"})
    return sorted(found, key=lambda s: float(str(s["hz"])))


def date_cell(typed: str, _evaluation: t.Evaluation) -> date | None:
    if not typed.strip():
        return None
    try:
        return date.fromisoformat(typed.strip())
    except ValueError:
        raise CellProblem(f'"{typed}" is not a date; write it like 2026-05-31.') from None


def dips_cell(typed: str, _evaluation: t.Evaluation) -> str:
    """The bands that dips of a sweep are said to be, as `40m 7.12; 20m 14.2`."""
    if len(typed) > TEXTS["sweep.dips"]:
        raise CellProblem(f"At most {TEXTS['sweep.dips']} characters; this has {len(typed)}.")
    try:
        return names_text(parse_names(typed))
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def own_bands_cell(typed: str) -> tuple[Window, ...]:
    """Bands and channels of a team's own, one to a line."""
    if len(typed) > LONG_LETTERS:
        raise CellProblem(f"At most {LONG_LETTERS} characters; this has {len(typed)}.")
    try:
        return read_own_bands(typed)
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def own_bands_of(evaluation: t.Evaluation) -> tuple[Window, ...]:
    """The bands and channels of the team that an evaluation is of."""
    session = object_session(evaluation)
    team = session.get(t.Team, evaluation.team_id) if session else None
    return tuple(Window(**w) for w in (team.bands if team else ()) or ())


def windows_cell(typed: str, evaluation: t.Evaluation) -> list[dict[str, object]]:
    own = own_bands_of(evaluation)
    try:
        return windows_row(with_names(parse_windows(with_ranges(typed, own), evaluation.region), own))
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def moment_cell(typed: str, _evaluation: t.Evaluation) -> str:
    """A day, or a day with a time, as ISO text."""
    bare = typed.strip().replace(" ", "T")
    if not bare:
        return ""
    found = moment(bare)
    if found is None:
        raise CellProblem(f'"{typed}" is not a day or time; write it like 2026-05-31 or 2026-05-31 14:20.')
    at, timed = found
    return at.isoformat(timespec="minutes") if timed else at.date().isoformat()


def connector_cell(typed: str, _evaluation: t.Evaluation) -> str:
    try:
        return str(parse_connector(typed)) if typed.strip() else ""
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def load_cell(typed: str, _evaluation: t.Evaluation) -> str:
    """What hangs on a tuner, in the words it is understood by."""
    try:
        return parse_load(typed).words[: TEXTS["trial.load"]] if typed.strip() else ""
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def unit_cell(typed: str) -> str:
    if typed not in UNITS:
        raise CellProblem(f'"{typed}" is not one of {", ".join(UNITS)}.')
    return typed


def optional_number_cell(what: str, low: float, high: float, scale: float = 1.0) -> Parser:
    """A number or nothing; kept as typed times `scale`."""
    return lambda typed, _e: number(typed, what, low, high) * scale if typed.strip() else None


def limit_cell(typed: str, _evaluation: t.Evaluation) -> float | None:
    if not typed.strip():
        return None
    return number(typed, "an SWR such as 1.5, or a figure in the unit of the quantity", *NUMBERS["claim.limit"])


def one_of(rows: Callable[[t.Evaluation], list[Any]], what: str, optional: bool = False) -> Parser:
    def parse(typed: str, evaluation: t.Evaluation) -> int | None:
        if optional and not typed:
            return None
        if typed not in [str(r.id) for r in rows(evaluation)]:
            raise CellProblem(f"There is no such {what}.")
        return int(typed)

    return parse


def pieces(kind: str) -> Callable[[t.Evaluation], list[Any]]:
    def rows(evaluation: t.Evaluation) -> list[Any]:
        session = object_session(evaluation)
        return list(rows_of(session, evaluation.team_id, kind)) if session else []

    return rows


INSTRUMENTS = pieces("instrument")
_YES_NO = {"yes": True, "no": False}


def yes_no_cell(typed: str, _evaluation: t.Evaluation) -> bool:
    if typed not in _YES_NO:
        raise CellProblem("Choose yes or no.")
    return _YES_NO[typed]


RECORD = "record:"
"""How a choice of calibration names one on record."""


def round_cell(typed: str, _evaluation: t.Evaluation) -> int:
    return int(number(typed, "a round, counted from 1", 1, ROUNDS))


def calibration_cell(typed: str, evaluation: t.Evaluation) -> int | None:
    return calibration_choice(typed, evaluation)[1] if typed else None


def calibration_choice(typed: str, evaluation: t.Evaluation) -> tuple[str, int | None]:
    """What is said of a calibration, and the record where one is chosen."""
    if not typed.startswith(RECORD):
        return choice(Calibration, typed), None
    session = object_session(evaluation)
    known = {str(c.id): c.id for c in calibration_rows(session, evaluation.team_id)} if session else {}
    if typed.removeprefix(RECORD) not in known:
        raise CellProblem("There is no such calibration on record.")
    return Calibration.AT_PLANE.value, known[typed.removeprefix(RECORD)]
