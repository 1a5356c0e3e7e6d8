"""Comparing sweeps: which sides, which question, and the answer by window."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta

from levelmoor.core.bench.at_plane import AtPlane, at_shack
from levelmoor.core.comparison.comparison_model import (
    Base,
    Comparison,
    Ledger,
    PlaneView,
    Question,
    Side,
    SideCurve,
    SideWindow,
    WindowComparison,
)
from levelmoor.core.comparison.comparison_words import answer, window_sentences
from levelmoor.core.comparison.features import BEST_HZ, Feature, features
from levelmoor.core.evidence.admission import why_not_allowed
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import Findings
from levelmoor.core.evidence.pieces import Piece, repeat_groups, same_state
from levelmoor.core.judge import judge
from levelmoor.core.metrology.agreement import Agreement, agreement
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.metrology.significance import Difference, differ, measured
from levelmoor.core.metrology.spread import spread_of
from levelmoor.core.metrology.unit_share import UnitShare, unit_share
from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Evidence, Plane
from levelmoor.core.model.state import Role
from levelmoor.core.model.usability import USABILITY_WORDS
from levelmoor.core.readings.reading_usability import speaks_of
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.dips import Dip, dip_near_window
from levelmoor.core.rf.reflection import impedance_from_gamma, swr_from_gamma
from levelmoor.core.rf.segments import side_by_side
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.targets import target_in

PAUSE = timedelta(minutes=30)
"""A longer pause between two sweeps of one setup parts before from after."""
MOST_SIDES = 10
"""So many are laid over one another; more are shown as a table."""
MOST_IN_TABLE = 60
SAME_CALIBRATION = timedelta(hours=1)
"""Sweeps with one calibration no further apart than this share what it left uncorrected."""
DRIFT = 0.2
"""The share of it that drifts meanwhile, where no load was read again (common practice, no source)."""


class CannotCompare(ValueError):
    """Why sweeps cannot be compared as asked."""


def sides_of(
    evaluation: Evaluation, sweep_ids: Sequence[str], question: Question | None = None
) -> list[tuple[Evidence, ...]]:
    """The chosen sweeps as sides: those of one state by one instrument stand together, in the order they were chosen.

    For before against after, what was swept later than half an hour after the last is another side; where the times
    do not tell them apart, every sweep is one.
    """
    by_id = {e.id: e for e in evaluation.sweeps}
    chosen = [by_id[i] for i in dict.fromkeys(sweep_ids) if i in by_id]
    if question is not Question.TIMES:
        return _by_state(chosen)
    groups = repeat_groups(chosen)
    split = [part for g in groups for part in _by_time(g)]
    return split if len(split) > 1 else [(e,) for g in groups for e in g]


def _by_state(chosen: Sequence[Evidence]) -> list[tuple[Evidence, ...]]:
    """What is of one state by one instrument stands together, whichever bands it was swept on."""
    found: list[list[Evidence]] = []
    for one in chosen:
        home = next((g for g in found if same_state(g[0], one) and g[0].instrument_id == one.instrument_id), None)
        if home is None:
            found.append([one])
        else:
            home.append(one)
    return [tuple(g) for g in found]


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
    plane: PlaneView = PlaneView.JUDGED,
    base: Base = Base.FIRST,
    findings: Findings | None = None,
) -> Comparison:
    """The sides in every window that one of them reaches, and how each differs from the first, from the one before, or
    from each other.

    Raises
    ------
    CannotCompare
        Where there is no side, or more than sixty.
    """
    if not groups:
        raise CannotCompare("choose the sweeps to compare")
    if len(groups) > MOST_IN_TABLE:
        raise CannotCompare(f"at most {MOST_IN_TABLE} sides can be compared at once; you chose {len(groups)}")
    bench, spots_hz = Dossier(evaluation), tuple(w.low_hz for w in evaluation.spots)
    z0 = claim.z0_ohm if claim else 50.0
    if question is Question.TIMES:
        groups = sorted(groups, key=lambda g: (g[0].taken_on, evaluation.sweeps.index(g[0])))
    sides = tuple(_side(evaluation, bench, letter_of(i), group, question, z0, plane) for i, group in enumerate(groups))
    pairs = pairs_of(len(sides), base)
    asked = question is Question.INSTRUMENTS  # which of them a verdict rests on
    told = (findings or judge(evaluation)) if asked else None
    reached = [w for w in windows if any(e.sweep.cut(w.low_hz, w.high_hz) for g in groups for e in g)]
    shown = [
        [_side_window(evaluation, bench, s, w, limit_swr, claim, z0, _inside(spots_hz, w)) for s in sides]
        for w in reached
    ]
    # All figures of the answer are looked at together, so that one in twenty answers errs and not one figure in twenty.
    count = max(sum(len(_shared(of[i], of[j])) for of in shown for i, j in pairs), 1)
    found = tuple(
        _window(
            evaluation, bench, sides, question, window, tuple(of), pairs, count, _ledger(told, claim, sides, window)
        )
        for window, of in zip(reached, shown, strict=True)
    )
    comparison = Comparison(question, sides, found, limit_swr, spots_hz)
    if question is Question.UNITS:
        comparison = replace(comparison, units=_units(evaluation, sides, found))
    return replace(comparison, sentences=answer(evaluation, comparison))


def letter_of(place: int) -> str:
    """A to Z, then AA, AB and so on."""
    return chr(65 + place) if place < 26 else chr(64 + place // 26) + chr(65 + place % 26)


def pairs_of(count: int, base: Base) -> tuple[tuple[int, int], ...]:
    """The pairs of sides that are held against each other, by their places."""
    if base is Base.EACH:
        return tuple((i, j) for j in range(count) for i in range(j))
    return tuple((j - 1 if base is Base.PREVIOUS else 0, j) for j in range(1, count))


def _inside(spots_hz: tuple[float, ...], window: Window) -> tuple[float, ...]:
    return tuple(f for f in spots_hz if window.low_hz <= f <= window.high_hz)


def _side(
    evaluation: Evaluation,
    bench: Dossier,
    letter: str,
    evidence: tuple[Evidence, ...],
    question: Question,
    z0: float,
    plane: PlaneView,
) -> Side:
    groups = repeat_groups(evidence)
    here = [[bench.placed(Piece((e,))) for e in g] for g in groups]
    there = [[at_shack(bench.book, e, bench.setup(e)) for e in g] for g in groups]
    known = [[t for t in g if t is not None] for g in there]
    curves = [] if plane is PlaneView.SHACK else [_curve(here, groups, z0)]
    note = ""
    if plane is not PlaneView.JUDGED and all(len(a) == len(b) for a, b in zip(known, there, strict=True)):
        curves.append(_curve(known, groups, z0))
    elif plane is not PlaneView.JUDGED:
        note = "its feed line is unknown, so it cannot be shown at the shack end"
        curves = curves or [_curve(here, groups, z0)]
    most = max(range(len(groups)), key=lambda i: len(groups[i]))
    spread = spread_of({e.id: p.sweep for e, p in zip(groups[most], here[most], strict=True)})
    return Side(letter, _name(evaluation, groups[most], question), evidence, tuple(curves), spread, note)


def _curve(placed: list[list[AtPlane]], groups: list[tuple[Evidence, ...]], z0: float) -> SideCurve:
    """The means of all repeats in one curve, with gaps where nothing was swept."""
    means = [
        spread_of({e.id: p.sweep for e, p in zip(g, some, strict=True)}).mean if len(some) > 1 else some[0].sweep
        for g, some in zip(groups, placed, strict=True)
    ]
    latest = placed[-1][-1]
    return SideCurve(analyse_sweep(side_by_side(means), z0), latest.figures, latest.plane, bool(latest.moved))


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
    bench: Dossier,
    sides: tuple[Side, ...],
    question: Question,
    window: Window,
    shown: tuple[SideWindow, ...],
    pairs: tuple[tuple[int, int], ...],
    count: int,
    ledger: Ledger | None,
) -> WindowComparison:
    remounted = question is not Question.INSTRUMENTS
    differences = tuple(_differences(bench, shown[i], shown[j], count, remounted) for i, j in pairs)
    agreements: tuple[Agreement | str | None, ...] = ()
    if question is Question.INSTRUMENTS:
        agreements = tuple(_agreement(bench, shown[i], shown[j], window) for i, j in pairs)
    found = WindowComparison(window, shown, pairs, differences, agreements, ledger=ledger)
    return replace(found, sentences=window_sentences(evaluation, question, sides, found))


def _ledger(findings: Findings | None, claim: Claim | None, sides: tuple[Side, ...], window: Window) -> Ledger | None:
    """What was found of the window for the sample that is compared: the claim's verdict, or the band's use."""
    if findings is None:
        return None
    samples = {s.latest.sample_id for s in sides}
    if claim is not None:
        every = (f for f in findings.claims if f.claim_id == claim.id and f.sample_id in samples)
        shown = (
            (w.sweep_id, VERDICT_WORDS[w.verdict], w.reason) for f in every for w in f.windows if w.name == window.name
        )
    else:
        uses = (u for u in findings.usability if u.sample_id in samples and u.band == window.name)
        shown = ((u.sweep_id, USABILITY_WORDS[u.state], u.sentence) for u in uses)
    found = next(shown, None)
    return Ledger(*found) if found is not None else None


def _differences(
    bench: Dossier, first: SideWindow, second: SideWindow, count: int, remounted: bool
) -> dict[str, Difference]:
    """Second less first, of what both show."""
    common = in_common(bench, first, second)
    return {k: differ(first.figures[k], second.figures[k], count, common, remounted) for k in _shared(first, second)}


def _agreement(bench: Dossier, first: SideWindow, second: SideWindow, window: Window) -> Agreement | str | None:
    """Whether two instruments agree; a sentence where they were not read at one plane, None where nothing is shared."""
    if not first.evidence or not second.evidence:
        return None
    a, b = (bench.placed(Piece((s.evidence[-1],))) for s in (first, second))
    if a.plane is not b.plane:
        at_shack_end = first if a.plane is Plane.SHACK else second
        line = bench.setup(at_shack_end.evidence[-1]).line_id
        owned = next((x.name for x in bench.book.equipment.lines if x.id == line), "the feed line")
        return (
            f"they are not comparable: one was read at the shack end of {owned}, which was not swept; sweep it "
            f"with its far end open or shorted, and add that file on the bench"
        )
    return agreement(a.sweep, a.figures, b.sweep, b.figures, window)


def in_common(bench: Dossier, first: SideWindow, second: SideWindow) -> float:
    """The share of the instruments' part that does not cancel in a difference: 1, or what drifts where both sides were
    swept with one calibration within the hour, as a load that was read again shows it."""
    if not first.evidence or not second.evidence:
        return 1.0
    a, b = first.evidence[-1], second.evidence[-1]
    if not a.calibration_id or (a.instrument_id, a.calibration_id) != (b.instrument_id, b.calibration_id):
        return 1.0
    at = [moment(e.taken_on) for e in (a, b)]
    if not (at[0] and at[1] and at[0][1] and at[1][1]) or abs(at[0][0] - at[1][0]) > SAME_CALIBRATION:
        return 1.0
    return bench.book.drift(a) or DRIFT


def _side_window(
    evaluation: Evaluation,
    bench: Dossier,
    side: Side,
    window: Window,
    limit: float,
    claim: Claim | None,
    z0: float,
    spots_hz: tuple[float, ...],
) -> SideWindow:
    evidence = _speaking(side, window)
    alone = [Piece((e,)) for e in evidence]
    every = [features(bench.analysis(p, z0), bench.placed(p).figures, window, limit, spots_hz) for p in alone]
    shared = [k for k in every[0] if all(k in found for found in every)]
    mountings = [e.mounting for e in evidence]
    figures = {k: measured([f[k].value for f in every], _mean_u([f[k] for f in every]), mountings) for k in shared}
    setup = bench.setup(evidence[-1])
    decides = not (claim and why_not_allowed(claim, setup))
    # What was added or taken to compare is judged by itself; what the claim does not speak of at all is not.
    why = why_not_allowed(claim, replace(setup, role=Role.AS_SUPPLIED)) if claim else ""
    finding = bench.judged(Piece(evidence), window, limit, z0, evaluation.rule, why)
    best = figures.get(BEST_HZ)
    curve = side.curves[0].analysis.sweep
    impedance = None
    if best is not None and not curve.scalar and curve.covers(best.value, best.value):
        impedance = complex(impedance_from_gamma(curve.gamma_at(best.value), curve.z0_ohm))
    opens = frozenset(k for k in shared if any(f[k].open_ for f in every))
    wanted = target_in(evaluation, window)[0]
    at_wanted = float(swr_from_gamma(curve.gamma_at(wanted))) if curve.covers(wanted, wanted) else None
    dips = side.curves[0].analysis.dips
    return SideWindow(
        figures,
        opens,
        evidence,
        impedance,
        finding,
        decides,
        _own_dip(evaluation, dips, window),
        (wanted, at_wanted) if at_wanted is not None else None,
    )


def _own_dip(evaluation: Evaluation, dips: Sequence[Dip], window: Window) -> float | None:
    """Where the dip of a window stands, however far off it is; the dip of another band is that band's."""
    bands = [b.window for b in band_plan(evaluation.region).bands]
    others = [b for b in bands if b.high_hz < window.low_hz or b.low_hz > window.high_hz]
    own = [d for d in dips if not d.at_edge and not any(b.low_hz <= d.frequency_hz <= b.high_hz for b in others)]
    dip = dip_near_window(own, window.low_hz, window.high_hz)
    return dip.frequency_hz if dip is not None else None


