"""What is read off a whole sweep once, for all the windows it is judged in."""

from collections import OrderedDict
from dataclasses import dataclass, field
from functools import cached_property
from threading import Lock

from levelmoor.core.rf.dips import (
    Dip,
    Peak,
    Width,
    dip_of_window,
    find_dips,
    find_peaks,
    stretches_within,
    width_around,
)
from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.resonances import Resonance, find_resonances
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

WIDTH_SWRS = (1.5, 2.0, 3.0)


@dataclass(frozen=True, eq=False)
class SweepAnalysis:
    """A sweep in the impedance it is judged in, with its dips and resonances; widths are found when first asked for."""

    sweep: Sweep
    dips: list[Dip]
    resonances: list[Resonance]
    noise: float = 0.0
    _widths: dict[tuple[Dip, float], Width | None] = field(default_factory=dict, repr=False)
    _stretches: dict[float, list[Width]] = field(default_factory=dict, repr=False)

    def width(self, dip: Dip, level: float) -> Width | None:
        """The width around a dip at a level of |gamma|, None where the dip does not reach it."""
        key = (dip, level)
        if key not in self._widths:
            self._widths[key] = width_around(self.sweep, dip, level)
        return self._widths[key]

    @cached_property
    def peaks(self) -> list[Peak]:
        return [p for part in self.sweep.stretches for p in find_peaks(part, self.noise)]

    def widths(self, window: Window) -> tuple[Width, ...]:
        """Widths at several SWRs of what a window holds: around its dip, else of a stretch that reaches into it."""
        dip = dip_of_window(self.dips, window.low_hz, window.high_hz)
        return tuple(w for s in WIDTH_SWRS if (w := self._width_of_window(window, dip, float(gamma_from_swr(s)))))

    def _width_of_window(self, window: Window, dip: Dip | None, level: float) -> Width | None:
        if dip is not None:
            return self.width(dip, level)
        return self.widest_in(window, level)

    def widest_in(self, window: Window, level: float, inside: bool = False) -> Width | None:
        """The widest of the stretches at or below a level of |gamma| that lie in a window or reach into it, whole; by
        what of them lies `inside` it."""
        if level not in self._stretches:
            self._stretches[level] = stretches_within(self.sweep, level)
        reach = (w for w in self._stretches[level] if w.high_hz >= window.low_hz and w.low_hz <= window.high_hz)

        def counted(w: Width) -> float:
            return min(w.high_hz, window.high_hz) - max(w.low_hz, window.low_hz) if inside else w.width_hz

        return max(reach, key=counted, default=None)


MOST_KEPT, KEPT_POINTS = 512, 400_000
"""Of the analyses that are kept, the last ones asked for, and of their sweeps."""
_kept: OrderedDict[tuple[bytes, float], SweepAnalysis] = OrderedDict()
_lock = Lock()


def analyse_sweep(sweep: Sweep, z0_ohm: float) -> SweepAnalysis:
    """Refer a sweep to an impedance and find its dips and resonances; an equal sweep is not analysed again soon."""
    key = (sweep.content, z0_ohm)
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    found = _analysed(sweep, z0_ohm)
    with _lock:
        _kept[key] = found
        while len(_kept) > MOST_KEPT or (len(_kept) > 1 and sum(a.sweep.points for a in _kept.values()) > KEPT_POINTS):
            _kept.popitem(last=False)
    return found


def forget_analyses() -> None:
    """Keep none of them, as where their time is measured."""
    with _lock:
        _kept.clear()


def _analysed(sweep: Sweep, z0_ohm: float) -> SweepAnalysis:
    referred = sweep.referred_to(z0_ohm)
    noise = noise_of_magnitude(referred)
    dips = [d for part in referred.stretches for d in find_dips(part, noise)]
    resonances = [r for part in referred.stretches for r in find_resonances(part, noise)]
    return SweepAnalysis(referred, dips, resonances, noise)
