"""Touchstone 1.x and 2.0, one- and two-port, as real instruments write them.

The header is read first, so that options may stand in any order and case and an error can name its place; the data are
read at once, and looked at line by line only where something is wrong with them. Version 1 normalises Z by R and Y by
1/R, version 2 does not normalise at all.

References
----------
.. [1] Touchstone File Format Specification, Rev. 1.1 and Version 2.0, IBIS Open Forum (memory).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import islice

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.frequency import HIGHEST_HZ, UNITS_HZ
from levelmoor.core.words.bounds import POINTS as LARGEST_POINTS
from levelmoor.core.words.counting import counted
from levelmoor.formats.plausible import LEAST_TOP_HZ, too_large
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import LARGEST_VALUE, too_many_points
from levelmoor.formats.touchstone_header import D_EXPONENT, WORD, Header, number_at, read_header

_MORE_THAN_FIGURES = "!#[dD"


@dataclass(frozen=True)
class TouchstoneData:
    """frequency_hz (n,), s (n, ports, ports) referred to `reference_ohm`, one per port."""

    version: str
    frequency_hz: NDArray[np.float64]
    s: NDArray[np.complex128]
    reference_ohm: tuple[float, ...]

    @property
    def ports(self) -> int:
        return len(self.reference_ohm)


def read_touchstone(name: str, lines: list[str]) -> TouchstoneData:
    """Read a one- or two-port Touchstone file from its lines.

    Raises
    ------
    FileProblem
        Naming line and column of what cannot be read.
    """
    header = read_header(name, lines)
    body = _data(lines, header)
    if header.ports == 2 and header.version == "1.0":
        body = _without_noise(body)
    if len(body) > LARGEST_POINTS:
        raise too_many_points(name, _line_of(lines, header, LARGEST_POINTS), len(body))
    parsed = _parse(header, body)
    if parsed is None:
        raise _diagnosis(name, lines, header, len(body))
    if header.frequencies is not None and header.frequencies != len(body):
        raise FileProblem(
            name,
            _line_of(lines, header, len(body) - 1),
            1,
            f"the data end after {len(body)} frequencies",
            f"[Number of Frequencies] says {header.frequencies}; the file may be cut off",
        )
    frequency, matrix = parsed
    hertz = np.round(frequency * UNITS_HZ[header.unit], 3)
    if not LEAST_TOP_HZ <= hertz[-1] <= HIGHEST_HZ or not np.all(np.diff(hertz) > 0):
        raise _wrong_unit(name, lines, header, float(frequency[0]), float(frequency[-1]))
    s, reference = _to_scattering(name, header, matrix)
    for port in range(header.ports):
        point = too_large(s[:, port, port])
        if point is None and header.notation == "DB" and np.all(np.abs(s[:, port, port]) > 1):
            point = 0  # each of them a little more than all: shares that were written as dB
        if point is not None:
            found = f"a reflection of {abs(s[point, port, port]):.4g}"
            right = f"at most 1; are the figures really in {header.notation}, as the option line says?"
            raise FileProblem(name, _line_of(lines, header, point), 1, found, right)
    return TouchstoneData(header.version, hertz, s, reference)


def _wrong_unit(name: str, lines: list[str], header: Header, low: float, high: float) -> FileProblem:
    """Figures that are no frequencies in the unit of the option line."""
    number = next((i for i, line in enumerate(lines) if line.lstrip().startswith("#")), 0)
    unit = {"hz": "Hz", "khz": "kHz", "mhz": "MHz", "ghz": "GHz"}[header.unit]
    found = f"the option line says {unit}, and the frequencies run from {low:g} to {high:g}"
    return FileProblem(name, number + 1, 1, found, "the unit of the frequencies, as in # GHz S RI R 50")


def _numbered_data(lines: list[str], header: Header) -> Iterator[tuple[int, str]]:
    """Number (from 0) and text of each line of data, comments gone and D exponents written with E."""
    for number in range(header.data_line, len(lines)):
        text = lines[number].partition("!")[0]
        bare = text.lstrip()
        if bare.lower().startswith(("[end]", "[noise data]")):
            return
        if bare and bare[0] not in "#[":
            yield number, D_EXPONENT.sub("E", text)


def _data(lines: list[str], header: Header) -> list[str]:
    """The texts of the lines of data; quickly where they hold nothing but figures."""
    plain = lines[header.data_line :]
    joined = "\n".join(plain)
    if any(sign in joined for sign in _MORE_THAN_FIGURES):
        return [text for _, text in _numbered_data(lines, header)]
    return [text for text in plain if text and not text.isspace()]


def _without_noise(body: list[str]) -> list[str]:
    """Version 1 two-port files may end in lines of five noise figures that start again at a lower frequency [1]_."""
    counts = [len(text.split()) for text in body]
    if 5 not in counts:
        return body
    first = counts.index(5)
    if first == 0 or any(c != 5 for c in counts[first:]):
        return body
    try:
        return body[:first] if float(body[first].split()[0]) <= float(body[first - 1].split()[0]) else body
    except ValueError:
        return body


def _parse(header: Header, body: list[str]) -> tuple[NDArray[np.float64], NDArray[np.complex128]] | None:
    """Frequencies in the file's unit and matrices, or None where anything is not as it should be."""
    joined = "\n".join(body)
    # Python reads 1_0 as a number, Touchstone does not.
    if "_" in joined or not _even(joined, body, header.columns):
        return None
    try:
        table = np.array(joined.split(), dtype=np.float64)
    except ValueError:
        return None
    if table.size != len(body) * header.columns:
        return None
    table = table.reshape(len(body), header.columns)
    frequency = table[:, 0]
    if header.notation != "RI" and _as_radians(table[:, 2::2]):
        return None
    with np.errstate(all="ignore"):  # figures too large for their notation are looked for below
        matrix = _matrices(header, _complex(header.notation, table[:, 1::2], table[:, 2::2]))
    sound = (
        np.all(np.isfinite(frequency))
        and np.all(np.abs(matrix) <= LARGEST_VALUE)
        and frequency[0] >= 0
        and np.all(np.diff(frequency) > 0)
    )
    return (frequency, matrix) if sound else None


