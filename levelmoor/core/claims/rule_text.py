"""Emission rules as they are written: `25 µW; 40 dB below the carrier; 43 + 10 log P`, powers as `10 µW`, `-16 dBm`."""

import math
import re
from decimal import Decimal

from levelmoor.core.model.rule_sets import Term, TermKind
from levelmoor.core.rf.levels import watts_of_dbm
from levelmoor.core.words.digits import FIGURE

_UNITS_W = {"kw": "1e3", "w": "1", "mw": "1e-3", "µw": "1e-6", "nw": "1e-9", "pw": "1e-12"}
_SHOWN = (("W", 1.0), ("mW", 1e-3), ("µW", 1e-6), ("nW", 1e-9))
_NUMBER = rf"([+-]?{FIGURE}(?:e[+-]?\d+)?)"
_POWER = re.compile(rf"{_NUMBER}\s*([kmµuμnp]?w|dbm)?", re.IGNORECASE)
_BELOW = re.compile(rf"{_NUMBER}\s*dbc?(?:\s+(?:below|under|down).*)?", re.IGNORECASE)
_ATTENUATION = re.compile(rf"{_NUMBER}\s*\+\s*10\s*log\s*(?:10)?\s*\(?\s*p\b.*", re.IGNORECASE)


def parse_power(text: str) -> float:
    """Watts from `25 µW`, `0.1 mW`, `5 W`, `-16 dBm`; a bare number is in W.

    Raises
    ------
    ValueError
        Where it is not a power, or none above 0 W.
    """
    match = _POWER.fullmatch(text.strip().replace("−", "-"))
    if match is None:
        raise ValueError(f'"{text.strip()}" is not a power; write it like 25 µW, 5 W or -16 dBm')
    unit = (match[2] or "W").lower()
    if unit == "dbm":
        return float(watts_of_dbm(_number(match[1])))
    watts = float(Decimal(match[1].replace(",", ".")) * Decimal(_UNITS_W[re.sub("[uμ]", "µ", unit)]))
    if not 0 < watts < math.inf:
        raise ValueError(f'"{text.strip()}" is not above 0 W')
    return watts


def parse_terms(text: str) -> tuple[Term, ...]:
    """Terms, separated by semicolons: a power, so many dB below the carrier, or so many dB + 10 log P of attenuation.

    Raises
    ------
    ValueError
        Naming the term that is none of these.
    """
    parts = [p.strip().replace("−", "-") for p in text.split(";") if p.strip()]
    if not parts:
        raise ValueError("the term is empty; write one like 25 µW, 40 dB or 43 + 10 log P")
    return tuple(_term(p) for p in parts)


def _term(text: str) -> Term:
    if match := _ATTENUATION.fullmatch(text):
        return Term(TermKind.ATTENUATION, _number(match[1]))
    if match := _BELOW.fullmatch(text):
        return Term(TermKind.BELOW_CARRIER, abs(_number(match[1])))
    try:
        return Term(TermKind.ABSOLUTE, parse_power(text))
    except ValueError:
        raise ValueError(f'"{text}" is not a term; write it like 25 µW, 40 dB or 43 + 10 log P') from None


def terms_text(terms: tuple[Term, ...]) -> str:
    """Terms as `parse_terms` reads them back."""
    return "; ".join(_written(t) for t in terms)


def _written(term: Term) -> str:
    if term.kind is TermKind.ABSOLUTE:
        return power_text(term.figure)
    return f"{term.figure:g} dB" if term.kind is TermKind.BELOW_CARRIER else f"{term.figure:g} + 10 log P"


def power_text(watts: float) -> str:
    """Watts as `parse_power` reads them back, to ten figures."""
    unit, size = next(((u, s) for u, s in _SHOWN if watts >= 0.9995 * s), ("pW", 1e-12))
    return f"{watts / size:.10g} {unit}"


def _number(text: str) -> float:
    return float(text.replace(",", "."))
