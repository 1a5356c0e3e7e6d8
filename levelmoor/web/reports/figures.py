"""The figures of a report: each claim's deciding evidence against its level, under a name of its own, with its data."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

from levelmoor.core.evidence.findings import Findings, WindowEvidence
from levelmoor.core.evidence.rests_on import deciding, judged_sweep
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.figures.landscape import Waterline, landscape, read_off_data, view_around, waterline_of
from levelmoor.formats.csv_out import write_csv
from levelmoor.records.kept import Kept

WIDTH = 760
READ_OFF = 120
"""Points of a figure that the pointer can stop at, so that the page stays light."""


@dataclass(frozen=True)
class ReportFigure:
    """One figure: its name in addresses, what it is of, and the sentence that says its result."""

    name: str
    claim: str
    window: str
    unit: str
    says: str
    of: tuple[Evaluation, Claim, WindowEvidence]

    @property
    def drawing(self) -> str:
        """The figure as it stands on the page."""
        return figure_svg(*self.of, self.name, WIDTH)

    @property
    def svg(self) -> str:
        """The figure as a file of its own, with its look."""
        return self.drawing.replace(">", f"><style>{_look()}</style>", 1)

    @property
    def csv(self) -> str:
        """The points that are drawn: frequency, SWR, the limit, and the ends of +-2u where u is known."""
        evaluation, claim, window = self.of
        found = _drawn_of(evaluation, window)
        assert found is not None
        finding, sweep = found[0], found[1].referred_to(claim.z0_ohm)
        low, high = view_around(sweep, [finding.window])
        inside = (sweep.frequency_hz >= low) & (sweep.frequency_hz <= high)
        f, size = sweep.frequency_hz[inside], sweep.magnitude[inside]
        u = standard_uncertainty(size, _band(finding.u_gamma), np.zeros(f.size), f)
        ends = [swr_from_gamma(np.clip(size + k * 2 * u, 0, 1)) for k in (-1, 1)]
        rows: list[list[object]] = [["frequency_hz", "swr", "swr_low", "swr_high", "limit"]]
        for at, swr, lower, upper in zip(f, swr_from_gamma(np.clip(size, 0, 1)), *ends, strict=True):
            within = finding.window.low_hz <= at <= finding.window.high_hz
            limit = f"{finding.limit_swr:g}" if within else ""
            rows.append([f"{at:.12g}", f"{swr:.5g}", f"{lower:.5g}", f"{upper:.5g}", limit])
        return write_csv(rows, ",")


@cache
def _look() -> str:
    return files("levelmoor.figures").joinpath("figure.css").read_text("utf-8")


def figure_name(claim: int, window: int) -> str:
    """The name of a claim's figure, both counted from 0 in the order of the findings."""
    return f"claim-{claim + 1}-{window + 1}"


def figures_of(evaluation: Evaluation, findings: Findings) -> Iterator[ReportFigure]:
    """The figures of a report, in its order; nothing is drawn yet."""
    claims, samples = {c.id: c for c in evaluation.claims}, {s.id: s.label for s in evaluation.samples}
    for number, finding in enumerate(findings.claims):
        claim = claims[finding.claim_id]
        for i, window in enumerate(finding.windows):
            if _drawn_of(evaluation, window):
                of = (evaluation, claim, window)
                says = f"{claim.wording}: {window.reason}"
                yield ReportFigure(
                    figure_name(number, i), claim.wording, window.name, samples[finding.sample_id], says, of
                )


def _drawn_of(evaluation: Evaluation, window: WindowEvidence) -> tuple[WindowFinding, Sweep] | None:
    """What a figure shows: the finding and the curve that was judged; None where there is nothing to draw."""
    found, sweep = window.finding, judged_sweep(evaluation, window)
    return (found, sweep) if found is not None and found.best is not None and sweep is not None else None


def read_off(evaluation: Evaluation, claim: Claim, window: WindowEvidence) -> str:
    """The points of a figure for the pointer and the arrow keys; empty without a figure."""
    found = _drawn_of(evaluation, window)
    if found is None:
        return ""
    sweep = found[1].referred_to(claim.z0_ohm)
    return read_off_data(sweep, *view_around(sweep, [found[0].window]), READ_OFF)


def _band(u_gamma: float | None) -> Residuals:
    """Figures of an instrument that leave just this u open at every |gamma|."""
    return Residuals(-20 * math.log10(max(u_gamma or 0.0, 1e-6) * math.sqrt(2)), 0.0, 200.0)


_figures: Kept[str] = Kept(1024, len, 20_000_000)
"""By all that they show, so that a preview draws what is new; bounded by their letters."""


def figure_svg(evaluation: Evaluation, claim: Claim, window: WindowEvidence, ident: str, width: int) -> str:
    """The deciding evidence as it was judged: the curve that was published where it had been moved, else the raw sweep
    or the mean of the repeats; the band about it is what was published of its uncertainty."""
    found = _drawn_of(evaluation, window)
    if found is None:
        return ""
    finding, sweep = found
    level = waterline_of(finding, evaluation.rule)
    label = f"{claim.wording}: {finding.reason}"
    sweeps = (sweep.content,) if window.curve else tuple(e.sweep.content for e in deciding(evaluation, window))
    key = (sweeps, level, finding.u_gamma, claim.z0_ohm, evaluation.region, evaluation.own_bands, label, width, ident)
    return _figures.get(key, lambda: _drawn(evaluation, claim, found, level, label, width, ident))


def _drawn(
    evaluation: Evaluation,
    claim: Claim,
    found: tuple[WindowFinding, Sweep],
    level: Waterline,
    label: str,
    width: int,
    ident: str,
) -> str:
    finding, sweep = found
    analysis = analyse_sweep(sweep, claim.z0_ohm)
    low, high = view_around(analysis.sweep, [finding.window])
    known = (*(s for b in band_plan(evaluation.region).bands for s in b.segments), *evaluation.own_bands)
    segments = [s for s in known if s.low_hz < high and s.high_hz > low]
    return landscape(
        analysis,
        [level],
        _band(finding.u_gamma),
        (low, high),
        segments,
        label=label,
        width=width,
        height=320,
        ident=ident,
    )
