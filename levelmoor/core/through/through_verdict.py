"""Verdicts on what goes through: choking impedance, insertion loss, attenuation, point by point over a window.

References
----------
.. [1] Mismatch of a two-port between ports of finite match: |Ms S11| and |Ml S22| of unknown phase; EURAMET cg-12
   (memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.frequency import format_mhz, format_range, format_step
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window, reaches
from levelmoor.core.through.choking import Choking, choking

FINEST = 20
SHARE_OF_F = 0.02
"""What goes through a choke, a pad or a filter bends no faster than over a few hundredths of the frequency: a step of
this share is fine enough however narrow the window (common practice, no source)."""
DB_PER_SHARE = 20 / np.log(10)
UNKNOWN_MATCH = 0.2
"""|S11| where it was not swept."""


@dataclass(frozen=True, eq=False)
class ThroughCurve:
    """What a claim is judged by: a value over frequency with its standard uncertainty, in `unit`. `open_` is what stays
    open besides, `most` up to where a value is believed."""

    frequency_hz: FloatArray
    value: FloatArray
    u: FloatArray
    unit: str
    open_: float = 0.0
    most: FloatArray | None = None
    words: str = ""


def loss_curve(two_port: TwoPort, figures: Residuals) -> ThroughCurve:
    """Insertion loss in dB; u from tracking, noise, leakage, and the match of the ports [1]_."""
    size = np.abs(two_port.s21)
    match = 10 ** (-figures.source_match_db / 20)
    of_ports = [np.abs(s) if s is not None else UNKNOWN_MATCH for s in (two_port.s11, two_port.s22)]
    mismatch = np.hypot(match * of_ports[0], match * of_ports[1]) / np.sqrt(2)
    floor = (10 ** (-80 / 20) + figures.noise) / size
    u = DB_PER_SHARE * np.sqrt((figures.tracking**2) / 2 + mismatch**2 + floor**2)
    return ThroughCurve(two_port.frequency_hz, two_port.loss_db, np.asarray(u), "dB")


def choking_curve(found: Choking) -> ThroughCurve:
    return ThroughCurve(
        found.frequency_hz, found.magnitude_ohm, found.u_ohm, "Ω", found.half_width_ohm, found.believed_ohm, found.stray
    )


def curve_for(claim: Claim, two_port: TwoPort, figures: Residuals, empty: TwoPort | None) -> ThroughCurve:
    """The curve that a claim is about."""
    if claim.quantity is Quantity.CHOKING:
        return choking_curve(choking(two_port, figures, empty))
    return loss_curve(two_port, figures)


def judge_through(claim: Claim, curve: ThroughCurve, window: Window | None, rule: DecisionRule) -> tuple[Verdict, str]:
    """The verdict on a window, or on all that was swept: at least, at most, or within a tolerance, at every point.

    A Pass needs the whole window with no step wider than a twentieth of it or a fiftieth of the frequency; a point
    beyond the limit fails however coarse the sweep. The points next outside the window count with it.
    """
    inside = _points(curve, window)
    if not inside.any():
        return Verdict.NOT_SHOWN, f"Nothing was swept on {window.name if window else 'it'}."
    cut = replace(
        curve,
        frequency_hz=curve.frequency_hz[inside],
        value=curve.value[inside],
        u=curve.u[inside],
        most=curve.most[inside] if curve.most is not None else None,
    )
    verdicts, worst = _at_points(claim, cut, rule)
    said = _said(claim, cut, worst)
    if Verdict.FAIL in verdicts:
        return Verdict.FAIL, said
    why = _uncovered(curve, window) or _coarse(cut, window)
    if why:
        return Verdict.NOT_SHOWN, f"{said} {why}"
    if cut.most is not None and Verdict.TOO_CLOSE in verdicts and cut.value[worst] > cut.most[worst]:
        most = format_through(float(cut.most[worst]), "Ω")
        return Verdict.NOT_SHOWN, (
            f"{said} At {_mhz(cut, worst)} the fixture lets no more than {most} be believed ({cut.words})."
        )
    return (Verdict.TOO_CLOSE if Verdict.TOO_CLOSE in verdicts else Verdict.PASS), said


def _points(curve: ThroughCurve, window: Window | None) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
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


def _at_points(claim: Claim, curve: ThroughCurve, rule: DecisionRule) -> tuple[list[Verdict], int]:
    """The verdict at every point, and which point is the worst."""
    limit = claim.limit or 0.0
    at_most = claim.quantity is Quantity.INSERTION_LOSS
    tolerance = claim.tolerance if claim.quantity is Quantity.ATTENUATION else None
    if tolerance is not None:
        beyond = np.abs(curve.value - limit) - tolerance
    else:
        beyond = (curve.value - limit) if at_most else (limit - curve.value)
    guard = np.array([guard_band(float(u), rule) for u in curve.u]) + curve.open_
    fails, passes = beyond - guard > 0, beyond + guard <= 0
    verdicts = [
        Verdict.FAIL if f else Verdict.PASS if p else Verdict.TOO_CLOSE for f, p in zip(fails, passes, strict=True)
    ]
    score = beyond - guard if any(fails) else beyond + guard
    return verdicts, int(np.argmax(score))


def _said(claim: Claim, curve: ThroughCurve, worst: int) -> str:
    name = {
        Quantity.CHOKING: "least choking impedance",
        Quantity.INSERTION_LOSS: "most loss",
        Quantity.ATTENUATION: "attenuation farthest off",
    }[claim.quantity]
    value, u = float(curve.value[worst]), 2 * float(curve.u[worst]) + curve.open_
    limit, is_ = (format_through(v, curve.unit) for v in (claim.limit or 0.0, value))
    limit += f" ± {claim.tolerance:g} dB" if claim.tolerance is not None else ""
    kind = "at most" if claim.quantity is Quantity.INSERTION_LOSS else "" if claim.tolerance is not None else "at least"
    spread = f"± {u:.2g} dB" if curve.unit == "dB" else f"± {format_through(u, 'Ω')}"
    return f"The {name} is {is_} {spread} at {_mhz(curve, worst)}; {kind} {limit} is claimed."


def format_through(value: float, unit: str) -> str:
    """A loss in dB, or an impedance in ohm or kilohm."""
    if unit == "dB":
        return f"{value:.2f} dB"
    return f"{value / 1e3:.3g} kΩ" if value >= 1000 else f"{value:.3g} Ω"


def _mhz(curve: ThroughCurve, at: int) -> str:
    return f"{format_mhz(round(float(curve.frequency_hz[at]), -3))} MHz"


def _uncovered(curve: ThroughCurve, window: Window | None) -> str:
    """What of a window was not swept, or nothing."""
    low, high = float(curve.frequency_hz[0]), float(curve.frequency_hz[-1])
    if window is None or reaches(low, high, window.low_hz, window.high_hz):
        return ""
    return f"Only {format_range(low, high)} was swept of {window.name}; sweep all of it."


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
        return (
            f"Steps up to {format_step(widest)} lie in {window.name}; sweep all of it with no step above "
            f"{format_step(wanted)}."
        )
    return ""


def largest_believed(found: Choking, low_hz: float, high_hz: float) -> float:
    """Up to how many ohm the fixture lets a choke be believed over a range."""
    inside = (found.frequency_hz >= low_hz) & (found.frequency_hz <= high_hz)
    return float(found.believed_ohm[inside].min()) if inside.any() else 0.0


def explained(ohm: Sequence[float] = (1000.0, 5000.0)) -> list[tuple[float, float]]:
    """What ohm of choking are in dB in a 50 ohm fixture: the same choke shows other dB in another circuit."""
    return [(z, float(20 * np.log10(abs(1 + z / 100)))) for z in ohm]
