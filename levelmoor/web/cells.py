"""Editing in place: what each cell takes, and the error that says what would be right."""

from collections.abc import Callable, Mapping
from datetime import date
from enum import StrEnum
from typing import Any

from sqlalchemy.orm import object_session

from levelmoor.core.bandplan import REGIONS
from levelmoor.core.claims import Quantity, Tuner
from levelmoor.core.decision import Rule
from levelmoor.core.evaluation import Calibration, Obtained, Plane
from levelmoor.core.usability import PROFILES, own_profile
from levelmoor.core.window_text import parse_windows
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.mapping import claim_of, instrument_of, windows_row


class CellProblem(ValueError):
    """What is wrong with what was typed; nothing is stored then."""


Parser = Callable[[str, t.Evaluation], Any]


def text_cell(longest: int = 200, needed: str = "") -> Parser:
    def parse(typed: str, _evaluation: t.Evaluation) -> str:
        bare = " ".join(typed.split()) if longest <= 200 else typed.strip()
        if needed and not bare:
            raise CellProblem(needed)
        if len(bare) > longest:
            raise CellProblem(f"At most {longest} characters; this has {len(bare)}.")
        return bare

    return parse


def number(typed: str, what: str, low: float, high: float) -> float:
    """A number as people write it, decimal comma allowed, within bounds."""
    bare = typed.strip().removesuffix(":1").lstrip("<≤ ").replace(",", ".").strip()
    try:
        value = float(bare)
    except ValueError:
        raise CellProblem(f'"{typed.strip()}" is no number; {what}.') from None
    if not low <= value <= high:
        raise CellProblem(f"{typed.strip()} is out of range; {what}.")
    return value


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
    return choice(Rule, typed)


def region_cell(typed: str) -> int:
    if typed not in [str(r) for r in REGIONS]:
        raise CellProblem(f'"{typed}" is no ITU region; there are 1, 2 and 3.')
    return int(typed)


def profile_cell(name: str, limit: str) -> tuple[str, float]:
    """A profile by name; `own` takes its limit from the second text."""
    if name in PROFILES:
        return name, PROFILES[name].limit_swr
    if name != "own":
        raise CellProblem(f'"{name}" is no profile.')
    value = number(limit or "2", "an SWR above 1, as in 2.5", 1.01, 1000)
    return "own", own_profile(value).limit_swr


def date_cell(typed: str, _evaluation: t.Evaluation) -> date | None:
    if not typed.strip():
        return None
    try:
        return date.fromisoformat(typed.strip())
    except ValueError:
        raise CellProblem(f'"{typed}" is no date; write it like 2026-05-31.') from None


def windows_cell(typed: str, evaluation: t.Evaluation) -> list[dict[str, object]]:
    try:
        return windows_row(parse_windows(typed, evaluation.region))
    except ValueError as problem:
        raise CellProblem(str(problem)[:1].upper() + str(problem)[1:] + ".") from None


def limit_cell(typed: str, _evaluation: t.Evaluation) -> float | None:
    if not typed.strip():
        return None
    return number(typed, "an SWR such as 1.5, or a figure in the unit of the quantity", -1e6, 1e6)


def _one_of(rows: Callable[[t.Evaluation], list[Any]], what: str) -> Parser:
    def parse(typed: str, evaluation: t.Evaluation) -> int:
        if typed not in [str(r.id) for r in rows(evaluation)]:
            raise CellProblem(f"This evaluation has no such {what}.")
        return int(typed)

    return parse


def _instruments(evaluation: t.Evaluation) -> list[Any]:
    session = object_session(evaluation)
    return list(store.instruments(session, evaluation.team_id)) if session else []


_TUNER = {"yes": True, "no": False}


def _tuner_cell(typed: str, _evaluation: t.Evaluation) -> bool:
    if typed not in _TUNER:
        raise CellProblem("A tuner is in line or it is not.")
    return _TUNER[typed]


CELLS: Mapping[str, Mapping[str, Parser]] = {
    "product": {
        "name": text_cell(needed="A product needs a name."),
        "maker": text_cell(),
        "description": text_cell(5000),
    },
    "sample": {
        "label": text_cell(needed="A sample needs a name."),
        "serial": text_cell(),
        "obtained": choice_cell(Obtained),
        "note": text_cell(5000),
    },
    "setup": {
        "name": text_cell(needed="A setup needs a name."),
        "description": text_cell(5000),
        "plane": choice_cell(Plane),
        "tuner_in_line": _tuner_cell,
    },
    "instrument": {
        "name": text_cell(needed="An instrument needs a name."),
        "kind": text_cell(),
        "directivity_db": number_cell("effective directivity in dB, 10 to 80", 10, 80),
        "tracking": number_cell("tracking as a share, 0 to 0.5", 0, 0.5),
        "source_match_db": number_cell("source match in dB, 10 to 80", 10, 80),
        "repeat_u": number_cell("standard deviation of |Γ| over repeats, 0 to 0.5", 0, 0.5),
        "figures_source": text_cell(),
    },
    "claim": {
        "quantity": choice_cell(Quantity),
        "windows": windows_cell,
        "limit": limit_cell,
        "z0_ohm": number_cell("a nominal impedance in Ω, as in 50", 0.1, 10000),
        "tuner": choice_cell(Tuner),
        "condition": text_cell(2000),
        "source": text_cell(2000),
        "seen_on": date_cell,
    },
    "evaluation": {
        "region": lambda typed, _e: region_cell(typed),
        "rule": lambda typed, _e: rule_cell(typed),
        "profile_limit": number_cell("an SWR above 1, as in 2.5", 1.01, 1000),
        "notes": text_cell(10000),
        "bench_sample_id": _one_of(lambda e: e.samples, "sample"),
        "bench_setup_id": _one_of(lambda e: e.setups, "setup"),
        "bench_instrument_id": _one_of(_instruments, "instrument"),
        "bench_calibration": choice_cell(Calibration),
    },
    "sweep": {
        "name": text_cell(needed="A sweep needs a name."),
        "calibration": choice_cell(Calibration),
        "taken_on": date_cell,
        "sample_id": _one_of(lambda e: e.samples, "sample"),
        "setup_id": _one_of(lambda e: e.setups, "setup"),
        "instrument_id": _one_of(_instruments, "instrument"),
    },
}


def set_cell(kind: str, row: Any, name: str, typed: str, evaluation: t.Evaluation) -> None:
    """Put what was typed into a row.

    Raises
    ------
    CellProblem
        Where the cell does not take it; the row is to be dropped then.
    KeyError
        Where there is no such cell.
    """
    if (kind, name) == ("evaluation", "profile"):
        evaluation.profile, evaluation.profile_limit = profile_cell(typed, str(evaluation.profile_limit))
        return
    setattr(row, name, CELLS[kind][name](typed, evaluation))
    try:
        if kind == "claim":
            claim_of(row)
        elif kind == "instrument":
            instrument_of(row)
    except ValueError as problem:
        raise CellProblem(str(problem)[:1].upper() + str(problem)[1:] + ".") from None


def understood(kind: str, name: str, row: Any) -> str:
    """How a typed cell was understood, where that is worth saying."""
    if (kind, name) == ("claim", "windows") and row.windows:
        return "; ".join(f"{w.name} {w.low_hz / 1e6:g}–{w.high_hz / 1e6:g} MHz" for w in claim_of(row).windows)
    return ""
