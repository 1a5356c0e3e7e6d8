"""The planner: from claims, samples, setups and what the team owns to the runs that show what can be shown."""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.comparison.comparison import DRIFT
from levelmoor.core.comparison.features import BEST_HZ, features
from levelmoor.core.evidence.admission import why_not_allowed
from levelmoor.core.evidence.aside import without_what_is_aside
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.judge import Judgement
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.repeats import repeats_needed
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Plane, Sample, Setup
from levelmoor.core.model.state import Role
from levelmoor.core.plan import cautions
from levelmoor.core.plan.plan_emissions import plan_emissions
from levelmoor.core.plan.plan_instruments import Instruments
from levelmoor.core.plan.plan_model import Choice, Cover, Plan, Run, RunKind, Segment, Uncovered
from levelmoor.core.plan.plan_order import order_runs, time_line
from levelmoor.core.plan.plan_sweeps import (
    MOST_PASSES,
    USUAL_POINTS,
    Wanted,
    cut_by_frequency,
    share_sweeps,
    span_around,
    step_wanted,
    survey_span,
)
from levelmoor.core.rf.reflection import LIGHT_M_PER_S
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for
from levelmoor.core.words.figures import brief_mhz, format_step

WIRES_BELOW_HZ = 60e6
"""Below this antennas are long enough that wind moves the dip (common practice, no source)."""


def make_plan(evaluation: Evaluation, known: Judgement | None = None) -> Plan:
    """The plan of an evaluation: pure, the same input always gives the same plan. What is `known` of its evidence is
    not read off it again."""
    evaluation = without_what_is_aside(evaluation)
    alike = known is not None and known.evaluation.claims == evaluation.claims and known.holds_for(evaluation)
    planner = _Planner(evaluation, known.dossier if known is not None and alike else Dossier(evaluation))
    runs = [run for sample, setup in planner.pairs for run in planner.runs_of(sample, setup)]
    runs += plan_emissions(evaluation, planner.bench.book, planner.instruments, planner.bench)
    wishes = evaluation.wishes
    kept = [r for r in runs if r.key not in wishes.dropped]
    dropped = tuple(r for r in runs if r.key in wishes.dropped)
    ordered = order_runs(kept, wishes.order)
    names = {x.id: x.label for x in evaluation.samples} | {x.id: x.name for x in evaluation.setups}
    covers, uncovered = planner.coverage(ordered, dropped)
    plan = Plan(
        runs=tuple(ordered),
        dropped=dropped,
        covers=covers,
        uncovered=uncovered,
        repeats=planner.repeats,
        notes=planner.notes(),
    )
    return replace(plan, stages=time_line(plan.todo, wishes, evaluation.age_limit_h, names))


@dataclass(frozen=True)
class _Group:
    """Windows that one run shows, with the choice of instrument."""

    wanted: tuple[Wanted, ...]
    choice: Choice


