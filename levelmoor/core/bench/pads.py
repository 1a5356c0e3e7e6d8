"""The pad before a spectrum analyzer: how much attenuation, how many watts, and whether the limit stays visible."""

import math
from dataclasses import dataclass
from itertools import combinations

from levelmoor.core.model.equipment import Pad
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.levels import HIGHEST_HARMONIC, dbm_of_watts

INPUT_ROOM_DB = 10.0
"""The input stays this far under its safe maximum."""
NOISE_ROOM_DB = 10.0
"""The limit stays this far above the noise."""


@dataclass(frozen=True)
class PadTask:
    """An emission to be looked at: carrier in Hz and W, its duty cycle (0 to 1), and the limit in dBm."""

    fundamental_hz: float
    power_w: float
    limit_dbm: float
    duty: float = 1.0


@dataclass(frozen=True)
class PadPlan:
    """The attenuation range that answers the question, and the pads for it; `problem` says which figure to change.

    `least_db` keeps the input safe, `most_db` keeps the limit above the noise, `watts` is what the first pad stands.
    """

    least_db: float
    most_db: float
    watts: float
    pads: tuple[Pad, ...] = ()
    problem: str = ""
    warning: str = ""

    def attenuation_db(self, frequency_hz: float) -> float:
        return sum(attenuation_db(p, frequency_hz) for p in self.pads)


def attenuation_db(pad: Pad, frequency_hz: float) -> float:
    """The pad's attenuation: measured where it was measured, else and beyond its label's figure."""
    return measured_or_label(pad.measured, pad.nominal_db, frequency_hz)


def measured_or_label(curve: Curve | None, label_db: float | None, frequency_hz: float) -> float:
    """Attenuation in dB at a frequency: of the curve where it reaches, beyond it the label's figure, or none."""
    if curve is not None and curve.covers(frequency_hz, frequency_hz):
        return float(curve.at(frequency_hz))
    return label_db or 0.0


def noise_in_bandwidth_dbm(noise_dbm: float, noise_rbw_hz: float, rbw_hz: float) -> float:
    """Noise in dBm in another resolution bandwidth: it grows with 10 log10 of the bandwidth."""
    return noise_dbm + 10 * math.log10(rbw_hz / noise_rbw_hz)


def plan_pad(question: PadTask, max_input_dbm: float, noise_dbm: float | None, pads: tuple[Pad, ...]) -> PadPlan:
    """The pad, or two in a row, that keep the input 10 dB under its maximum and the limit 10 dB above the noise.

    The least attenuation that does is chosen, so that the limit stands as high above the noise as it can.
    """
    carrier = float(dbm_of_watts(question.power_w))
    least = carrier - (max_input_dbm - INPUT_ROOM_DB)
    most = math.inf if noise_dbm is None else question.limit_dbm - (noise_dbm + NOISE_ROOM_DB)
    watts = question.power_w * question.duty
    plan = PadPlan(least, most, watts)
    if least > most:
        return _with(plan, problem=_too_noisy(least - most, max_input_dbm, noise_dbm))
    candidates = [c for n in (1, 2) for c in combinations(pads, n)]
    candidates = [*candidates, *(tuple(reversed(c)) for c in candidates if len(c) == 2)]
    enough = [c for c in candidates if least <= _total(c, question) <= most]
    fitting = [c for c in enough if _stands_power(c, question) and _reaches(c, question)]
    if least <= 0 and not fitting:
        return plan
    if fitting:
        chosen = min(fitting, key=lambda c: (len(c), any(p.measured is None for p in c), _total(c, question)))
        unmeasured = [p.name for p in chosen if p.measured is None]
        warning = f"{', '.join(unmeasured)}: only the label's figure is known; measure it first" if unmeasured else ""
        return _with(plan, pads=chosen, warning=warning)
    return _with(plan, problem=_no_pad(plan, enough, question))


def _with(plan: PadPlan, pads: tuple[Pad, ...] = (), problem: str = "", warning: str = "") -> PadPlan:
    return PadPlan(plan.least_db, plan.most_db, plan.watts, pads, problem, warning)


def _total(pads: tuple[Pad, ...], question: PadTask) -> float:
    return sum(attenuation_db(p, question.fundamental_hz) for p in pads)


def _stands_power(pads: tuple[Pad, ...], question: PadTask) -> bool:
    """Whether each pad stands what reaches it."""
    watts = question.power_w * question.duty
    for pad in pads:
        if watts > pad.power_w:
            return False
        watts *= 10 ** (-attenuation_db(pad, question.fundamental_hz) / 10)
    return True


def _reaches(pads: tuple[Pad, ...], question: PadTask) -> bool:
    """Whether each pad's stated range reaches the fifth harmonic."""
    return all(not p.high_hz or p.high_hz >= HIGHEST_HARMONIC * question.fundamental_hz for p in pads)


def _too_noisy(short_db: float, max_input_dbm: float, noise_dbm: float | None) -> str:
    return (
        f"no pad works: with the input {INPUT_ROOM_DB:.0f} dB under its maximum ({max_input_dbm:+.0f} dBm) the limit "
        f"is {short_db:.0f} dB short of being {NOISE_ROOM_DB:.0f} dB above the noise ({noise_dbm:.0f} dBm). "
        f"Narrow the resolution bandwidth by a factor of {10 ** (short_db / 10):.0f}, or notch out the carrier"
    )


def _no_pad(plan: PadPlan, enough: list[tuple[Pad, ...]], question: PadTask) -> str:
    most = "" if math.isinf(plan.most_db) else f" and at most {plan.most_db:.0f} dB"
    wanted = f"get one of at least {plan.least_db:.0f} dB{most} rated {plan.watts:g} W"
    if not enough:
        return f"no pad of the team, alone or in pairs, has the right attenuation; {wanted}"
    if not any(_stands_power(c, question) for c in enough):
        return f"the pads that attenuate enough cannot withstand {plan.watts:g} W; {wanted}"
    top = HIGHEST_HARMONIC * question.fundamental_hz / 1e6
    return f"the pads that attenuate enough do not reach the fifth harmonic at {top:.0f} MHz; {wanted}"