def _as_radians(angles: NDArray[np.float64]) -> bool:
    """Whether angles turn at ±π, as radians do and degrees do not."""
    return bool(-np.pi - 1e-3 <= np.min(angles) < -3.0 and 3.0 < np.max(angles) <= np.pi + 1e-3)


def _complex(notation: str, first: NDArray[np.float64], second: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Complex figures from pairs: real and imaginary part, or size (as it is or in dB) and angle in degrees."""
    if notation == "RI":
        return np.asarray(first + 1j * second)
    size = first if notation == "MA" else 10 ** (first / 20)
    return np.asarray(size * np.exp(1j * np.deg2rad(second)))


def _matrices(header: Header, entries: NDArray[np.complex128]) -> NDArray[np.complex128]:
    """Matrices (n, ports, ports) from the entries of each line (n, k) [1]_.

    A full matrix of two ports stands as 11, 21, 12, 22 by default and as 11, 12, 21, 22 where the order says so; a
    lower one holds 11, 21, 22, an upper one 11, 12, 22, and what is missing is the other's mirror image.
    """
    count, ports = entries.shape[0], header.ports
    if ports == 1:
        return entries.reshape(count, 1, 1)
    if header.matrix == "full":
        square = entries.reshape(count, ports, ports)
        return np.swapaxes(square, 1, 2) if header.order == "21_12" else square
    matrix = np.empty((count, ports, ports), dtype=np.complex128)
    rows, columns = np.tril_indices(ports) if header.matrix == "lower" else np.triu_indices(ports)
    matrix[:, rows, columns] = entries
    matrix[:, columns, rows] = entries
    return matrix


def _line_of(lines: list[str], header: Header, index: int) -> int:
    """Number (from 1) of the line that holds a point."""
    return next(islice(_numbered_data(lines, header), index, None))[0] + 1


def _even(joined: str, body: list[str], columns: int) -> bool:
    """Whether every line holds so many figures, or at the most so many where one kind of blank is used throughout.

    The latter is quicker, and enough: a line with fewer figures is found by the count of all of them.
    """
    if ("\t" in joined) != (" " in joined):
        blank = "\t" if "\t" in joined else " "
        if {line.count(blank) for line in body} == {columns - 1}:
            return True
    return set(map(len, map(str.split, body))) == {columns}


def _diagnosis(name: str, lines: list[str], header: Header, count: int) -> FileProblem:
    """The first thing that is wrong with the lines of data, with its place."""
    before: float | None = None
    for number, text in islice(_numbered_data(lines, header), count):
        words = list(WORD.finditer(text))
        try:
            values = [number_at(name, number, m) for m in words]
        except FileProblem as problem:
            return problem
        if len(words) != header.columns:
            end = words[-1].end() + 1 if len(words) < header.columns else words[header.columns].start() + 1
            return FileProblem(
                name,
                number + 1,
                end,
                f"{counted(len(words), 'figure')} in this line",
                f"{header.columns} in each line of {header.ports}-port data: the frequency and "
                f"{header.columns - 1} more",
            )
        wrong = frequency_problem(name, number + 1, words[0].start() + 1, words[0][0], values[0], before)
        if wrong:
            return wrong
        before = values[0]
    if header.notation != "RI":
        found = f"figures in {header.notation} that give no finite reflection, or angles that wrap at ±π"
        right = "magnitudes as in the option line (MA or DB), and angles in degrees"
        return FileProblem(name, header.data_line + 1, 1, found, right)
    return FileProblem(
        name,
        header.data_line + 1,
        1,
        f"figures in {header.notation} that give no finite reflection",
        "check the notation in the option line (RI, MA or DB) and the exponents",
    )


def frequency_problem(
    name: str, line: int, column: int, written: str, value: float, before: float | None
) -> FileProblem | None:
    """What is wrong with a frequency after the one before it, or None; the one rule for every format."""
    if value < 0:
        return FileProblem(name, line, column, f"a frequency of {shown(written)}", "a frequency of at least 0")
    if before is not None and value == before:
        return FileProblem(name, line, column, f"the frequency {shown(written)} repeats", "rising frequencies")
    if before is not None and value < before:
        return FileProblem(
            name,
            line,
            column,
            f"the frequency goes back to {shown(written)} after {before:.12g}",
            "rising frequencies",
        )
    return None


def _to_scattering(
    name: str, header: Header, matrix: NDArray[np.complex128]
) -> tuple[NDArray[np.complex128], tuple[float, ...]]:
    """S from S, Z or Y [1]_: version 1 holds Z/R and Y R, version 2 ohms and siemens."""
    reference = np.array(header.reference[: header.ports])
    if header.parameter == "S":
        return matrix, tuple(reference.tolist())
    unit = np.eye(header.ports, dtype=np.complex128)
    if header.version == "1.0":
        normalised = matrix
    else:
        root = np.sqrt(np.outer(reference, reference))
        normalised = matrix / root if header.parameter == "Z" else matrix * root
    try:
        if header.parameter == "Z":
            s = np.linalg.solve(normalised + unit, normalised - unit)  # the two commute, so the side does not matter
        else:
            s = np.linalg.solve(unit + normalised, unit - normalised)
        return np.asarray(s, dtype=np.complex128), tuple(reference.tolist())
    except np.linalg.LinAlgError:
        raise FileProblem(
            name,
            header.data_line + 1,
            1,
            f"{header.parameter} parameters with no finite reflection",
            "a plausible value; an impedance of minus the reference cannot be measured",
        ) from None
