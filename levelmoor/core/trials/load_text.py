"""Loads as people write them: `50`, `10 + j20`, `open`, `3:1`, `wire of 20 m`; and ranges of loads that are claimed."""

import math
import re
from dataclasses import dataclass

from levelmoor.core.model.trials import Trial
from levelmoor.core.rf.reflection import gamma_from_impedance, gamma_from_swr, impedance_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.bounds import one_line
from levelmoor.core.words.digits import FIGURE

_N = rf"({FIGURE})"
_OHM = r"\s*(?:Ω|ohms?)?"
_R = re.compile(rf"{_N}\s*(k)?{_OHM}", re.IGNORECASE)
_R_X = re.compile(rf"{_N}{_OHM}\s*([-+−]?)\s*[ij]\s*([-−]?)\s*{_N}{_OHM}", re.IGNORECASE)
_R_X_J = re.compile(rf"{_N}{_OHM}\s*([-+−])\s*{_N}\s*[ij]{_OHM}", re.IGNORECASE)
_X = re.compile(rf"([-+−]?)\s*(?:j\s*{_N}|{_N}\s*j){_OHM}", re.IGNORECASE)
_MEANT = re.compile(rf"{_N}{_OHM}\s*[-+−]\s*(?:[ij]\s*\d|\d[\d.,]*\s*(?:j|i\b))", re.IGNORECASE)
"""What is meant as R and X; words may begin with a figure too, as a wire's length does."""
_PLAIN = re.compile(r"\s+(?:resistors?|dummy(?:\s+load)?|load(?:\s+box)?|terminations?)$", re.IGNORECASE)
"""What a resistance may be called besides."""
_SWR = re.compile(rf"(?:SWR\s*(?:of\s*)?{_N}(?:\s*:\s*1)?|{_N}\s*:\s*1(?:\s*SWR)?)", re.IGNORECASE)
_RANGE = re.compile(rf"{_N}\s*(k)?{_OHM}\s*(?:to|-|–|\.\.)\s*{_N}\s*(k)?{_OHM}", re.IGNORECASE)
_UP_TO = re.compile(rf"(?:up\s+to\s*|loads?\s*)*(?:SWR\s*)?{_N}(?:\s*:\s*1)?(?:\s*SWR)?", re.IGNORECASE)
LARGEST_OHM = 1e6


@dataclass(frozen=True)
class Load:
    """What hangs on a tuner. `gamma` is its reflection in 50 ohm; of a load by its SWR alone only `magnitude` is known,
    of one in words neither. An antenna is `named`: it is the same whatever it reflects at a frequency."""

    words: str
    gamma: complex | None = None
    magnitude: float | None = None
    named: bool = False

    @property
    def impedance_ohm(self) -> complex | None:
        """Its impedance, None where it is not known or without end."""
        if self.gamma is None or abs(self.gamma - 1) < 1e-9:
            return None
        return complex(impedance_from_gamma(self.gamma, 50.0))


def parse_load(text: str) -> Load:
    """A load from its words; words that name no figure are kept as they are.

    Raises
    ------
    ValueError
        Where it is empty, or its figures are none of a load.
    """
    line = one_line(text)
    bare = line.strip(" .,;")
    if not bare:
        raise ValueError("enter the load, such as 50, 10 + j20, open, or the antenna's name")
    if bare.lower() in ("open", "open circuit", "o/c", "∞", "nothing"):
        return Load("open", 1 + 0j, 1.0)
    if bare.lower() in ("short", "short circuit", "s/c"):
        return Load("short", -1 + 0j, 1.0)
    if found := _SWR.fullmatch(bare):
        swr = _number(found[1] or found[2])
        if swr < 1:
            raise ValueError(f'an SWR must be at least 1, not "{bare}"')
        return Load(f"SWR {swr:g}", None, float(gamma_from_swr(swr)))
    z = _impedance(bare)
    if z is None and _MEANT.match(bare):
        raise ValueError(f'"{bare[:40]}" is not a load; write R and X, such as 25 - j100')
    if z is None:
        return Load(line)
    if z.real < 0 or abs(z) > LARGEST_OHM:
        raise ValueError(f'"{bare[:40]}" is not a load: its resistance must be at least 0 Ω, and at most a megohm')
    gamma = complex(gamma_from_impedance(z, 50.0))
    return Load(format_load(z), gamma, abs(gamma))


