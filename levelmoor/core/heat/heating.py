"""A body that heats up: one time constant fitted, the temperature foreseen for an hour, and when to stop.

References
----------
.. [1] Newton's law of cooling: T(t) = T0 + dT (1 - e^(-t/tau)) for a body of one heat capacity (memory).
.. [2] G. A. F. Seber, C. J. Wild, Nonlinear Regression: intervals by the linear approximation (memory).
"""

import math
from dataclasses import dataclass

import numpy as np

from levelmoor.core.heat.duty import duty_of
from levelmoor.core.metrology.decision import DecisionRule, Verdict, decide
from levelmoor.core.metrology.quantiles import largest_of
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.through import HeatRun
from levelmoor.core.words.counting import duration
from levelmoor.core.words.said import said

HOUR_S = 3600.0
FEWEST_POINTS = 5
TELLS = 0.5
"""A run tells its end once it has lasted so many time constants."""
THERMOMETER_C = 1.0
"""Standard uncertainty of a temperature as it is read (common practice, no source)."""
LONGEST_TAU_S = 4 * HOUR_S


@dataclass(frozen=True)
class Heating:
    """What a run shows: where it began, how far it would rise in the end, its time constant in s, the temperature after
    an hour with its standard uncertainty. `told` is whether the run lasted long enough to tell."""

    begin_c: float
    rise_c: float
    tau_s: float
    hour_c: float
    u_hour_c: float
    hottest_c: float
    told: bool

    def at(self, seconds: float) -> float:
        return self.begin_c + self.rise_c * -math.expm1(-seconds / self.tau_s)

    def reaches(self, limit_c: float) -> float | None:
        """After how many seconds a temperature is reached, None where it is not."""
        share = (limit_c - self.begin_c) / self.rise_c if self.rise_c > 0 else math.inf
        return -self.tau_s * math.log(1 - share) if 0 <= share < 1 else None


def fit_heating(run: HeatRun) -> Heating | None:
    """One time constant through a run [1]_, with the interval after an hour [2]_; None with fewer than five points or
    where nothing warms up."""
    t = np.array([p[0] for p in run.points])
    c = np.array([p[1] for p in run.points])
    hottest = float(c.max())
    if t.size < FEWEST_POINTS or hottest - c[0] < 2 * THERMOMETER_C:
        return None

    from scipy.optimize import curve_fit  # it takes long to load

    def model(at: "np.ndarray[tuple[int], np.dtype[np.float64]]", begin: float, rise: float, tau: float) -> object:
        return begin + rise * -np.expm1(-at / tau)

    bounds = ([-60.0, 0.0, 1.0], [200.0, 2000.0, LONGEST_TAU_S])
    first = np.clip((c[0], 1.5 * (hottest - c[0]), t[-1] / 2), *bounds)
    sigma = np.full(t.size, THERMOMETER_C)
    try:
        found, covariance = curve_fit(model, t, c, first, sigma=sigma, absolute_sigma=True, bounds=bounds, maxfev=5000)
    except RuntimeError:
        return None
    begin, rise, tau = (float(v) for v in found)
    left = c - np.asarray(model(t, begin, rise, tau))
    worse = max(1.0, float(np.sqrt(np.sum((left / sigma) ** 2) / max(t.size - 3, 1))))
    e = math.exp(-HOUR_S / tau)
    gradient = np.array([1.0, 1 - e, -rise * e * HOUR_S / tau**2])
    u = worse * math.sqrt(max(float(gradient @ covariance @ gradient), 0.0))
    told = bool(t[-1] >= TELLS * tau) or bool(t[-1] >= HOUR_S)
    return Heating(begin, rise, tau, begin + rise * (1 - e), math.hypot(u, THERMOMETER_C), hottest, told)


def stop_words(run: HeatRun, found: Heating | None) -> str:
    """When to stop the run: at the limit, before it, or once the end is told."""
    if run.limit_c is None:
        return "Enter the maximum temperature, from the manual or for the material; stop if it smells."
    if found is not None and (at := found.reaches(run.limit_c)) is not None:
        return f"Stop before {duration(at / 60)}: {run.limit_c:g} °C will be reached then."
    if max(c for _, c in run.points) >= run.limit_c:
        return f"Stop: {run.limit_c:g} °C is exceeded."
    if found is not None and found.told:
        return f"It can go on: it will settle at {found.at(1e9):.0f} °C, below {run.limit_c:g} °C."
    return f"Go on, and stop at {run.limit_c:g} °C."


@dataclass(frozen=True)
class ClaimedAverage:
    """What a claim of power handling comes to on average, in W, and how that is said."""

    watts: float
    words: str

    def told(self, found: str) -> str:
        return said("heat.found", claimed=self.words, found=found)


def claimed_average(claim: Claim) -> ClaimedAverage | None:
    """The average power that is claimed; None where the claim names no mode and no duty cycle."""
    duty, power = claim.duty or duty_of(claim.mode), claim.limit or 0.0
    if duty is None:
        return None
    mode = f" {claim.mode}" if claim.mode else ""
    return ClaimedAverage(power * duty, said("heat.claimed", power=power, mode=mode, average=power * duty, duty=duty))


@dataclass(frozen=True)
class RunFinding:
    """One run against its limit: the temperature after an hour with its standard uncertainty, None where it does not
    tell that."""

    verdict: Verdict
    reason: str
    hour_c: float | None = None
    u_c: float = 0.0


def judge_run(run: HeatRun, wanted_w: float, rule: DecisionRule, of: int = 1) -> RunFinding:
    """One run, of so many that are held against the limit together; more power than claimed passes for less, less power
    that overheats fails for more."""
    found, limit = fit_heating(run), run.limit_c
    what = said("heat.with", average=run.average_w, where=run.where or "it")
    hottest = max(c for _, c in run.points)
    if limit is None:
        return RunFinding(Verdict.NOT_SHOWN, said("heat.no_limit", run=what, hottest=hottest))
    enough, at_most = run.average_w >= wanted_w * 0.95, run.average_w <= wanted_w * 1.05
    if found is None or not found.told:
        if hottest > limit + largest_of(of) * THERMOMETER_C and at_most:
            return RunFinding(Verdict.FAIL, said("heat.passed", run=what, limit=limit, hottest=hottest))
        return RunFinding(Verdict.NOT_SHOWN, said("heat.too_short", run=what))
    hour, u = found.hour_c, found.u_hour_c
    told = said(
        "heat.hour",
        run=what,
        hour=hour,
        u=2 * u,
        limit=limit,
        tau=found.tau_s / 60,
        at=said("heat.at", at=run.frequency_hz) if run.frequency_hz else "",
    )
    verdict = decide(limit, hour, u, rule, of)
    code = "heat.verdict"
    if verdict is Verdict.FAIL and not at_most:
        verdict, code = Verdict.NOT_SHOWN, "heat.more_power"
    elif verdict is not Verdict.FAIL and not enough:
        verdict, code = Verdict.NOT_SHOWN, "heat.less_power"
    return RunFinding(verdict, said(code, told=told), hour, u)
