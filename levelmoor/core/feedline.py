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

from levelmoor.core.curve import Curve
from levelmoor.core.reflection import ComplexArray, FloatArray
from levelmoor.core.sweep import Sweep

LIGHT_M_PER_S = 299_792_458.0


@dataclass(frozen=True)
class LineFigures:
    """A line as measured: one-way loss in dB over frequency, one-way delay in s, the loss's uncertainty in dB."""

    loss_db: Curve
    delay_s: float
    u_loss_db: float

    @property
    def backwards(self) -> "LineFigures":
        """The line as it takes a reflection from its far end to its near one."""
        loss = Curve(self.loss_db.frequency_hz, tuple(-v for v in self.loss_db.value))
        return LineFigures(loss, -self.delay_s, self.u_loss_db)


def move_plane(gamma: ArrayLike, frequency_hz: ArrayLike, loss_db: ArrayLike, delay_s: float) -> ComplexArray:
    """Reflection at the far end of a matched line from that at its near end: gamma 10^(A/10) e^(+j 4 pi f tau) [1]_.

    Parameters
    ----------
    gamma, frequency_hz : (n,) reflection at the near end, and Hz
    loss_db : one-way matched loss in dB, () or (n,); negative goes the other way
    delay_s : one-way delay in s; negative goes the other way
    """
    f = np.asarray(frequency_hz, dtype=np.float64)
    turn = np.exp(4j * np.pi * f * delay_s)
    return np.asarray(np.asarray(gamma) * 10 ** (np.asarray(loss_db, dtype=np.float64) / 10) * turn)


def sweep_at_far_end(sweep: Sweep, line: LineFigures) -> Sweep:
    """The sweep as it would read at the far end of the line; of a scalar sweep the magnitude alone is moved."""
    loss = line.loss_db.at(sweep.frequency_hz)
    gamma = move_plane(sweep.gamma, sweep.frequency_hz, loss, 0.0 if sweep.scalar else line.delay_s)
    half = sweep.half_step_gamma
    return replace(sweep, gamma=gamma, half_step_gamma=None if half is None else half * 10 ** (loss / 10))


def carried_uncertainty(magnitude: ArrayLike, u_near: ArrayLike, loss_db: ArrayLike, u_loss_db: float) -> FloatArray:
    """u(|gamma|) at the far end: u^2 = (a u_near)^2 + (|gamma| ln10/10 u_A)^2, a = 10^(A/10), by [3]_ from [1]_.

    `magnitude` is at the far end, `u_near` the uncertainty of what was read at the near end: moving the plane
    through a line multiplies it, which is why a long line shows less than it seems to.
    """
    a = 10 ** (np.asarray(loss_db, dtype=np.float64) / 10)
    of_loss = np.asarray(magnitude, dtype=np.float64) * np.log(10) / 10 * u_loss_db
    return np.asarray(np.hypot(a * np.asarray(u_near, dtype=np.float64), of_loss))


def total_loss_db(matched_db: ArrayLike, gamma_load: ArrayLike) -> FloatArray:
    """Total loss in dB of a line of that matched loss with |gamma_load| at its end.

    10 log10[(a^2 - |g|^2)/(a (1 - |g|^2))], a = 10^(A/10) [2]_.
    """
    a = 10 ** (np.asarray(matched_db, dtype=np.float64) / 10)
    share = np.abs(np.asarray(gamma_load)) ** 2
    return np.asarray(10 * np.log10((a**2 - share) / (a * (1 - share))))
