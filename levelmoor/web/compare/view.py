"""What the compare page shows: the sides to choose from, the question, and its answer as figure, table, sentence."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from levelmoor.core.comparison.comparison import MOST_SIDES, CannotCompare, compare, likely_question, sides_of
from levelmoor.core.comparison.comparison_model import Base, Comparison, PlaneView, Question, Side, WindowComparison
from levelmoor.core.evidence.findings import Findings
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Evidence
from levelmoor.core.readings.reading_usability import FEWEST_READINGS
from levelmoor.core.rf.bandplan import band_plan, bands_covered
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for
from levelmoor.core.words.sentence import sentence
from levelmoor.figures.curves import Drawn, curves_of, read_off_all
from levelmoor.figures.landscape import landscape, view_around, waterline_of
from levelmoor.figures.overlay import overlay
from levelmoor.figures.resistance import resistance
from levelmoor.figures.smith import smith
from levelmoor.figures.strip import tiny_skyline

FIGURES = {
    "swr": "SWR",
    "loss": "Return loss",
    "smith": "Smith chart",
    "rx": "R and X",
    "each": "Side by side",
    "bands": "Band by band",
}
USABILITY = "use"
MOST_BANDS = 12


@dataclass(frozen=True)
class ComparisonAsked:
    """What was chosen on the page; empty where it is left to the page."""

    sweeps: tuple[str, ...] = ()
    question: str = ""
    against: str = ""
    figure: str = "swr"
    view: str = ""
    plane: str = "judged"
    base: str = "first"
    low_hz: float | None = None
    high_hz: float | None = None


@dataclass(frozen=True)
class SweepChoice:
    """A row to choose from: a sweep with its repeats."""

    ids: tuple[str, ...]
    name: str
    facts: str
    chosen: bool
    letter: str = ""


@dataclass(frozen=True)
class SideRow:
    """A side with its own small figures."""

    letter: str
    name: str
    figures: tuple[str, ...]


@dataclass
class ComparePage:
    asked: ComparisonAsked
    choices: tuple[SweepChoice, ...] = ()
    comparison: Comparison | None = None
    problem: str = ""
    rule: DecisionRule = DecisionRule.GUARDED
    claim: Claim | None = None
    windows: tuple[Window, ...] = ()
    span: tuple[float, float] = (0.0, 0.0)
    wide: str = ""
    narrow: str = ""
    points: str = "[]"
    curves: tuple[Drawn, ...] = ()
    rows: tuple[SideRow, ...] = ()


def build(evaluation: Evaluation, asked: ComparisonAsked, findings: Findings) -> ComparePage:
    """Compare what was chosen; at first all that reaches the windows of the first claim."""
    page = ComparePage(asked, rule=evaluation.rule)
    groups = sides_of(evaluation, [e.id for e in evaluation.sweeps])
    page.claim = _claim(evaluation, asked.against, groups)
    page.windows = _windows(evaluation, page.claim, evaluation.sweeps)
    chosen = asked.sweeps or tuple(e.id for g in _to_start_with(evaluation, groups, page.windows) for e in g)
    sides = sides_of(evaluation, chosen)
    question = Question(asked.question) if asked.question in list(Question) else likely_question(sides)
    if question is Question.TIMES:
        sides = sides_of(evaluation, chosen, question)
    if page.claim is None:
        page.windows = _windows(evaluation, None, [e for g in sides for e in g])
    limit = limit_for(page.claim, evaluation.profile)
    try:
        page.comparison = compare(
            evaluation,
            sides,
            question,
            page.windows,
            limit,
            page.claim,
            PlaneView(asked.plane),
            Base(asked.base),
            findings,
        )
    except CannotCompare as problem:
        page.problem = sentence(problem)
    page.choices = _choices(evaluation, groups, chosen, page.comparison)
    if page.comparison:
        page.curves = tuple(curves_of(page.comparison))
        page.span = _span(page)
        _draw(page)
    return page


def _claim(evaluation: Evaluation, wanted: str, groups: list[tuple[Evidence, ...]]) -> Claim | None:
    """The claim that was chosen; at first the one that most sweeps can speak of."""
    checkable = [c for c in evaluation.claims if c.checkable]
    if wanted == USABILITY or not checkable:
        return None
    most = max(checkable, key=lambda c: len(_telling(groups, c.windows[0])))
    return next((c for c in checkable if c.id == wanted), most)


def _telling(groups: list[tuple[Evidence, ...]], window: Window) -> list[tuple[Evidence, ...]]:
    """The groups that show a window from edge to edge, or a spot; a narrow band takes few points to be compared."""

    def shows(sweep: Sweep) -> bool:
        inside = int(sweep.inside(window.low_hz, window.high_hz).size)
        return sweep.covers(window.low_hz, window.high_hz) and inside >= (1 if window.spot else FEWEST_READINGS)

    return [g for g in groups if any(shows(e.sweep) for e in g)]


def _windows(
    evaluation: Evaluation, claim: Claim | None, sweeps: tuple[Evidence, ...] | list[Evidence]
) -> tuple[Window, ...]:
    """The claim's, or the bands of the region that one of the sweeps covers."""
    if claim is not None:
        return claim.windows
    covered = {b.name for e in sweeps for b in bands_covered(e.sweep, evaluation.region)}
    return tuple(b.window for b in band_plan(evaluation.region).bands if b.name in covered)[:MOST_BANDS]


