"""Emissions in an evaluation: captures grouped by unit and carrier, judged by each rule set and each claim."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from levelmoor.core.bench.gates import BenchBook
from levelmoor.core.emissions.captured_lines import (
    USUAL_HARMONICS,
    EmissionLine,
    Intercepts,
    MeasuredCapture,
    Path,
    Spectrum,
    measure,
)
from levelmoor.core.emissions.emission_path import path_of, pieces_of
from levelmoor.core.emissions.emission_repeats import mean_of
from levelmoor.core.emissions.emissions import EmissionsReport, judge_emissions, told_apart
from levelmoor.core.metrology.decision import (
    DecisionRule,
    Verdict,
    conformity_probability,
    decide,
    guard_band,
    worst_verdict,
)
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.rule_sets import Limit, NoFigure, RuleSet, limit_of, shipped_rule_sets
from levelmoor.core.model.state import Role
from levelmoor.core.rf.frequency import format_mhz
from levelmoor.core.rf.levels import dbm_of_watts, watts_of_dbm
from levelmoor.core.rf.spectral_lines import noise_of
from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.sentence import sentence

SAME_CARRIER = 5e-4
NO_LEVEL_DBM = -1e6
"""Lower than any level: what a list of peaks tells of its noise."""


def same_carrier(one_hz: float, other_hz: float) -> bool:
    """Whether captures are of one carrier: what they are said to be differs by no more than that share."""
    return abs(one_hz - other_hz) <= SAME_CARRIER * one_hz


@dataclass(frozen=True, eq=False)
class CarrierGroup:
    """Captures of one unit on one carrier in one mode, without or with a filter; what they show, or why not.

    Repeats are one of `measured`.
    """

    sample_id: str
    carrier_hz: float
    filter_name: str
    captures: tuple[Capture, ...]
    spectra: tuple[Spectrum, ...]
    measured: tuple[MeasuredCapture, ...]
    problems: tuple[str, ...]

    @property
    def carrier(self) -> EmissionLine | None:
        """The carrier by the capture with the least pad."""
        return min(self.measured, key=lambda m: m.pad_db).carrier if self.measured else None


@dataclass(frozen=True)
class EmissionsFinding:
    """What one rule set says of a unit on a carrier."""

    sample_id: str
    carrier_hz: float
    filter_name: str
    rule_id: str
    report: EmissionsReport
    capture_ids: tuple[str, ...]
    noise_dbm: float | None = None
    """The noise of the capture with the least pad, corrected for its path at the carrier; None where none is told."""


def groups_of(evaluation: Evaluation, book: BenchBook) -> tuple[CarrierGroup, ...]:
    """The captures in groups, in the order in which the first of each came."""
    found: list[list[Capture]] = []
    for capture in evaluation.captures:
        home = next((g for g in found if _together(g[0], capture)), None)
        if home is None:
            found.append([capture])
        else:
            home.append(capture)
    return tuple(_group(book, tuple(g)) for g in found)


def _together(one: Capture, other: Capture) -> bool:
    same = (one.sample_id, one.filter_name, one.mode.lower()) == (
        other.sample_id,
        other.filter_name,
        other.mode.lower(),
    )
    return same and same_carrier(one.carrier_hz, other.carrier_hz)


def _group(book: BenchBook, captures: tuple[Capture, ...]) -> CarrierGroup:
    spectra = tuple(_spectrum(book, c) for c in captures)
    return _measured(captures[0].carrier_hz, captures[0].filter_name, captures, spectra)


def _measured(
    carrier_hz: float, filter_name: str, captures: tuple[Capture, ...], spectra: tuple[Spectrum, ...]
) -> CarrierGroup:
    """What spectra show, in the order of their captures; those by one path on one day are repeats."""
    by_path: dict[tuple[object, ...], list[MeasuredCapture]] = {}
    problems = []
    for capture, spectrum in zip(captures, spectra, strict=True):
        span = tuple(round(float(x), -4) for x in spectrum.trace.frequency_hz[[0, -1]])
        way = (capture.instrument_id, capture.pad_ids, capture.line_id, capture.offset, capture.rbw_hz, span)
        try:
            found = measure(spectrum, capture.carrier_hz, USUAL_HARMONICS)
            by_path.setdefault((*way, capture.taken_on[:10]), []).append(found)
        except ValueError as problem:
            problems.append(f"{capture.name}: {problem}")
    measured = tuple(mean_of(m) for m in by_path.values())
    return CarrierGroup(captures[0].sample_id, carrier_hz, filter_name, captures, spectra, measured, tuple(problems))


def _spectrum(book: BenchBook, capture: Capture) -> Spectrum:
    instrument = book.instruments.get(capture.instrument_id, Instrument("", ""))
    intercepts = Intercepts(instrument.second_intercept_dbm, instrument.third_intercept_dbm)
    path = path_of(pieces_of(book, capture))
    return Spectrum(capture.name, capture.at_input, path, capture.rbw_hz, instrument.level_u_db, intercepts)


def emissions_of(evaluation: Evaluation, groups: Sequence[CarrierGroup]) -> tuple[EmissionsFinding, ...]:
    """Every group by every rule set that the evaluation names."""
    return tuple(
        EmissionsFinding(
            group.sample_id,
            group.carrier_hz,
            group.filter_name,
            rules.id,
            report_of(group, rules, evaluation.rule, evaluation.region),
            tuple(c.id for c in group.captures),
            noise_under(group),
        )
        for group in groups
        if group.measured
        for rules in evaluation.rule_sets
    )


def noise_under(group: CarrierGroup) -> float | None:
    """The noise corrected for the path at the carrier; None for lists of peaks, which tell none."""
    first = min(group.measured, key=lambda m: m.pad_db)
    level = noise_of(first.spectrum.trace)
    return float(level + first.pad_db) if level > NO_LEVEL_DBM else None


def foresee(group: CarrierGroup, through: Trace, name: str) -> CarrierGroup:
    """The group as it would read with a filter behind the radio, by the filter's 20 log10|S21| in dB; where that was
    not swept, nothing is foreseen."""

    def filtered(path: Path) -> Path:
        def at(frequency_hz: float) -> tuple[float, float] | None:
            known = path(frequency_hz)
            if known is None or not through.covers(frequency_hz):
                return None
            return known[0] + float(through.at(frequency_hz)), known[1]

        return at

    spectra = tuple(replace(s, path=filtered(s.path)) for s in group.spectra)
    return _measured(group.carrier_hz, name, group.captures, spectra)


def report_of(group: CarrierGroup, rules: RuleSet, rule: DecisionRule, region: int) -> EmissionsReport:
    carrier = group.carrier
    assert carrier is not None and carrier.level_dbm is not None
    limit = limit_of(rules, carrier.frequency_hz, float(watts_of_dbm(carrier.level_dbm)), region)
    relative = isinstance(limit, Limit) and limit.relative
    return judge_emissions(group.measured, limit, rule, region, relative=relative)


@dataclass(frozen=True)
class PoweredVerdict:
    verdict: Verdict
    reason: str


def groups_for(groups: Sequence[CarrierGroup], claim: Claim, sample_id: str) -> list[CarrierGroup]:
    """The groups that tell of a claim: of the unit as it came, in the claim's windows and mode."""
    return [g for g in groups if g.sample_id == sample_id and not g.filter_name and _in_windows(claim, g)]


