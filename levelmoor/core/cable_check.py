"""A feed line swept with its far end open or shorted: loss, electrical length, distance to a fault.

References
----------
.. [1] An open or shorted line of one-way loss A shows a return loss of 2A; e.g. amateur radio handbooks (memory).
.. [2] Frequency-domain reflectometry: the echo's delay is the transform of the reflection (memory).
.. [3] F. J. Harris, On the use of windows for harmonic analysis, Proc. IEEE 66(1), 1978: Blackman window (memory).
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import nnls

from levelmoor.core.curve import Curve, curve_of
from levelmoor.core.feedline import LIGHT_M_PER_S, LineFigures
from levelmoor.core.line_types import LineType
from levelmoor.core.reflection import ComplexArray, FloatArray
from levelmoor.core.sweep import Sweep

LOSS_WITHIN = 1.3
"""A sound line loses at most this many times what the table says (common practice, no source)."""
LOSS_SLACK_DB = 0.15
LENGTH_WITHIN = 0.1
"""Electrical length may differ this share from length and table's velocity factor: both are rounded."""
ECHO_SHARE = 0.06
"""An echo on the way of more than this share of the end's is a fault."""
FEWEST_POINTS = 21


@dataclass(frozen=True)
class CableCheck:
    """What the sweep showed. Losses in dB one way; lengths in m with the type's velocity factor; delay in s one way.

    `echo_m` is the distance of the strongest echo before the far end, None where there is none.
    """

    sound: bool
    reasons: tuple[str, ...]
    loss_db: Curve
    table_db: Curve
    delay_s: float
    length_m: float
    echo_m: float | None
    resolution_m: float
    u_loss_db: float

    @property
    def words(self) -> str:
        head = "Sound" if self.sound else "Bad"
        return f"{head}: {'; '.join(self.reasons)}"

    @property
    def figures(self) -> LineFigures:
        return LineFigures(self.loss_db, self.delay_s, self.u_loss_db)


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
        raise ValueError("a cable check needs the phase: sweep with an analyzer that gives R and X or S11")
    if sweep.points < FEWEST_POINTS:
        raise ValueError(f"a cable check needs at least {FEWEST_POINTS} points, this sweep has {sweep.points}")
    farthest = LIGHT_M_PER_S * line.velocity / (4 * sweep.largest_step_hz)
    if length_m > 0.8 * farthest:
        step = LIGHT_M_PER_S * line.velocity / (4 * length_m) * 0.8
        raise ValueError(
            f"the sweep's step shows {farthest:.1f} m at most and the line is {length_m:g} m; "
            f"sweep with a step of {step / 1e3:.0f} kHz or less"
        )
    sweep = sweep.referred_to(line.z0_ohm)
    f = sweep.frequency_hz
    measured = -10 * np.log10(np.clip(sweep.magnitude, 1e-6, None))
    fitted = _smooth_loss(f, measured)
    delay, echo, resolution = _echoes(sweep)
    length = delay * LIGHT_M_PER_S * line.velocity
    echo_m = None if echo is None else echo * LIGHT_M_PER_S * line.velocity
    table = line.loss_db(f, length_m)
    scatter = float(np.std(measured - fitted))
    instrument = float(np.median(10 / np.log(10) * u_gamma / np.clip(sweep.magnitude, 0.01, None)))
    reasons, sound = _judge(f, fitted, table, length, length_m, echo_m, resolution * LIGHT_M_PER_S * line.velocity)
    return CableCheck(
        sound=sound,
        reasons=reasons,
        loss_db=curve_of(f, fitted),
        table_db=curve_of(f, table),
        delay_s=delay,
        length_m=length,
        echo_m=echo_m,
        resolution_m=resolution * LIGHT_M_PER_S * line.velocity,
        u_loss_db=float(np.hypot(scatter / np.sqrt(max(sweep.points / 8, 1)), instrument)),
    )


def _smooth_loss(f: FloatArray, measured_db: FloatArray) -> FloatArray:
    """k0 + k1 sqrt(f) + k2 f fitted to half the return loss, none below zero: mismatch makes it ripple about that."""
    x = f / f[-1]
    basis = np.column_stack((np.ones_like(x), np.sqrt(x), x))
    return np.asarray(basis @ nnls(basis, np.maximum(measured_db, 0.0))[0])


def _echoes(sweep: Sweep) -> tuple[float, float | None, float]:
    """One-way delay of the far end, of a stronger echo before it (or None), and the resolution, all in s [2]_."""
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
    echo = None
    if np.any(before):
        at = int(np.argmax(np.where(before, response, 0)))
        if response[at] > ECHO_SHARE * response[end]:
            echo = float(time[at]) / 2
    return _refined(f, sweep.gamma_at(f), float(time[end])) / 2, echo, lobe / 2


def _refined(f: FloatArray, gamma: ComplexArray, there_and_back: float) -> float:
    """The delay from the slope of the phase that is left after turning back by the coarse one."""
    left = np.unwrap(np.angle(gamma * np.exp(2j * np.pi * f * there_and_back)))
    slope = np.polyfit(f - f.mean(), left, 1, w=np.abs(gamma))[0]
    return float(there_and_back - slope / (2 * np.pi))


def _judge(
    f: FloatArray,
    loss: FloatArray,
    table: FloatArray,
    length: float,
    stated: float,
    echo: float | None,
    resolution: float,
) -> tuple[tuple[str, ...], bool]:
    top, mhz = float(loss[-1]), f[-1] / 1e6
    of_table = float(table[-1])
    reasons = []
    if length < stated * (1 - LENGTH_WITHIN) - resolution / 4:
        reasons.append(f"it ends after {length:.1f} m of {stated:g} m: broken or shorted there, or not that long")
    elif length > stated * (1 + LENGTH_WITHIN) + resolution / 4:
        reasons.append(f"it is electrically {length:.1f} m long, not {stated:g} m: another type, or longer than noted")
    if echo is not None:
        reasons.append(f"an echo at {echo:.1f} m: a bad joint, a kink or water there")
    if top > LOSS_WITHIN * of_table + LOSS_SLACK_DB:
        reasons.append(
            f"it loses {top:.2f} dB at {mhz:.0f} MHz where {of_table:.2f} dB is usual: old, wet or another type"
        )
    elif top < of_table / LOSS_WITHIN - LOSS_SLACK_DB and not reasons:
        reasons.append(
            f"it loses {top:.2f} dB at {mhz:.0f} MHz where {of_table:.2f} dB is usual: shorter or another type, "
            "or its far end was not open or shorted"
        )
    if reasons:
        return tuple(reasons), False
    said = f"{length:.1f} m, losing {top:.2f} dB at {mhz:.0f} MHz (table {of_table:.2f} dB), no echo on the way"
    return (said,), True
