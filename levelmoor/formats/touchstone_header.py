"""The header of a Touchstone file: its option line and keywords, in any order and case [1]_.

References
----------
.. [1] Touchstone File Format Specification, Rev. 1.1 and Version 2.0, IBIS Open Forum (memory).
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import LARGEST_VALUE

PARAMETERS = ("S", "Y", "Z")
NOTATIONS = ("RI", "MA", "DB")
_OPTION_WORDS = {"hz", "khz", "mhz", "ghz", "s", "y", "z", "g", "h", "ri", "ma", "db", "r"}
_NUMBER = re.compile(r"\A[+-]?+(?:\d++\.?+\d*+|\.\d++)(?:[edED][+-]?+\d++)?+$")
D_EXPONENT = re.compile(r"(?<=[\d.])[dD](?=[+-]?\d)")
WORD = re.compile(r"\S+")


@dataclass
class Header:
    version: str = "1.0"
    unit: str = "ghz"
    parameter: str = "S"
    notation: str = "MA"
    reference: list[float] = field(default_factory=lambda: [50.0])
    ports: int = 0
    order: str = "21_12"
    matrix: str = "full"
    frequencies: int | None = None
    option_seen: bool = False
    data_line: int = 0

    @property
    def columns(self) -> int:
        entries = self.ports**2 if self.matrix == "full" else self.ports * (self.ports + 1) // 2
        return 1 + 2 * entries


def looks_like_touchstone(name: str, lines: Sequence[str]) -> bool:
    """By the ending .sNp or .ts, a [Version] line, or an option line made of Touchstone's words alone."""
    if re.search(r"\.(s\d+p|ts)$", name, re.IGNORECASE):
        return True
    for line in lines[:200]:
        text = line.split("!")[0].strip().lower()
        if text.startswith("[version]"):
            return True
        if text.startswith("#"):
            words = text[1:].split()
            return any(w in _OPTION_WORDS for w in words) and all(w in _OPTION_WORDS or _NUMBER.match(w) for w in words)
    return False


def read_header(name: str, lines: list[str]) -> Header:
    header = Header()
    ending = re.search(r"\.s(\d+)p$", name, re.IGNORECASE)
    header.ports = int(ending[1]) if ending else 0
    free_text, pending = False, 0
    for number, line in enumerate(lines):
        text = line.split("!")[0]
        low = text.strip().lower()
        if free_text or not low:
            free_text = free_text and not low.startswith("[end information]")
        elif low.startswith("#"):
            if not header.option_seen:
                _read_options(name, number, text, header)
        elif low.startswith("["):
            free_text, pending = _read_keyword(name, number, text, header), 0
            if low.startswith("[reference]"):
                pending = header.ports - len(header.reference)
        elif pending > 0:
            values = [number_at(name, number, m) for m in WORD.finditer(text)]
            header.reference += values
            pending -= len(values)
        else:
            header.data_line = number
            break
    else:
        raise FileProblem(name, len(lines), 1, "the file ends without a line of data", "at least one point")
    if not header.option_seen:
        raise FileProblem(
            name,
            header.data_line + 1,
            1,
            "data without an option line before them",
            "a line with unit, parameter, notation and reference, such as # MHz S RI R 50",
        )
    _settle_ports(name, lines, header)
    return header


def _settle_ports(name: str, lines: list[str], header: Header) -> None:
    """Without a telling name the first line of data tells one port from two."""
    if not header.ports:
        count = len(lines[header.data_line].split("!")[0].split())
        header.ports = {3: 1, 9: 2}.get(count, 1)
    if header.ports not in (1, 2):
        raise FileProblem(name, 1, 1, f"a file of {header.ports} ports", "one or two ports (.s1p, .s2p)")
    if len(header.reference) == 1:
        header.reference *= header.ports
    if len(header.reference) < header.ports:
        raise FileProblem(
            name,
            header.data_line + 1,
            1,
            f"{len(header.reference)} reference impedance for {header.ports} ports",
            "one in [Reference] for each port",
        )


