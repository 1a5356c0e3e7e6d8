"""What an instrument can decide, in a line, before anything is planned with it."""

from levelmoor.core.metrology.decidable import decidable
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.rf.bandplan import band_plan

USUAL_LIMITS = (1.5, 2.0, 3.0)


def can_decide(instrument: Instrument, region: int) -> str:
    """Up to what it may read for the usual limits to be passed, and from which band to which; empty for what sweeps
    nothing.

    Parameters
    ----------
    instrument : with the figures that its verdicts take their uncertainty from
    region : ITU region, whose bands are named
    """
    if not instrument.sweeps:
        return ""
    parts = []
    for limit in USUAL_LIMITS:
        found = decidable(limit, instrument.figures).passes_swr
        parts.append(f"{limit:g}:1: up to {found:.2f} passes" if found else f"{limit:g}:1: cannot be decided")
    return "; ".join(parts) + _bands(instrument, region)


def _bands(instrument: Instrument, region: int) -> str:
    low, high = instrument.low_hz, instrument.high_hz or float("inf")
    names = [b.name for b in band_plan(region).bands if low <= b.low_hz and b.high_hz <= high]
    return f"; {names[0]} to {names[-1]}" if names and (low or instrument.high_hz) else ""