def _speaking(side: Side, window: Window) -> tuple[Evidence, ...]:
    """The repeats of a side that speak of a window: those that show it whole, then those repeated most, then the
    latest."""
    groups = repeat_groups(side.evidence)

    def told(i: int) -> tuple[bool, bool, int, int]:
        sweep = groups[i][-1].sweep
        reaches = sweep.cut(window.low_hz, window.high_hz) is not None
        return speaks_of(sweep, window), reaches, len(groups[i]), i

    return groups[max(range(len(groups)), key=told)]


def _shared(first: SideWindow, second: SideWindow) -> list[str]:
    """What both show; an edge outside a sweep has no difference."""
    return [k for k in first.figures if k in second.figures and k not in first.open_ | second.open_]


def _mean_u(found: list[Feature]) -> float:
    return sum(f.u for f in found) / len(found)


def _units(evaluation: Evaluation, sides: tuple[Side, ...], windows: tuple[WindowComparison, ...]) -> UnitShare:
    """How many of the units fail in a window, of those that count and are judged Pass or Fail in all of them."""
    counted = {s.id for s in evaluation.samples if s.counted}
    verdicts: dict[str, list[Verdict]] = {}
    for i, side in enumerate(sides):
        if side.latest.sample_id not in counted:
            continue
        shown = (w.sides[i] for w in windows)
        verdicts.setdefault(side.latest.sample_id, []).extend(s.verdict for s in shown if s.decides)
    failed = sum(1 for v in verdicts.values() if Verdict.FAIL in v)
    passed = sum(1 for v in verdicts.values() if v and all(x is Verdict.PASS for x in v))
    return unit_share(failed, failed + passed)
