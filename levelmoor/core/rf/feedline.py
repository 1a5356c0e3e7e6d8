"""A feed line between the sample and the instrument: moving the reference plane, and what it costs.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 2, the terminated lossy line (memory).
.. [2] Amateur radio handbooks, additional loss due to SWR (memory).
.. [3] JCGM 100:2008, 5.1, propagation of uncertainty (memory).
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, refer_to
from levelmoor.core.rf.sweep import Sweep

SAME_Z0 = 0.05
"""How far, as a share, a line's impedance may be off for a sweep of SWR alone to be taken through it."""


@dataclass(frozen=True)
class LineFigures:
    """A line as measured: one-way loss in dB over frequency, one-way delay in s, the loss's standard uncertainty in dB.

    `z0_ohm` is its own impedance and `u_z0_ohm` the standard uncertainty of that.
    """

    loss_db: Curve
    delay_s: float
    u_loss_db: float
    z0_ohm: float = 50.0
    u_z0_ohm: float = 0.0

    @property
    def backwards(self) -> "LineFigures":
        """The line as it takes a reflection from its far end to its near one."""
        loss = Curve(self.loss_db.frequency_hz, tuple(-v for v in self.loss_db.value))
        return replace(self, loss_db=loss, delay_s=-self.delay_s)


def move_plane(gamma: ArrayLike, frequency_hz: ArrayLike, loss_db: ArrayLike, delay_s: float) -> ComplexArray:
    """Reflection at the far end of a line from that at its near end, both referred to the line's own impedance:
    gamma 10^(A/10) e^(+j 4 pi f tau) [1]_.

    Parameters
    ----------
    gamma, frequency_hz : (n,) reflection at the near end, and Hz
    loss_db : one-way matched loss in dB, () or (n,); negative goes the other way
    delay_s : one-way delay in s; negative goes the other way
    """
    f = np.asarray(frequency_hz, dtype=np.float64)
    turn = np.exp(4j * np.pi * f * delay_s)
    return np.asarray(np.asarray(gamma) * 10 ** (np.asarray(loss_db, dtype=np.float64) / 10) * turn)


def can_be_moved(sweep: Sweep, line: LineFigures) -> bool:
    """Whether the sweep can be taken through the line: a scalar one only where the line's impedance is its own."""
    return not sweep.scalar or abs(line.z0_ohm / sweep.z0_ohm - 1) <= SAME_Z0


def sweep_at_far_end(sweep: Sweep, line: LineFigures) -> Sweep:
    """The sweep as it would read at the far end of the line; of a scalar sweep the magnitude alone is moved.

    A line moves a reflection that is referred to its own impedance, so that is where it is moved.
    """
    loss = line.loss_db.at(sweep.frequency_hz)
    within = sweep.gamma if sweep.scalar else refer_to(sweep.gamma, sweep.z0_ohm, line.z0_ohm)
    moved = move_plane(within, sweep.frequency_hz, loss, 0.0 if sweep.scalar else line.delay_s)
    gamma = moved if sweep.scalar else refer_to(moved, line.z0_ohm, sweep.z0_ohm)
    half = sweep.half_step_gamma
    return replace(sweep, gamma=gamma, half_step_gamma=None if half is None else half * 10 ** (loss / 10))


def carried_uncertainty(
    magnitude: ArrayLike, u_near: ArrayLike, line: LineFigures, frequency_hz: ArrayLike
) -> FloatArray:
    """u(|gamma|) at the far end, by [3]_ from [1]_: u^2 = (a u_near)^2 + (|gamma| ln10/10 u_A)^2 + u_Z^2.

    `magnitude` is at the far end, `u_near` the uncertainty of what was read at the near end: moving the plane
    through a line multiplies it by a = 10^(A/10), which is why a long line shows less than it seems to. u_Z is what the
    uncertainty of the line's impedance leaves: r (1 + a)(1 + |gamma|^2), r = u_Z0/(2 Z0), a vector of unknown phase.
    """
    a, of_loss, of_z0 = _carried(magnitude, line, frequency_hz)
    return np.asarray(np.sqrt((a * np.asarray(u_near)) ** 2 + of_loss**2 + of_z0**2 / 2))


def carried_bound(
    magnitude: ArrayLike, bound_near: ArrayLike, line: LineFigures, frequency_hz: ArrayLike
) -> FloatArray:
    """How far |gamma| can be off at the far end, what the line leaves open at twice its standard uncertainty."""
    a, of_loss, of_z0 = _carried(magnitude, line, frequency_hz)
    return np.asarray(a * np.asarray(bound_near) + 2 * of_loss + 2 * of_z0)


def _carried(
    magnitude: ArrayLike, line: LineFigures, frequency_hz: ArrayLike
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """a, and what the line's loss and impedance leave of |gamma| at one standard uncertainty each."""
    g = np.asarray(magnitude, dtype=np.float64)
    a = 10 ** (line.loss_db.at(frequency_hz) / 10)
    return a, g * np.log(10) / 10 * line.u_loss_db, line.u_z0_ohm / (2 * line.z0_ohm) * (1 + a) * (1 + g**2)


def total_loss_db(matched_db: ArrayLike, gamma_load: ArrayLike) -> FloatArray:
    """Total loss in dB of a line of that matched loss with |gamma_load| at its end.

    10 log10[(a^2 - |g|^2)/(a (1 - |g|^2))], a = 10^(A/10) [2]_.
    """
    a = 10 ** (np.asarray(matched_db, dtype=np.float64) / 10)
    share = np.abs(np.asarray(gamma_load)) ** 2
    return np.asarray(10 * np.log10((a**2 - share) / (a * (1 - share))))
