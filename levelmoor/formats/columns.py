"""What the columns of a table mean: from its headings, or guessed from the magnitudes and then to be confirmed."""

import re
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.formats.column_units import ColumnsProblem, asked, full_headings, unit_of
from levelmoor.formats.plugged_readers import plugged_headings
from levelmoor.formats.problem import shown
from levelmoor.formats.table import Table
from levelmoor.formats.units import Quantity, spelled


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
_KNOWN = frozenset({"frequency", *(r for roles in ROLES.values() for r in roles)})
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
    "phase rad": "Phase, radians",
    "phase gon": "Phase, gon",
    "forward": "Forward power, W",
    "forward mW": "Forward power, mW",
    "forward dBm": "Forward power, dBm",
    "forward V": "Forward voltage, V",
    "reflected": "Reflected power, W",
    "reflected mW": "Reflected power, mW",
    "reflected dBm": "Reflected power, dBm",
    "reflected V": "Reflected voltage, V",
    "swr dB": "SWR, dB",
    "abs_gamma %": "|Γ|, %",
    "r kΩ": "R, kΩ",
    "x kΩ": "X, kΩ",
}
"""What a person may say that a column holds; with a unit where it is not the usual one."""
FREQUENCY_UNITS = ("Hz", "kHz", "MHz", "GHz")


@dataclass(frozen=True)
class Columns:
    """Column numbers (from 0) with the frequency unit and kind; `units` are those named for `values`, empty where none
    is; `guessed` says what was not written in the file."""

    frequency: int
    values: tuple[int, ...]
    kind: Kind
    unit: str
    units: tuple[str, ...]
    guessed: tuple[str, ...] = ()
    said: bool = False
    """Whether a person said what the columns are."""


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
    units: dict[str, str] = {}
    for part in mapping.split(",") if mapping else ():
        place, _, said = part.partition(":")
        role, _, unit_said = said.partition(" ")
        if not place.isdigit() or said not in ROLE_WORDS or role in roles:
            raise ValueError(f'"{part}" is not a column with its contents, each once; write it like 0:frequency')
        if int(place) >= table.width:
            raise ValueError(f"{table.name} has {table.width} columns, and no column {int(place) + 1}")
        roles[role], units[role] = int(place), unit_said
    if "frequency" not in roles:
        raise ValueError("choose the frequency column")
    kind = next((k for k, needed in ROLES.items() if all(n in roles for n in needed)), None)
    if kind is None:
        raise ValueError("choose the columns of SWR, return loss, R and X, Γ, or forward and reflected power")
    unit = unit or frequency_unit(table, roles["frequency"]) or guess_unit(table, roles["frequency"])
    places = tuple(roles[n] for n in ROLES[kind])
    return Columns(roles["frequency"], places, kind, unit, tuple(units[n] for n in ROLES[kind]), said=True)


def frequency_unit(table: Table, column: int, heading: str = "") -> str:
    """The unit of the frequencies that their cells name, or their heading, or a line over the headings."""
    heading = heading or (full_headings(table)[column] if table.header else "")
    power = re.search(r"(?:10\s*\^?\s*|\be)([369])\s*hz\b", heading.lower())
    if power:
        return {"3": "kHz", "6": "MHz", "9": "GHz"}[power[1]]
    unit = unit_of(table, column, "frequency", heading)
    return unit.name if unit else ""


def _words(heading: str) -> list[str]:
    return re.findall(r"[^\W\d_]+\d*|\d+", heading.lower().replace("_", " ").replace("ω", "ohm"))


_NO_MEASUREMENT = {
    "limit",
    "limits",
    "mask",
    "target",
    "spec",
    "reference",
    "grenzwert",
    "limite",
    "memory",
    "noise",
    "floor",
    "goal",
    "uncertainty",
    "error",
    "std",
    "stdev",
    "sd",
    "sigma",
    "σ",
}
_LOSS = {"rückflussdämpfung", "rueckflussdaempfung", "rückflußdämpfung", "anpassungsdämpfung", "rl", "returnloss"}
_SWR = {"stehwellenverhältnis", "stehwelle", "welligkeit", "ros", "tos", "roe"}
_PARALLEL = {"parallel", "rp", "xp", "zp", "shunt"}
_PHASE = {"phase", "angle", "ang", "arg", "phi", "θ", "φ", "theta"}


