"""Editing in place: what each cell takes, and the error that says what would be right."""

from collections.abc import Callable, Mapping
from datetime import date
from enum import StrEnum
from typing import Any

from sqlalchemy.orm import object_session

from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.adjusting import UNITS
from levelmoor.core.model.bench_records import BenchRule, moment
from levelmoor.core.model.claims import Tuner
from levelmoor.core.model.conditions import CONDITION_WORDS
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.evaluation import Calibration, Obtained, Plane
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.model.through import Fixture
from levelmoor.core.model.trials import Outcome
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
from levelmoor.records.mapping import claim_of
from levelmoor.records.sweeps import compose


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
            raise CellProblem(f"It holds {sign}, which is no letter; write it anew.")
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


def spots_cell(typed: str) -> list[dict[str, object]]:
    """Frequencies with what they are for, from `145.500 calling; 145.6 repeater`."""
    found: list[dict[str, object]] = []
    try:
        parts = [p.strip() for p in one_line(typed).split(";") if p.strip()]
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None
    if len(parts) > WINDOWS:
        raise CellProblem(f"At most {WINDOWS} frequencies are taken; these are {len(parts)}.")
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
        raise CellProblem(f'"{typed}" is no date; write it like 2026-05-31.') from None


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
        raise CellProblem(f'"{typed}" is no day or time; write it like 2026-05-31 or 2026-05-31 14:20.')
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
        raise CellProblem(f'"{typed}" is none of {", ".join(UNITS)}.')
    return typed


def optional_number_cell(what: str, low: float, high: float, scale: float = 1.0) -> Parser:
    """A number or nothing; kept as typed times `scale`."""
    return lambda typed, _e: number(typed, what, low, high) * scale if typed.strip() else None


def limit_cell(typed: str, _evaluation: t.Evaluation) -> float | None:
    if not typed.strip():
        return None
    return number(typed, "an SWR such as 1.5, or a figure in the unit of the quantity", *NUMBERS["claim.limit"])


def _one_of(rows: Callable[[t.Evaluation], list[Any]], what: str, optional: bool = False) -> Parser:
    def parse(typed: str, evaluation: t.Evaluation) -> int | None:
        if optional and not typed:
            return None
        if typed not in [str(r.id) for r in rows(evaluation)]:
            raise CellProblem(f"There is no such {what}.")
        return int(typed)

    return parse


def _pieces(kind: str) -> Callable[[t.Evaluation], list[Any]]:
    def rows(evaluation: t.Evaluation) -> list[Any]:
        session = object_session(evaluation)
        return list(rows_of(session, evaluation.team_id, kind)) if session else []

    return rows


_instruments = _pieces("instrument")
_YES_NO = {"yes": True, "no": False}


def _yes_no_cell(typed: str, _evaluation: t.Evaluation) -> bool:
    if typed not in _YES_NO:
        raise CellProblem("Yes or no.")
    return _YES_NO[typed]


RECORD = "record:"
"""How a choice of calibration names one on record."""


def round_cell(typed: str, _evaluation: t.Evaluation) -> int:
    return int(number(typed, "a round, counted from 1", 1, ROUNDS))


def _calibration_cell(typed: str, evaluation: t.Evaluation) -> int | None:
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


