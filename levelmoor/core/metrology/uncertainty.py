"""Standard uncertainty of a measured |gamma|.

References
----------
.. [1] EURAMET cg-12, Guidelines on the evaluation of vector network analysers (memory).
.. [2] JCGM 100:2008, Guide to the expression of uncertainty in measurement (memory).
"""

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.feedline import LineFigures, carried_bound, carried_uncertainty
from levelmoor.core.rf.reflection import FloatArray, swr_from_gamma


@dataclass(frozen=True)
class Residuals:
    """What the bench leaves uncorrected, as effective figures after calibration.

    Directivity and source match in dB (positive), tracking linear, repeat as the standard deviation of |gamma|
    over repeat sweeps of the same setup; where repeats were swept, `repeat` stands in its place: half of what the mean
    is surely within, over frequency. `noise` is the standard deviation of |gamma| from point to point. Of a wattmeter
    `watt_accuracy` is the stated accuracy of each power figure as a share of it, `full_scale_accuracy` as a share of
    its range `full_scale_w` where it is read with `read_at_w` forward; of an SWR scale `swr_division` the
    distance of its marks; `truncates` is 1 where a display cuts digits off instead of rounding them. Where the bench
    was measured, `directivity` and `full` give directivity and tracking as linear figures over frequency and stand in
    place of the typical ones; `line` is a feed line between the calibration and the plane that is judged.
    """

    directivity_db: float = 40.0
    tracking: float = 0.01
    source_match_db: float = 35.0
    repeat_u: float = 0.0
    directivity: Curve | None = None
    full: Curve | None = None
    line: LineFigures | None = None
    repeat: Curve | None = None
    watt_accuracy: float = 0.0
    swr_division: float = 0.0
    noise: float = 0.0
    truncates: float = 0.0
    full_scale_accuracy: float = 0.0
    full_scale_w: float = 0.0
    read_at_w: float = 0.0

    @property
    def full_scale_share(self) -> float:
        """What the accuracy of the range leaves open of each power, as a share of the forward power, at most 0.9."""
        if not (self.full_scale_accuracy and self.full_scale_w and self.read_at_w):
            return 0.0
        return min(self.full_scale_accuracy * self.full_scale_w / self.read_at_w, 0.9)

    def __post_init__(self) -> None:
        for name in (
            "directivity_db",
            "tracking",
            "source_match_db",
            "repeat_u",
            "watt_accuracy",
            "swr_division",
            "noise",
            "full_scale_accuracy",
            "full_scale_w",
            "read_at_w",
        ):
            value = getattr(self, name)
            if not math.isfinite(value) or value < 0:
                raise ValueError(f"{name} must be at least 0, not {value}")


def standard_uncertainty(
    magnitude: ArrayLike, bench: Residuals, half_step: ArrayLike = 0.0, frequency_hz: ArrayLike | None = None
) -> FloatArray:
    """u(|gamma|): u^2 = (D^2 + (T|g|)^2 + (M|g|^2)^2)/2 + u_repeat^2 + u_noise^2 + half_step^2/3.

    D, T, M spread like the projection of a vector of unknown phase, whose variance is half its square (the
    U-shaped distribution's divisor [1]_); rounding is rectangular, half of the last digit over sqrt(3) [2]_. Watt
    figures of relative accuracy a each add (|g| a)^2/6, since |g| = sqrt(Pr/Pf); half a division d of an SWR scale adds
    (d (1 - |g|)^2/4)^2/3, both rectangular [2]_. Figures measured over frequency need `frequency_hz`. With a line
    between, |g| is taken back to its near end, where it was measured, and the uncertainty carried through the line.
    """
    g, half, f = _arrays(magnitude, half_step, frequency_hz)
    if bench.line is not None and f is not None:
        near = standard_uncertainty(*_near_end(g, half, bench, f), f)
        return carried_uncertainty(g, near, bench.line, f)
    d, t, m = _residuals(g, bench, f)
    watts, scale = _meter_bounds(g, bench)
    systematic = (d**2 + t**2 + m**2) / 2 + (watts**2 / 2 + scale**2 + half**2) / 3
    return np.asarray(np.hypot(np.sqrt(systematic), random_uncertainty(g, bench, f)))


