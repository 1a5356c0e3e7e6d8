"""The heart: an evaluation in, its findings out. The same evidence always gives the same findings."""

from collections.abc import Iterator, Mapping
from dataclasses import replace

from levelmoor.core.bench.at_plane import at_shack
from levelmoor.core.bench.gates import checks_in_words
from levelmoor.core.emissions.emission_findings import emissions_of, judge_powered, plain_sentence
from levelmoor.core.emissions.emission_path import path_in_words
from levelmoor.core.evidence.aside import without_what_is_aside
from levelmoor.core.evidence.by_through import by_heat, by_through
from levelmoor.core.evidence.by_trials import by_trials
from levelmoor.core.evidence.by_widths import by_widths
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import ClaimFinding, Findings, ProfileUse, UsabilityFinding, WindowEvidence
from levelmoor.core.evidence.heard import Hearing, Judged, settings_for
from levelmoor.core.evidence.pieces import Piece, adjusted_questions
from levelmoor.core.evidence.radio_use import RadioUse, use_on
from levelmoor.core.metrology.decision import DecisionRule, Verdict, kindness, worst_verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.evaluation import Evaluation, Plane, Sample
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.usability import PROFILES, Usability, usability
from levelmoor.core.readings.reading_usability import usability_at_readings
from levelmoor.core.rf.bandplan import Band, band_plan
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for
from levelmoor.core.verdict.read_off_verdict import judge_bandwidth, judge_resonance
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.sentence import sentence

USABILITY_RULE = DecisionRule.SIMPLE
"""Usability says what share of a band lies within the profile; it needs no guard band."""


def judge(evaluation: Evaluation) -> Findings:
    """Every claim on every sample, every covered band's usability, and warnings."""
    evaluation = without_what_is_aside(evaluation)
    bench = Dossier(evaluation)
    claims = tuple(_claim(evaluation, bench, c, s) for c in evaluation.claims for s in evaluation.samples)
    own = tuple(Band(w.name, w.low_hz, w.high_hz) for w in evaluation.own_bands if not w.spot)
    bands = (*band_plan(evaluation.region).bands, *own)
    use = tuple(u for s in evaluation.samples for b in bands if (u := _band(evaluation, bench, s, b)))
    shown = [u for u in use if u.state is not Usability.NOT_SHOWN]
    emissions = emissions_of(evaluation, bench.carriers)
    said = (*_warnings(evaluation, bench), *plain_sentence(emissions, {s.id: s.label for s in evaluation.samples}))
    return Findings(
        claims,
        use,
        said,
        emissions,
        adjusted_questions(evaluation.sweeps),
        tuple((g.carrier_hz, p) for g in bench.carriers for p in g.problems),
        tuple(checks_in_words(bench.book, evaluation)),
        tuple((c.id, path_in_words(p, c)) for c, p in bench.paths),
        tuple(p for u in shown for p in _by_profiles(evaluation, bench, u)),
        tuple(r for u in shown for r in _by_radios(evaluation, bench, u)),
    )


def _claim(evaluation: Evaluation, bench: Dossier, claim: Claim, sample: Sample) -> ClaimFinding:
    verdict, reason, windows = _verdict(evaluation, bench, claim, sample)
    return ClaimFinding(claim.id, sample.id, verdict, reason, windows, sample.counted)


def _verdict(
    evaluation: Evaluation, bench: Dossier, claim: Claim, sample: Sample
) -> tuple[Verdict, str, tuple[WindowEvidence, ...]]:
    spec = claim.quantity.spec
    if spec.shown_by is ShownBy.CAPTURE:
        found = judge_powered(evaluation, bench.carriers, claim, sample.id)
        return found.verdict, found.reason, ()
    if spec.shown_by is ShownBy.CASE:
        return *_connector(claim, sample), ()
    if spec.shown_by is ShownBy.TRIAL:
        return by_trials(evaluation, bench, claim, sample.id)
    if spec.shown_by is ShownBy.THROUGH:
        return by_through(evaluation, bench.setups, claim, sample.id)
    if spec.shown_by is ShownBy.HEAT:
        return *by_heat(evaluation, bench.setups, claim, sample.id), ()
    if not spec.swept:
        return *_NOT_MEASURED[spec.shown_by], ()
    if claim.missing:
        return Verdict.NOT_SHOWN, f"The claim has no {claim.missing} yet; write it down.", ()
    windows = _windows(evaluation, bench, claim, sample)
    verdict = worst_verdict(w.verdict for w in windows)
    deciding = [w for w in windows if w.verdict is verdict]
    if verdict is not Verdict.FAIL:
        deciding = deciding[:1]  # one is enough to say what is missing; of what fails, every band is named
    names = [f"{w.window.name}: " if len(windows) > 1 else "" for w in deciding]
    return verdict, " ".join(name + w.reason for name, w in zip(names, deciding, strict=True)), windows