CELLS: Mapping[str, Mapping[str, Parser]] = {
    "product": {
        "name": text_cell("product.name", "A product needs a name."),
        "maker": text_cell("product.maker"),
        "description": text_cell("product.description"),
        "in_the_box": text_cell("product.in_the_box"),
    },
    "sample": {
        "label": text_cell("sample.label", "A sample needs a name."),
        "serial": text_cell("sample.serial"),
        "obtained": choice_cell(Obtained),
        "obtained_from": text_cell("sample.obtained_from"),
        "price": text_cell("sample.price"),
        "connector": connector_cell,
        "suspicion": text_cell("sample.suspicion"),
        "control": _yes_no_cell,
        "set_aside": text_cell("sample.set_aside"),
        "note": text_cell("sample.note"),
    },
    "setup": {
        "name": text_cell("setup.name", "A setup needs a name."),
        "description": text_cell("setup.description"),
        "plane": choice_cell(Plane),
        "tuner_in_line": _yes_no_cell,
        "line_id": _one_of(_pieces("line"), "feed line", optional=True),
        "planned": _yes_no_cell,
        "role": choice_cell(Role),
        "set_aside": text_cell("setup.set_aside"),
        **dict.fromkeys(CONDITION_WORDS, text_cell("setup.condition")),
    },
    "claim": {
        "quantity": choice_cell(Quantity),
        "windows": windows_cell,
        "limit": limit_cell,
        "z0_ohm": number_cell("a nominal impedance in Ω, as in 50", *NUMBERS["claim.z0_ohm"]),
        "tuner": choice_cell(Tuner),
        "condition": text_cell("claim.condition"),
        "source": text_cell("claim.source"),
        "seen_on": date_cell,
        "swr_at": optional_number_cell("an SWR above 1, as in 2", *NUMBERS["claim.swr_at"]),
        "power_w": optional_number_cell("watts above 0, as in 5", *NUMBERS["claim.power_w"]),
        "mode": text_cell("claim.mode"),
        "duty": optional_number_cell("a duty cycle in per cent, 1 to 100", 0.1, 100, 0.01),
        "stated": text_cell("claim.stated"),
        "setup_id": _one_of(lambda e: e.setups, "setup", optional=True),
        "excerpt": text_cell("claim.excerpt"),
        "one_setting": _yes_no_cell,
        "tolerance": optional_number_cell("a tolerance in dB, as in 0.5", *NUMBERS["claim.tolerance"]),
    },
    "evaluation": {
        "region": lambda typed, _e: region_cell(typed),
        "rule": lambda typed, _e: rule_cell(typed),
        "profile_limit": number_cell("an SWR above 1, as in 2.5", *NUMBERS["evaluation.profile_limit"]),
        "notes": text_cell("evaluation.notes"),
        "bench_rule": choice_cell(BenchRule),
        "age_limit_h": number_cell("hours, as in 24", *NUMBERS["evaluation.age_limit_h"]),
    },
    "hand": {
        "sample_id": _one_of(lambda e: e.samples, "sample"),
        "setup_id": _one_of(lambda e: e.setups, "setup"),
        "instrument_id": _one_of(_instruments, "instrument"),
        "setting_id": _one_of(lambda e: e.settings, "setting", optional=True),
    },
    "capture": {
        "name": text_cell("capture.name", "A capture needs a name."),
        "mode": text_cell("capture.mode"),
        "filter_name": text_cell("capture.filter_name"),
        "taken_on": moment_cell,
        "carrier_hz": lambda typed, _e: frequency(typed),
        "rbw_hz": number_cell("a resolution bandwidth in kHz, as in 30", 0, 1e5),
        "setting_id": _one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "set_aside": text_cell("capture.set_aside"),
        "sample_id": _one_of(lambda e: e.samples, "sample"),
        "setup_id": _one_of(lambda e: e.setups, "setup"),
        "instrument_id": _one_of(_instruments, "instrument"),
    },
    "setting": {
        "name": text_cell("setting.name", "A setting needs a name."),
        "windows": windows_cell,
        "mark": optional_number_cell("a mark as a number, as in 6.5", *NUMBERS["setting.mark"]),
        "mark_words": text_cell("setting.mark_words"),
    },
    "element": {
        "name": text_cell("element.name", "A part needs a name."),
        "unit": lambda typed, _e: unit_cell(typed),
        "at": number_cell("where it stood at first, as in 52", *NUMBERS["element.position"]),
        "low": optional_number_cell("the least it goes, as in 10", *NUMBERS["element.position"]),
        "high": optional_number_cell("the most it goes, as in 120", *NUMBERS["element.position"]),
        "lengthens": _yes_no_cell,
        "cut": _yes_no_cell,
        "bands": lambda typed, e: [str(w["name"]) for w in windows_cell(typed, e)] if typed.strip() else [],
    },
    "network": {
        "name": text_cell("network.name", "A network needs a name."),
        "coil_q": number_cell("the coil's Q, as in 150", *NUMBERS["network.q"]),
        "capacitor_q": number_cell("the capacitors' Q, as in 1500", *NUMBERS["network.q"]),
        "q_source": text_cell("network.q_source"),
        "rated_v": optional_number_cell("the peak voltage its parts stand, as in 1000", *NUMBERS["network.rated"]),
        "rated_a": optional_number_cell("the current its parts stand, as in 5", *NUMBERS["network.rated"]),
    },
    "trial": {
        "load": load_cell,
        "load_sweep_id": _one_of(lambda e: e.sweeps, "sweep", optional=True),
        "network_id": _one_of(lambda e: e.networks, "network", optional=True),
        "through_id": _one_of(lambda e: e.throughs, "sweep through", optional=True),
        "outcome": choice_cell(Outcome),
        "swr_before": optional_number_cell("an SWR, as in 4", *NUMBERS["trial.swr"]),
        "swr_after": optional_number_cell("an SWR, as in 1.3", *NUMBERS["trial.swr"]),
        "seconds": optional_number_cell("seconds, as in 4.2", *NUMBERS["trial.seconds"]),
        "set_aside": text_cell("trial.set_aside"),
        "note": text_cell("trial.note"),
        "instrument_id": _one_of(_instruments, "instrument", optional=True),
    },
    "through": {
        "name": text_cell("through.name", "A sweep needs a name."),
        "setup_id": _one_of(lambda e: e.setups, "setup"),
        "setting_id": _one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "calibration_id": _calibration_cell,
        "fixture": choice_cell(Fixture),
        "note": text_cell("through.note"),
        "set_aside": text_cell("through.set_aside"),
    },
    "record": {
        "setup_id": _one_of(lambda e: e.setups, "setup"),
        "setting_id": _one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "instrument_id": _one_of(_instruments, "instrument", optional=True),
        "set_aside": text_cell("heat.set_aside"),
    },
    "width": {"set_aside": text_cell("width.set_aside")},
    "picture": {"caption": text_cell("picture.caption")},
    "sweep": {
        "name": text_cell("sweep.name", "A sweep needs a name."),
        "taken_on": moment_cell,
        "raw": _yes_no_cell,
        "setting_id": _one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "mounting": lambda typed, _e: int(number(typed, "the mounting, counted from 1", 1, ROUNDS)),
        "set_aside": text_cell("sweep.set_aside"),
        "sample_id": _one_of(lambda e: e.samples, "sample"),
        "setup_id": _one_of(lambda e: e.setups, "setup"),
        "instrument_id": _one_of(_instruments, "instrument"),
    },
}