def role_of(heading: str) -> str:
    """What one heading stands for: frequency, swr, return_loss, r, x, re, im, or nothing."""
    if said := plugged_headings(_KNOWN).get(header_key((heading,))):
        return said
    words = _words(heading)
    have = set(words)
    if not words or re.search(r"\^\s*2|²", heading) or have & _PARALLEL:
        return ""
    if have & {"freq", "frequency", "frequencies", "frequenz", "f"} or have <= {"hz", "khz", "mhz", "ghz"}:
        return "frequency"
    if words[0] == "reading":
        return "reading"
    if have & _NO_MEASUREMENT or _through(words):
        return ""
    if any(w in ("forward", "fwd", "pf") for w in words):
        return "forward"
    if any(w in ("reflected", "refl", "ref", "reverse", "rev", "pr") for w in words):
        return "reflected"
    if any("swr" in w for w in words) or have & _SWR:
        return "swr"
    if {"return", "loss"} <= have or have & _LOSS:
        return "return_loss"
    if have & _PHASE or any((u := spelled(w)) and u.quantity is Quantity.ANGLE for w in words):
        return "" if have & {"z", "impedance"} and have & {"gamma", "γ", "s11"} else "phase"
    if "db" in have and have & {"s11", "s22", "gamma", "γ", "mag", "magnitude", "logmag", "log", "reflection"}:
        return "return_loss"
    bare = heading.lower().replace(" ", "")
    if re.match(r"(?:abs|mag)?[(|]?\|?z\|", bare) or (have & {"z", "impedance"} and have & {"mag", "magnitude", "abs"}):
        return "abs_z"
    if have & {"y", "y11", "y22", "admittance", "ms", "siemens", "g", "b"}:
        return ""
    reflection = have & {"γ", "gamma", "rho", "s11", "s22", "reflection"}
    if reflection and ("|" in heading or have & {"mag", "magnitude", "abs", "lin"}):
        return "abs_gamma"
    ohms = {w for w in words if (u := spelled(w)) and u.quantity is Quantity.RESISTANCE}
    impedance = bool(ohms or have & {"z", "z11", "impedance"})
    alone = have - ohms <= {words[0], "resistance", "series"}
    if (re.fullmatch(r"rs?\d?|resistance", words[0]) and alone) or (impedance and have & {"re", "real"}):
        return "r"
    if "|x|" in bare:
        return "abs_x"
    if re.fullmatch(r"xs?\d?|reactance", words[0]) or (impedance and have & {"im", "imag", "imaginary"}):
        return "x"
    if have & {"re", "real"}:
        return "re"
    if have & {"im", "imag", "imaginary"}:
        return "im"
    return ""


def _through(words: list[str]) -> bool:
    """Whether a heading is of what goes through from one port to another, as S21 is."""
    return any(re.fullmatch(r"s(\d)(\d)", w) and w[1] != w[2] for w in words)


def columns_of(table: Table, first: bool = False) -> Columns:
    """The columns by their headings, what is missing guessed; of several that may be meant the `first` only where that
    was taken when the file came in.

    Raises
    ------
    ColumnsProblem
        Where the headings do not name a frequency and SWR, return loss, R and X, or real and imaginary part, where
        several columns may be meant, or a unit does not fit what stands under it.
    """
    if not table.header:
        return _without_header(table)
    try:
        return _by_headings(table, full_headings(table), first)
    except ColumnsProblem:
        named = roles_in(full_headings(table))
        told = any(all(n in named for n in ("frequency", *needed)) for needed in ROLES.values())
        if told or not table.above or full_headings(table) != table.header:
            raise
        both = tuple(" ".join(pair) for pair in zip(table.above, table.header, strict=True))
        return _by_headings(table, both, first)