def judge_powered(
    evaluation: Evaluation, groups: Sequence[CarrierGroup], claim: Claim, sample_id: str
) -> PoweredVerdict:
    """A claim of output power or of harmonics, by the captures of a unit in the claim's windows and mode."""
    named = named_rules(evaluation, claim)
    if claim.limit is None and named is None:
        return PoweredVerdict(Verdict.NOT_SHOWN, "The claim states no figure; write it down with it.")
    supplied = {s.id for s in evaluation.setups if not why_no_capture(claim, s)}
    mine = [g for g in groups_for(groups, claim, sample_id) if any(c.setup_id in supplied for c in g.captures)]
    shown = [g for g in mine if g.measured]
    if not shown:
        said = next((p for g in mine for p in g.problems), "")
        where = f" on {', '.join(w.name for w in claim.windows)}" if claim.windows else ""
        reason = sentence(said) if said else f"There is no capture of this unit{where} yet."
        return PoweredVerdict(Verdict.NOT_SHOWN, reason)
    if named:
        judged = [_by_rules(evaluation, named, g) for g in shown]
    elif claim.quantity is Quantity.EMISSIONS:
        judged = [_harmonics(evaluation, claim, g) for g in shown]
    else:
        judged = [_power(claim, g, evaluation.rule) for g in shown]
    # Of several carriers the worst decides; one that a rule set says nothing of does not pass it.
    worst = worst_verdict(v.verdict for v in judged)
    outside = next((v for v in judged if v.verdict is Verdict.OUTSIDE), None)
    if worst is Verdict.PASS and outside is not None:
        return outside
    return next(v for v in judged if v.verdict is worst)


def _in_windows(claim: Claim, group: CarrierGroup) -> bool:
    if claim.mode and all(c.mode and c.mode.lower() != claim.mode.lower() for c in group.captures):
        return False
    return not claim.windows or any(w.low_hz <= group.carrier_hz <= w.high_hz for w in claim.windows)


