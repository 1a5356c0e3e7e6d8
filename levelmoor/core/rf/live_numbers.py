"""The four numbers of a live sweep: best SWR and where, SWR at the wanted frequency, X = 0; and of a live spectrum: the
highest line, and the harmonics under it."""

from dataclasses import dataclass

from levelmoor.core.rf.reflection import impedance_from_gamma, swr_from_gamma
from levelmoor.core.rf.spectral_lines import NoCarrier, SpectralLine, find_carrier, find_harmonic
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.trace import Trace

ON_IT = 1e-3
"""A dip this near to the wanted frequency, as a share of it, is at it."""


@dataclass(frozen=True)
class LiveNumbers:
    """Frequencies in Hz; None where the sweep does not reach or X is nowhere zero, and no impedance where everything is
    reflected, since noise alone makes it then. `too_long` tells where the dip lies: True below the wanted frequency, so
    that the element is long; None without a wanted frequency or a dip."""

    best_swr: float
    best_hz: float
    wanted_hz: float | None
    wanted_swr: float | None
    wanted_ohm: complex | None
    zero_hz: float | None
    zero_ohm: float | None
    too_long: bool | None

    @property
    def off(self) -> str:
        """The same in a word: long, short, or nothing where the dip is where it is wanted."""
        return self.way.rsplit(" ", 1)[1] if self.way.endswith(("long", "short")) else ""

    @property
    def way(self) -> str:
        """Which way the element is off, where the dip is not at the wanted frequency; or why there is no impedance."""
        if self.too_long is None and self.wanted_swr is not None and self.wanted_ohm is None:
            return "everything is reflected"
        if self.too_long is None or self.wanted_hz is None or abs(self.best_hz - self.wanted_hz) < ON_IT * self.best_hz:
            return ""
        lies, off = ("below", "long") if self.too_long else ("above", "short")
        return f"the dip is {lies}: the element is {off}"


def live_numbers(analysis: SweepAnalysis, wanted_hz: float | None) -> LiveNumbers:
    """Of several dips the one nearest to the wanted frequency counts, without one the lowest; X = 0 nearest to it."""
    sweep = analysis.sweep
    dips = [d for d in analysis.dips if not d.at_edge]
    best_hz, best = sweep.best()
    if dips:
        dip = min(dips, key=lambda d: abs(d.frequency_hz - wanted_hz) if wanted_hz else d.magnitude)
        best_hz, best = dip.frequency_hz, dip.magnitude
    reached = wanted_hz is not None and sweep.covers(wanted_hz, wanted_hz)
    gamma = complex(sweep.gamma_at(wanted_hz)) if wanted_hz is not None and reached else None
    middle = wanted_hz or best_hz
    zero = min(analysis.resonances, key=lambda r: abs(r.frequency_hz - middle), default=None)
    return LiveNumbers(
        best_swr=float(swr_from_gamma(best)),
        best_hz=best_hz,
        wanted_hz=wanted_hz,
        wanted_swr=float(swr_from_gamma(gamma)) if gamma is not None else None,
        wanted_ohm=complex(impedance_from_gamma(gamma, sweep.z0_ohm)) if gamma is not None and abs(gamma) < 1 else None,
        zero_hz=zero.frequency_hz if zero else None,
        zero_ohm=float(impedance_from_gamma(zero.gamma, sweep.z0_ohm).real) if zero else None,
        too_long=best_hz < wanted_hz if wanted_hz is not None and dips else None,
    )


def live_lines(
    trace: Trace, rbw_hz: float, marker_hz: float | None = None
) -> tuple[SpectralLine | None, tuple[SpectralLine | None, ...]]:
    """The highest line as the analyzer shows it, where its own marker stands if it has one, and that line's harmonics
    2 to 4; None where there is none, or it is not reached."""
    try:
        carrier = find_carrier(trace, marker_hz or float(trace.frequency_hz[trace.level_db.argmax()]))
    except NoCarrier:
        return None, (None,) * 3
    return carrier, tuple(find_harmonic(trace, n, carrier, rbw_hz) for n in (2, 3, 4))