def _read_options(name: str, number: int, text: str, header: Header) -> None:
    """The option line: unit, parameter, notation and R with its figure, in any order; the rest by default [1]_."""
    header.option_seen = True
    start = text.index("#") + 1
    words = [(m[0], m.start() + 1) for m in WORD.finditer(text, start)]
    position = 0
    while position < len(words):
        word, column = words[position]
        low = word.lower()
        position += 1
        if low in UNITS_HZ and low.endswith("hz"):
            header.unit = low
        elif low.upper() in PARAMETERS:
            header.parameter = low.upper()
        elif low.upper() in NOTATIONS:
            header.notation = low.upper()
        elif low in ("g", "h"):
            raise FileProblem(name, number + 1, column, f"parameter {shown(word)}", "S, Y or Z parameters")
        elif low == "r" or re.match(r"r\d", low):
            header.reference = []
            if low != "r":
                header.reference.append(_resistance(name, number, word[1:], column + 1))
            while position < len(words) and _NUMBER.match(words[position][0]):
                header.reference.append(_resistance(name, number, *words[position]))
                position += 1
            if not header.reference:
                raise FileProblem(
                    name, number + 1, column, "R without a figure", "the reference impedance in ohm, as in R 50"
                )
        else:
            raise FileProblem(
                name,
                number + 1,
                column,
                f"{shown(word)} in the option line",
                "Hz, kHz, MHz or GHz; S, Y or Z; RI, MA or DB; and R with its ohms",
            )


def _resistance(name: str, number: int, word: str, column: int) -> float:
    try:
        value = float(word)
    except ValueError:
        value = -1.0
    if not 0 < value < 1e9:
        raise FileProblem(
            name, number + 1, column, f"a reference of {shown(word)}", "an impedance above 0 ohm, as in R 50"
        )
    return value


def _read_keyword(name: str, number: int, text: str, header: Header) -> bool:
    """One [Keyword] line of version 2; True where free text follows."""
    match = re.match(r"\s*\[([^\]]*)\]\s*(.*)$", text)
    if not match:
        raise FileProblem(name, number + 1, text.index("[") + 1, shown(text.strip()), "a keyword that ends with ]")
    keyword, value = " ".join(match[1].lower().split()), match[2].strip()
    column = match.start(2) + 1
    if keyword == "version":
        if value not in ("1.0", "1.1", "2.0", "2.1"):
            raise FileProblem(name, number + 1, column, f"version {shown(value)}", "version 1.0 to 2.1")
        header.version = value if value.startswith("2") else "1.0"
    elif keyword in ("number of ports", "number of frequencies"):
        if not value.isdigit() or int(value) < 1:
            raise FileProblem(name, number + 1, column, shown(value), f"a whole number from 1 in [{match[1]}]")
        if keyword == "number of ports":
            header.ports = int(value)
        else:
            header.frequencies = int(value)
    elif keyword == "two-port data order":
        if value not in ("12_21", "21_12"):
            raise FileProblem(name, number + 1, column, shown(value), "12_21 or 21_12")
        header.order = value
    elif keyword == "matrix format":
        if value.lower() not in ("full", "lower", "upper"):
            raise FileProblem(name, number + 1, column, shown(value), "Full, Lower or Upper")
        header.matrix = value.lower()
    elif keyword == "reference":
        header.reference = [_resistance(name, number, m[0], m.start() + 1) for m in WORD.finditer(text, match.start(2))]
    elif keyword == "mixed-mode order":
        raise FileProblem(name, number + 1, 1, "mixed-mode data", "single-ended ports")
    return keyword == "begin information"


def number_at(name: str, number: int, match: re.Match[str]) -> float:
    word = match[0]
    expected = "a number such as 0.125 or -1.5E-3"
    if _NUMBER.match(word):
        if abs(value := float(D_EXPONENT.sub("E", word))) <= LARGEST_VALUE:
            return value
        expected = "a plausible value; check its exponent"
    if re.match(r"[+-]?\d+,\d+$", word):
        expected = f"a decimal point, as in {word.replace(',', '.')}"
    elif word.lower().strip("+-") in ("nan", "inf", "infinity"):
        expected = "a finite number; the instrument had no reading here, so sweep again"
    raise FileProblem(name, number + 1, match.start() + 1, f"{shown(word)}, which is not a number", expected)
