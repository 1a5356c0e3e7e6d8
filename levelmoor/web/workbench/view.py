"""What the main screen shows: one evaluation, the sweep and claim in hand, and what was found."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from levelmoor.core.bench.gates import Gate, calibrations_that_hold
from levelmoor.core.comparison.comparison_words import setup_difference
from levelmoor.core.evidence.admission import why_not_allowed, why_not_heard
from levelmoor.core.evidence.aside import why_aside
from levelmoor.core.evidence.band_use import usability_of
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import ClaimFinding, Findings, Part, WindowEvidence
from levelmoor.core.evidence.reflection import USABILITY_RULE
from levelmoor.core.evidence.rests_on import looked_at, state_words
from levelmoor.core.metrology.decision import VERDICT_WORDS, DecisionRule, Verdict, worst_verdict
from levelmoor.core.model.bench_records import CalibrationRecord
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Evidence
from levelmoor.core.model.judged_content import judged_content
from levelmoor.core.model.usability import Usability
from levelmoor.core.plan.progress import Step, is_swept, steps
from levelmoor.core.rf.bandplan import bands_covered
from levelmoor.core.rf.reflection import impedance_from_gamma
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.counting import counted
from levelmoor.figures.landscape import waterline_of
from levelmoor.records import tables as t
from levelmoor.records.bench import TeamRows
from levelmoor.records.mapping import evaluation_of
from levelmoor.services.findings import behind_of, findings_of
from levelmoor.services.plans import plan_of
from levelmoor.services.strips import Strip, strips_of
from levelmoor.web.in_parts import part_at, parts_of
from levelmoor.web.workbench.drawn import SIZES, Drawn, Panel, panels

USABILITY = "use"
CLAIMS_A_PART = 60
LAST = 1_000_000
"""A part beyond any other: where a new claim comes to stand."""


@dataclass(frozen=True)
class State:
    """What is in hand: a sweep, a claim (or the usability profile), and the view."""

    sweep: str = ""
    claim: str = ""
    view: str = ""
    part: int = 1
    """Which part of a long ledger of claims is shown."""


@dataclass(frozen=True)
class Numbers:
    """One window's figures as the table shows them."""

    finding: WindowFinding
    impedance_ohm: complex | None
    resonances_hz: tuple[float, ...]
    use: Usability | None
    """Against the usability profile what the band is good for, against a claim nothing."""


@dataclass
class Group:
    """The sweeps of one state; those of earlier rounds are history."""

    name: str
    sweeps: list[t.Sweep] = field(default_factory=list)

    @cached_property
    def _last(self) -> Mapping[int | None, int]:
        """The latest round of each sample, once all sweeps are in."""
        last: dict[int | None, int] = {}
        for sweep in self.sweeps:
            last[sweep.sample_id] = max(sweep.round, last.get(sweep.sample_id, 0))
        return last

    @cached_property
    def latest(self) -> list[t.Sweep]:
        return [s for s in self.sweeps if s.round == self._last[s.sample_id]]

    @cached_property
    def earlier(self) -> list[t.Sweep]:
        return [s for s in self.sweeps if s.round != self._last[s.sample_id]]

    def holds(self, sweep_id: str) -> bool:
        """Whether an earlier round of it is in hand."""
        return any(str(s.id) == sweep_id for s in self.earlier)