def roles_in(headings: tuple[str, ...]) -> dict[str, list[int]]:
    """The columns that each role may stand in."""
    roles: dict[str, list[int]] = {}
    # Where both ports were swept it is the first that a sweep of one port is of.
    first = any("s11" in _words(h) for h in headings)
    for i, heading in enumerate(headings):
        if not (first and "s22" in _words(heading)) and (role := role_of(heading)):
            roles.setdefault(role, []).append(i)
    return roles


def suggested(table: Table) -> dict[int, str]:
    """What the columns are where their headings leave no doubt: a role each, to be confirmed."""
    headings = full_headings(table)
    found = {}
    for role, columns in roles_in(headings).items():
        if len(columns) > 1 or role not in ROLE_WORDS:
            continue
        try:
            unit = unit_of(table, columns[0], role, headings[columns[0]])
        except ColumnsProblem:
            continue
        said = f"{role} {unit.name}" if unit else role
        if role == "phase" and unit is None:
            continue
        found[columns[0]] = said if said in ROLE_WORDS else role
    return found


LEAST_OHM = 5.0
"""Where R stays below it, it may be a multiple of the reference impedance."""
_ALIKE = (Kind.R_X, Kind.RE_IM, Kind.R_ABS_X, Kind.POWERS)
"""Kinds of two columns that measure the same."""


def _by_headings(table: Table, headings: tuple[str, ...], first: bool) -> Columns:
    roles = roles_in(headings)
    expected = "headings name a frequency and SWR, return loss, R and X, or real and imaginary part"
    if "frequency" not in roles:
        raise asked(table, f"headings {shown(', '.join(headings))} without a frequency", expected)
    kind = next((k for k, needed in ROLES.items() if all(n in roles for n in needed)), None)
    if kind is None:
        raise asked(table, f"headings {shown(', '.join(headings))} do not name a reflection or impedance", expected)
    at = {n: _one_of(table, headings, n, roles[n], kind, first) for n in ("frequency", *ROLES[kind])}
    unit = frequency_unit(table, at["frequency"], headings[at["frequency"]])
    units = tuple(u.name if (u := unit_of(table, at[n], n, headings[at[n]])) else "" for n in ROLES[kind])
    if (named := [u for u in units if u]) and len(named) < len(units) and kind in _ALIKE:
        at_bare = at[ROLES[kind][units.index("")]]
        found = f"{shown(headings[at_bare])} without a unit beside one in {named[0]}"
        raise asked(table, found, "choose its unit", at_bare)
    guessed: list[str] = []
    if not unit:
        unit = guess_unit(table, at["frequency"])
        guessed.append(f"frequencies in {unit}")
    if kind is Kind.POWERS and not any(units):
        guessed.append("powers in W")
    impedances = [at[n] for n in ("r", "abs_z") if n in at and not any(units)]
    if impedances and max(map(abs, table.numbers(impedances[0]))) < LEAST_OHM:
        guessed.append(f"{KIND_WORDS[kind]}, not multiples of a reference impedance")
    return Columns(at["frequency"], tuple(at[n] for n in ROLES[kind]), kind, unit, units, tuple(guessed))


_HIGHEST = {"max", "maximum", "min", "minimum"}
"""What headings say of a limit, or of the highest of several figures."""
_OTHER = {"before", "old", "previous", "prior", "stored", "saved"}
"""What headings say of figures that were taken another time."""
_NOT_MEASURED = {
    "simulated", "simulation", "model", "modelled", "modeled", "predicted", "expected", "claimed", "theoretical",
    "theory", "ideal", "nominal", "typical", "published", "uncal", "uncalibrated", "uncorrected",
}  # fmt: skip
"""What they say of figures that nobody measured, or that are not those of the antenna."""
_OF_GAMMA, _OF_Z = {"s11", "s22", "gamma", "γ", "rho", "reflection"}, {"z", "z11", "impedance"}


