"""A sweep through an article, from one port to the other.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 4, the scattering matrix (memory).
.. [2] K. Kurokawa, Power waves and the scattering matrix, IEEE Trans. Microw. Theory Tech. 13(2), 1965,
   pp. 194-202 (memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike, NDArray

from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.rf.windows import EDGE_TOLERANCE, reaches

LEAST_S21 = 1e-15


@dataclass(frozen=True, eq=False)
class TwoPort:
    """S21 over rising frequencies in Hz, (n,) complex; where `scalar` only its size is known. `s11` and `s22` are the
    reflections of its ports, None where they were not swept. `z0_ohm` is the reference of all of them [1]_."""

    frequency_hz: FloatArray
    s21: ComplexArray
    s11: ComplexArray | None = None
    s22: ComplexArray | None = None
    z0_ohm: float = 50.0
    scalar: bool = False

    def __post_init__(self) -> None:
        if self.frequency_hz.size < 2 or np.any(np.diff(self.frequency_hz) <= 0):
            raise ValueError("a port-to-port sweep needs at least two rising frequencies")
        if not np.all(np.abs(self.s21) > LEAST_S21):
            raise ValueError("S21 below -300 dB: something always gets through, if only noise")

    @property
    def loss_db(self) -> FloatArray:
        """Insertion loss -20 log10 |S21| in dB [1]_."""
        return np.asarray(-20 * np.log10(np.abs(self.s21)))

    def can_be_referred_to(self, z0_ohm: float) -> bool:
        """Another reference needs the reflections of both ports."""
        return self.z0_ohm == z0_ohm or (self.s11 is not None and self.s22 is not None and not self.scalar)

    def referred_to(self, z0_ohm: float) -> "TwoPort":
        """The same article between ports of another reference, S' = (S - r)(1 - r S)^-1 with the reflection r of the
        new reference in the old [2]_; what is passive sends as much back as forth, S12 = S21.

        Raises
        ------
        ValueError
            If the reflections of its ports were not swept.
        """
        if self.z0_ohm == z0_ohm:
            return self
        if not self.can_be_referred_to(z0_ohm) or self.s11 is None or self.s22 is None:
            raise ValueError(f"a sweep in {self.z0_ohm:g} Ω without S11 and S22 cannot be converted to {z0_ohm:g} Ω")
        r = (z0_ohm - self.z0_ohm) / (z0_ohm + self.z0_ohm)
        across = self.s21**2
        under = (1 - r * self.s11) * (1 - r * self.s22) - r**2 * across
        return replace(
            self,
            s21=self.s21 * (1 - r**2) / under,
            s11=((self.s11 - r) * (1 - r * self.s22) + r * across) / under,
            s22=((self.s22 - r) * (1 - r * self.s11) + r * across) / under,
            z0_ohm=z0_ohm,
        )

    def covers(self, low_hz: float, high_hz: float) -> bool:
        return reaches(float(self.frequency_hz[0]), float(self.frequency_hz[-1]), low_hz, high_hz)

    def reaches(self, frequency_hz: FloatArray) -> NDArray[np.bool_]:
        """At which frequencies it was swept, (n,)."""
        low, high = float(self.frequency_hz[0]), float(self.frequency_hz[-1])
        return np.asarray((frequency_hz >= low * (1 - EDGE_TOLERANCE)) & (frequency_hz <= high * (1 + EDGE_TOLERANCE)))

    def inside(self, low_hz: float, high_hz: float) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
        """Which points lie in a window; of a spot the nearest one."""
        f = self.frequency_hz
        if high_hz <= low_hz:
            chosen = np.zeros(f.size, dtype=bool)
            chosen[int(np.argmin(np.abs(f - low_hz)))] = True
            return chosen
        return np.asarray((f >= low_hz * (1 - 1e-9)) & (f <= high_hz * (1 + 1e-9)))

    def at(self, frequency_hz: ArrayLike) -> ComplexArray:
        """S21 between the points, straight from one to the next."""
        f = np.asarray(frequency_hz, dtype=np.float64)
        re, im = (np.interp(f, self.frequency_hz, part) for part in (self.s21.real, self.s21.imag))
        return np.asarray(re + 1j * im)


def mean_of(repeats: Sequence[TwoPort]) -> TwoPort:
    """The mean of repeats at the same frequencies: of their dB, with the mean of their directions."""
    if len(repeats) == 1:
        return repeats[0]
    every = np.array([x.s21 for x in repeats])
    size = np.exp(np.mean(np.log(np.abs(every)), axis=0))
    together = np.sum(every / np.abs(every), axis=0)
    return replace(repeats[-1], s21=size * np.exp(1j * np.angle(together)))
