"""Headings whose figures are not what was measured, but something made of it: a multiple, a logarithm, a rate."""

import re
from collections.abc import Sequence

from levelmoor.formats.units import Quantity, Unit, spelled

_TEN = r"(?:10{1,9}|0?[.,]0{0,8}1|10?e[+-]?\d{1,2}|10\s?\^\s?[+-]?\d{1,2})"
FACTOR = re.compile(rf"(?:\bx|\btimes|[*×·÷/])\s?{_TEN}(?![\w.,])", re.IGNORECASE)
_SCALED = re.compile(
    r"\b(?:(?:multiplied|divided|scaled) by|(?:scale|scaling) factor|multiplier)\b(?!\W{1,4}1(?:[.,]0{1,6})?\Z)",
    re.IGNORECASE,
)
_STEP = re.compile(rf"\(\s?{_TEN}\s?([^\W\d]{{1,5}})\s?\)", re.IGNORECASE)
_PER = re.compile(r"([°%‰]|[^\W\d_]{1,7})\s?(?:/|\bper\b)\s?(?:\d{1,4}\s?)?([^\W\d_]{1,5})", re.IGNORECASE)
_OF = frozenset((
    "m", "km", "cm", "mm", "ft", "feet", "foot", "in", "inch", "yd", "hz", "khz", "mhz", "s", "min", "h", "deg", "turn",
))  # fmt: skip
"""What a rate may be per."""
_PEAK = re.compile(r"\b(?:pk|peak|pp|pkpk)\b", re.IGNORECASE)
_INVERSE = re.compile(r"\A\W?\s?1\s?/|\binverse\b|\breciprocal\b", re.IGNORECASE)
_RELATIVE = re.compile(r"/\s?(?:z[0oc]|r0|zref)\b|\bnorm(?:ali[sz]ed)?\b", re.IGNORECASE)
_LOGARITHM = re.compile(r"\bln\b|\blog(?:10)?\b(?!\s?mag)", re.IGNORECASE)
_DIFFERENCE = re.compile(r"[Δ∆]|\b(?:delta|diff|difference|deviation|change|rise)\b", re.IGNORECASE)
_NEGATED = re.compile(r"\A\s?[-−]\s?[^\W\d]")
_DECIBELS = ("return_loss", "s21", "level", "snr")
_LOSSES = ("return_loss", "s21")


def multiplied(text: str) -> bool:
    """Whether words say that figures were multiplied, or divided."""
    return bool(FACTOR.search(text) or _SCALED.search(text))


def changed(heading: str, role: str, units: Sequence[Unit]) -> str:
    """What a heading, whose units are given, says was done to its figures, as a sentence goes on; empty where they are
    as they were measured."""
    plain = heading.replace("_", " ")
    for unit, per in _PER.findall(plain):
        if per.lower() in _OF and spelled(unit) is not None:
            return f"is in {unit} per {per}"
    step = _STEP.search(plain)
    if multiplied(plain) or (step is not None and spelled(step[1]) in units):
        return "says that its figures are multiples"
    if _PEAK.search(plain) and any(u.quantity is Quantity.VOLTAGE and not u.name.startswith("dB") for u in units):
        return "is a peak voltage, not RMS"
    if _INVERSE.search(plain):
        return "says that its figures are inverted"
    if _RELATIVE.search(plain):
        return "says that its figures are relative to an impedance"
    if role not in _DECIBELS and _LOGARITHM.search(plain):
        return "says that its figures are logarithms"
    if _DIFFERENCE.search(plain):
        return "says that its figures are differences"
    if role not in _LOSSES and _NEGATED.search(plain):
        return "says that its figures have the opposite sign"
    return ""