SPECIAL = {("evaluation", "profile"), ("hand", "calibration"), ("sweep", "calibration")}
"""Cells that set more than one column."""


def set_cell(kind: str, row: Any, name: str, typed: str, evaluation: t.Evaluation) -> None:
    """Put what was typed into a row.

    Raises
    ------
    CellProblem
        Where the cell does not take it; the row is to be dropped then.
    KeyError
        Where there is no such cell.
    """
    if len(typed) > LONG_LETTERS:
        raise CellProblem(f"At most {LONG_LETTERS} characters; this has {len(typed)}.")
    if (kind, name) == ("evaluation", "profile"):
        evaluation.profile, evaluation.profile_limit = profile_cell(typed, str(evaluation.profile_limit))
        return
    try:
        if (kind, name) in (("hand", "calibration"), ("sweep", "calibration")):
            row.calibration, row.calibration_id = calibration_choice(typed, evaluation)
        else:
            value = CELLS[kind][name](typed, evaluation)
            if kind == "setup" and name in CONDITION_WORDS:
                row.conditions = {**row.conditions, name: value}
            else:
                setattr(row, name, value)
        if kind == "claim":
            claim_of(row)
        elif kind == "sweep" and (name == "raw" or (row.raw and name == "calibration")):
            compose(row)
    except CellProblem:
        raise
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def understood(kind: str, name: str, row: Any) -> str:
    """How a typed cell was understood, where that is worth saying."""
    if (kind, name) == ("claim", "windows") and row.windows:
        return "; ".join(f"{w.name} {w.low_hz / 1e6:g}–{w.high_hz / 1e6:g} MHz" for w in claim_of(row).windows)
    return ""