def _windows(evaluation: Evaluation, bench: Dossier, claim: Claim, sample: Sample) -> tuple[WindowEvidence, ...]:
    """Each window by the setting meant for it; a claim that nothing is readjusted, all of them by one setting."""
    limit = limit_for(claim, evaluation.profile)

    def judged(piece: Piece, window: Window) -> Judged:
        finding = bench.judged(piece, window, limit, claim.z0_ohm, evaluation.rule)
        if claim.quantity.spec.shown_by is ShownBy.LEVEL:
            return Judged(piece, finding, finding.verdict, finding.reason)
        verdict, reason = _read_off(evaluation, bench, claim, piece, window, finding)
        return Judged(piece, finding, verdict, reason)

    hearing = Hearing(evaluation, bench, claim, sample.id, limit, judged)
    if not (claim.one_setting and evaluation.settings):
        heard = tuple(hearing.window(w) for w in claim.windows)
        if claim.quantity is Quantity.BANDWIDTH and evaluation.widths:
            return tuple(by_widths(evaluation, bench, claim, sample.id, limit, w) for w in heard)
        return heard
    alone = [tuple(hearing.window(w, s.id) for w in claim.windows) for s in settings_for(evaluation.settings, claim)]
    none = f"No one setting is meant for all of {', '.join(w.name for w in claim.windows)}."
    nothing = tuple(WindowEvidence(None, w, None, Verdict.NOT_SHOWN, none) for w in claim.windows)
    return min(alone, key=lambda f: kindness(worst_verdict(w.verdict for w in f)), default=nothing)


def _read_off(
    evaluation: Evaluation, bench: Dossier, claim: Claim, piece: Piece, window: Window, finding: WindowFinding
) -> tuple[Verdict, str]:
    """A resonance or a bandwidth, read off a sweep that qualifies for the window."""
    analysis, placed = bench.analysis(piece, claim.z0_ohm), bench.placed(piece)
    why = bench.disqualified(piece, window) or finding.unfit
    if why:
        return Verdict.NOT_SHOWN, sentence(why)
    if placed.plane is Plane.SHACK:
        reason = (
            "A feed line turns resonance and width; check the line on the bench, or sweep at the sample's connector."
        )
        return Verdict.NOT_SHOWN, reason
    if claim.quantity is Quantity.RESONANCE:
        return judge_resonance(analysis, window, placed.figures, evaluation.rule)
    swr_at = limit_for(claim, evaluation.profile)
    figures = placed.figures_at(float(gamma_from_swr(swr_at)))
    return judge_bandwidth(analysis, window, swr_at, 1e3 * (claim.limit or 0.0), figures, evaluation.rule)


_NOT_MEASURED: Mapping[ShownBy, tuple[Verdict, str]] = {
    ShownBy.REFERENCE: (
        Verdict.NOT_SHOWN,
        "It names what SWR refers to and states no limit of its own; the claims of SWR are judged by it.",
    ),
    ShownBy.NOTHING: (
        Verdict.OUTSIDE,
        "A sweep of reflection cannot check this; it stays in the list so that it is not taken for tested.",
    ),
}
"""What is said of a claim for which nothing is measured."""


def _connector(claim: Claim, sample: Sample) -> tuple[Verdict, str]:
    """A connector is looked at: what is claimed against what the case notes of the sample."""
    if sample.connector is None:
        reason = "The sample's connector is not written down in the case; look at it and write it down."
        return Verdict.NOT_SHOWN, reason
    try:
        claimed = parse_connector(claim.stated)
    except ValueError as problem:
        return Verdict.NOT_SHOWN, sentence(problem)
    same = claimed == sample.connector
    verdict = Verdict.PASS if same else Verdict.FAIL
    return verdict, f"The sample has {sample.connector}, seen when the case was opened."