@dataclass
class Workbench:
    row: t.Evaluation
    evaluation: Evaluation
    findings: Findings
    steps: list[Step]
    state: State
    evidence: Evidence | None = None
    sweep_row: t.Sweep | None = None
    analysis: SweepAnalysis | None = None
    claim: Claim | None = None
    windows: tuple[Window, ...] = ()
    limit_swr: float = 2.0
    panels: tuple[Panel, ...] = ()
    numbers: tuple[Numbers, ...] = ()
    gates: tuple[Gate, ...] = ()
    qualifies: tuple[tuple[bool, str], ...] = ()
    figures_source: str = ""
    moved: str = ""
    strips: Sequence[Strip] = ()
    behind: Dossier = field(kw_only=True)

    @property
    def is_swept(self) -> bool:
        """Whether the product is one that is swept, and so may be adjusted between rounds."""
        return is_swept(self.evaluation)

    @property
    def parts(self) -> list[slice]:
        """The parts that a long ledger of claims is shown in."""
        return parts_of(len(self.evaluation.claims), CLAIMS_A_PART)

    @property
    def part(self) -> slice:
        """The claims that are shown."""
        return part_at(self.parts, self.state.part)

    @property
    def rule(self) -> DecisionRule:
        """The decision rule of what is in hand: the evaluation's for a claim, none asked for by usability."""
        return self.evaluation.rule if self.claim else USABILITY_RULE

    @property
    def shown_verdict(self) -> tuple[Verdict, str] | None:
        """Verdict and reason of the claim in hand on the sample that was swept, whichever sweep decides it."""
        found = self._of_claim
        return (found.verdict, found.reason) if found else None

    @property
    def _of_claim(self) -> ClaimFinding | None:
        if self.claim is None or self.evidence is None or not self.numbers:
            return None
        return self.finding(self.claim.id, self.evidence.sample_id)

    @property
    def standing(self) -> str:
        """What the sweep in hand says by itself where it is not the one that decides, and why it is not."""
        found, here = self._of_claim, self.evidence
        if found is None or here is None or self.claim is None:
            return ""
        parts = {p.part for w in found.windows for p in w.pieces if here.id in p.sweep_ids}
        if parts & {Part.DECIDES, Part.CONTRADICTS} or any(w.sweep_id == here.id for w in found.windows):
            return ""
        verdict = worst_verdict(n.finding.verdict for n in self.numbers)
        deciding = next(n.finding for n in self.numbers if n.finding.verdict is verdict)
        why = why_not_heard(self.evaluation, self.claim, here)
        said = f"{here.name} by itself: {VERDICT_WORDS[verdict]}. {deciding.reason}"
        return f"{said} It does not decide: {why}." if why else said

    @property
    def calibrations_that_hold(self) -> list[CalibrationRecord]:
        """What the sweep in hand may rest on."""
        return self.holding(self.evidence) if self.evidence else []

    def sweep_for(self, claim_id: object) -> str:
        """The sweep to show a claim by: the one in hand where it reaches a window of it, else the one it rests on."""
        claim = next((c for c in self.evaluation.claims if c.id == str(claim_id)), None)
        if claim is None:
            return ""
        here = self.evidence
        if here and any(here.sweep.cut(w.low_hz, w.high_hz) for w in claim.windows):
            return here.id
        of_claim = [f for f in self.findings.claims if f.claim_id == claim.id]
        same_sample = [f for f in of_claim if here and f.sample_id == here.sample_id]
        return next((w.sweep_id for f in (*same_sample, *of_claim) for w in f.windows if w.sweep_id), "")

    def rests_on(self, found: WindowEvidence) -> str:
        """The state that a verdict rests on, where there is more than one to tell it from."""
        more = len(self.evaluation.setups) > 1 or self.evaluation.settings or found.round > 1
        return state_words(self.evaluation, found) if more else ""

    def beside(self, found: WindowEvidence) -> list[str]:
        """What a reader of the verdict has to know of the other evidence: what was set aside, what stands beside."""
        told = (Part.SET_ASIDE, Part.BESIDE)
        others = looked_at(found)
        return [f"{part.value.capitalize()}: {said}" for part, said in others if part in told]

    def wording(self, claim_id: object) -> str:
        """A claim in a few words."""
        return next((c.wording for c in self.evaluation.claims if c.id == str(claim_id)), "")

    @property
    def groups(self) -> list["Group"]:
        """The sweeps by the state they were taken in, in the order of setups and settings."""
        setups = {s.id: (n, s.name) for n, s in enumerate(self.row.setups)}
        settings = {s.id: (n, s.name) for n, s in enumerate(self.row.settings)}
        found: dict[tuple[int, int], Group] = {}
        for sweep in self.row.sweeps:
            (at, name), (then, setting) = setups[sweep.setup_id], settings.get(sweep.setting_id or 0, (-1, ""))
            words = f"{name}, {setting}" if setting else name
            found.setdefault((at, then), Group(words)).sweeps.append(sweep)
        return [found[key] for key in sorted(found)]

    @property
    def unstated(self) -> list[t.Sweep]:
        """The sweeps of which nothing is said of the calibration, where a record spans them."""
        at = {e.id: e for e in self.evaluation.sweeps}
        return [s for s in self.row.sweeps if s.calibration == "unstated" and self.holding(at[str(s.id)])]

    def holding(self, evidence: Evidence) -> list[CalibrationRecord]:
        """The calibrations on record that a sweep may rest on, the latest first."""
        setup = next((s for s in self.evaluation.setups if s.id == evidence.setup_id), None)
        return calibrations_that_hold(self.behind.book, evidence, setup) if setup else []

    def setup_difference(self, setup_id: object) -> str:
        """What is different in a setup from the first, as a sentence."""
        first, *others = self.evaluation.setups
        return next((setup_difference(self.evaluation, first, s) for s in others if s.id == str(setup_id)), "")

    def finding(self, claim_id: object, sample_id: object) -> ClaimFinding | None:
        """The finding on a claim and a sample, by either's id in any form."""
        key = (str(claim_id), str(sample_id))
        return next((f for f in self.findings.claims if (f.claim_id, f.sample_id) == key), None)


