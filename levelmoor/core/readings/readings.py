"""Readings: one figure at a time from an old analyzer, a radio's meter or a wattmeter, as displayed."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.rf.reflection import (
    gamma_from_impedance,
    gamma_from_powers,
    gamma_from_swr,
    swr_from_gamma,
)
from levelmoor.core.words.counting import article


class ReadingKind(StrEnum):
    """What is read beside the frequency."""

    SWR = "swr"
    R_X = "r_x"
    R_ABS_X = "r_abs_x"
    POWERS = "powers"


READING_WORDS = {
    ReadingKind.SWR: "SWR",
    ReadingKind.R_X: "R and X with its sign",
    ReadingKind.R_ABS_X: "R and X, sign not known",
    ReadingKind.POWERS: "forward and reflected power",
}
NEEDED = {
    ReadingKind.SWR: ("swr",),
    ReadingKind.R_X: ("r", "x"),
    ReadingKind.R_ABS_X: ("r", "x"),
    ReadingKind.POWERS: ("forward", "reflected"),
}
"""The figures of each kind; an SWR may stand beside R and X, as some displays show all three."""
FIELD_WORDS = {
    "frequency": "frequency",
    "swr": "SWR",
    "r": "R in Ω",
    "x": "X in Ω",
    "forward": "forward power in W",
    "reflected": "reflected power in W",
}
_NUMBER = re.compile(r"^([+\-−]?)(\d+(?:[.,]\d*)?|[.,]\d+)$")
_INFINITE = ("inf", "infinite", "∞", "open", "short")
_BOUND = re.compile(r"(?:(<=?|≤|under|below|less than|at most)|(>=?|≥|over|above|more than|at least))\s*")
_OFF_SCALE = ("off scale", "off the scale", "offscale", "refused", "pegged", "full scale")
OFF_SCALE_SWR = 3.0
"""Where the scale of most radios' meters ends (common practice, no source)."""
HIGHEST_SWR = 999.0
"""A display's way to say that everything comes back."""


@dataclass(frozen=True)
class Shown:
    """A figure as displayed: its value and half of its last digit; 37 means 36.5 to 37.5. `bound` is `most` or `least`
    where the display only told that it is no more, or no less, than the value."""

    value: float
    half: float
    text: str
    bound: str = ""

    @property
    def low(self) -> float:
        return 1.0 if self.bound == "most" else self.value - (0.0 if self.bound else self.half)

    @property
    def high(self) -> float:
        return HIGHEST_SWR if self.bound == "least" else self.value + (0.0 if self.bound else self.half)


@dataclass(frozen=True)
class Reading:
    """One reading. What was not read is None; `x_signed` says whether the sign of X is known. `id` is the entry's."""

    id: str
    frequency_hz: float
    swr: Shown | None = None
    r: Shown | None = None
    x: Shown | None = None
    x_signed: bool = True
    forward: Shown | None = None
    reflected: Shown | None = None

    def __post_init__(self) -> None:
        if self.swr is None and (self.r is None or self.x is None) and (self.forward is None or self.reflected is None):
            raise ValueError("a reading needs a frequency with SWR, R and X, or forward and reflected power")

    def impedance_ohm(self) -> complex | None:
        """R + jX, None where they or the sign of X were not read."""
        return complex(self.r.value, self.x.value) if self.r and self.x and self.x_signed else None

    def magnitude(self, z0_ohm: float = 50.0) -> tuple[float, float]:
        """|gamma| and half of what the display's digits leave open, from R and X, else the powers, else SWR."""
        if self.r and self.x:
            found = [
                abs(complex(gamma_from_impedance(complex(r, x), z0_ohm)))
                for r in (self.r.value, max(self.r.low, 0.0), self.r.high)
                for x in (self.x.value, self.x.low, self.x.high)
            ]
            return found[0], (max(found) - min(found)) / 2
        if self.forward and self.reflected:
            value = min(float(gamma_from_powers(self.forward.value, self.reflected.value)), 1.0)
            low = float(gamma_from_powers(self.forward.high, max(self.reflected.low, 0.0)))
            high = float(gamma_from_powers(max(self.forward.low, 1e-12), self.reflected.high))
            return value, (min(high, 1.0) - min(low, 1.0)) / 2
        assert self.swr is not None
        low, high = (float(gamma_from_swr(max(s, 1.0))) for s in (self.swr.low, self.swr.high))
        if self.swr.bound:
            return (low + high) / 2, (high - low) / 2
        return float(gamma_from_swr(self.swr.value)), (high - low) / 2

    def swr_value(self, z0_ohm: float = 50.0) -> float:
        return float(swr_from_gamma(self.magnitude(z0_ohm)[0]))


