"""Lines in a spectrum: the carrier, its harmonics, and what else stands out, found in a trace or a list of peaks."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.figures import brief_mhz

CARRIER_WITHIN = 5e-3
"""How far from where it is said to be a carrier is looked for, as a share of its frequency."""
FREQUENCY_PPM = 20.0
"""Uncertainty of a handheld's and an analyzer's frequency together, in 10^-6 (common practice, no source)."""
LIST_WITHIN = 1e-3
"""The same for a peak list, whose frequencies are rounded."""
ABOVE_NOISE_DB = 6.0
"""Less than this above the noise a reading is no more than an upper bound."""
CARRIER_ABOVE_DB = 10.0
SPUR_ABOVE_DB = 10.0
ASIDE = 1e-2
"""Nearer to the carrier than this share of its frequency its own skirts may hide what stands there."""
SPURIOUS_FROM_HZ = 62.5e3
"""What is nearer to the carrier than this is its own modulation: 250 % of a voice channel's 25 kHz (ITU-R SM.329,
recommends 2.3 (memory))."""
RBW_ASIDE = 4.0
"""Within so many resolution bandwidths of the carrier the analyzer tells nothing from it."""
FEWEST_TRACE_POINTS = 51
"""Fewer rows are a list of peaks."""


@dataclass(frozen=True)
class SpectralLine:
    """A line as indicated: its frequency in Hz and level in dBm. `bound`: the noise hides whether it is lower."""

    frequency_hz: float
    indicated_dbm: float
    bound: bool = False


class NoCarrier(ValueError):
    """No fundamental stands where the carrier is said to be."""


def is_peak_list(trace: Trace) -> bool:
    """Whether the rows are single peaks: there are too few of them for a trace. Harmonics stand at equal steps too."""
    return trace.frequency_hz.size < FEWEST_TRACE_POINTS


def noise_of(trace: Trace) -> float:
    """The level in dBm that half of a trace lies under; minus infinity for a peak list, which tells no noise."""
    return -np.inf if is_peak_list(trace) else float(np.median(trace.level_db))


def find_carrier(trace: Trace, carrier_hz: float) -> SpectralLine:
    """The highest level within half a per cent of where the carrier is said to be.

    Raises
    ------
    NoCarrier
        Where the trace has nothing there, or nothing that stands out of its noise.
    """
    line = _highest(trace, carrier_hz, CARRIER_WITHIN * carrier_hz)
    seen = noise_of(trace) + CARRIER_ABOVE_DB
    if line is None or line.indicated_dbm < seen:
        where = f"no fundamental within {100 * CARRIER_WITHIN:g} % of {brief_mhz(carrier_hz)} MHz"
        top = int(np.argmax(trace.level_db))
        if trace.level_db[top] < seen:
            raise NoCarrier(f"{where}, and nothing rises above the noise; key the radio while the analyzer sweeps")
        at = f"{brief_mhz(round(float(trace.frequency_hz[top]), -3))} MHz"
        raise NoCarrier(f"{where}; the highest line is at {at}: if that is the radio, enter it as the carrier")
    return line


def window_hz(trace: Trace, n: float, carrier_hz: float, rbw_hz: float) -> float:
    """Half of the window in Hz in which the n-th harmonic is looked for: n times what the carrier's frequency is
    uncertain by, the step of the trace, and the resolution bandwidth."""
    if is_peak_list(trace):
        return LIST_WITHIN * n * carrier_hz + rbw_hz
    step = float(np.max(np.diff(trace.frequency_hz), initial=0.0))
    return (n + 1) * step / 2 + FREQUENCY_PPM * 1e-6 * n * carrier_hz + rbw_hz


def find_harmonic(trace: Trace, n: float, carrier: SpectralLine, rbw_hz: float) -> SpectralLine | None:
    """The n-th harmonic; None where the trace does not reach its window, or a list has no peak in it."""
    middle = n * carrier.frequency_hz
    half = window_hz(trace, n, carrier.frequency_hz, rbw_hz)
    if not is_peak_list(trace) and not (trace.covers(middle - half) and trace.covers(middle + half)):
        return None
    line = _highest(trace, middle, half)
    if line is None:
        return None
    bound = line.indicated_dbm < noise_of(trace) + ABOVE_NOISE_DB
    return SpectralLine(line.frequency_hz, line.indicated_dbm, bound)


def find_spurs(trace: Trace, carrier: SpectralLine, rbw_hz: float) -> list[SpectralLine]:
    """Local peaks out of the noise that are neither the carrier nor one of its harmonics, by rising frequency; beside
    the carrier those that rise out of its skirt.
    """
    f, level = trace.frequency_hz, trace.level_db
    f0 = carrier.frequency_hz
    if is_peak_list(trace):
        found = [SpectralLine(float(a), float(b)) for a, b in zip(f, level, strict=True)]
    else:
        edge = np.concatenate(([-np.inf], level, [-np.inf]))
        top = (edge[1:-1] >= edge[:-2]) & (edge[1:-1] > edge[2:]) & (level > noise_of(trace) + SPUR_ABOVE_DB)
        found = [SpectralLine(float(a), float(b)) for a, b in zip(f[top], level[top], strict=True)]
    return [s for s in found if not _belongs(trace, s, f0, rbw_hz)]


def _belongs(trace: Trace, line: SpectralLine, f0: float, rbw_hz: float) -> bool:
    """Whether a line is the carrier with its skirts, or one of its harmonics with theirs."""
    n = round(line.frequency_hz / f0)
    if n < 1:
        return False
    room = max(window_hz(trace, n, f0, rbw_hz), RBW_ASIDE * rbw_hz, near_hz(trace, f0, rbw_hz) if n == 1 else 0.0)
    return abs(line.frequency_hz - n * f0) <= room


def near_hz(trace: Trace, f0: float, rbw_hz: float) -> float:
    """How near to the carrier nothing is told from it, in Hz: its modulation, and what the sweep does not resolve."""
    if is_peak_list(trace):
        return max(SPURIOUS_FROM_HZ, LIST_WITHIN * f0)
    return max(SPURIOUS_FROM_HZ, unresolved_hz(trace, rbw_hz))


def unresolved_hz(trace: Trace, rbw_hz: float) -> float:
    step = float(np.max(np.diff(trace.frequency_hz), initial=0.0))
    return max(RBW_ASIDE * rbw_hz, 3 * step)


@dataclass(frozen=True)
class NearCarrier:
    """What stands beside the carrier: how far from it nothing is resolved, in Hz, and the highest level of its skirts
    from there to a share of its frequency, None where the trace has none."""

    unresolved_hz: float
    skirt: SpectralLine | None


def beside_carrier(trace: Trace, carrier: SpectralLine, rbw_hz: float) -> NearCarrier:
    """Look at both sides of the carrier; a peak list tells its peaks alone."""
    if is_peak_list(trace):
        return NearCarrier(0.0, None)
    f0, near = carrier.frequency_hz, near_hz(trace, carrier.frequency_hz, rbw_hz)
    away = np.abs(trace.frequency_hz - f0)
    inside = np.flatnonzero((away > near) & (away <= max(ASIDE * f0, 2 * near)))
    resolved = unresolved_hz(trace, rbw_hz) <= SPURIOUS_FROM_HZ
    skirt = None
    if inside.size:
        i = int(inside[np.argmax(trace.level_db[inside])])
        skirt = SpectralLine(float(trace.frequency_hz[i]), float(trace.level_db[i]), bound=True)
    return NearCarrier(0.0 if resolved else near, skirt)


def last_harmonic(trace: Trace, f0: float) -> int:
    """The order of the last harmonic that a trace or a list reaches."""
    return int(trace.frequency_hz[-1] / f0 + 1e-9)


def _highest(trace: Trace, middle: float, half: float) -> SpectralLine | None:
    inside = np.flatnonzero(np.abs(trace.frequency_hz - middle) <= half)
    if inside.size == 0:
        return None
    at = int(inside[np.argmax(trace.level_db[inside])])
    return SpectralLine(float(trace.frequency_hz[at]), float(trace.level_db[at]))
