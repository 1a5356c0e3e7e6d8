"""What a list shows of an evaluation at a glance: for each kind of product its own small figures."""

import math
from collections.abc import Iterator

import numpy as np

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.evidence.swept_through import empty_of
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture
from levelmoor.core.model.trials import Outcome
from levelmoor.core.rf.bandplan import band_at
from levelmoor.core.through.choking import choking
from levelmoor.core.words.figures import brief_mhz
from levelmoor.figures.tiny import tiny_curve, tiny_posts, tiny_tally
from levelmoor.services.strips import strips_of

Small = tuple[str, str]
"""A name of a few letters, and the figure."""


def small_figures(evaluation: Evaluation, findings: Findings) -> list[Small]:
    """Skylines of bands, loads matched by band, emissions by carrier, and what an accessory does over frequency."""
    skylines = [(use.band, svg) for use, svg in strips_of(evaluation, findings, 76, 34)]
    return [*skylines, *_matched(evaluation), *_emissions(findings), *_through(evaluation)]


def _matched(evaluation: Evaluation) -> Iterator[Small]:
    by_band: dict[str, list[bool]] = {}
    for trial in evaluation.trials:
        if trial.outcome is not Outcome.STOPPED and not trial.set_aside:
            name = band_at(trial.frequency_hz, evaluation.region) or f"{brief_mhz(trial.frequency_hz)} MHz"
            by_band.setdefault(name, []).append(trial.outcome is Outcome.MATCHED)
    for name, tried in by_band.items():
        matched = sum(tried)
        yield name, tiny_tally(matched, len(tried), f"{name}: {matched} of {len(tried)} trials matched")


def _emissions(findings: Findings) -> Iterator[Small]:
    """Each carrier by the rule set that leaves it the least."""
    by_carrier: dict[float, list[float]] = {}
    for found in findings.emissions:
        lines = (*found.report.harmonics, *found.report.spurious)
        margins = [x.margin_db for x in lines if x.margin_db is not None]
        if margins and min(margins) < min(by_carrier.get(found.carrier_hz, [math.inf])):
            by_carrier[found.carrier_hz] = margins
    for carrier, margins in by_carrier.items():
        name = f"{brief_mhz(carrier)} MHz"
        yield name, tiny_posts(margins, f"{name}: smallest margin {min(margins):.1f} dB")


def _through(evaluation: Evaluation) -> Iterator[Small]:
    figures = {i.id: i.figures for i in evaluation.instruments}
    limits = {c.quantity: c.limit for c in reversed(evaluation.claims) if c.limit is not None}
    latest = {x.fixture: x for x in evaluation.throughs if x.fixture is not Fixture.OPEN and not x.set_aside}
    for fixture, one in latest.items():
        f = one.two_port.frequency_hz
        if fixture is Fixture.SERIES:
            empty = empty_of(evaluation, one.instrument_id)
            ohm = choking(one.two_port, figures[one.instrument_id], empty.two_port if empty else None).magnitude_ohm
            yield "choking", tiny_curve(f, ohm, limits.get(Quantity.CHOKING), "Choking impedance over frequency")
        else:
            size = np.abs(one.two_port.s21)
            yield "through", tiny_curve(f, size, None, "What goes through over frequency")
