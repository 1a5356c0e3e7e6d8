"""What the page shows of the notebook of widths, each band by itself."""

from itertools import groupby
from typing import Any

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.readings.width_verdict import width_uncertainty
from levelmoor.figures.widths import widths_figure


def notebook(evaluation: Evaluation) -> list[dict[str, Any]]:
    """By band, what the page shows: each reading with its u, and the figure."""
    instruments = {i.id: i for i in evaluation.instruments}
    lowest = {w.band: min(o.low_hz for o in evaluation.widths if o.band == w.band) for w in evaluation.widths}
    every = sorted(evaluation.widths, key=lambda w: (lowest[w.band], w.band, w.swr, w.taken_on))
    found = []
    for (band, swr), group in groupby(every, key=lambda w: (w.band, w.swr)):
        readings = [(w, width_uncertainty(w, instruments[w.instrument_id].figures)) for w in group]
        claimed = _claimed(evaluation, readings[0][0])
        found.append({"band": band, "swr": swr, "readings": readings, "figure": widths_figure(band, readings, claimed)})
    return found


def _claimed(evaluation: Evaluation, reading: WidthReading) -> float | None:
    """The bandwidth that is claimed for the band."""
    claims = [c for c in evaluation.claims if c.quantity is Quantity.BANDWIDTH and c.limit]
    windows = ((c.limit, w) for c in claims for w in c.windows)
    meant = (limit for limit, w in windows if w.low_hz <= reading.high_hz and reading.low_hz <= w.high_hz)
    return next((1e3 * limit for limit in meant if limit), None)
