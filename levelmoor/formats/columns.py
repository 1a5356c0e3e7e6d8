"""What the columns of a table mean: from its headings, or guessed from the magnitudes and then to be confirmed."""

import re
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.table import Table


class Kind(StrEnum):
    """What a table says beside the frequency."""

    SWR = "swr"
    RETURN_LOSS = "return_loss"
    R_X = "r_x"
    RE_IM = "re_im"
    R_ABS_X = "r_abs_x"
    Z_PHASE = "z_phase"
    GAMMA_PHASE = "gamma_phase"
    LOSS_PHASE = "loss_phase"
    POWERS = "powers"


KIND_WORDS = {
    Kind.SWR: "SWR",
    Kind.RETURN_LOSS: "return loss in dB",
    Kind.R_X: "R and X in Ω",
    Kind.RE_IM: "real and imaginary part of Γ",
    Kind.R_ABS_X: "R and X in Ω, sign of X not known",
    Kind.Z_PHASE: "|Z| in Ω and its phase in degrees",
    Kind.GAMMA_PHASE: "|Γ| and its phase in degrees",
    Kind.LOSS_PHASE: "return loss in dB and the phase of Γ in degrees",
    Kind.POWERS: "forward and reflected power in W",
}
ROLES = {
    Kind.R_X: ("r", "x"),
    Kind.RE_IM: ("re", "im"),
    Kind.GAMMA_PHASE: ("abs_gamma", "phase"),
    Kind.LOSS_PHASE: ("return_loss", "phase"),
    Kind.R_ABS_X: ("r", "abs_x"),
    Kind.SWR: ("swr",),
    Kind.Z_PHASE: ("abs_z", "phase"),
    Kind.RETURN_LOSS: ("return_loss",),
    Kind.POWERS: ("forward", "reflected"),
}
"""The columns that each kind needs beside the frequency, the kind that says most first."""
SCALAR = (Kind.SWR, Kind.RETURN_LOSS, Kind.R_ABS_X, Kind.POWERS)
"""The kinds that tell |gamma| and no phase."""
ROLE_WORDS = {
    "frequency": "Frequency",
    "swr": "SWR",
    "return_loss": "Return loss, dB",
    "r": "R, Ω",
    "x": "X, Ω",
    "abs_x": "X without its sign, Ω",
    "re": "Real part of Γ",
    "im": "Imaginary part of Γ",
    "abs_z": "|Z|, Ω",
    "abs_gamma": "|Γ|",
    "phase": "Phase, degrees",
    "forward": "Forward power, W",
    "reflected": "Reflected power, W",
}
FREQUENCY_UNITS = ("Hz", "kHz", "MHz", "GHz")


@dataclass(frozen=True)
class Columns:
    """Column numbers (from 0) with the frequency unit and kind; `guessed` says what was not written in the file."""

    frequency: int
    values: tuple[int, ...]
    kind: Kind
    unit: str
    guessed: tuple[str, ...] = ()


class ColumnsProblem(FileProblem):
    """The headings do not say what the columns are; a person may. `headings` are those of the file, or numbers."""

    headings: tuple[str, ...] = ()


def _no_columns(table: Table, line: int, found: str, expected: str, column: int = 1) -> ColumnsProblem:
    problem = ColumnsProblem(table.name, max(line, 1), column, found, expected)
    problem.headings = headings_of(table)
    return problem


def headings_of(table: Table) -> tuple[str, ...]:
    """The headings of a file, or its columns by number."""
    return table.header or tuple(f"Column {i}" for i in range(1, table.width + 1))


def header_key(headings: tuple[str, ...]) -> str:
    """What a mapping is remembered by: the headings, case and blanks aside."""
    return "|".join(" ".join(h.lower().split()) for h in headings)


def write_mapping(roles: dict[int, str]) -> str:
    """The text a mapping is kept as: `0:frequency,3:r,4:x`."""
    return ",".join(f"{i}:{role}" for i, role in sorted(roles.items()))