def _to_start_with(
    evaluation: Evaluation, groups: list[tuple[Evidence, ...]], windows: tuple[Window, ...]
) -> list[tuple[Evidence, ...]]:
    """The sides at one plane that speak of the window, each state with its latest round."""
    telling = (_telling(groups, windows[0]) if windows else []) or groups
    planes = {s.id: s.plane for s in evaluation.setups}
    telling = [g for g in telling if planes[g[0].setup_id] is planes[telling[0][0].setup_id]]
    last: dict[tuple[str, ...], tuple[Evidence, ...]] = {}
    for group in telling:
        key = (group[0].sample_id, group[0].setup_id, group[0].setting_id, group[0].instrument_id)
        if key not in last or group[0].round >= last[key][0].round:
            last[key] = group
    return list(last.values())[:MOST_SIDES]


def _choices(
    evaluation: Evaluation,
    groups: list[tuple[Evidence, ...]],
    chosen: tuple[str, ...],
    comparison: Comparison | None,
) -> tuple[SweepChoice, ...]:
    setups = {s.id: s.name for s in evaluation.setups}
    samples = {s.id: s.label for s in evaluation.samples}
    instruments = {i.id: i.name for i in evaluation.instruments}
    letters = {e.id: s.letter for s in comparison.sides for e in s.evidence} if comparison else {}
    settings = {s.id: s.name for s in evaluation.settings}
    rounds = {e.round: f"round {e.round}" for e in evaluation.sweeps}
    every: tuple[tuple[str, Mapping[Any, str]], ...] = (
        ("setup_id", setups), ("sample_id", samples), ("setting_id", settings), ("round", rounds),
        ("instrument_id", instruments),
    )  # fmt: skip
    # What all of them share tells none from another.
    telling = [(f, names) for f, names in every if len({getattr(g[0], f) for g in groups}) > 1]
    found = []
    for group in groups:
        one = group[0]
        repeats = f" and {len(group) - 1} more" if len(group) > 1 else ""
        ids = tuple(e.id for e in group)
        mark = "".join(dict.fromkeys(letters[i] for i in ids if i in letters))
        facts = [f for f in (names.get(getattr(one, field), "") for field, names in telling) if f]
        swept = one.name + repeats
        name, rest = (facts[0], [*facts[1:], swept]) if facts else (swept, [])
        found.append(SweepChoice(ids, name, ", ".join(rest), ids[0] in chosen, mark))
    return tuple(found)


def _span(page: ComparePage) -> tuple[float, float]:
    """What is drawn: the zoom that was asked for, a window with room, all windows together, or everything."""
    asked, sweeps = page.asked, [c.analysis.sweep for c in page.curves]
    whole = min(s.low_hz for s in sweeps), max(s.high_hz for s in sweeps)
    if asked.low_hz and asked.high_hz and asked.low_hz < asked.high_hz:
        low, high = max(asked.low_hz, whole[0]), min(asked.high_hz, whole[1])
        if low < high:
            return low, high
    reached = [w.window for w in page.comparison.windows] if page.comparison else []
    if asked.view == "whole" or not reached:
        return whole
    picked = [reached[int(asked.view)]] if asked.view.isdigit() and int(asked.view) < len(reached) else reached[:1]
    widest = max(sweeps, key=lambda s: s.high_hz - s.low_hz)
    low, high = view_around(widest, [w for w in picked if not w.spot])
    return (low, high) if low < high else whole


def _draw(page: ComparePage) -> None:
    comparison = page.comparison
    if comparison is None or len(comparison.sides) > MOST_SIDES:
        return  # more than that are told apart by the table alone
    kind, curves, limit = page.asked.figure, list(page.curves), comparison.limit_swr
    windows = [w.window for w in comparison.windows]
    page.points = read_off_all(curves, *page.span)
    if kind == "each":
        page.rows = tuple(_each(page))
    elif kind == "bands":
        page.rows = tuple(_bands(comparison))
    elif kind == "smith":
        page.wide = smith(curves, windows, page.span)
        page.narrow = smith(curves, windows, page.span, size=380)
    elif kind == "rx":
        page.wide = resistance(curves, page.span)
        page.narrow = resistance(curves, page.span, width=380, height=400)
    else:
        loss = kind == "loss"
        page.wide = overlay(curves, windows, limit, page.span, loss)
        page.narrow = overlay(curves, windows, limit, page.span, loss, width=380, height=360)


def _each(page: ComparePage) -> list[SideRow]:
    """Every side as a landscape of its own, on the same scales."""
    comparison = page.comparison
    assert comparison is not None
    rows = []
    for i, side in enumerate(comparison.sides):
        curve = side.curves[0]
        levels = [waterline_of(w.sides[i].finding, page.rule) for w in comparison.windows if not w.window.spot]
        figure = landscape(
            curve.analysis, levels, curve.figures, page.span, label=f"{side.letter}: {side.name}",
            width=430, height=250, ident=f"each-{side.letter}",
        )  # fmt: skip
        rows.append(SideRow(side.letter, side.name, (figure,)))
    return rows


def _bands(comparison: Comparison) -> list[SideRow]:
    """Every side with a tiny skyline for each window, one beside the other."""
    windows = [w for w in comparison.windows if not w.window.spot]

    def strip(side: Side, place: int, shown: WindowComparison) -> str:
        share = shown.sides[place].finding.share_within_limit
        return tiny_skyline(side.curves[0].analysis.sweep, shown.window, comparison.limit_swr, share, 104, 48)

    return [
        SideRow(side.letter, side.name, tuple(strip(side, place, w) for w in windows))
        for place, side in enumerate(comparison.sides)
    ]
