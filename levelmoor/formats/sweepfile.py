"""A sweep from the bytes of a file, whatever the format."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.readings.reading_sweep import join_readings
from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.reflection import (
    ComplexArray,
    FloatArray,
    gamma_from_impedance,
    gamma_from_powers,
    gamma_from_return_loss,
    gamma_from_swr,
    swr_agrees_with_resistance,
    swr_from_gamma,
)
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.bounds import POINTS as LARGEST_POINTS
from levelmoor.core.words.counting import counted
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.column_units import (
    ColumnsProblem,
    asked,
    asked_of,
    degrees_of,
    full_headings,
    headings_of,
    reference_of,
    unit_of,
)
from levelmoor.formats.columns import (
    FREQUENCY_UNITS,
    KIND_WORDS,
    ROLES,
    SCALAR,
    Columns,
    Kind,
    columns_by_mapping,
    columns_of,
    role_of,
    roles_in,
    suggested,
)
from levelmoor.formats.plausible import check_agreeing, check_no_dates, check_passive, frequency_in_range
from levelmoor.formats.plugged_readers import read_by_plugin
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode, too_many_points
from levelmoor.formats.readings_file import is_readings, readings_of
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.touchstone import frequency_problem, read_touchstone
from levelmoor.formats.touchstone_header import looks_like_touchstone
from levelmoor.formats.units import UNITS, Quantity, Unit

COMPARED = 1000
"""So many rows are held against the other columns that tell the same."""
LARGEST_SWR = 10_000.0
"""No sweep has more at each of its points."""


@dataclass(frozen=True)
class ReadOptions:
    """What a person chose: the port of a Touchstone file; unit, kind and columns of a CSV. Empty: as the file says."""

    port: int = 1
    unit: str = ""
    kind: str = ""
    columns: str = ""


@dataclass(frozen=True)
class SweepFile:
    """What was read. `guessed` lists what the file does not say and a person should confirm."""

    format: str
    sweep: Sweep
    file_z0_ohm: float | None
    ports: int
    options: ReadOptions
    guessed: tuple[str, ...] = ()


def read_sweep_file(name: str, data: bytes, options: ReadOptions | None = None) -> SweepFile:
    """Read Touchstone or CSV.

    Raises
    ------
    FileProblem
        Naming file, line, column, what stands there and what would be right.
    """
    options = options or ReadOptions()
    if options.unit not in ("", *FREQUENCY_UNITS) or options.kind not in ("", *KIND_WORDS):
        said = shown(options.unit if options.unit not in ("", *FREQUENCY_UNITS) else options.kind)
        raise FileProblem(name, 1, 1, f"{said} was chosen", "a frequency unit and a kind of figure from the lists")
    if (brought := read_by_plugin(name, data)) is not None:
        return SweepFile(brought[0], brought[1], brought[1].z0_ohm, 1, options)
    lines = decode(name, data)
    try:
        if looks_like_touchstone(name, lines):
            return _from_touchstone(name, lines, options)
        table = read_table(name, lines)
        if is_readings(table) and not options.columns:
            return _from_readings(table, options)
        return sweep_of_table(table, options)
    except FileProblem:
        raise
    except ValueError as problem:
        raise FileProblem(name, 1, 1, str(problem), "a sweep of one port over rising frequencies") from None


def _from_readings(table: Table, options: ReadOptions) -> SweepFile:
    """A reading sheet: every figure with its own last digit, frequencies in any order, some of them twice."""
    if options.port != 1:
        raise FileProblem(table.name, 1, 1, f"port {options.port} was asked for", "port 1; readings have one port")
    found = readings_of(table)
    chosen = replace(options, unit="MHz", kind=found.kind.value)
    return SweepFile("readings", join_readings(found.readings), None, 1, chosen)


def _from_touchstone(name: str, lines: list[str], options: ReadOptions) -> SweepFile:
    data = read_touchstone(name, lines)
    if not 1 <= options.port <= data.ports:
        have = "port 1, the only one" if data.ports == 1 else f"port 1 to {data.ports}"
        raise FileProblem(name, 1, 1, f"port {options.port} was asked for", have)
    i = options.port - 1
    z0 = data.reference_ohm[i]
    sweep = Sweep(data.frequency_hz, np.ascontiguousarray(data.s[:, i, i]), z0)
    version = "2.0" if data.version.startswith("2") else "1.1"
    return SweepFile(f"touchstone {version}", sweep, z0, data.ports, options)


def sweep_of_table(table: Table, options: ReadOptions) -> SweepFile:
    """The sweep that a table holds. Raises FileProblem, and ColumnsProblem where a person has to say what it holds."""
    if len(table.rows) > LARGEST_POINTS:
        raise too_many_points(table.name, table.line_numbers[LARGEST_POINTS], len(table.rows))
    if options.columns:
        said = columns_by_mapping(table, options.columns, options.unit)
    else:
        said = columns_of(table, first=bool(options.unit and options.kind))
    columns = _confirmed(table, said, options)
    frequency = _frequencies(table, columns)
    gamma, half, stated = _gamma(table, columns)
    check_passive(table, columns.values, gamma)
    named = reference_of(table, columns.values[0]) if stated else None
    z0 = named or (50.0 if stated and columns.kind not in SCALAR else None)
    guessed = columns.guessed
    if not columns.said:
        every = max(len(table.rows) // COMPARED, 1)
        thin = replace(table, rows=table.rows[::every], line_numbers=table.line_numbers[::every])
        check_agreeing(thin, _others(thin, columns), np.abs(gamma)[::every])
        if columns.kind is Kind.SWR and (doubt := _against_resistance(table, columns, swr_from_gamma(np.abs(gamma)))):
            guessed = (*guessed, doubt)
    sweep = Sweep(frequency, gamma, named or 50.0, columns.kind in SCALAR, half)
    chosen = replace(options, unit=columns.unit, kind=columns.kind.value)
    return SweepFile("csv", sweep, z0, 1, chosen, guessed)


@dataclass(frozen=True)
class Look:
    """What a file that waits shows of itself: headings, first rows, what is asked, what is certain of a column, and
    what the answer is remembered by."""

    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    question: str
    suggested: Mapping[int, str]
    asked_of: tuple[str, ...]


def columns_named(name: str, data: bytes, columns: str, unit: str) -> tuple[tuple[str, ...], str]:
    """What an answer on the columns of a file is remembered by, and the unit of its frequencies.

    Raises
    ------
    FileProblem
        Where it is not a table.
    ValueError
        Where the columns cannot be what they are said to be.
    """
    table = read_table(name, decode(name, data))
    return asked_of(table), columns_by_mapping(table, columns, unit).unit


def look_at(name: str, data: bytes, rows: int = 3) -> Look:
    """Look at a table whose columns a person has to name. Raises FileProblem where it is none."""
    table = read_table(name, decode(name, data))
    try:
        sweep_of_table(table, ReadOptions())
        question = ""
    except ColumnsProblem as problem:
        question = sentence(problem.told)
    except FileProblem as problem:
        question = sentence(problem)
    certain = suggested(table) if table.header else {}
    return Look(headings_of(table), table.rows[:rows], question, certain, asked_of(table))


def _gamma(table: Table, columns: Columns) -> tuple[ComplexArray, FloatArray | None, bool]:
    """Γ of each row, half of what its last digit leaves open, and whether it is stated in a reference impedance."""
    kind, places = columns.kind, columns.values
    if kind in (Kind.Z_PHASE, Kind.GAMMA_PHASE, Kind.LOSS_PHASE):
        return _from_phase(table, columns)
    values = [np.array(table.numbers(c, infinite=kind is Kind.SWR)) for c in places]
    for column, figures in zip(places, values, strict=True):
        check_no_dates(table, column, figures)
    if kind is Kind.POWERS:
        magnitude, half = _from_powers(table, columns, values)
        return magnitude.astype(np.complex128), half, False
    values = [UNITS[u](v) if u else v for u, v in zip(columns.units, values, strict=True)]
    if kind is Kind.SWR:
        swr = values[0]
        if columns.units[0] == "dB":  # a person said so: 20 log10 of it
            swr = 10 ** (swr / 20)
        _check_swr(table, columns, swr)
        return gamma_from_swr(swr).astype(np.complex128), _half_step(table, columns, swr), True
    if kind is Kind.RETURN_LOSS:
        gamma = gamma_from_return_loss(_as_loss(table, places[0], values[0])).astype(np.complex128)
        step = 0.5 * 10.0 ** -table.decimals(places[0])
        return gamma, np.abs(gamma.real) * math.log(10) / 20 * step, True
    if kind is Kind.RE_IM:
        return values[0] + 1j * values[1], None, True
    if kind is Kind.R_ABS_X:
        return np.abs(gamma_from_impedance(np.abs(values[0]) + 1j * values[1], 50.0)).astype(np.complex128), None, False
    gamma = gamma_from_impedance(values[0] + 1j * values[1], 50.0)
    wrong = np.flatnonzero(~np.isfinite(gamma))
    if wrong.size:
        raise table.problem(int(wrong[0]), places[0], "R = -50 with X = 0", "R of at least 0, as a passive antenna has")
    return gamma, None, False


def _as_loss(table: Table, column: int, decibels: FloatArray) -> FloatArray:
    """Written as a loss or as a level: the sign most figures have tells.

    Raises
    ------
    ColumnsProblem
        Where a tenth of the figures have the other sign: then they are no return loss of anything passive.
    """
    loss = decibels if np.median(decibels) >= 0 else -decibels
    if np.mean(loss < -0.5) > 0.1:
        row = int(np.flatnonzero(loss < -0.5)[0])
        found = f"{shown(table.rows[row][column].strip())} among return losses of the opposite sign"
        raise asked(table, found, "choose what this column holds", column)
    return np.asarray(loss)


def _others(table: Table, columns: Columns) -> list[tuple[int, str, FloatArray]]:
    """|Γ| in 50 Ω as the other columns of the table tell it, where nothing of them is doubtful."""
    if not table.header:
        return []
    headings = full_headings(table)
    roles = {name: at for name, at in roles_in(headings).items() if len(at) == 1}
    found = []
    for kind in (Kind.SWR, Kind.RETURN_LOSS, Kind.R_X, Kind.POWERS):
        if kind is columns.kind or not all(n in roles for n in ROLES[kind]):
            continue
        at = tuple(roles[n][0] for n in ROLES[kind])
        try:
            units = tuple(u.name if (u := unit_of(table, c, n)) else "" for c, n in zip(at, ROLES[kind], strict=True))
            gamma, _, stated = _gamma(table, replace(columns, values=at, kind=kind, units=units))
        except FileProblem:
            continue  # a column that is not used may hold what it likes
        if not stated or reference_of(table, at[0]) in (None, 50.0):
            found.append((at[0], shown(headings[at[0]]), np.abs(gamma)))
    return found


def _against_resistance(table: Table, columns: Columns, swr: FloatArray) -> str:
    """Where a column of R beside the SWR contradicts it, whatever X is; nothing where it does not."""
    column = next((i for i, h in enumerate(table.header) if role_of(h) == "r"), None)
    if column is None:
        return ""
    step = 0.5 * 10.0 ** -table.decimals(columns.values[0])
    for i, (s, r) in enumerate(zip(swr.tolist(), table.numbers(column), strict=True)):
        half = 0.5 * 10.0 ** -table.decimals(column)
        if math.isfinite(s) and not swr_agrees_with_resistance(s, step, r, half, 50.0):
            return f"R = {r:g} Ω in line {table.line_numbers[i]} cannot have an SWR of {s:g}"
    return ""


def _confirmed(table: Table, columns: Columns, options: ReadOptions) -> Columns:
    """The columns with what a person said in place of what was guessed."""
    if options.port != 1:
        raise FileProblem(table.name, 1, 1, f"port {options.port} was asked for", "port 1; a CSV has one port")
    if options.unit and options.unit not in FREQUENCY_UNITS:
        raise ValueError(f'"{options.unit}" is not a unit of frequency; write {", ".join(FREQUENCY_UNITS)}')
    kind = Kind(options.kind) if options.kind else columns.kind
    wanted = len(ROLES[kind])
    if wanted != len(columns.values):
        raise FileProblem(
            table.name,
            table.line_numbers[0],
            1,
            f"{counted(len(columns.values), 'figure')} beside the frequency",
            f"{wanted}, which {KIND_WORDS[kind]} needs",
        )
    guessed = () if options.unit and options.kind else columns.guessed
    return replace(columns, kind=kind, unit=options.unit or columns.unit, guessed=guessed)


def _frequencies(table: Table, columns: Columns) -> FloatArray:
    written = np.array(table.numbers(columns.frequency))
    if written[0] < 0 or not np.all(np.diff(written) > 0):
        before: float | None = None
        for i, value in enumerate(written.tolist()):
            line, column = table.place(i, columns.frequency)
            problem = frequency_problem(table.name, line, column, table.rows[i][columns.frequency], value, before)
            if problem:
                raise problem
            before = value
    hz = np.asarray(np.round(written * UNITS_HZ[columns.unit.lower()], 3))
    if not columns.said:
        frequency_in_range(table, columns.frequency, hz, columns.unit)
    return hz


def _check_swr(table: Table, columns: Columns, swr: FloatArray) -> None:
    wrong = np.flatnonzero(swr < 1)
    if wrong.size:
        i, column = int(wrong[0]), columns.values[0]
        raise table.problem(
            i,
            column,
            f"an SWR of {shown(table.rows[i][column].strip())}",
            "an SWR of at least 1; is this a return loss, or a reflection coefficient?",
        )
    if np.all(np.isfinite(swr)) and np.min(swr) > LARGEST_SWR:
        column = columns.values[0]
        raise table.problem(0, column, f"an SWR of {shown(table.rows[0][column].strip())}", "a measured figure")


def _from_phase(table: Table, columns: Columns) -> tuple[ComplexArray, None, bool]:
    """Gamma from a size and its phase, and whether it is stated in a reference impedance, as no impedance is."""
    at, phase = columns.values
    size = np.array(table.numbers(at))
    if columns.units[0]:
        size = UNITS[columns.units[0]](size)
    said = UNITS[columns.units[1]] if columns.units[1] else UNITS["deg"] if columns.said else None
    turn = np.exp(1j * np.deg2rad(degrees_of(table, phase, said)))
    if columns.kind is Kind.LOSS_PHASE:
        return np.asarray(gamma_from_return_loss(_as_loss(table, at, size)) * turn), None, True
    wrong = np.flatnonzero(size < 0)
    if wrong.size:
        found = f"a magnitude of {shown(table.rows[int(wrong[0])][at].strip())}"
        raise table.problem(int(wrong[0]), at, found, "|Z| and |Γ| of at least 0")
    if columns.kind is Kind.GAMMA_PHASE:
        return np.asarray(size * turn), None, True
    return np.asarray(gamma_from_impedance(size * turn, 50.0)), None, False


def _from_powers(table: Table, columns: Columns, values: list[FloatArray]) -> tuple[FloatArray, FloatArray]:
    """|gamma| and half of what the digits of the two powers leave open."""
    units = [UNITS[u or "W"] for u in columns.units]
    watts = [_watts(v, u) for v, u in zip(values, units, strict=True)]
    forward, back = watts
    for i, (f, r) in enumerate(zip(forward.tolist(), back.tolist(), strict=True)):
        if f <= 0 or r < 0:
            column = columns.values[0] if f <= 0 else columns.values[1]
            found = f"a power of {shown(table.rows[i][column].strip())}"
            raise table.problem(i, column, found, "a forward power above 0 W and a reflected power of at least 0 W")
        if r > f:
            found = f"{r:.3g} W reflected of {f:.3g} W forward"
            raise table.problem(
                i, columns.values[1], found, "less reflected than forward; no antenna reflects more than it receives"
            )
    steps = [0.5 * 10.0 ** -table.decimals(c) for c in columns.values]
    most_f, most_b = (_watts(v + h, u) for v, h, u in zip(values, steps, units, strict=True))
    least_f, least_b = (
        _watts(v - h if u.name.startswith("dB") else np.maximum(v - h, 0.0), u)
        for v, h, u in zip(values, steps, units, strict=True)
    )
    most = np.minimum(gamma_from_powers(np.maximum(least_f, 1e-12), most_b), 1.0)
    least = gamma_from_powers(most_f, least_b)
    return gamma_from_powers(forward, back), np.asarray((most - least) / 2)


def _watts(figures: FloatArray, unit: Unit) -> FloatArray:
    """Powers; of voltages those into one resistance, since only their ratio counts here."""
    base = unit(figures)
    return np.asarray(base**2 / 50.0 if unit.quantity is Quantity.VOLTAGE else base)


def _half_step(table: Table, columns: Columns, swr: FloatArray) -> FloatArray:
    """Half of the last digit shown, as |gamma|."""
    step = 0.5 * 10.0 ** -table.decimals(columns.values[0])
    finite = np.where(np.isinf(swr), 1e9, swr)
    return np.asarray((gamma_from_swr(finite + step) - gamma_from_swr(np.maximum(finite - step, 1))) / 2)