def _band(evaluation: Evaluation, bench: Dossier, sample: Sample, band: Band) -> UsabilityFinding | None:
    """Usability of one band for one sample, None where no sweep that decides covers the band."""
    limit = limit_for(None, evaluation.profile)

    def judged(piece: Piece, window: Window) -> Judged:
        finding = bench.judged(piece, window, limit, 50.0, USABILITY_RULE)
        return Judged(piece, finding, finding.verdict, finding.reason)

    found = Hearing(evaluation, bench, None, sample.id, limit, judged).window(band.window)
    sweep = next((e for e in evaluation.sweeps if e.id == found.sweep_id), None)
    if sweep is None or found.finding is None or not sweep.sweep.covers(band.low_hz, band.high_hz):
        return None
    finding, state = found.finding, usability_of(found)
    worst, share = finding.worst.swr if finding.worst else None, finding.share_within_limit
    said = {
        Usability.ALL: f"Within {limit:g}:1 across the whole band.",
        Usability.PART: f"Within {limit:g}:1 on {100 * (share or 0):.0f} % of the band.",
        Usability.NONE: f"Above {limit:g}:1 everywhere in the band.",
        Usability.NOT_SHOWN: found.reason,
    }[state]
    piece = bench.piece(sweep)
    placed = bench.placed(piece)
    if state is Usability.NOT_SHOWN and not bench.disqualified(piece, band.window):
        at_points = usability_at_readings(placed.sweep, band.window, limit) if placed.plane is not Plane.SHACK else None
        if at_points is not None:
            state, share, said = at_points.state, at_points.share, at_points.sentence
    seen = bench.analysis(piece, 50.0).sweep if placed.moved or len(piece.members) > 1 else None
    curve = seen.cut(band.low_hz, band.high_hz) if seen else None
    return UsabilityFinding(sample.id, band.name, band.low_hz, band.high_hz, state, share, worst, sweep.id, said, curve)


def _by_profiles(evaluation: Evaluation, bench: Dossier, use: UsabilityFinding) -> Iterator[ProfileUse]:
    """A band by every profile, the chosen one's own limit among them."""
    sample = next(s for s in evaluation.samples if s.id == use.sample_id)
    band = Band(use.band, use.low_hz, use.high_hz)
    chosen = evaluation.profile
    every = {p.name: p for p in (*PROFILES.values(), chosen)}
    for profile in every.values():
        same = profile.limit_swr == chosen.limit_swr
        found = use if same else _band(replace(evaluation, profile=profile), bench, sample, band)
        if found is not None:
            yield ProfileUse(use.sample_id, use.band, profile.name, profile.limit_swr, found.state, found.share)


def _by_radios(evaluation: Evaluation, bench: Dossier, use: UsabilityFinding) -> Iterator[RadioUse]:
    """A band by every radio of the team whose ranges are written down, at the shack end of the line that is there."""
    radios = [r for r in evaluation.equipment.radios if r.ranges]
    if not radios:
        return
    evidence = next(e for e in evaluation.sweeps if e.id == use.sweep_id)
    piece = bench.piece(evidence)
    placed, near = bench.placed(piece), at_shack(bench.book, evidence, bench.setup(evidence))
    at_radio = near.sweep if near is not None else placed.sweep
    line = next((x.figures.line for x in (placed, near) if x is not None and x.figures.line is not None), None)
    if line is not None and line.delay_s < 0:
        line = line.backwards
    for radio in radios:
        window = Window(use.low_hz, use.high_hz, use.band)
        found = use_on(radio, use.sample_id, window, at_radio, placed.sweep if line is not None else None, line)
        if found is not None:
            yield found


def usability_of(found: WindowEvidence | WindowFinding) -> Usability:
    """What a finding against a profile's limit says of the band."""
    finding = found.finding if isinstance(found, WindowEvidence) else found
    if found.verdict is Verdict.NOT_SHOWN or finding is None or finding.share_within_limit is None or finding.unfit:
        return Usability.NOT_SHOWN
    return usability(finding.share_within_limit)


def _warnings(evaluation: Evaluation, bench: Dossier) -> list[str]:
    said = []
    for evidence in evaluation.sweeps:
        if evidence.sweep.scalar:
            said.append(f"{evidence.name} knows only SWR: R, X and resonance cannot be shown from it.")
        if float(evidence.sweep.magnitude.max()) > 1.02:
            said.append(
                f"{evidence.name} reflects more than it is sent; a passive sample cannot, so check the calibration."
            )
    two = [p.members for p in bench.pieces if len(p.members) == 2]
    said += [
        f"{a.name} and {b.name} are repeats; three repeats are needed to know how far they spread." for a, b in two
    ]
    said += [q.sentence for q in adjusted_questions(evaluation.sweeps)]
    if any(s.tuner_in_line for s in evaluation.setups):
        said.append(
            "A match is not radiation: a sweep through a tuner shows the tuner's range and loss, not the antenna."
        )
    said += [f"{s.label} may be a counterfeit: {s.suspicion}" for s in evaluation.samples if s.suspicion]
    said += [f"{s.label} is a control: it is shown, and not counted." for s in evaluation.samples if s.control]
    if sum(s.counted for s in evaluation.samples) == 1:
        said.append("One sample: the result is about this unit, not about the model.")
    return said
