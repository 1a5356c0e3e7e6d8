"""A feed line swept with its far end open or shorted: loss, electrical length, impedance, distance to a fault.

References
----------
.. [1] An open or shorted line of one-way loss A shows a return loss of 2A; e.g. amateur radio handbooks (memory).
.. [2] Frequency-domain reflectometry: the echo's delay is the transform of the reflection (memory).
.. [3] F. J. Harris, On the use of windows for harmonic analysis, Proc. IEEE 66(1), 1978, pp. 51-83:
   Blackman window (memory).
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from levelmoor.core.metrology.solving import fit_at_least_zero, lowest
from levelmoor.core.rf.curve import Curve, curve_of
from levelmoor.core.rf.feedline import LineFigures
from levelmoor.core.rf.line_types import LineType
from levelmoor.core.rf.reflection import LIGHT_M_PER_S, ComplexArray, FloatArray
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.said import said

LOSS_WITHIN = 1.25
"""A sound line loses at most this many times what the table says (common practice, no source)."""
TELLING = 0.4
"""Where the sweep leaves more than this share of the table's loss open, the loss is too little to be judged."""
LENGTH_WITHIN = 0.1
"""Electrical length may differ this share from length and table's velocity factor: both are rounded."""
BAD_ECHO = 0.08
"""A place on the way that reflects more than this is a fault; a pair of connectors reflects less (common practice, no
source)."""
SEEN_ECHO = 0.03
"""What reflects more than this is told as a connector or a splice."""
IMPEDANCE_WITHIN = 0.08
"""A line whose impedance is further off than this and its uncertainty is another type (common practice, no source)."""
U_IMPEDANCE = 0.01
"""Standard uncertainty of the estimated impedance, as a share, that connectors at its ends leave."""
FEWEST_POINTS = 21


@dataclass(frozen=True)
class CableCheck:
    """What the sweep showed. Losses in dB one way; lengths in m with the type's velocity factor; delay in s one way.

    `echo_m` is the distance of the strongest echo before the far end, None where there is none. `z0_ohm` is estimated
    from the sweep, with its standard uncertainty; None where the line is too short in waves to tell it.
    """

    sound: bool
    reasons: tuple[str, ...]
    seen_db: Curve
    """Half the return loss point by point, in the line's own impedance, of which `loss_db` is the smooth part."""
    loss_db: Curve
    table_db: Curve
    most_db: Curve
    """The most that a sound line of this type and length loses."""
    delay_s: float
    length_m: float
    echo_m: float | None
    resolution_m: float
    u_loss_db: float
    z0_ohm: float | None
    u_z0_ohm: float
    type_z0_ohm: float

    @property
    def words(self) -> str:
        return said("line.sound" if self.sound else "line.bad", told=self.reasons)

    @property
    def figures(self) -> LineFigures:
        z0, u = (self.z0_ohm, self.u_z0_ohm) if self.z0_ohm else (self.type_z0_ohm, 0.04 * self.type_z0_ohm)
        return LineFigures(self.loss_db, self.delay_s, self.u_loss_db, z0, u)


