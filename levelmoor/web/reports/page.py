"""The report page, drawn from a bundle alone, so that a published one never changes."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from levelmoor.core.adjusting.settings_card import Card, card_of, carried, most_swept
from levelmoor.core.bench.how_proven import less_than_proven
from levelmoor.core.by_setup import BySetup, by_setup
from levelmoor.core.emissions.emission_findings import same_carrier
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import PART_WORDS, ClaimFinding, Findings, UsabilityFinding, WindowEvidence
from levelmoor.core.evidence.in_short import InShort, in_short
from levelmoor.core.evidence.pieces import repeat_groups
from levelmoor.core.evidence.rests_on import looked_at, state_words
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.chosen_comparisons import Comparison
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.contacts import Contact
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evaluation, Evidence, Sample, Setup
from levelmoor.core.model.quantities import ShownBy
from levelmoor.core.model.report_sections import SECTION_WORDS, ChosenSection, ReportSection, chosen
from levelmoor.core.model.usability import Usability
from levelmoor.core.on_air.alternation import Alternation, alternations, way_of
from levelmoor.core.readings.time_strip import strip_sentence
from levelmoor.core.words.bounds import EVALUATION_POINTS
from levelmoor.core.words.sentence import uncapitalized
from levelmoor.figures.strip import band_strip
from levelmoor.figures.time_strip import place_figure, strip_figure
from levelmoor.formats.bundle import read_bundle
from levelmoor.records.kept import Kept
from levelmoor.web.compare.view import USABILITY, ComparePage, ComparisonAsked
from levelmoor.web.compare.view import build as build_comparison
from levelmoor.web.emissions.view import CarrierView, carriers
from levelmoor.web.reports.figures import figure_name, figure_svg, read_off
from levelmoor.web.through.view import ThroughPage, whole_page_of
from levelmoor.web.tuner.view import TunerPage
from levelmoor.web.tuner.view import page_of as tuner_page_of

BESIDE_TEXT = 360
"""Pixels: the figure stands beside its reason; in full width it has an address of its own."""


@dataclass(frozen=True)
class Figure:
    """One window of a claim as drawn, with its finding and the sweep it rests on."""

    window: WindowEvidence
    svg: str
    evidence: Evidence | None
    name: str = ""
    """What it is called in its own address."""
    points: str = ""
    """What the pointer reads off it."""


@dataclass(frozen=True)
class ClaimPart:
    claim: Claim
    sample: Sample
    finding: ClaimFinding
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class ReportPage:
    manifest: Mapping[str, Any]
    evaluation: Evaluation
    findings: Findings
    claims: tuple[ClaimPart, ...]
    usability: tuple[tuple[UsabilityFinding, Sample, str], ...]
    emissions: tuple[tuple[CarrierView, tuple[tuple[str, str], ...]], ...] = ()
    """Every carrier by every rule set, and for each its captures with their paths in words."""
    checks: tuple[tuple[str, str], ...] = ()
    """The checks of the bench that the evidence rests on: what was checked, and what it showed."""
    by_setup: tuple[tuple[Claim, Sample, BySetup], ...] = ()
    """What each setup as supplied gives by itself, where there are several."""

    @cached_property
    def _dossier(self) -> Dossier:
        return Dossier(self.evaluation)

    @cached_property
    def card(self) -> Card | None:
        """The settings card of what was swept in most settings, where the settings have marks."""
        of = self.evaluation
        marked = any(s.mark is not None or s.mark_words for s in of.settings)
        if not (marked and of.sweeps):
            return None
        sample_id, setup_id = most_swept(of)
        return card_of(of, self._dossier, sample_id, carried(of, sample_id) or (setup_id,))

    @cached_property
    def strips(self) -> list[tuple[str, str, str]]:
        """Each time strip: its sentence, the figure over time, and by azimuth or distance."""
        return [(strip_sentence(s), strip_figure(s), place_figure(s)) for s in self.evaluation.strips]

    @cached_property
    def tuners(self) -> list[tuple[Sample, TunerPage]]:
        """The trials of each sample that was tried."""
        of = self.evaluation
        tried = {t.sample_id for t in of.trials}
        return [(s, tuner_page_of(of, s.id)) for s in of.samples if s.id in tried]

    @cached_property
    def accessories(self) -> list[tuple[Sample, ThroughPage]]:
        """What was swept through, read and heated of each sample."""
        of = self.evaluation
        pages = [(s, whole_page_of(of, s.id)) for s in of.samples]
        return [(s, page) for s, page in pages if page.anything]

    @cached_property
    def contacts(self) -> list[tuple[Contact, tuple[float, float] | None]]:
        """Colour: the contacts with their ways, in the order they were made."""
        return [(c, way_of(c)) for c in sorted(self.evaluation.contacts, key=lambda c: c.at)]

    @cached_property
    def comparisons(self) -> list[tuple[Comparison, ComparePage]]:
        """The comparisons that the team chose, each with its answer; one that can no longer be made is left out."""
        of = self.evaluation
        made = []
        for one in of.comparisons:
            asked = ComparisonAsked(one.sweep_ids, one.question, one.claim_id or USABILITY)
            page = build_comparison(of, asked, self.findings)
            if page.comparison:
                made.append((one, page))
        return made

    @cached_property
    def sections(self) -> tuple[ReportSection, ...]:
        """The sections that there is something for, whether they are shown or not."""
        there = {
            ReportSection.SETUPS: self.by_setup,
            ReportSection.SETTINGS: self.card,
            ReportSection.STRIPS: self.evaluation.strips,
            ReportSection.TRIALS: self.evaluation.trials,
            ReportSection.THROUGH: self.accessories,
            ReportSection.CONTACTS: self.evaluation.contacts,
        }
        return tuple(section for section, found in there.items() if found)

    def chosen(self, section: str) -> ChosenSection:
        """What the team chose of a section."""
        return chosen(self.evaluation.sections, ReportSection(section))

    def shows(self, section: str) -> bool:
        return ReportSection(section) in self.sections and self.chosen(section).shown

    @property
    def left_out(self) -> str:
        """The sections that the team left out though there is something for them."""
        return ", ".join(uncapitalized(SECTION_WORDS[s]) for s in self.sections if not self.chosen(s).shown)

    @property
    def alternations(self) -> list[Alternation]:
        return alternations([c for c, _ in self.contacts])

    def setup_name(self, setup_id: str) -> str:
        return next((s.name for s in self.evaluation.setups if s.id == setup_id), "")

    def tuner_of(self, part: ClaimPart) -> TunerPage | None:
        """What was tried, where the claim is one that trials show."""
        shown = part.claim.quantity.spec.shown_by is ShownBy.TRIAL
        return next((page for s, page in self.tuners if shown and s.id == part.sample.id), None)

    @cached_property
    def in_short(self) -> InShort:
        """The report in three sentences, and what was not shown."""
        return in_short(self.evaluation, self.findings)

    @property
    def less_than_proven(self) -> str:
        """What its head says of the bench where it was not proven for every sweep."""
        return less_than_proven(self.evaluation)

    @property
    def obtained(self) -> str:
        """How the units were obtained, each way once."""
        return "; ".join(dict.fromkeys(s.disclosure for s in self.evaluation.samples if not s.set_aside))

    @property
    def counts(self) -> dict[Verdict, int]:
        return self.findings.summary

    def cell(self, claim_id: str, sample_id: str) -> tuple[int, ClaimPart] | None:
        """The part on a claim and a sample, with its place on the page."""
        found = ((n, p) for n, p in enumerate(self.claims) if (p.claim.id, p.sample.id) == (claim_id, sample_id))
        return next(found, None)

    @property
    def unshown(self) -> str:
        """The bands that no qualifying sweep shows, by unit where there are several."""
        bands: dict[str, list[str]] = {}
        for use in self.findings.usability:
            if use.state is Usability.NOT_SHOWN:
                bands.setdefault(use.sample_id, []).append(use.band)
        labels = {s.id: f"{s.label}: " if len(self.evaluation.samples) > 1 else "" for s in self.evaluation.samples}
        return "; ".join(f"{labels[sample]}{', '.join(names)}" for sample, names in bands.items())

    @property
    def untested(self) -> list[str]:
        """What was not tested: claims outside this bench, and those the evidence does not show; each reason once."""
        parts = [c for c in self.claims if c.finding.verdict in (Verdict.OUTSIDE, Verdict.NOT_SHOWN)]
        said = [
            f"{p.claim.wording}: {uncapitalized(VERDICT_WORDS[p.finding.verdict])}. {p.finding.reason}" for p in parts
        ]
        return list(dict.fromkeys(said))

    def once(self, place: int) -> str | None:
        """What stands in place of the unit's name where a claim is outside this bench for each unit alike: then it is
        told once, for all of them, and None says that it was told."""
        part = self.claims[place]
        if part.finding.verdict is not Verdict.OUTSIDE:
            return ""
        alike = [p for p in self.claims if p.claim.id == part.claim.id and p.finding.reason == part.finding.reason]
        if len(alike) == 1:
            return ""
        return "every unit" if alike[0] is part else None

    def repeats(self, evidence: Evidence) -> int:
        """How many repeats the sweep is one of, itself counted"""
        return self._repeats[evidence.id]

    @cached_property
    def _repeats(self) -> Mapping[str, int]:
        return {e.id: len(group) for group in repeat_groups(self.evaluation.sweeps) for e in group}

    def state(self, window: WindowEvidence) -> str:
        return state_words(self.evaluation, window)

    def looked_at(self, window: WindowEvidence) -> list[tuple[str, str]]:
        """What else was looked at, by its part in the verdict."""
        return [(PART_WORDS[part], said) for part, said in looked_at(window)]

    def setup(self, evidence: Evidence) -> Setup:
        return next(s for s in self.evaluation.setups if s.id == evidence.setup_id)

    def instrument(self, evidence: Evidence) -> Instrument:
        return next(i for i in self.evaluation.instruments if i.id == evidence.instrument_id)


_kept: Kept[ReportPage] = Kept(64, lambda page: sum(e.sweep.points for e in page.evaluation.sweeps), EVALUATION_POINTS)


def published_page(bundle_sha256: str, load: Callable[[], bytes]) -> ReportPage:
    """The page of a frozen bundle; the same digest is the same bundle, so it is loaded and drawn once."""

    def drawn() -> ReportPage:
        bundle = read_bundle(load())
        return draw(bundle.manifest, bundle.evaluation, bundle.findings)

    return _kept.get(bundle_sha256, drawn)


def draw(manifest: Mapping[str, Any], evaluation: Evaluation, findings: Findings) -> ReportPage:
    """The page of an evaluation with its findings; the manifest says what the report says of itself."""
    samples = {s.id: s for s in evaluation.samples}
    claims = {c.id: c for c in evaluation.claims}
    sweeps = {e.id: e for e in evaluation.sweeps}
    parts = []
    for number, finding in enumerate(findings.claims):
        claim = claims[finding.claim_id]
        figures = tuple(
            Figure(
                w,
                figure_svg(evaluation, claim, w, f"claim-{number}-{i}", BESIDE_TEXT),
                sweeps.get(w.sweep_id or ""),
                figure_name(number, i),
                read_off(evaluation, claim, w),
            )
            for i, w in enumerate(finding.windows)
        )
        parts.append(ClaimPart(claim, samples[finding.sample_id], finding, figures))
    use = tuple(
        (u, samples[u.sample_id], band_strip(evaluation, u))
        for u in findings.usability
        if u.state is not Usability.NOT_SHOWN
    )
    told = dict(findings.paths)
    captured = tuple(
        (view, tuple((c.name, told.get(c.id, "")) for c in evaluation.captures if _of(view, c)))
        for view in carriers(evaluation, findings)
    )
    alone = tuple((claims[b.claim_id], samples[b.sample_id], b) for b in by_setup(evaluation))
    return ReportPage(manifest, evaluation, findings, tuple(parts), use, captured, findings.checks, alone)


def _of(view: CarrierView, capture: Capture) -> bool:
    return same_carrier(view.carrier_hz, capture.carrier_hz)