def residual_bound(
    magnitude: ArrayLike, bench: Residuals, half_step: ArrayLike = 0.0, frequency_hz: ArrayLike | None = None
) -> FloatArray:
    """How far |gamma| can be off by what does not change from point to point but for its phase.

    Where that phase turns along a window, the largest of many points finds the worst of it: the sum of the residuals,
    which two standard uncertainties do not reach where several are alike.
    """
    g, half, f = _arrays(magnitude, half_step, frequency_hz)
    if bench.line is not None and f is not None:
        return carried_bound(g, residual_bound(*_near_end(g, half, bench, f), f), bench.line, f)
    return np.asarray(sum(_residuals(g, bench, f)) + sum(_meter_bounds(g, bench)) + half)


def random_uncertainty(magnitude: ArrayLike, bench: Residuals, frequency_hz: ArrayLike | None = None) -> FloatArray:
    """The part of u(|gamma|) that differs from point to point or from sweep to sweep: noise and repeats."""
    g, _, f = _arrays(magnitude, 0.0, frequency_hz)
    if bench.line is not None and f is not None:
        a = 10 ** (bench.line.loss_db.at(f) / 10)
        return np.asarray(a * random_uncertainty(g / a, replace(bench, line=None), f))
    repeat = bench.repeat.at(f) if f is not None and bench.repeat is not None else bench.repeat_u
    return np.asarray(np.hypot(repeat, bench.noise) + 0 * g)


def _arrays(
    magnitude: ArrayLike, half_step: ArrayLike, frequency_hz: ArrayLike | None
) -> tuple[FloatArray, FloatArray, FloatArray | None]:
    f = None if frequency_hz is None else np.asarray(frequency_hz, dtype=np.float64)
    return np.asarray(magnitude, dtype=np.float64), np.asarray(half_step, dtype=np.float64), f


def _near_end(
    g: FloatArray, half: FloatArray, bench: Residuals, f: FloatArray
) -> tuple[FloatArray, Residuals, FloatArray]:
    """|gamma|, figures and rounding at the near end of the line, where the sweep was taken."""
    assert bench.line is not None
    a = 10 ** (bench.line.loss_db.at(f) / 10)
    return g / a, replace(bench, line=None), half / a


def _residuals(g: FloatArray, bench: Residuals, f: FloatArray | None) -> tuple[FloatArray, FloatArray, FloatArray]:
    """D, T|g| and M|g|^2: how long each residual's vector is."""
    d = bench.directivity.at(f) if f is not None and bench.directivity else 10 ** (-bench.directivity_db / 20)
    t = bench.full.at(f) if f is not None and bench.full else bench.tracking
    return np.asarray(d + 0 * g), np.asarray(t * g), np.asarray(10 ** (-bench.source_match_db / 20) * g**2)


def _meter_bounds(g: FloatArray, bench: Residuals) -> tuple[FloatArray, FloatArray]:
    """Half-widths of what two watt figures and half a scale division leave open: |g| a and d (1 - |g|)^2/4.

    An accuracy of the range leaves each power open by a share s of the forward power, so that |g| reaches
    sqrt((g^2 + s)/(1 - s)).
    """
    share = bench.full_scale_share
    of_range = np.sqrt((g**2 + share) / (1 - share)) - g
    return g * bench.watt_accuracy + of_range, bench.swr_division * (1 - np.minimum(g, 1)) ** 2 / 4


def swr_interval(magnitude: float, expanded: float) -> tuple[float, float]:
    """SWR at the ends of |gamma| +- U: asymmetric, from 1 upwards, infinite where the upper end reaches 1."""
    low, high = max(magnitude - expanded, 0.0), magnitude + expanded
    return float(swr_from_gamma(low)), float(swr_from_gamma(high))