class _Planner:
    def __init__(self, evaluation: Evaluation, bench: Dossier) -> None:
        self.evaluation, self.bench = evaluation, bench
        self.instruments = Instruments(evaluation.instruments_in_use, evaluation.equipment.adapters, evaluation.rule)
        self.setups = [s for s in evaluation.setups if s.planned]
        self.pairs = [(sample, setup) for sample in evaluation.samples for setup in self.setups]
        self.claims = [c for c in evaluation.claims if c.quantity.spec.swept and not c.missing]
        self.by_id: dict[str, Claim] = {c.id: c for c in evaluation.claims}
        self._groups: dict[tuple[object, ...], list[_Group]] = {}
        wishes = evaluation.wishes
        self.repeats: int | None = 1
        if len(self.setups) > 1:
            u = DRIFT * self._u_of_dips()  # the setups are swept one after the other with one calibration
            self.repeats = repeats_needed(wishes.shift_hz, wishes.spread_hz, u_instrument_hz=u)

    def _u_of_dips(self) -> float:
        """The largest standard uncertainty of a dip in Hz that the instruments leave, by what was swept already."""
        windows = {(w.low_hz, w.high_hz): w for c in self.claims for w in c.windows if not w.spot}
        pieces = [p for sample, setup in self.pairs for p in self.bench.current(sample.id, setup.id)]
        found = (
            self._u_of_dip(p, w)
            for p in pieces
            for w in windows.values()
            if p.evidence.sweep.covers(w.low_hz, w.high_hz)
        )
        return max((u for u in found if math.isfinite(u)), default=0.0)

    def _u_of_dip(self, piece: Piece, window: Window) -> float:
        """The standard uncertainty of the dip in a window, NaN where there is none."""
        key, known = (piece.key, window), self.bench.u_of_dips
        if key not in known:
            found = features(self.bench.analysis(piece, 50.0), self.bench.placed(piece).figures, window, 2.0)
            known[key] = found[BEST_HZ].u if BEST_HZ in found else math.nan
        return known[key]

    # -- Sweeps ------------------------------------------------------------------------------------------------------

    def limit_of(self, claim: Claim) -> float:
        return limit_for(claim, self.evaluation.profile)

    def answered_in(self, setup: Setup) -> list[Claim]:
        """The claims that a sweep in this setup answers."""
        # What is added or for comparison is swept to stand beside the verdict, for the same claims.
        claims = [c for c in self.claims if not why_not_allowed(c, replace(setup, role=Role.AS_SUPPLIED))]
        if setup.plane is not Plane.SHACK:
            return claims
        cable = self.bench.book.cable(setup)
        line = self.bench.book.result(cable) if cable else None
        if not isinstance(line, CableCheck) or not line.sound:
            return []
        # The judge moves a sweep through the line only where the line was swept over all of it.
        return [c for c in claims if all(line.loss_db.covers(*span_around(w)) for w in c.windows)]

    def runs_of(self, sample: Sample, setup: Setup) -> list[Run]:
        """The survey and the windows of one sample in one setup, and the runs added by hand."""
        own = [
            (Window(o.low_hz, o.high_hz), o)
            for o in self.evaluation.wishes.own
            if (o.sample_id, o.setup_id) == (sample.id, setup.id)
        ]
        known = self._known(sample, setup)
        claims = self.answered_in(setup)
        runs = [self._window_run(sample, setup, g, known) for g in self._groups_of(sample, claims, known)]
        usable = [r for r in runs if not r.problem]
        if usable:
            runs.insert(0, self._survey(sample, setup, usable, known))
        for window, _own in own:
            wanted = Wanted(window, step_wanted(window, 2.0, known), (), 2.0)
            group = _Group((wanted,), self._choice(sample, window, None))
            runs.append(replace(self._window_run(sample, setup, group, known), kind=RunKind.OWN))
        return runs

    def _known(self, sample: Sample, setup: Setup) -> tuple[SweepAnalysis, ...]:
        """Readings of what was swept already of this sample in this setup."""
        return tuple(self.bench.analysis(p, 50.0) for p in self.bench.current(sample.id, setup.id))

    def _choice(self, sample: Sample, window: Window, limit: float | None) -> Choice:
        return self.instruments.choose(sample.connector, window.low_hz, window.high_hz, limit)

    def _groups_of(self, sample: Sample, claims: list[Claim], known: tuple[SweepAnalysis, ...]) -> list[_Group]:
        """The windows of the claims, those that one pass shows together in one group; found once for like samples."""
        key = (sample.connector, tuple(c.id for c in claims), tuple(id(k) for k in known))
        if key not in self._groups:
            self._groups[key] = self._grouped(sample, claims, known)
        return self._groups[key]

    def _grouped(self, sample: Sample, claims: list[Claim], known: tuple[SweepAnalysis, ...]) -> list[_Group]:
        asked: dict[tuple[float, float], list[tuple[Window, Claim]]] = {}
        for claim in claims:
            for window in claim.windows:
                asked.setdefault((window.low_hz, window.high_hz), []).append((window, claim))
        by_instrument: dict[object, list[tuple[Wanted, Choice]]] = {}
        for entries in asked.values():
            for wanted, choice in self._choices(sample, entries, known):
                instrument_id = choice.instrument.id if choice.instrument else None
                by_instrument.setdefault(instrument_id, []).append((wanted, choice))
        groups = []
        for members in by_instrument.values():
            choices = dict(members)
            instrument = members[0][1].instrument
            shared = share_sweeps([w for w, _ in members], instrument.points if instrument else 0)
            groups += [_Group(tuple(g), choices[min(g, key=lambda w: w.limit_swr)]) for g in shared]
        return groups

    def _choices(
        self, sample: Sample, entries: list[tuple[Window, Claim]], known: tuple[SweepAnalysis, ...]
    ) -> Iterator[tuple[Wanted, Choice]]:
        """A window with the instrument for the tightest limit that some instrument decides, and apart from it the
        claims whose limit none does.
        """
        window = entries[0][0]
        undecided: list[Claim] = []
        claims = sorted((c for _, c in entries), key=self.limit_of)
        while claims and self._choice(sample, window, self.limit_of(claims[0])).instrument is None:
            undecided.append(claims.pop(0))
        for some in (claims, undecided):
            if some:
                limit = self.limit_of(some[0])
                step = min(step_wanted(window, self.limit_of(c), known) for c in some)
                yield Wanted(window, step, tuple(c.id for c in some), limit), self._choice(sample, window, limit)

    def _window_run(self, sample: Sample, setup: Setup, group: _Group, known: tuple[SweepAnalysis, ...]) -> Run:
        widest = group.wanted[0].window
        step = min(w.step_hz for w in group.wanted)
        instrument = group.choice.instrument
        low, high = span_around(widest, instrument)
        points = instrument.points if instrument else 0
        segments = cut_by_frequency(low, high, widest, step, points)
        problem = group.choice.problem
        if not problem and instrument and len(segments) > MOST_PASSES:
            problem = (
                f"with steps of {format_step(step)} it would take {len(segments)} passes of {points} points; use "
                f"an instrument with more points than {instrument.name}"
            )
        windows = tuple(w.window for w in group.wanted)
        claim_ids = tuple(dict.fromkeys(i for w in group.wanted for i in w.claim_ids))
        run = Run(
            key=f"s{sample.id}-u{setup.id}-{widest.low_hz / 1e3:.0f}-{widest.high_hz / 1e3:.0f}"
            + ("" if instrument else "-undecided"),
            kind=RunKind.WINDOW,
            sample_id=sample.id,
            setup_id=setup.id,
            windows=windows,
            claim_ids=claim_ids,
            segments=() if problem else segments,
            step_needed_hz=step,
            choice=group.choice,
            repeats=self.repeats or 3,
            watch=(*_seen(known, widest), *self._place(setup, low)),
            problem=problem,
        )
        return replace(run, done_by=self._done_by(run))

    def _survey(self, sample: Sample, setup: Setup, runs: list[Run], known: tuple[SweepAnalysis, ...]) -> Run:
        """One wide pass by the instrument that does most of the windows."""
        windows = tuple(w for r in runs for w in r.windows)
        instruments = [r.choice.instrument for r in runs if r.choice.instrument]
        instrument = max(instruments, key=lambda i: sum(1 for x in instruments if x.id == i.id))
        choice = next(r.choice for r in runs if r.choice.instrument is instrument)
        low, high = survey_span(windows, instrument)
        segment = Segment(low, high, instrument.points or USUAL_POINTS)
        narrow = [w.name for w in windows if (w.high_hz - w.low_hz) < 2 * segment.step_hz]
        watch = [f"Step {format_step(segment.step_hz)}: finds the dips, and judges nothing"]
        if narrow:
            watch.append(
                f"{', '.join(dict.fromkeys(narrow))} could lie between two points: sweep them whatever it shows"
            )
        wide = [
            k
            for k in known
            if k.sweep.covers(max(low, min(w.low_hz for w in windows)), max(w.high_hz for w in windows))
        ]
        done = next(
            (
                p.latest.name
                for p in self.bench.current(sample.id, setup.id)
                if any(self.bench.analysis(p, 50.0) is k for k in wide)
            ),
            "",
        )
        if all(r.done_by for r in runs):
            done = done or "the sweeps of its windows"
        return Run(
            key=f"s{sample.id}-u{setup.id}-survey",
            kind=RunKind.SURVEY,
            sample_id=sample.id,
            setup_id=setup.id,
            windows=windows,
            claim_ids=(),
            segments=(segment,),
            step_needed_hz=segment.step_hz,
            choice=replace(choice, decides=None),
            watch=(*watch, *self._place(setup, low)),
            done_by=done,
        )

    def _done_by(self, run: Run) -> str:
        """The sweep that shows every window of the run for every claim of it already, or nothing."""
        for piece in self.bench.current(run.sample_id, run.setup_id):
            asked = ((self.by_id[c], w) for c in run.claim_ids for w in run.windows if w in self.by_id[c].windows)
            if run.claim_ids and all(self._shows(piece, claim, window) for claim, window in asked):
                return piece.latest.name
        return ""

    def _shows(self, piece: Piece, claim: Claim, window: Window) -> bool:
        if not self.bench.in_setting_for(piece.latest, window):
            return False
        found = self.bench.judged(piece, window, self.limit_of(claim), claim.z0_ohm, self.evaluation.rule)
        return found.verdict is not Verdict.NOT_SHOWN

    def _place(self, setup: Setup, low_hz: float) -> list[str]:
        """Weather and place, where they matter."""
        said = [cautions.STEP_BACK]
        text = f"{setup.name} {setup.description}".lower()
        away = min(LIGHT_M_PER_S / low_hz / 2, 40.0)
        if "vehicle" in text or "car" in text.split():
            said.append(cautions.VEHICLE)
        else:
            said.append(f"Fences and vehicles {away:.1f} m away or more, or noted in the setup")
        if low_hz < WIRES_BELOW_HZ or "wire" in text:
            said.append("Wind moves wires: note it, and sweep again when it drops")
        return said

    # -- What is covered ---------------------------------------------------------------------------------------------

    def coverage(self, runs: list[Run], dropped: tuple[Run, ...]) -> tuple[tuple[Cover, ...], tuple[Uncovered, ...]]:
        """Every window of every claim a sweep can check, on every sample: by which run, or why by none."""
        shown: dict[tuple[str, str, Window], Run] = {}
        planned: dict[tuple[str, str, Window], Run] = {}
        for run, into in ((r, d) for rs, d in ((runs, shown), (dropped, planned)) for r in rs):
            for claim_id in run.claim_ids:
                if why_not_allowed(self.by_id[claim_id], self.bench.setups[run.setup_id]):
                    continue
                for window in run.windows:
                    target = planned if run.problem else into
                    target.setdefault((claim_id, run.sample_id, window), run)
        covers, uncovered = [], []
        for claim in self.evaluation.claims:
            if not claim.quantity.spec.swept:
                continue
            if claim.missing:
                uncovered.append(Uncovered(claim.id, "", None, f"the claim has no {claim.missing} yet"))
                continue
            for sample in self.evaluation.samples:
                for window in claim.windows:
                    key = self._key(shown, planned, claim, sample, window)
                    shows = shown.get(key)
                    if shows is not None:
                        covers.append(Cover(claim.id, sample.id, window, shows.key))
                    else:
                        reason = self._why_uncovered(claim, planned.get(key))
                        uncovered.append(Uncovered(claim.id, sample.id, window, reason))
        return tuple(covers), tuple(uncovered)

    @staticmethod
    def _key(
        shown: dict[tuple[str, str, Window], Run],
        planned: dict[tuple[str, str, Window], Run],
        claim: Claim,
        sample: Sample,
        window: Window,
    ) -> tuple[str, str, Window]:
        """A window is the same whatever its name: two claims may call one range by two names."""
        key = (claim.id, sample.id, window)
        if key in shown or key in planned:
            return key
        for known in (*shown, *planned):
            same = (known[2].low_hz, known[2].high_hz) == (window.low_hz, window.high_hz)
            if same and known[:2] == key[:2]:
                return known
        return key

    def _why_uncovered(self, claim: Claim, run: Run | None) -> str:
        if run is not None:
            return run.problem or "its run was removed from the plan"
        if not self.setups:
            return "no setup is in the plan"
        reasons = [why_not_allowed(claim, s) for s in self.setups]
        if all(reasons):
            return f"no setup in the plan can show it: {reasons[0].split(';')[0]}"
        return "a Pass cannot be shown at the shack end of an unchecked line; check the line, or sweep at the connector"

    def notes(self) -> tuple[str, ...]:
        said = []
        wishes = self.evaluation.wishes
        if len(self.setups) > 1:
            change, spread = format_step(wishes.shift_hz), format_step(wishes.spread_hz)
            if self.repeats is None:
                said.append(
                    f"No reasonable number of repeats shows a change of {change} if single sweeps spread by {spread}."
                )
            else:
                said.append(
                    f"{self.repeats} sweeps of each setup show a change of {change} if single sweeps spread "
                    f"by {spread}."
                )
            said.append(
                "Take each setup down once, put it up again and sweep it: remounting alone can change a reading."
            )
        if any(s.connector is None for s in self.evaluation.samples):
            said.append("Enter each sample's connector under Product, so that the chain of adapters can be found.")
        if any(i.sweeps and not i.connector for i in self.evaluation.instruments_in_use):
            said.append("Enter each instrument's connector, range and points under Equipment.")
        return tuple(said)


def _seen(known: Iterable[SweepAnalysis], window: Window) -> list[str]:
    """What an earlier sweep has shown near the window."""
    dips = [d for k in known for d in k.dips if not d.at_edge]
    near = min(dips, key=lambda d: max(window.low_hz - d.frequency_hz, d.frequency_hz - window.high_hz), default=None)
    if near is None:
        return []
    side = "inside the window" if window.low_hz <= near.frequency_hz <= window.high_hz else "outside the window"
    return [f"The nearest dip so far is at {brief_mhz(round(near.frequency_hz, -3))} MHz, {side}"]