def check_cable(sweep: Sweep, line: LineType, length_m: float, u_gamma: float = 0.01) -> CableCheck:
    """Tell a sound line from a bad one by a sweep of it, far end open or shorted [1]_.

    Parameters
    ----------
    sweep : complex reflection at the near end, calibrated there
    line : the type that the loss is compared with
    length_m : its length in m
    u_gamma : standard uncertainty of |gamma| of the sweep

    Raises
    ------
    ValueError
        If the sweep is scalar, has fewer than 21 points, or is too coarse for a line of that length.
    """
    if sweep.scalar:
        raise ValueError("a cable check needs phase: sweep with an analyzer that measures R and X or S11")
    if sweep.points < FEWEST_POINTS:
        raise ValueError(f"a cable check needs at least {FEWEST_POINTS} points, this sweep has {sweep.points}")
    farthest = LIGHT_M_PER_S * line.velocity / (4 * sweep.largest_step_hz)
    if length_m > 0.8 * farthest:
        step = LIGHT_M_PER_S * line.velocity / (4 * length_m) * 0.8
        raise ValueError(
            f"the sweep's steps show {farthest:.1f} m at most, but the line is {length_m:g} m; sweep with "
            f"steps of {step / 1e3:.0f} kHz or less"
        )
    z0, u_z0 = _impedance(sweep, line.z0_ohm)
    sweep = sweep.referred_to(z0 or line.z0_ohm)
    f = sweep.frequency_hz
    measured = -10 * np.log10(np.clip(sweep.magnitude, 1e-6, None))
    fitted = _smooth_losses(f)(measured)
    speed = LIGHT_M_PER_S * line.velocity
    delay, echo, share, resolution = _echoes(sweep)
    length = delay * speed
    echo_m = None if echo is None else echo * speed
    # What the end reflects has gone the rest of the way and back: a place on the way is held against that.
    rest = 0.0 if echo is None else float(np.median(fitted)) * (1 - echo / delay)
    reflects = share * 10 ** (-2 * rest / 20)
    table = line.loss_db(f, length_m)
    scatter = float(np.std(measured - fitted))
    instrument = float(np.median(10 / np.log(10) * u_gamma / np.clip(sweep.magnitude, 0.01, None)))
    u_loss = float(np.hypot(scatter / np.sqrt(max(sweep.points / 8, 1)), instrument))
    seen = _Seen(length, echo_m, reflects, resolution * speed, float(fitted[-1]), u_loss, f[-1] / 1e6, z0, u_z0)
    reasons, sound = _judge(seen, line, length_m, float(table[-1]))
    return CableCheck(
        sound=sound,
        reasons=reasons,
        seen_db=curve_of(f, measured),
        loss_db=curve_of(f, fitted),
        table_db=curve_of(f, table),
        most_db=curve_of(f, LOSS_WITHIN * table + 2 * u_loss),
        delay_s=delay,
        length_m=length,
        echo_m=echo_m if reflects > BAD_ECHO else None,
        resolution_m=resolution * speed,
        u_loss_db=u_loss,
        z0_ohm=z0,
        u_z0_ohm=u_z0,
        type_z0_ohm=line.z0_ohm,
    )