def parse_shown(text: str, what: str, signed: bool = False) -> Shown:
    """A displayed figure as people write it: `1.5`, `1,5`, `1.5:1`, `-12`.

    Raises
    ------
    ValueError
        Where it is not a number, or is negative and must not be.
    """
    bare = text.strip().replace(" ", "").removesuffix(":1")
    match = _NUMBER.match(bare)
    if not match:
        raise ValueError(f'"{text.strip()}" is not {article(what)} {what}; write a number such as 1.5')
    digits = match[2].replace(",", ".")
    sign = -1.0 if match[1] in ("-", "−") else 1.0
    if sign < 0 and not signed:
        raise ValueError(f'"{text.strip()}": the {what} cannot be negative')
    decimals = len(digits.partition(".")[2])
    return Shown(sign * float(digits), 0.5 * 10.0**-decimals, bare)


def parse_swr(text: str) -> Shown:
    """A displayed SWR, at least 1; `inf` and what meters show for it is infinite, `< 1.2`, `over 3` and `off scale` are
    bounds.

    Raises
    ------
    ValueError
        Where it is none, saying what would be right.
    """
    bare = " ".join(text.lower().split())
    if bare in _INFINITE:
        return Shown(HIGHEST_SWR, 0.5, text.strip())
    if bare in _OFF_SCALE:
        return Shown(OFF_SCALE_SWR, 0.0, text.strip(), "least")
    side = _BOUND.match(bare)
    shown = parse_shown(bare[side.end() :] if side else text, "SWR")
    if side:
        shown = replace(shown, text=text.strip(), bound="most" if side[1] else "least")
    if shown.value < 1:
        raise ValueError(f'"{text.strip()}": an SWR cannot be below 1; is this a return loss?')
    return shown


def reading_of(ident: str, kind: ReadingKind, typed: Mapping[str, str]) -> Reading:
    """A reading from its typed figures: `frequency` and those of its kind; an SWR beside R and X is taken too.

    Raises
    ------
    ValueError
        Naming the first figure that is missing or cannot be understood. `FieldProblem` names the field.
    """
    found: dict[str, Shown | None] = {}
    with _naming("frequency"):
        frequency = parse_frequency(_needed(typed, "frequency"))
    for name in NEEDED[kind]:
        with _naming(name):
            text = _needed(typed, name)
            found[name] = parse_swr(text) if name == "swr" else parse_shown(text, FIELD_WORDS[name], signed=name == "x")
    if kind in (ReadingKind.R_X, ReadingKind.R_ABS_X) and typed.get("swr", "").strip():
        with _naming("swr"):
            found["swr"] = parse_swr(typed["swr"])
    if kind is ReadingKind.POWERS and found["forward"] and not found["forward"].value > 0:
        raise FieldProblem("forward", "the forward power must be above 0 W; without power there is no reading")
    return Reading(ident, frequency, x_signed=kind is not ReadingKind.R_ABS_X, **found)


class FieldProblem(ValueError):
    """What is wrong with one figure, and which one it is."""

    def __init__(self, field: str, words: str) -> None:
        super().__init__(words)
        self.field = field


class _naming:
    """Names the field in whatever is wrong inside."""

    def __init__(self, field: str) -> None:
        self.field = field

    def __enter__(self) -> None:
        return None

    def __exit__(self, _kind: object, problem: BaseException | None, _trace: object) -> None:
        if isinstance(problem, ValueError) and not isinstance(problem, FieldProblem):
            raise FieldProblem(self.field, str(problem)) from None


def _needed(typed: Mapping[str, str], name: str) -> str:
    text = typed.get(name, "").strip()
    if not text:
        raise ValueError(f"the {FIELD_WORDS[name]} is missing")
    return text
