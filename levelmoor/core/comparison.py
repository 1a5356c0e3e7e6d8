"""Comparing sweeps: which sides, which question, and the answer by window."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta

from levelmoor.core.agreement import Agreement, agreement
from levelmoor.core.at_plane import AtPlane, at_shack
from levelmoor.core.bench_records import moment
from levelmoor.core.claims import Claim
from levelmoor.core.comparison_model import Comparison, Curve, PlaneView, Question, Side, SideWindow, WindowComparison
from levelmoor.core.comparison_words import answer, window_sentences
from levelmoor.core.decision import Verdict
from levelmoor.core.evaluation import Evaluation, Evidence
from levelmoor.core.features import BEST_HZ, Feature, features
from levelmoor.core.judge import Bench
from levelmoor.core.reflection import impedance_from_gamma
from levelmoor.core.significance import Difference, differ, measured
from levelmoor.core.spread import Spread, repeat_groups, spread_of
from levelmoor.core.sweep_reading import read_sweep
from levelmoor.core.unit_share import UnitShare, unit_share
from levelmoor.core.windows import Window

PAUSE = timedelta(minutes=30)
"""A longer pause between two sweeps of one setup parts before from after."""
MOST_SIDES = 10
LETTERS = "ABCDEFGHIJ"


class CannotCompare(ValueError):
    """Why sweeps cannot be compared as asked."""


def sides_of(
    evaluation: Evaluation, sweep_ids: Sequence[str], question: Question | None = None
) -> list[tuple[Evidence, ...]]:
    """The chosen sweeps as sides: repeats of one setup stand together, in the order they were chosen.

    For before against after, what was swept later than half an hour after the last is another side; where the times
    do not tell them apart, every sweep is one.
    """
    by_id = {e.id: e for e in evaluation.sweeps}
    groups = repeat_groups(by_id[i] for i in dict.fromkeys(sweep_ids) if i in by_id)
    if question is not Question.TIMES:
        return groups
    split = [part for g in groups for part in _by_time(g)]
    return split if len(split) > 1 else [(e,) for g in groups for e in g]


def _by_time(group: tuple[Evidence, ...]) -> list[tuple[Evidence, ...]]:
    parts: list[list[Evidence]] = []
    for one in sorted(group, key=lambda e: e.taken_on):
        last = moment(parts[-1][-1].taken_on) if parts else None
        at = moment(one.taken_on)
        if last and at and at[0] - last[0] <= PAUSE:
            parts[-1].append(one)
        else:
            parts.append([one])
    return [tuple(p) for p in parts]


def likely_question(groups: Sequence[tuple[Evidence, ...]]) -> Question:
    """What sides that differ in one thing are compared for: the setup, the unit, the instrument, else the time."""
    firsts = [g[0] for g in groups]
    for question, name in (
        (Question.UNITS, "sample_id"),
        (Question.SETUPS, "setup_id"),
        (Question.INSTRUMENTS, "instrument_id"),
    ):
        if len({getattr(e, name) for e in firsts}) > 1:
            return question
    return Question.TIMES if len(groups) > 1 else Question.CLAIM


def compare(
    evaluation: Evaluation,
    groups: Sequence[tuple[Evidence, ...]],
    question: Question,
    windows: Sequence[Window],
    limit_swr: float,
    claim: Claim | None = None,
    spots_hz: tuple[float, ...] = (),
    plane: PlaneView = PlaneView.JUDGED,
) -> Comparison:
    """The sides in every window that one of them reaches, and how each differs from the first.

    Raises
    ------
    CannotCompare
        Where there is no side, or more than ten.
    """
    if not groups:
        raise CannotCompare("choose the sweeps that are to be compared")
    if len(groups) > MOST_SIDES:
        raise CannotCompare(f"at most {MOST_SIDES} sides are laid over one another; {len(groups)} were chosen")
    bench = Bench(evaluation)
    z0 = claim.z0_ohm if claim else 50.0
    if question is Question.TIMES:
        groups = sorted(groups, key=lambda g: (g[0].taken_on, evaluation.sweeps.index(g[0])))
    sides = tuple(
        _side(evaluation, bench, letter, group, question, z0, plane)
        for letter, group in zip(LETTERS, groups, strict=False)
    )
    reached = [w for w in windows if any(e.sweep.cut(w.low_hz, w.high_hz) for g in groups for e in g)]
    found = tuple(
        _window(evaluation, bench, sides, question, window, limit_swr, claim, z0, spots_hz) for window in reached
    )
    comparison = Comparison(question, sides, found, limit_swr, spots_hz)
    if question is Question.UNITS:
        comparison = replace(comparison, units=_units(sides, found))
    return replace(comparison, sentences=answer(evaluation, comparison))


def _side(
    evaluation: Evaluation,
    bench: Bench,
    letter: str,
    group: tuple[Evidence, ...],
    question: Question,
    z0: float,
    plane: PlaneView,
) -> Side:
    placed = [bench.placed(e) for e in group]
    spread = spread_of({e.id: p.sweep for e, p in zip(group, placed, strict=True)})
    curves = [] if plane is PlaneView.SHACK else [_curve(placed, spread, z0)]
    note = ""
    if plane is not PlaneView.JUDGED:
        there = [at_shack(bench.book, e, bench.setup(e)) for e in group]
        if all(t is not None for t in there):
            known = [t for t in there if t is not None]
            curves.append(_curve(known, spread_of({e.id: t.sweep for e, t in zip(group, known, strict=True)}), z0))
        else:
            note = "its line is not known, so it cannot be shown at the shack end"
            curves = curves or [_curve(placed, spread, z0)]
    return Side(letter, _name(evaluation, group, question), group, tuple(curves), spread, note)


def _curve(placed: list[AtPlane], spread: Spread, z0: float) -> Curve:
    sweep = spread.mean if len(placed) > 1 else placed[0].sweep
    latest = placed[-1]
    return Curve(read_sweep(sweep, z0), latest.figures, latest.plane, bool(latest.moved))


def _name(evaluation: Evaluation, group: tuple[Evidence, ...], question: Question) -> str:
    """What tells a side from the others under the question; with how many repeats it rests on."""
    first = group[0]
    names = {
        Question.SETUPS: next((s.name for s in evaluation.setups if s.id == first.setup_id), ""),
        Question.UNITS: next((s.label for s in evaluation.samples if s.id == first.sample_id), ""),
        Question.INSTRUMENTS: next((i.name for i in evaluation.instruments if i.id == first.instrument_id), ""),
        Question.TIMES: first.taken_on.replace("T", " "),
    }
    name = names.get(question) or first.name
    return f"{name} ({len(group)} repeats)" if len(group) > 1 else name


def _window(
    evaluation: Evaluation,
    bench: Bench,
    sides: tuple[Side, ...],
    question: Question,
    window: Window,
    limit: float,
    claim: Claim | None,
    z0: float,
    spots_hz: tuple[float, ...],
) -> WindowComparison:
    inside = tuple(f for f in spots_hz if window.low_hz <= f <= window.high_hz)
    shown = tuple(_side_window(evaluation, bench, side, window, limit, claim, z0, inside) for side in sides)
    differences = tuple(_differences(shown[0], other) for other in shown[1:])
    agreements: tuple[Agreement | None, ...] = ()
    if question is Question.INSTRUMENTS:
        first = bench.placed(sides[0].latest)
        agreements = tuple(
            agreement(first.sweep, first.figures, p.sweep, p.figures, window)
            for p in (bench.placed(s.latest) for s in sides[1:])
        )
    found = WindowComparison(window, shown, differences, agreements)
    return replace(found, sentences=window_sentences(evaluation, question, sides, found))


def _side_window(
    evaluation: Evaluation,
    bench: Bench,
    side: Side,
    window: Window,
    limit: float,
    claim: Claim | None,
    z0: float,
    spots_hz: tuple[float, ...],
) -> SideWindow:
    every = [features(bench.reading(e, z0), bench.placed(e).figures, window, limit, spots_hz) for e in side.evidence]
    shared = [k for k in every[0] if all(k in found for found in every)]
    figures = {k: measured([f[k].value for f in every], _mean_u([f[k] for f in every])) for k in shared}
    evidence = side.latest
    finding = bench.judged(evidence, window, limit, z0, evaluation.rule, bench.disqualified(evidence, window, claim))
    best = figures.get(BEST_HZ)
    curve = side.curves[0].reading.sweep
    impedance = None
    if best is not None and not curve.scalar and curve.covers(best.value, best.value):
        impedance = complex(impedance_from_gamma(curve.gamma_at(best.value), curve.z0_ohm))
    return SideWindow(figures, frozenset(k for k in shared if any(f[k].open_ for f in every)), impedance, finding)


def _mean_u(found: list[Feature]) -> float:
    return sum(f.u for f in found) / len(found)


def _differences(first: SideWindow, second: SideWindow) -> dict[str, Difference]:
    """Second less first, of what both show; an edge outside a sweep has no difference."""
    shared = [k for k in first.figures if k in second.figures and k not in first.open_ | second.open_]
    return {k: differ(first.figures[k], second.figures[k]) for k in shared}


def _units(sides: tuple[Side, ...], windows: tuple[WindowComparison, ...]) -> UnitShare:
    """How many of the units fail in a window, of those that are judged Pass or Fail in all of them."""
    verdicts: dict[str, list[Verdict]] = {}
    for i, side in enumerate(sides):
        verdicts.setdefault(side.latest.sample_id, []).extend(w.sides[i].verdict for w in windows)
    failed = sum(1 for v in verdicts.values() if Verdict.FAIL in v)
    passed = sum(1 for v in verdicts.values() if v and all(x is Verdict.PASS for x in v))
    return unit_share(failed, failed + passed)
