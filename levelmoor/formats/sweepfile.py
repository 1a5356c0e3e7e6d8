"""A sweep from the bytes of a file, whatever the format."""

import math
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
)
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.bounds import POINTS as LARGEST_POINTS
from levelmoor.core.words.counting import counted
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
)
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode, too_many_points
from levelmoor.formats.readings_file import is_readings, readings_of
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.touchstone import frequency_problem, read_touchstone
from levelmoor.formats.touchstone_header import looks_like_touchstone


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
        raise FileProblem(name, 1, 1, f"{said} was chosen", "a unit of frequency and a kind of figure from the lists")
    lines = decode(name, data)
    try:
        if looks_like_touchstone(name, lines):
            return _from_touchstone(name, lines, options)
        table = read_table(name, lines)
        if is_readings(table) and not options.columns:
            return _from_readings(table, options)
        return _from_table(table, options)
    except FileProblem:
        raise
    except ValueError as problem:
        raise FileProblem(name, 1, 1, str(problem), "a sweep of one port over rising frequencies") from None


def _from_readings(table: Table, options: ReadOptions) -> SweepFile:
    """A reading sheet: every figure with its own last digit, frequencies in any order, some of them twice."""
    if options.port != 1:
        raise FileProblem(table.name, 1, 1, f"port {options.port} was asked for", "readings have one port")
    found = readings_of(table)
    chosen = replace(options, unit="MHz", kind=found.kind.value)
    return SweepFile("readings", join_readings(found.readings), None, 1, chosen)


def _from_touchstone(name: str, lines: list[str], options: ReadOptions) -> SweepFile:
    data = read_touchstone(name, lines)
    if not 1 <= options.port <= data.ports:
        have = "one port" if data.ports == 1 else f"ports 1 to {data.ports}"
        raise FileProblem(name, 1, 1, f"port {options.port} was asked for", f"this file has {have}")
    i = options.port - 1
    z0 = data.reference_ohm[i]
    sweep = Sweep(data.frequency_hz, np.ascontiguousarray(data.s[:, i, i]), z0)
    version = "2.0" if data.version.startswith("2") else "1.1"
    return SweepFile(f"touchstone {version}", sweep, z0, data.ports, options)


