"""A pad measured by normalising: the path without it, the path with it, and the difference.

References
----------
.. [1] JCGM 100:2008, 5.1, and a U-shaped distribution's divisor root 2 for mismatch (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.curve import Curve, curve_of
from levelmoor.core.rf.levels import mismatch_error_db
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.figures import brief_mhz
from levelmoor.core.words.said import said, together

LEAST_DB = 0.5
"""A path that loses less than this has no pad in it: the trace is of the path itself."""
LABEL_WITHIN_DB = 0.5
"""A pad further than this from its label is said to differ from it."""


@dataclass(frozen=True)
class PadFigure:
    """The attenuation in dB at one frequency, with its standard uncertainty; `order` 1 is the fundamental."""

    order: int
    frequency_hz: float
    attenuation_db: float
    u_db: float


@dataclass(frozen=True)
class PadCheck:
    attenuation: Curve
    figures: tuple[PadFigure, ...]
    missing: tuple[float, ...]
    """Wanted frequencies in Hz that the traces do not reach."""
    nominal_db: float | None
    u_db: float

    @property
    def no_pad(self) -> bool:
        """Whether the traces are of a path without a pad, as a normalised trace through is."""
        return max(self.attenuation.value) < LEAST_DB and (self.nominal_db is None or self.nominal_db > 2 * LEAST_DB)

    @property
    def sound(self) -> bool:
        """Whether there is a pad and every wanted frequency was reached; one that differs from its label is sound."""
        return not self.missing and not self.no_pad

    @property
    def differs_db(self) -> float | None:
        """How far the first figure is from the label's, None without a label."""
        if self.nominal_db is None or not self.figures:
            return None
        return self.figures[0].attenuation_db - self.nominal_db

    @property
    def words(self) -> str:
        if self.no_pad:
            return said("pad.none")
        told: list[str] = [said("pad.at", db=f.attenuation_db, at=f.frequency_hz) for f in self.figures]
        if self.missing:
            told.append(said("pad.missing", at=", ".join(brief_mhz(f) for f in self.missing)))
        if self.differs_db is not None and abs(self.differs_db) > LABEL_WITHIN_DB:
            told.append(said("pad.label", label=self.nominal_db, off=abs(self.differs_db)))
        return together(*told, between="; ")


def check_pad(
    reference: Trace,
    through: Trace,
    wanted_hz: tuple[float, ...] = (),
    nominal_db: float | None = None,
    u_level_db: float = 0.1,
    swr_source: float = 1.2,
    swr_pad: float = 1.2,
) -> PadCheck:
    """Attenuation in dB: the level without the pad less the level with it, over the frequencies both traces share.

    `reference` of zeros and `through` of 20 log10|S21| is the case of a two-port sweep. The uncertainty is that of two
    levels, each `u_level_db`, and of the mismatch between pad and path at both sides [1]_.

    Raises
    ------
    ValueError
        If the traces share no frequency.
    """
    low = max(reference.frequency_hz[0], through.frequency_hz[0])
    high = min(reference.frequency_hz[-1], through.frequency_hz[-1])
    f = through.frequency_hz[(through.frequency_hz >= low) & (through.frequency_hz <= high)]
    if f.size == 0:
        raise ValueError("the two traces have no frequency in common; record both over the same span")
    attenuation = reference.at(f) - through.at(f)
    mismatch = max(mismatch_error_db(float(gamma_from_swr(swr_source)), float(gamma_from_swr(swr_pad))))
    u = float(np.sqrt(2 * u_level_db**2 + 2 * (mismatch**2 / 2)))
    curve = curve_of(f, attenuation)
    reached = [(n, w) for n, w in enumerate(wanted_hz, 1) if curve.covers(w, w)]
    figures = tuple(PadFigure(n, w, float(np.interp(w, f, attenuation)), u) for n, w in reached)
    missing = tuple(w for n, w in enumerate(wanted_hz, 1) if not curve.covers(w, w))
    if not wanted_hz:
        figures = (PadFigure(1, float(f[f.size // 2]), float(attenuation[f.size // 2]), u),)
    return PadCheck(curve, figures, missing, nominal_db, u)
