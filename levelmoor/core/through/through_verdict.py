"""Verdicts on what goes through: choking impedance, insertion loss, attenuation, point by point over a window.

References
----------
.. [1] Mismatch of a two-port between ports of finite match: |Ms S11| and |Ml S22| of unknown phase; EURAMET cg-12
   (memory).
.. [2] C. E. Bonferroni's inequality, any statistics text (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.quantiles import largest_of
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.noise import noise_of
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window, reaches
from levelmoor.core.through.choking import Choking, choking
from levelmoor.core.words.figures import format_mhz
from levelmoor.core.words.said import Said, as_sentence, said, together

FINEST = 20
SHARE_OF_F = 0.02
"""What goes through a choke, a pad or a filter bends no faster than over a few hundredths of the frequency: a step of
this share is fine enough however narrow the window (common practice, no source)."""
DB_PER_SHARE = 20 / np.log(10)
FEWEST_BESIDE = 5
UNKNOWN_MATCH = 0.2
"""|S11| where it was not swept."""


@dataclass(frozen=True, eq=False)
class ThroughCurve:
    """What a claim is judged by: a value over frequency with its standard uncertainty, in `unit`. `open_` is what stays
    open besides, `most` up to where a value is believed, `noise` the part of u that differs from point to point."""

    frequency_hz: FloatArray
    value: FloatArray
    u: FloatArray
    unit: str
    open_: float = 0.0
    most: FloatArray | None = None
    words: str = ""
    noise: FloatArray | float = 0.0

    @property
    def whole_u(self) -> FloatArray:
        return np.asarray(np.hypot(self.u, self.noise))

    def cut(self, inside: NDArray[np.bool_]) -> "ThroughCurve":
        """The points chosen."""
        most = self.most[inside] if self.most is not None else None
        noise = np.broadcast_to(self.noise, self.value.shape)[inside]
        f, value, u = (x[inside] for x in (self.frequency_hz, self.value, self.u))
        return replace(self, frequency_hz=f, value=value, u=u, most=most, noise=noise)


@dataclass(frozen=True)
class ThroughFinding:
    """The verdict on a window with the figure that decides it: the worst value, its u, how far it stands within its
    limit; None where nothing was swept there."""

    verdict: Verdict
    reason: str
    value: float | None = None
    u: float = 0.0
    margin: float = 0.0
    words: str = ""


def noise_of_s21(two_port: TwoPort, figures: Residuals) -> float:
    """Standard deviation of the noise in S21: as the sweep itself shows it, at least what is stated."""
    return max(figures.noise, noise_of(np.abs(two_port.s21) if two_port.scalar else two_port.s21))


def loss_curve(two_port: TwoPort, figures: Residuals, z0_ohm: float = 50.0) -> ThroughCurve:
    """Insertion loss in dB between ports of an impedance, or of the sweep's own where it cannot be converted; u from
    tracking, noise, leakage, and the match of the ports [1]_."""
    if two_port.can_be_referred_to(z0_ohm):
        two_port = two_port.referred_to(z0_ohm)
    size = np.abs(two_port.s21)
    match = 10 ** (-figures.source_match_db / 20)
    of_ports = [np.abs(s) if s is not None else UNKNOWN_MATCH for s in (two_port.s11, two_port.s22)]
    mismatch = np.hypot(match * of_ports[0], match * of_ports[1]) / np.sqrt(2)
    floor = 10 ** (-80 / 20) / size
    noise = DB_PER_SHARE * noise_of_s21(two_port, figures) / size
    u = DB_PER_SHARE * np.sqrt((figures.tracking**2) / 2 + mismatch**2 + floor**2)
    return ThroughCurve(two_port.frequency_hz, two_port.loss_db, np.asarray(u), "dB", noise=np.asarray(noise))


def choking_curve(found: Choking) -> ThroughCurve:
    return ThroughCurve(
        found.frequency_hz, found.magnitude_ohm, found.u_ohm, "Ω", found.half_width_ohm, found.believed_ohm,
        found.stray, found.noise_ohm,
    )  # fmt: skip


def curve_for(claim: Claim, two_port: TwoPort, figures: Residuals, empty: TwoPort | None) -> ThroughCurve:
    """The curve that a claim is about."""
    if claim.quantity is Quantity.CHOKING:
        return choking_curve(choking(two_port, figures, empty))
    return loss_curve(two_port, figures, claim.z0_ohm)


def judge_through(claim: Claim, curve: ThroughCurve, window: Window | None, rule: DecisionRule) -> ThroughFinding:
    """The verdict on a window, or on all that was swept: at least, at most, or within a tolerance, at every point.

    A Pass needs the whole window with no step wider than a twentieth of it or a fiftieth of the frequency; a point
    beyond the limit fails however coarse the sweep and however little of the window it covers, guarded for the worst of
    so many noisy points [2]_. One that stands alone may be a signal on the air, and takes a second. The points next
    outside the window count with it.
    """
    inside = _points(curve, window)
    if not inside.any():
        return ThroughFinding(Verdict.NOT_SHOWN, said("through.nothing", window=window.name if window else "it"))
    cut = curve.cut(inside)
    judged = _at_points(claim, cut, rule)
    worst = judged.worst
    found = _said(claim, cut, worst)
    if isinstance(curve.words, Said) and curve.words.code in ("stray.elsewhere", "stray.in_part", "stray.not_empty"):
        found = together(found, as_sentence(curve.words))

    def finding(verdict: Verdict, reason: str) -> ThroughFinding:
        value, u = float(cut.value[worst]), float(cut.whole_u[worst]) + cut.open_ / 2
        words = f"{format_through(value, cut.unit)} at {_mhz(cut, worst)}"
        return ThroughFinding(verdict, reason, value, u, -float(judged.beyond[worst]), words)

    if judged.fails.any():
        if _all_alone(cut, judged, window):
            return finding(Verdict.NOT_SHOWN, said("through.why", found=found, why=said("through.lone")))
        return finding(Verdict.FAIL, found)
    why = _uncovered(curve, window) or _coarse(cut, window)
    if why:
        return finding(Verdict.NOT_SHOWN, said("through.why", found=found, why=why))
    close = not bool(judged.passes.all())
    if cut.most is not None and close and cut.value[worst] > cut.most[worst]:
        most, at = format_through(float(cut.most[worst]), "Ω"), float(cut.frequency_hz[worst])
        return finding(Verdict.NOT_SHOWN, said("through.not_believed", found=found, at=at, most=most, stray=cut.words))
    return finding(Verdict.TOO_CLOSE if close else Verdict.PASS, found)


def _points(curve: ThroughCurve, window: Window | None) -> NDArray[np.bool_]:
    """The points of a window, and the one next outside on either side where one lies near."""
    f = curve.frequency_hz
    if window is None:
        return np.ones(f.size, dtype=bool)
    chosen = (f >= window.low_hz * (1 - 1e-9)) & (f <= window.high_hz * (1 + 1e-9))
    room = SHARE_OF_F * window.low_hz
    below, above = np.flatnonzero(f < window.low_hz), np.flatnonzero(f > window.high_hz)
    if below.size and window.low_hz - f[below[-1]] <= room:
        chosen[below[-1]] |= not chosen.any() or f[chosen][0] > window.low_hz * (1 + 1e-9)
    if above.size and f[above[0]] - window.high_hz <= room:
        chosen[above[0]] |= f[chosen][-1] < window.high_hz * (1 - 1e-9) if chosen.any() else True
    return np.asarray(chosen)


@dataclass(frozen=True, eq=False)
class _Points:
    """Which points fail and which pass, by how much each is beyond the limit, and the worst."""

    fails: NDArray[np.bool_]
    passes: NDArray[np.bool_]
    beyond: FloatArray
    worst: int


def _at_points(claim: Claim, curve: ThroughCurve, rule: DecisionRule) -> _Points:
    limit = claim.limit or 0.0
    at_most = claim.quantity is Quantity.INSERTION_LOSS
    tolerance = claim.tolerance if claim.quantity is Quantity.ATTENUATION else None
    if tolerance is not None:
        beyond = np.abs(curve.value - limit) - tolerance
    else:
        beyond = (curve.value - limit) if at_most else (limit - curve.value)
    guarded = rule is DecisionRule.GUARDED
    guard = (2 * curve.whole_u if guarded else 0 * curve.u) + curve.open_
    of_many = largest_of(curve.value.size) * np.asarray(curve.noise)
    guard_fail = np.maximum(guard, (2 * curve.u + of_many if guarded else 0 * curve.u) + curve.open_)
    fails, passes = beyond - guard_fail > 0, beyond + guard <= 0
    score = beyond - guard_fail if fails.any() else beyond + guard
    return _Points(np.asarray(fails), np.asarray(passes), np.asarray(beyond), int(np.argmax(score)))


def _all_alone(curve: ThroughCurve, judged: _Points, window: Window | None) -> bool:
    """Whether every point that fails stands beyond the limit with none beside it, nor another in the window."""
    if (window is not None and window.spot) or int(np.sum(judged.beyond > 0)) != 1 or curve.value.size < FEWEST_BESIDE:
        return False
    i, f = int(np.argmax(judged.beyond)), curve.frequency_hz
    beside = [j for j in (i - 1, i + 1) if 0 <= j < f.size and abs(f[j] - f[i]) <= SHARE_OF_F * f[i]]
    return len(beside) > 0


def _said(claim: Claim, curve: ThroughCurve, worst: int) -> str:
    name = {
        Quantity.CHOKING: "lowest choking impedance",
        Quantity.INSERTION_LOSS: "largest loss",
        Quantity.ATTENUATION: "attenuation furthest off",
    }[claim.quantity]
    value, u = float(curve.value[worst]), 2 * float(curve.whole_u[worst]) + curve.open_
    limit = format_through(claim.limit or 0.0, curve.unit)
    limit += f" ± {claim.tolerance:g} dB" if claim.tolerance is not None else ""
    at_least = "" if claim.tolerance is not None else "at least "
    return said(
        "through.found",
        name=name,
        value=_with_uncertainty(value, u, curve.unit),
        at=float(curve.frequency_hz[worst]),
        kind="at most " if claim.quantity is Quantity.INSERTION_LOSS else at_least,
        limit=limit,
    )


def format_through(value: float, unit: str) -> str:
    """A loss in dB, or an impedance in ohm or kilohm."""
    if unit == "dB":
        return f"{value:.2f} dB"
    return f"{value / 1e3:.3g} kΩ" if value >= 1000 else f"{value:.3g} Ω"


def _with_uncertainty(value: float, u: float, unit: str) -> str:
    """A value with the digits that its uncertainty leaves it, both in one unit: `3.54 ± 0.06 kΩ`."""
    if unit == "dB":
        return f"{value:.2f} ± {u:.2g} dB"
    scale, shown = (1e3, "kΩ") if value >= 1000 else (1.0, "Ω")
    decimals = min(2, max(0, -math.floor(math.log10(u / scale)))) if u > 0 else 2
    return f"{value / scale:.{decimals}f} ± {u / scale:.{decimals}f} {shown}"


def _mhz(curve: ThroughCurve, at: int) -> str:
    return f"{format_mhz(round(float(curve.frequency_hz[at]), -3))} MHz"


def _uncovered(curve: ThroughCurve, window: Window | None) -> str:
    """What of a window was not swept, or nothing."""
    low, high = float(curve.frequency_hz[0]), float(curve.frequency_hz[-1])
    if window is None or reaches(low, high, window.low_hz, window.high_hz):
        return ""
    return said("through.uncovered", span=(low, high), window=window.name)


def finest_step(window: Window) -> float:
    """The widest step in Hz that shows a window: a twentieth of it, or a fiftieth of the frequency."""
    return max((window.high_hz - window.low_hz) / FINEST, SHARE_OF_F * window.low_hz)


def _coarse(curve: ThroughCurve, window: Window | None) -> str:
    """Why the sweep shows too little of the window, or nothing."""
    if window is None or window.spot:
        return ""
    f, wanted = curve.frequency_hz, finest_step(window)
    steps = np.diff(np.concatenate(([min(window.low_hz, f[0])], f, [max(window.high_hz, f[-1])])))
    widest = float(steps.max())
    if widest > wanted * 1.001:
        return said("through.coarse", step=widest, window=window.name, wanted=wanted)
    return ""


def explained(ohm: Sequence[float] = (1000.0, 5000.0)) -> list[tuple[float, float]]:
    """What ohm of choking are in dB in a 50 ohm fixture: the same choke shows other dB in another circuit."""
    return [(z, float(20 * np.log10(abs(1 + z / 100)))) for z in ohm]
