"""Numbers as files write them: which sign parts the decimals, and which the thousands."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

LONGEST = 60
"""Letters of a number; what has more is none."""
NUMBER = r"[+-]?+(?:\d++[.,]?+\d*+|[.,]\d++)(?:[eEdD][+-]?+\d++)?+"
_PLAIN = re.compile(rf"\A{NUMBER}")
_QUICK = re.compile(r"\A-?+\d++(?:\.\d++)?+")
_SIGNED = re.compile(r"\A[+-]?+(\d++(?:[.,]\d++)++)(?:[eEdD][+-]?+\d++)?+")
_GROUPED = re.compile(r"\A[+-]?+\d{1,3}(?:[\u00a0\u202f\u2009'’ ]\d{3})++(?:[.,]\d*+)?+")
_BETWEEN_GROUPS = re.compile("[\u00a0\u202f\u2009'’ ]")


class TwoSigns(ValueError):
    """A cell whose sign may part decimals or thousands; the cell is its argument."""


@dataclass(frozen=True)
class Numerals:
    """The sign that parts decimals, and the one that parts thousands where there is one."""

    decimal: str = "."
    group: str = ""

    def bare(self, cell: str) -> str:
        """The cell with a point before its decimals and nothing between its thousands; other text as it is."""
        text = cell.strip().replace("−", "-")
        if len(text) > LONGEST:
            return text
        if text.endswith(":1"):
            text = text[:-2].rstrip()
        if _GROUPED.fullmatch(text):
            text = _BETWEEN_GROUPS.sub("", text)
        if self.group and _SIGNED.fullmatch(text):
            text = text.replace(self.group, "")
        return text.replace(",", ".") if self.decimal == "," and _PLAIN.fullmatch(text) else text

    def is_number(self, cell: str) -> bool:
        bare = self.bare(cell)
        return len(bare) <= LONGEST and _PLAIN.fullmatch(bare) is not None and "," not in bare

    def value(self, cell: str) -> float | None:
        """The number, None for other text."""
        quick = cell.replace(",", ".", 1) if self.decimal == "," and not self.group else cell
        if len(quick) <= LONGEST and _QUICK.fullmatch(quick) is not None:
            return float(quick)
        bare = self.bare(cell)
        if len(bare) > LONGEST or _PLAIN.fullmatch(bare) is None or "," in bare:
            return None
        return float(bare.replace("D", "E").replace("d", "e"))

    def decimals(self, cell: str) -> int:
        """Digits after the decimal sign, an exponent counted in."""
        if _QUICK.fullmatch(cell) is not None:
            return len(cell.partition(".")[2])
        mantissa, _, exponent = self.bare(cell).lower().replace("d", "e").partition("e")
        places = len(mantissa.partition(".")[2])
        return places - (int(exponent) if exponent.lstrip("+-").isdigit() else 0)


def looks_like_number(cell: str) -> bool:
    """Whether a cell is a number, whichever sign parts its decimals."""
    text = cell.strip().replace("−", "-").removesuffix(":1").rstrip()
    return len(text) <= LONGEST and any(p.fullmatch(text) for p in (_PLAIN, _SIGNED, _GROUPED))


def numerals_of(cells: Iterable[str]) -> Numerals:
    """How the numbers among the cells of one file are written.

    A sign with three digits behind it may part thousands: it counts for a decimal sign only where no other is one.

    Raises
    ------
    TwoSigns
        Where one sign parts decimals for certain and the other stands in a way that may be either, or both do.
    """
    sure: dict[str, str] = {}
    doubtful: dict[str, str] = {}
    groups: set[str] = set()
    for cell in cells:
        points, commas = cell.count("."), cell.count(",")
        if points + commas < 2 and (not points or "." in sure) and (not commas or "," in sure):
            continue  # it tells nothing more
        match = _SIGNED.fullmatch(cell.strip().removesuffix(":1").rstrip())
        if match is None or len(cell) > LONGEST:
            continue
        digits = match[1]
        signs = [c for c in digits if c in ".,"]
        first, *parts = re.split(r"[.,]", digits)
        if len(set(signs)) == 2:
            sure.setdefault(signs[-1], cell)
            groups.add(signs[0])
        elif len(signs) > 1:
            groups.add(signs[0])
            sure.setdefault("," if signs[0] == "." else ".", cell)
        elif len(parts[0]) == 3 and len(first) <= 3 and not first.startswith("0"):
            doubtful.setdefault(signs[0], cell)
        else:
            sure.setdefault(signs[0], cell)
    if len(sure) == 2:
        raise TwoSigns(list(sure.values())[1])
    if sure:
        decimal = next(iter(sure))
        other = "," if decimal == "." else "."
        if other in doubtful and other not in groups:
            raise TwoSigns(doubtful[other])
        return Numerals(decimal, other if other in groups else "")
    if len(doubtful) == 2:
        raise TwoSigns(list(doubtful.values())[1])
    return Numerals(next(iter(doubtful), "."))
