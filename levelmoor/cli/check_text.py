"""The `check` report as text: a readable table, and a small skyline for a terminal."""

from collections.abc import Iterator

from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import format_mhz, format_range, format_step, format_swr
from levelmoor.figures.landscape import Waterline, text_skyline


def check_text(title: str, analysis: SweepAnalysis, findings: list[WindowFinding], skyline: bool) -> Iterator[str]:
    """Lines: the sweep, its dips and resonances, then every window with its widths and reason."""
    sweep = analysis.sweep
    span, step = format_range(sweep.low_hz, sweep.high_hz), format_step(sweep.largest_step_hz)
    yield f"{title}, {counted(sweep.points, 'point')}, {span}, step up to {step}"
    for dip in analysis.dips:
        edge = "  at the edge: the dip may lie outside" if dip.at_edge else ""
        yield _mark("dip", dip.frequency_hz, dip.gamma) + edge
    for resonance in analysis.resonances[:20]:
        yield _mark("X = 0", resonance.frequency_hz, resonance.gamma) + f"  {resonance.kind}"
    if skyline:
        yield from text_skyline(analysis, Waterline(findings[0].window, findings[0].limit_swr) if findings else None)
    for finding in findings:
        yield _window(finding)
        for width in finding.widths:
            least = "at least " if width.low_open or width.high_open else ""
            edges = format_range(width.low_hz, width.high_hz)
            yield f"    {width.swr:g}:1  {edges}  {least}{format_step(width.width_hz)}"
        yield f"    {finding.reason}"


def _mark(word: str, frequency_hz: float, gamma: complex) -> str:
    return f"  {word:<6}{format_mhz(frequency_hz):>13} MHz  SWR {format_swr(float(swr_from_gamma(gamma)))}"


def _window(finding: WindowFinding) -> str:
    share = "-" if finding.share_within_limit is None else f"{100 * finding.share_within_limit:.1f} %"
    best = format_swr(finding.best.swr) if finding.best else "-"
    worst = format_swr(finding.worst.swr) if finding.worst else "-"
    within = f"within {finding.limit_swr:g}:1 {share:>8}"
    return f"{finding.window.name:<22} best {best:>8}  worst {worst:>8}  {within}  {VERDICT_WORDS[finding.verdict]}"