def columns_by_mapping(table: Table, mapping: str, unit: str = "") -> Columns:
    """The columns as a person said.

    Raises
    ------
    ValueError
        Where the mapping names no frequency, or not what a kind needs, or a column that the file has not.
    """
    roles: dict[str, int] = {}
    for part in mapping.split(",") if mapping else ():
        place, _, role = part.partition(":")
        if not place.isdigit() or role not in ROLE_WORDS or role in roles:
            raise ValueError(f'"{part}" is no column with what it holds, each once; say it as 0:frequency')
        if int(place) >= table.width:
            raise ValueError(f"{table.name} has {table.width} columns; there is no column {int(place) + 1}")
        roles[role] = int(place)
    if "frequency" not in roles:
        raise ValueError("say which column is the frequency")
    kind = next((k for k, needed in ROLES.items() if all(n in roles for n in needed)), None)
    if kind is None:
        raise ValueError("say which columns are SWR, return loss, R and X, Γ, or forward and reflected power")
    heading = table.header[roles["frequency"]] if table.header else ""
    unit = unit or unit_named(table, roles["frequency"], heading) or guess_unit(table, roles["frequency"])
    return Columns(roles["frequency"], tuple(roles[n] for n in ROLES[kind]), kind, unit)


def unit_named(table: Table, column: int, heading: str) -> str:
    """The unit of the frequencies that the cells of their column name, or else its heading."""
    if column in table.unit_columns:
        return table.frequency_unit
    power = re.search(r"(?:10\s*\^?\s*|\be)([369])\s*hz\b", heading.lower())
    if power:
        return {"3": "kHz", "6": "MHz", "9": "GHz"}[power[1]]
    return next((u for u in FREQUENCY_UNITS if u.lower() in _words(heading)), "")


def _words(heading: str) -> list[str]:
    return re.findall(r"[^\W\d_]+\d*|\d+", heading.lower().replace("_", " ").replace("ω", "ohm"))


_NO_MEASUREMENT = {
    "limit",
    "limits",
    "mask",
    "target",
    "spec",
    "max",
    "min",
    "reference",
    "grenzwert",
    "limite",
    "memory",
}
_LOSS = {"rückflussdämpfung", "rueckflussdaempfung", "rückflußdämpfung", "anpassungsdämpfung", "rl", "returnloss"}
_SWR = {"stehwellenverhältnis", "stehwelle", "welligkeit", "ros", "tos", "roe"}
_PHASE = {"phase", "angle", "ang", "arg", "phi", "θ", "φ", "theta"}


def role_of(heading: str) -> str:
    """What one heading stands for: frequency, swr, return_loss, r, x, re, im, or nothing."""
    words = _words(heading)
    have = set(words)
    if not words:
        return ""
    if have & {"freq", "frequency", "frequencies", "frequenz", "f"} or have <= {"hz", "khz", "mhz", "ghz"}:
        return "frequency"
    if words[0] == "reading":
        return "reading"
    if have & _NO_MEASUREMENT or _through(words):
        return ""
    if any(w in ("forward", "fwd", "pf") for w in words):
        return "forward"
    if any(w in ("reflected", "refl", "reverse", "rev", "pr") for w in words):
        return "reflected"
    if any("swr" in w for w in words) or have & _SWR:
        return "swr"
    if {"return", "loss"} <= have or have & _LOSS:
        return "return_loss"
    if have & _PHASE or have & {"deg", "degrees", "°"}:
        return "" if have & {"rad", "radian", "radians"} else "phase"
    if "db" in have and have & {"s11", "s22", "gamma", "γ", "mag", "magnitude", "logmag", "log", "reflection"}:
        return "return_loss"
    bare = heading.lower().replace(" ", "")
    if re.match(r"(?:abs|mag)?[(|]?\|?z\|", bare) or (have & {"z", "impedance"} and have & {"mag", "magnitude", "abs"}):
        return "abs_z"
    if have & {"y", "admittance", "ms", "siemens", "g", "b"}:
        return ""
    reflection = have & {"γ", "gamma", "rho", "s11", "s22", "reflection"}
    if reflection and ("|" in heading or have & {"mag", "magnitude", "abs", "lin"}):
        return "abs_gamma"
    impedance = bool(have & {"z", "ohm", "ohms", "impedance"})
    if (
        words[0] in ("r", "rs", "resistance") and len(have - {"r", "rs", "resistance", "ohm", "ohms", "series"}) == 0
    ) or (impedance and have & {"re", "real"}):
        return "r"
    if "|x|" in bare:
        return "abs_x"
    if words[0] in ("x", "xs", "reactance") or (impedance and have & {"im", "imag", "imaginary"}):
        return "x"
    if have & {"re", "real"}:
        return "re"
    if have & {"im", "imag", "imaginary"}:
        return "im"
    return ""