def _power(claim: Claim, group: CarrierGroup, rule: DecisionRule) -> PoweredVerdict:
    """At least the claimed watts, with the guard band in dB."""
    carrier = group.carrier
    assert carrier is not None and carrier.level_dbm is not None and claim.limit is not None
    claimed = float(dbm_of_watts(claim.limit))
    verdict = decide(-claimed, -carrier.level_dbm, carrier.u_db, rule)
    watts = float(watts_of_dbm(carrier.level_dbm))
    apart = carrier.level_dbm - claimed
    by, wide = told_apart(abs(apart), 2 * carrier.u_db)
    words = (
        f"{watts:.2g} W ({carrier.level_dbm:.1f} dBm) at {format_mhz(round(carrier.frequency_hz, -3))} MHz, "
        f"{by} dB {'over' if apart >= 0 else 'under'} the {claim.limit:g} W claimed"
    )
    if verdict is Verdict.TOO_CLOSE:
        chance = 100 * conformity_probability(-claimed, -carrier.level_dbm, carrier.u_db)
        words += f", within the uncertainty of {wide} dB; met with a probability of {chance:.0f} %"
    elif guard_band(carrier.u_db, rule):
        words += f", more than the guard band of {wide} dB"
    return PoweredVerdict(verdict, f"{words}.")


def _harmonics(evaluation: Evaluation, claim: Claim, group: CarrierGroup) -> PoweredVerdict:
    """Every harmonic and spur at least so many dB under the carrier, or at most so many dBm."""
    carrier = group.carrier
    assert carrier is not None and carrier.level_dbm is not None and claim.limit is not None
    absolute = claim.unit == "dBm"
    words = f"{claim.limit:g} dBm, as claimed" if absolute else f"{claim.limit:g} dB below the carrier, as claimed"
    dbm = claim.limit if absolute else carrier.level_dbm - claim.limit
    limit = Limit(dbm, words, "claim", ((words, dbm),))
    report = judge_emissions(
        group.measured, limit, evaluation.rule, evaluation.region, every=False, relative=not absolute
    )
    return _worst_of(report)


def named_rules(evaluation: Evaluation, claim: Claim) -> RuleSet | None:
    """The rule set that a claim of emissions names, as `us-97.307`."""
    known = {r.id.lower(): r for r in (*shipped_rule_sets().values(), *evaluation.rule_sets)}
    return known.get(claim.stated.strip().lower()) if claim.quantity is Quantity.EMISSIONS else None


def why_no_capture(claim: Claim, setup: Setup) -> bool:
    """Whether a capture in this setup is of something else than the claim speaks of."""
    if claim.setup_id:
        return setup.id != claim.setup_id
    return setup.role in (Role.ADDED, Role.OPTION)


def _by_rules(evaluation: Evaluation, rules: RuleSet, group: CarrierGroup) -> PoweredVerdict:
    found = _worst_of(report_of(group, rules, evaluation.rule, evaluation.region))
    return replace(found, reason=f"By {rules.id}: {found.reason[:1].lower()}{found.reason[1:]}")


def _worst_of(report: EmissionsReport) -> PoweredVerdict:
    if isinstance(report.limit, NoFigure):
        return PoweredVerdict(Verdict.OUTSIDE, sentence(report.limit.words))
    worst = report.worst
    if worst is None:
        return PoweredVerdict(report.verdict, "No harmonic was looked at.")
    name = f"harmonic {worst.n}" if worst.n else "a spurious emission"
    down = f", {-worst.dbc:.1f} dB below the carrier" if worst.dbc is not None else ""
    where = f"{name} at {format_mhz(round(worst.frequency_hz, -3))} MHz{down}: "
    return PoweredVerdict(report.verdict, sentence(where + worst.reason[:1].lower() + worst.reason[1:]))


def plain_sentence(findings: Sequence[EmissionsFinding], samples: Mapping[str, str]) -> tuple[str, ...]:
    """For each unit that fails a rule set how far, and who answers for it."""
    said = []
    for finding in findings:
        worst = finding.report.worst
        if finding.report.verdict is not Verdict.FAIL or worst is None or worst.margin_db is None:
            continue
        name = f"its harmonic {worst.n}" if worst.n else "an emission that is none of its harmonics"
        said.append(
            f"{samples.get(finding.sample_id, 'The unit')} fails {finding.rule_id}: {name} at "
            f"{format_mhz(round(worst.frequency_hz, -3))} MHz stands {-worst.margin_db:.0f} dB over the limit. Whoever "
            "transmits with it answers for that, whatever a sticker says. Levelmoor gives no legal advice."
        )
    return tuple(said)
