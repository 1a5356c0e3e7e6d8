"""What is read off a whole sweep once, for all the windows it is judged in."""

from dataclasses import dataclass, field

from levelmoor.core.dips import Dip, Width, find_dips, width_around
from levelmoor.core.noise import noise_of_magnitude
from levelmoor.core.reflection import gamma_from_swr
from levelmoor.core.resonances import Resonance, find_resonances
from levelmoor.core.sweep import Sweep

WIDTH_SWRS = (1.5, 2.0, 3.0)


@dataclass(frozen=True, eq=False)
class SweepReading:
    """A sweep in the impedance it is judged in, with its dips and resonances; widths are found when first asked for."""

    sweep: Sweep
    dips: list[Dip]
    resonances: list[Resonance]
    _widths: dict[tuple[Dip, float], Width | None] = field(default_factory=dict, repr=False)

    def width(self, dip: Dip, level: float) -> Width | None:
        """The width around a dip at a level of |gamma|, None where the dip does not reach it."""
        key = (dip, level)
        if key not in self._widths:
            self._widths[key] = width_around(self.sweep, dip, level)
        return self._widths[key]

    def widths(self, dip: Dip | None, swrs: tuple[float, ...] = WIDTH_SWRS) -> tuple[Width, ...]:
        """Widths at several SWRs around one dip; those it does not reach are left out."""
        if dip is None:
            return ()
        return tuple(w for s in swrs if (w := self.width(dip, float(gamma_from_swr(s)))))


def read_sweep(sweep: Sweep, z0_ohm: float) -> SweepReading:
    """Refer a sweep to an impedance and find its dips and resonances."""
    referred = sweep.referred_to(z0_ohm)
    noise = noise_of_magnitude(referred)
    return SweepReading(referred, find_dips(referred, noise), find_resonances(referred, noise))
