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
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.through import HeatRun
from levelmoor.core.words.counting import duration

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

    first = (float(c[0]), float(1.5 * (hottest - c[0])), float(max(t[-1] / 2, 1.0)))
    bounds = ([-60.0, 0.0, 1.0], [200.0, 2000.0, LONGEST_TAU_S])
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
        return "Write the temperature that nothing may pass, from the manual or the material; stop where it smells."
    if found is not None and (at := found.reaches(run.limit_c)) is not None:
        return f"Stop before {duration(at / 60)}: {run.limit_c:g} °C is reached then."
    if max(c for _, c in run.points) >= run.limit_c:
        return f"Stop: {run.limit_c:g} °C is passed."
    if found is not None and found.told:
        return f"It may go on: {found.at(1e9):.0f} °C in the end, below {run.limit_c:g} °C."
    return f"Go on, and stop at {run.limit_c:g} °C."


def judge_heat(claim: Claim, runs: list[HeatRun], rule: DecisionRule) -> tuple[Verdict, str]:
    """A claim of power handling by the runs at that power or more: the temperature after an hour against the limit."""
    power = claim.limit or 0.0
    duty = claim.duty or duty_of(claim.mode)
    if duty is None:
        reason = "The claim names no mode and no duty cycle; without them its average power is not known."
        return (Verdict.NOT_SHOWN if runs else Verdict.OUTSIDE), reason
    wanted = power * duty
    mode = f" {claim.mode}" if claim.mode else ""
    said = f"{power:g} W{mode} are {wanted:.3g} W on average at a duty of {100 * duty:.0f} %"
    if not runs:
        return Verdict.OUTSIDE, f"{said}. A sweep cannot check this; a run under power with its temperature can."
    verdicts = [_by_run(r, wanted, rule) for r in runs]
    failed = next((w for v, w in verdicts if v is Verdict.FAIL), None)
    if failed:
        return Verdict.FAIL, f"{said}. {failed}"
    for kind in (Verdict.PASS, Verdict.TOO_CLOSE, Verdict.NOT_SHOWN):
        words = next((w for v, w in verdicts if v is kind), None)
        if words:
            return kind, f"{said}. {words}"
    return Verdict.NOT_SHOWN, said


def _by_run(run: HeatRun, wanted_w: float, rule: DecisionRule) -> tuple[Verdict, str]:
    """One run; more power than claimed passes for less, less power that overheats fails for more."""
    found, limit = fit_heating(run), run.limit_c
    what = f"With {run.average_w:.3g} W on average {run.where or 'it'}"
    hottest = max(c for _, c in run.points)
    if limit is None:
        return Verdict.NOT_SHOWN, f"{what} came to {hottest:.0f} °C; which temperature it stands is not written down."
    if found is None or not found.told:
        if hottest > limit + 2 * THERMOMETER_C and run.average_w <= wanted_w * 1.05:
            return Verdict.FAIL, f"{what} passed {limit:g} °C: {hottest:.0f} °C."
        return Verdict.NOT_SHOWN, f"{what} was run too short to tell where it ends; let it run for half an hour."
    guard = 2 * found.u_hour_c if rule is DecisionRule.GUARDED else 0.0
    told = (
        f"{what} is {found.hour_c:.0f} ± {2 * found.u_hour_c:.0f} °C after an hour, at most {limit:g} °C "
        f"(time constant {found.tau_s / 60:.0f} min)"
    )
    if found.hour_c - guard > limit:
        enough = run.average_w <= wanted_w * 1.05
        return (
            (Verdict.FAIL, f"{told}.") if enough else (Verdict.NOT_SHOWN, f"{told}; with more power than is claimed.")
        )
    if run.average_w < wanted_w * 0.95:
        return Verdict.NOT_SHOWN, f"{told}; with less power than is claimed."
    if found.hour_c + guard <= limit:
        return Verdict.PASS, f"{told}."
    return Verdict.TOO_CLOSE, f"{told}."