def _impedance(bare: str) -> complex | None:
    if found := _R.fullmatch(_PLAIN.sub("", bare)):
        return complex(_number(found[1]) * (1e3 if found[2] else 1), 0.0)
    if found := _R_X.fullmatch(bare):
        sign = -1 if (found[2] in "-−" and found[2]) or found[3] else 1
        return complex(_number(found[1]), sign * _number(found[4]))
    if found := _R_X_J.fullmatch(bare):
        return complex(_number(found[1]), (-1 if found[2] in "-−" else 1) * _number(found[3]))
    if found := _X.fullmatch(bare):
        return complex(0.0, (-1 if found[1] in ("-", "−") else 1) * _number(found[2] or found[3]))
    return None


def format_load(z: complex) -> str:
    """`50 Ω`, `10 + j20 Ω`."""
    if abs(z.imag) < 1e-9:
        return f"{z.real:g} Ω"
    return f"{z.real:g} {'+' if z.imag > 0 else '−'} j{abs(z.imag):g} Ω"


def load_of(trial: Trial, sweeps: dict[str, Sweep]) -> Load:
    """The load of a trial at its frequency; an antenna's as it was swept without the tuner, where the sweep reaches."""
    sweep = sweeps.get(trial.load_sweep_id)
    if sweep is None:
        return parse_load(trial.load) if trial.load.strip() else Load("not said")
    return load_as_swept(trial.load or "the antenna as swept", sweep, trial.frequency_hz)


def load_as_swept(words: str, sweep: Sweep, frequency_hz: float) -> Load:
    """What a sweep knows of a load at a frequency in Hz: nothing beyond its ends, no angle where it has none."""
    if not sweep.covers(frequency_hz, frequency_hz):
        return Load(words, named=True)
    gamma = complex(sweep.referred_to(50.0).gamma_at(frequency_hz))
    return Load(words, None if sweep.scalar else gamma, abs(gamma), named=True)


@dataclass(frozen=True)
class LoadRange:
    """The loads a claim speaks of: resistances from one to another in ohm, or all up to an SWR, or any."""

    low_ohm: float = 0.0
    high_ohm: float = math.inf
    most_swr: float | None = None

    @property
    def anything(self) -> bool:
        return self.most_swr is None and not math.isfinite(self.high_ohm)

    @property
    def words(self) -> str:
        if self.most_swr is not None:
            return f"loads up to {self.most_swr:g}:1"
        return "any load" if self.anything else f"{self.low_ohm:g} to {self.high_ohm:g} Ω"

    def holds(self, load: Load) -> bool | None:
        """Whether a load lies in it, None where that is not known."""
        if self.anything:
            return True
        if self.most_swr is not None:
            most = float(gamma_from_swr(self.most_swr))
            return None if load.magnitude is None else load.magnitude <= most * 1.01
        z = load.impedance_ohm
        if load.gamma is None:
            return None
        if z is None or abs(z.imag) > 0.1 * max(abs(z.real), 1e-9):
            return False
        return self.low_ohm * 0.99 <= z.real <= self.high_ohm * 1.01


def parse_load_range(stated: str) -> LoadRange | None:
    """What a claim of matching range states; None where it is neither resistances, an SWR, nor any load."""
    bare = one_line(stated)
    if found := _RANGE.fullmatch(bare):
        low, high = (_number(found[i]) * (1e3 if found[i + 1] else 1) for i in (1, 3))
        return LoadRange(low, high) if 0 < low < high else None
    if found := _UP_TO.fullmatch(bare):
        swr = _number(found[1])
        return LoadRange(most_swr=swr) if swr > 1 else None
    return LoadRange() if re.search(r"\bany\b|\brandom\b|\ball\b", bare, re.IGNORECASE) else None


def _number(written: str) -> float:
    return float(written.replace(",", "."))