def _impedance(sweep: Sweep, expected_ohm: float) -> tuple[float | None, float]:
    """The line's own impedance in ohm and its standard uncertainty: that in which the return loss has least ripple.

    Referred to its own impedance an open or shorted line shows a smooth return loss; referred to another it ripples.
    None where the line is too short in waves, or too lossy, for ripple to tell.
    """
    every = max(sweep.points // 201, 1)
    part = Sweep(sweep.frequency_hz[::every], sweep.gamma[::every], sweep.z0_ohm)

    smooth = _smooth_losses(part.frequency_hz)

    def ripple(log_z: float) -> float:
        loss = -10 * np.log10(np.clip(part.referred_to(float(np.exp(log_z))).magnitude, 1e-6, None))
        return float(np.sum((loss - smooth(loss)) ** 2))

    low, high = np.log(0.45 * expected_ohm), np.log(2.2 * expected_ohm)
    grid = np.linspace(low, high, 24)
    best = grid[int(np.argmin([ripple(x) for x in grid]))]
    step = grid[1] - grid[0]
    at, h = lowest(ripple, best - step, best + step, 1e-5), 0.05
    least = ripple(at)
    curvature = (ripple(at + h) - 2 * least + ripple(at - h)) / h**2
    if not low + step < at < high - step or curvature <= 0:
        return None, 0.0
    variance = max(least, 1e-9) / max(part.points / 8, 1)
    share = float(np.hypot(np.sqrt(2 * variance / curvature), U_IMPEDANCE))
    return (float(np.exp(at)), share * float(np.exp(at))) if share < IMPEDANCE_WITHIN else (None, 0.0)


def _smooth_losses(f: FloatArray) -> Callable[[FloatArray], FloatArray]:
    """k0 + k1 sqrt(f) + k2 f fitted to half the return loss, none below zero: mismatch makes it ripple about that."""
    x = f / f[-1]
    basis = np.column_stack((np.ones_like(x), np.sqrt(x), x))
    q, r = np.linalg.qr(basis)  # a fit in three figures, not in all points
    return lambda measured_db: np.asarray(basis @ fit_at_least_zero(r, q.T @ np.maximum(measured_db, 0.0)))


def _echoes(sweep: Sweep) -> tuple[float, float | None, float, float]:
    """One-way delay of the far end, of the strongest echo before it (or None), its share of the end's, and the
    resolution, times in s [2]_."""
    count = sweep.points
    f = np.linspace(sweep.low_hz, sweep.high_hz, count)
    window = np.blackman(count)  # side lobes 58 dB down [3]_, so that the end's own do not look like echoes
    size = 8 * (1 << int(np.ceil(np.log2(count))))
    response = np.abs(np.fft.ifft(sweep.gamma_at(f) * window, size))[: size // 2 + size // 4]
    step = float(f[1] - f[0])
    time = np.arange(response.size) / (size * step)  # there and back
    lobe = 3 / (sweep.high_hz - sweep.low_hz)
    away = time > lobe / 2
    end = int(np.argmax(np.where(away, response, 0)))
    before = (time > lobe) & (time < time[end] - lobe)
    echo, share = None, 0.0
    if np.any(before):
        at = int(np.argmax(np.where(before, response, 0)))
        share = float(response[at] / response[end])
        echo = float(time[at]) / 2
    return _refined(f, sweep.gamma_at(f), float(time[end])) / 2, echo, share, lobe / 2


def _refined(f: FloatArray, gamma: ComplexArray, there_and_back: float) -> float:
    """The delay from the slope of the phase that is left after turning back by the coarse one."""
    left = np.unwrap(np.angle(gamma * np.exp(2j * np.pi * f * there_and_back)))
    slope = np.polyfit(f - f.mean(), left, 1, w=np.abs(gamma))[0]
    return float(there_and_back - slope / (2 * np.pi))


@dataclass(frozen=True)
class _Seen:
    """What was read off: lengths in m, what the place of the echo reflects, loss and its u in dB at the top, in MHz."""

    length: float
    echo: float | None
    reflects: float
    resolution: float
    top_db: float
    u_db: float
    mhz: float
    z0: float | None
    u_z0: float


def _judge(seen: _Seen, line: LineType, stated: float, table_db: float) -> tuple[tuple[str, ...], bool]:
    reasons: list[str] = []
    slack = min(seen.resolution / 4, 0.05 * stated)
    if seen.length < stated * (1 - LENGTH_WITHIN) - slack:
        reasons.append(said("line.short", length=seen.length, stated=stated))
    elif seen.length > stated * (1 + LENGTH_WITHIN) + slack:
        reasons.append(said("line.long", length=seen.length, stated=stated))
    if seen.z0 is not None and abs(seen.z0 - line.z0_ohm) > IMPEDANCE_WITHIN * line.z0_ohm + 2 * seen.u_z0:
        reasons.append(said("line.impedance", z0=seen.z0, type=line.z0_ohm))
    if seen.reflects > BAD_ECHO:
        reasons.append(said("line.echo", at=seen.echo))
    loss = said("line.loss", db=seen.top_db, mhz=seen.mhz)
    room = (LOSS_WITHIN - 1) * table_db + 2 * seen.u_db
    if seen.top_db > table_db + room:
        reasons.append(said("line.lossy", loss=loss, table=table_db))
    elif seen.top_db < table_db / LOSS_WITHIN - 2 * seen.u_db and not reasons:
        reasons.append(said("line.lossless", loss=loss, table=table_db))
    if reasons:
        return tuple(reasons), False
    told: list[str] = [said("line.length", length=seen.length, loss=loss, table=table_db)]
    told.append(said("line.ohm", z0=seen.z0) if seen.z0 is not None else said("line.no_ohm"))
    if seen.reflects > SEEN_ECHO:
        told.append(said("line.splice", at=seen.echo))
    if 2 * seen.u_db > TELLING * table_db:
        told.append(said("line.too_little"))
    told.append(said("line.beyond", far=max(seen.length - seen.resolution, 0.0)))
    return tuple(told), True