def _one_of(table: Table, headings: tuple[str, ...], role: str, columns: list[int], kind: Kind, first: bool) -> int:
    """The column of a role; of several the one that its heading gives to this kind, or any where all say the same.

    Raises
    ------
    ColumnsProblem
        Where several may be meant.
    """
    if role == "phase" and len(columns) > 1:
        own = _OF_Z if kind is Kind.Z_PHASE else _OF_GAMMA
        columns = [i for i in columns if own & set(_words(headings[i]))] or columns
    doubtful = [i for i in columns if _HIGHEST & set(_words(headings[i]))]
    limits = [i for i in doubtful if first or _says_nothing(table, i)]
    columns = [i for i in columns if i not in limits] or columns
    if first or (len(columns) == 1 and not (_OTHER | _NOT_MEASURED | _HIGHEST) & set(_words(headings[columns[0]]))):
        return columns[0]
    if role == "frequency":
        same = _same_frequencies(table, columns)
    else:
        figures = [np.abs(table.numbers(c, infinite=True)) for c in columns]
        same = all(np.array_equal(one, figures[0]) for one in figures[1:])
    if not same:
        both = " and ".join(shown(headings[i]) for i in columns)
        raise asked(table, f"{both} could each be meant", "choose which of them counts", columns[-1])
    if columns[0] in doubtful:
        found = f"{shown(headings[columns[0]])} may be a limit, or what was measured"
        raise asked(table, found, "choose which columns count", columns[0])
    if (_OTHER | _NOT_MEASURED) & set(_words(headings[columns[0]])):
        found = f"{shown(headings[columns[0]])} may be from another time, or not measured"
        raise asked(table, found, "choose which columns count", columns[0])
    return columns[0]


def _says_nothing(table: Table, column: int) -> bool:
    """Whether a column has one figure throughout, or cells without a figure."""
    cells = {row[column].strip() for row in table.rows}
    return len(cells) == 1 or not all(map(table.numerals.is_number, cells))


def _same_frequencies(table: Table, columns: list[int]) -> bool:
    """Whether several columns tell the same frequencies in different units."""
    units = [frequency_unit(table, c) for c in columns]
    if not all(units) or len(set(units)) != len(units):
        return False
    hz = [np.array(table.numbers(c)) * UNITS_HZ[u.lower()] for c, u in zip(columns, units, strict=True)]
    return all(np.allclose(one, hz[0], rtol=1e-3) for one in hz[1:])


def _without_header(table: Table) -> Columns:
    named = frequency_unit(table, 0)
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
        right = "headings in the first line, such as: frequency MHz, R, X"
        raise asked(table, f"{table.width} columns without headings", right, 3)
    units = tuple(u.name if (u := unit_of(table, c, n)) else "" for c, n in zip(columns, ROLES[kind], strict=True))
    guessed.append(f"the other figures are {KIND_WORDS[kind]}")
    return Columns(0, columns, kind, unit, units, tuple(guessed))


LEAST_TOP_HZ, LARGEST_HZ = 1.75e6, 6.5e9
"""Where the highest frequency of a file may lie: from the 160 m band to what the trade's instruments reach."""


def guess_unit(table: Table, column: int, asks: bool = False) -> str:
    """Unit of the frequencies by their size, MHz before kHz, Hz and GHz where several are as likely.

    Raises
    ------
    ColumnsProblem
        Where several are as likely, or none, and it `asks`: a file of that kind is not confirmed later.
    """
    highest = max(table.numbers(column))
    likely = [u for u in ("MHz", "kHz", "Hz", "GHz") if LEAST_TOP_HZ <= highest * UNITS_HZ[u.lower()] <= LARGEST_HZ]
    if asks and len(likely) != 1:
        found = f"frequencies up to {highest:g} without a unit"
        raise asked(table, found, f"add the unit to the heading: {' or '.join(likely or FREQUENCY_UNITS)}", column)
    return likely[0] if likely else "MHz"