def _from_table(table: Table, options: ReadOptions) -> SweepFile:
    if len(table.rows) > LARGEST_POINTS:
        raise too_many_points(table.name, table.line_numbers[LARGEST_POINTS], len(table.rows))
    said = columns_by_mapping(table, options.columns, options.unit) if options.columns else columns_of(table)
    columns = _confirmed(table, said, options)
    frequency = _frequencies(table, columns)
    infinite = columns.kind is Kind.SWR
    values = [np.array(table.numbers(c, infinite)) for c in columns.values]
    half: FloatArray | None = None
    z0: float | None = None
    scalar = columns.kind in SCALAR
    if columns.kind is Kind.SWR:
        _check_swr(table, columns, values[0])
        magnitude = gamma_from_swr(values[0])
        half = _half_step(table, columns, values[0])
        gamma = magnitude.astype(np.complex128)
    elif columns.kind is Kind.RETURN_LOSS:
        # Written as a loss or as a level: the sign most figures have tells.
        loss = values[0] if np.median(values[0]) >= 0 else -values[0]
        gamma = gamma_from_return_loss(loss).astype(np.complex128)
        step = 0.5 * 10.0 ** -table.decimals(columns.values[0])
        half = np.abs(gamma.real) * math.log(10) / 20 * step
    elif columns.kind is Kind.POWERS:
        magnitude, half = _from_powers(table, columns, values[0], values[1])
        gamma = magnitude.astype(np.complex128)
    elif columns.kind in (Kind.Z_PHASE, Kind.GAMMA_PHASE, Kind.LOSS_PHASE):
        gamma, z0 = _from_phase(table, columns, values[0], values[1])
    elif columns.kind is Kind.R_ABS_X:
        gamma = np.abs(gamma_from_impedance(np.abs(values[0]) + 1j * values[1], 50.0)).astype(np.complex128)
    elif columns.kind is Kind.R_X:
        gamma = gamma_from_impedance(values[0] + 1j * values[1], 50.0)
        wrong = np.flatnonzero(~np.isfinite(gamma))
        if wrong.size:
            raise table.problem(
                int(wrong[0]), columns.values[0], "R = -50 with X = 0", "a passive antenna has R of at least 0"
            )
    else:
        gamma, z0 = values[0] + 1j * values[1], 50.0
    sweep = Sweep(frequency, gamma, 50.0, scalar, half)
    chosen = replace(options, unit=columns.unit, kind=columns.kind.value)
    guessed = columns.guessed
    if columns.kind is Kind.SWR and (doubt := _against_resistance(table, columns, values[0])):
        guessed = (*guessed, doubt)
    return SweepFile("csv", sweep, z0, 1, chosen, guessed)


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
        raise FileProblem(table.name, 1, 1, f"port {options.port} was asked for", "a CSV has one port")
    if options.unit and options.unit not in FREQUENCY_UNITS:
        raise ValueError(f'"{options.unit}" is not a unit of frequency; {", ".join(FREQUENCY_UNITS)} are')
    kind = Kind(options.kind) if options.kind else columns.kind
    wanted = len(ROLES[kind])
    if wanted != len(columns.values):
        raise FileProblem(
            table.name,
            table.line_numbers[0],
            1,
            f"{counted(len(columns.values), 'figure')} beside the frequency",
            f"{KIND_WORDS[kind]} needs {wanted}",
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
    return np.asarray(np.round(written * UNITS_HZ[columns.unit.lower()], 3))


def _check_swr(table: Table, columns: Columns, swr: FloatArray) -> None:
    wrong = np.flatnonzero(swr < 1)
    if wrong.size:
        i, column = int(wrong[0]), columns.values[0]
        raise table.problem(
            i,
            column,
            f"an SWR of {shown(table.rows[i][column].strip())}",
            "an SWR is never below 1; is this a return loss, or a reflection coefficient?",
        )


def _from_phase(
    table: Table, columns: Columns, size: FloatArray, degrees: FloatArray
) -> tuple[ComplexArray, float | None]:
    """Gamma from a size and its phase, and the reference that it is stated in, None for an impedance."""
    turn = np.exp(1j * np.deg2rad(degrees))
    wrong = np.flatnonzero(size < 0)
    if columns.kind is Kind.LOSS_PHASE:
        loss = size if np.median(size) >= 0 else -size
        return np.asarray(gamma_from_return_loss(loss) * turn), 50.0
    if wrong.size:
        found = f"a size of {shown(table.rows[int(wrong[0])][columns.values[0]].strip())}"
        raise table.problem(int(wrong[0]), columns.values[0], found, "|Z| and |Γ| are at least 0")
    if columns.kind is Kind.GAMMA_PHASE:
        return np.asarray(size * turn), 50.0
    return np.asarray(gamma_from_impedance(size * turn, 50.0)), None


def _from_powers(
    table: Table, columns: Columns, forward: FloatArray, back: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """|gamma| and half of what the digits of the two powers leave open."""
    for i, (f, r) in enumerate(zip(forward.tolist(), back.tolist(), strict=True)):
        if f <= 0 or r < 0:
            column = columns.values[0] if f <= 0 else columns.values[1]
            found = f"a power of {shown(table.rows[i][column].strip())}"
            raise table.problem(i, column, found, "forward power is above 0 W and reflected power at least 0 W")
        if r > f:
            raise table.problem(
                i, columns.values[1], f"{r:g} W reflected of {f:g} W forward", "no antenna reflects more than it gets"
            )
    h = [0.5 * 10.0 ** -table.decimals(c) for c in columns.values]
    most = np.minimum(gamma_from_powers(np.maximum(forward - h[0], 1e-12), back + h[1]), 1.0)
    least = gamma_from_powers(forward + h[0], np.maximum(back - h[1], 0.0))
    return gamma_from_powers(forward, back), np.asarray((most - least) / 2)


def _half_step(table: Table, columns: Columns, swr: FloatArray) -> FloatArray:
    """Half of the last digit shown, as |gamma|."""
    step = 0.5 * 10.0 ** -table.decimals(columns.values[0])
    finite = np.where(np.isinf(swr), 1e9, swr)
    return np.asarray((gamma_from_swr(finite + step) - gamma_from_swr(np.maximum(finite - step, 1))) / 2)