def build(
    row: t.Evaluation, rows: TeamRows, state: State, published: int, draw: bool = True, sizes: Sequence[str] = SIZES
) -> Workbench:
    """Judge the evaluation and draw what is in hand; without drawing only what the frame of every page shows."""
    evaluation = evaluation_of(row, rows)
    findings, behind = findings_of(evaluation), behind_of(evaluation)
    bench = Workbench(
        row,
        evaluation,
        findings,
        steps(evaluation, findings, plan_of(evaluation), published, behind.book),
        state,
        behind=behind,
    )
    if not draw:
        return bench
    bench.strips = strips_of(evaluation, findings)
    sweeps: Mapping[str, Evidence] = {e.id: e for e in evaluation.sweeps}
    if not evaluation.sweeps:
        return bench
    bench.claim = _claim_in_hand(evaluation, state.claim)
    bench.evidence = sweeps.get(state.sweep) or _telling_sweep(bench) or evaluation.sweeps[-1]
    bench.sweep_row = next(s for s in row.sweeps if str(s.id) == bench.evidence.id)
    z0 = bench.claim.z0_ohm if bench.claim else 50.0
    piece = behind.piece(bench.evidence)
    placed = behind.placed(piece)
    bench.analysis, bench.figures_source, bench.moved = behind.analysis(piece, z0), placed.figures_source, placed.moved
    _windows_in_hand(bench)
    _judge_in_hand(bench, behind)
    wanted = USABILITY if state.claim == USABILITY else ""
    bench.state = replace(state, sweep=bench.evidence.id, claim=bench.claim.id if bench.claim else wanted)
    levels = [waterline_of(n.finding, bench.rule) for n in bench.numbers]
    bench.panels = panels(
        Drawn(
            bench.analysis, placed.figures, bench.windows, levels, evaluation.region, state.view, evaluation.own_bands
        ),
        bench.evidence.name,
        sizes,
        (judged_content(evaluation), bench.state),
    )
    return bench


def _claim_in_hand(evaluation: Evaluation, wanted: str) -> Claim | None:
    checkable = [c for c in evaluation.claims if c.checkable]
    if wanted == USABILITY:
        return None
    return next((c for c in checkable if c.id == wanted), checkable[0] if checkable else None)


def _telling_sweep(bench: Workbench) -> Evidence | None:
    """The sweep that the claim in hand rests on."""
    wanted = bench.sweep_for(bench.claim.id) if bench.claim else ""
    return next((e for e in bench.evaluation.sweeps if e.id == wanted), None)


def _windows_in_hand(bench: Workbench) -> None:
    """The claim's windows and limit, or the covered bands under the usability profile."""
    if bench.claim is not None and bench.claim.limit_swr is not None:
        bench.windows, bench.limit_swr = bench.claim.windows, bench.claim.limit_swr
    elif bench.evidence is not None:
        bench.windows = tuple(b.window for b in bands_covered(bench.evidence.sweep, bench.evaluation.region))
        bench.limit_swr = bench.evaluation.profile.limit_swr


def _judge_in_hand(bench: Workbench, behind: Dossier) -> None:
    evidence, analysis, claim = bench.evidence, bench.analysis, bench.claim
    if evidence is None or analysis is None:
        return
    z0 = claim.z0_ohm if claim else 50.0
    found: list[Numbers] = []
    gates: dict[str, Gate] = {}
    for window in bench.windows:
        piece = behind.piece(evidence)
        gates |= {g.name: g for g in behind.gates(evidence, window) if g.name not in gates or g.blocks}
        finding = behind.judged(piece, window, bench.limit_swr, z0, bench.rule)
        z = None
        if finding.best and not analysis.sweep.scalar:
            z = complex(impedance_from_gamma(analysis.sweep.gamma_at(finding.best.frequency_hz), analysis.sweep.z0_ohm))
        zeros = tuple(r.frequency_hz for r in analysis.resonances if window.low_hz <= r.frequency_hz <= window.high_hz)
        found.append(Numbers(finding, z, zeros, None if claim else usability_of(finding)))
    bench.numbers, bench.gates = tuple(found), tuple(gates.values())
    bench.qualifies = tuple(_qualifies(bench, why_not_allowed(claim, behind.setup(evidence)) if claim else ""))


def _qualifies(bench: Workbench, condition: str) -> list[tuple[bool, str]]:
    """What else qualifies the sweep in hand and what does not, in short sentences."""
    said = [(False, condition)] if condition else []
    if of := bench.evidence:
        aside = why_aside(bench.evaluation, of)
        said += [(False, f"left out with {aside}")] if aside else []
    for number in bench.numbers:
        found = number.finding
        name = found.window.name
        if not bench.analysis or not bench.analysis.sweep.covers(found.window.low_hz, found.window.high_hz):
            said.append((False, f"does not cover {name}"))
        elif found.step_needed_hz is not None:
            said.append((False, f"too coarse for {name}"))
        else:
            said.append((True, f"covers {name} with {counted(found.points_inside, 'point')}"))
    return said