def _through(words: list[str]) -> bool:
    """Whether a heading is of what goes through from one port to another, as S21 is."""
    return any(re.fullmatch(r"s(\d)(\d)", w) and w[1] != w[2] for w in words)


def columns_of(table: Table) -> Columns:
    """The columns by their headings, what is missing guessed.

    Raises
    ------
    FileProblem
        Where the headings do not name a frequency and SWR, return loss, R and X, or real and imaginary part.
    """
    if not table.header:
        return _without_header(table)
    try:
        return _by_headings(table, table.header)
    except FileProblem:
        if not table.above:
            raise
        return _by_headings(table, tuple(" ".join(pair) for pair in zip(table.above, table.header, strict=True)))


def _by_headings(table: Table, headings: tuple[str, ...]) -> Columns:
    roles: dict[str, int] = {}
    # Where both ports were swept it is the first that a sweep of one port is of.
    first = any("s11" in _words(h) for h in headings)
    for i, heading in enumerate(headings):
        if not (first and "s22" in _words(heading)):
            roles.setdefault(role_of(heading), i)
    line = table.line_numbers[0] - 1
    expected = "headings name a frequency and SWR, return loss, R and X, or real and imaginary part"
    if "frequency" not in roles:
        raise _no_columns(table, line, f"headings {shown(', '.join(headings))} without a frequency", expected)
    for kind, needed in ROLES.items():
        if all(n in roles for n in needed):
            unit = unit_named(table, roles["frequency"], headings[roles["frequency"]])
            guessed: tuple[str, ...] = ()
            if not unit:
                unit = guess_unit(table, roles["frequency"])
                guessed = (f"frequencies in {unit}",)
            return Columns(roles["frequency"], tuple(roles[n] for n in needed), kind, unit, guessed)
    raise _no_columns(table, line, f"headings {shown(', '.join(headings))} name no reflection or impedance", expected)


def _without_header(table: Table) -> Columns:
    named = unit_named(table, 0, "")
    unit = named or guess_unit(table, 0)
    guessed = [] if named else [f"frequencies in {unit}"]
    if table.width == 2:
        values = np.array(table.numbers(1, infinite=True))
        # An SWR is never below 1, and a return loss hardly ever stays above it across a sweep.
        kind = Kind.SWR if np.all(values >= 1) else Kind.RETURN_LOSS
        if kind is Kind.RETURN_LOSS and np.all((values >= 0) & (values < 5)) and np.mean(values >= 1) > 0.5:
            kind = Kind.SWR  # mostly an SWR: the reader names the value below 1
        columns: tuple[int, ...] = (1,)
    elif table.width == 3:
        both = np.abs(np.array([table.numbers(1), table.numbers(2)]))
        kind = Kind.RE_IM if np.all(both <= 1.05) else Kind.R_X
        columns = (1, 2)
    else:
        raise _no_columns(
            table,
            table.line_numbers[0],
            f"{table.width} columns without headings",
            "a first line such as: frequency MHz, R, X says which is which",
            table.place(0, 3)[1],
        )
    guessed.append(f"the other figures are {KIND_WORDS[kind]}")
    return Columns(0, columns, kind, unit, tuple(guessed))


def guess_unit(table: Table, column: int) -> str:
    """Unit of the frequencies by their size: below 1.8 thousand MHz, below a million kHz, else Hz."""
    highest = max(table.numbers(column))
    if highest < 1800:
        return "MHz"
    return "kHz" if highest < 1e6 else "Hz"
