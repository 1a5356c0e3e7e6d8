"""Emissions in an evaluation: captures grouped by state and carrier, judged by each rule set."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.emissions.captured_lines import (
    USUAL_HARMONICS,
    CannotMeasure,
    EmissionLine,
    Intercepts,
    MeasuredCapture,
    Path,
    Spectrum,
    measure,
)
from levelmoor.core.emissions.emission_path import path_of, pieces_of
from levelmoor.core.emissions.emission_repeats import mean_of
from levelmoor.core.emissions.emissions import EmissionsReport, judge_emissions
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.rule_sets import Limit, RuleSet, limit_of
from levelmoor.core.model.state import Role
from levelmoor.core.rf.levels import watts_of_dbm
from levelmoor.core.rf.spectral_lines import noise_of
from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.said import said

SAME_CARRIER = 5e-4
AS_STRONGLY_DB = 1.0
"""Another unit's carrier that comes no weaker than by this tells what the analyzer makes of one as strong."""
NO_LEVEL_DBM = -1e6
"""Lower than any level: what a list of peaks tells of its noise."""


def same_carrier(one_hz: float, other_hz: float) -> bool:
    """Whether captures are of one carrier: what they are said to be differs by no more than that share."""
    return abs(one_hz - other_hz) <= SAME_CARRIER * one_hz


@dataclass(frozen=True, eq=False)
class CarrierGroup:
    """Captures of one unit in one state on one carrier, by what it is said to be, in one mode, without or with a
    filter; what they show, or why not.

    Repeats are one of `measured`.
    """

    carrier_hz: float
    filter_name: str
    members: tuple[Capture, ...]
    spectra: tuple[Spectrum, ...]
    measured: tuple[MeasuredCapture, ...]
    problems: tuple[str, ...]

    @property
    def key(self) -> tuple[str, ...]:
        return tuple(c.id for c in self.members)

    @property
    def latest(self) -> Capture:
        return self.members[-1]

    @property
    def sample_id(self) -> str:
        return self.latest.sample_id

    @property
    def name(self) -> str:
        return self.latest.name

    @property
    def names(self) -> str:
        return self.name + (f" and {len(self.members) - 1} more" if len(self.members) > 1 else "")

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
    setup_id: str = ""
    noise_dbm: float | None = None
    """The noise of the capture with the least pad, corrected for its path at the carrier; None where none is told."""


def groups_of(evaluation: Evaluation, book: BenchBook, set_aside: bool = False) -> tuple[CarrierGroup, ...]:
    """The captures that are heard in groups, or those that were set aside, in the order in which the first of each
    came."""
    found: list[list[Capture]] = []
    for capture in (c for c in evaluation.captures if bool(c.set_aside) is set_aside):
        home = next((g for g in found if _together(g[0], capture)), None)
        if home is None:
            found.append([capture])
        else:
            home.append(capture)
    return _bounded_by_others(tuple(_group(book, tuple(g)) for g in found))


def _together(one: Capture, other: Capture) -> bool:
    def state(c: Capture) -> tuple[object, ...]:
        return (c.sample_id, c.setup_id, c.setting_id, c.round, c.filter_name, c.mode.lower())

    return state(one) == state(other) and same_carrier(one.carrier_hz, other.carrier_hz)


def _group(book: BenchBook, captures: tuple[Capture, ...]) -> CarrierGroup:
    spectra = tuple(_spectrum(book, c) for c in captures)
    return _measured(captures[0].carrier_hz, captures[0].filter_name, captures, spectra)


def _measured(
    carrier_hz: float, filter_name: str, captures: tuple[Capture, ...], spectra: tuple[Spectrum, ...]
) -> CarrierGroup:
    """What spectra show, in the order of their captures; those by one path on one day are repeats."""
    by_path: dict[tuple[object, ...], list[MeasuredCapture]] = {}
    problems: list[str] = []
    for capture, spectrum in zip(captures, spectra, strict=True):
        try:
            found = measure(spectrum, capture.carrier_hz, USUAL_HARMONICS)
            by_path.setdefault((*_way(capture), _span(spectrum), capture.taken_on[:10]), []).append(found)
        except ValueError as problem:
            why = problem.why if isinstance(problem, CannotMeasure) else str(problem)
            problems.append(said("capture.problem", name=capture.name, why=why))
    measured = tuple(mean_of(m) for m in by_path.values())
    return CarrierGroup(carrier_hz, filter_name, captures, spectra, measured, tuple(problems))


def _way(capture: Capture) -> tuple[object, ...]:
    """The path that a capture came by, with what the analyzer was set to."""
    return (capture.instrument_id, capture.pad_ids, capture.line_id, capture.offset, capture.rbw_hz)


def _span(spectrum: Spectrum) -> tuple[float, ...]:
    return tuple(round(float(x), -4) for x in spectrum.trace.frequency_hz[[0, -1]])


def _bounded_by_others(groups: tuple[CarrierGroup, ...]) -> tuple[CarrierGroup, ...]:
    """Every capture with what the analyzer makes at the most, as other units by the same path show it."""

    def ways(group: CarrierGroup) -> dict[str, tuple[object, ...]]:
        return {c.name: _way(c) for c in group.members}

    every = [(g.sample_id, ways(g).get(m.spectrum.name), m) for g in groups for m in g.measured]

    def bounded(group: CarrierGroup, one: MeasuredCapture) -> MeasuredCapture:
        way, most = ways(group).get(one.spectrum.name), dict[int, float]()
        for sample_id, other_way, other in every:
            weaker = other.fundamental.indicated_dbm < one.fundamental.indicated_dbm - AS_STRONGLY_DB
            if sample_id == group.sample_id or other_way != way or weaker:
                continue
            if not same_carrier(one.fundamental.frequency_hz, other.fundamental.frequency_hz):
                continue
            for line in other.lines:
                if line.indicated_dbm is not None:
                    most[line.n] = min(most.get(line.n, line.indicated_dbm), line.indicated_dbm)
        return replace(one, own_dbm=most) if most else one

    return tuple(replace(g, measured=tuple(bounded(g, m) for m in g.measured)) for g in groups)


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
            report_of(group, rules, evaluation.rule, evaluation.region, lines_beside(groups, group)),
            group.key,
            group.latest.setup_id,
            noise_under(group),
        )
        for group in groups
        if group.measured
        for rules in evaluation.rule_sets
    )


def lines_beside(groups: Sequence[CarrierGroup], group: CarrierGroup) -> int:
    """How many harmonics of a unit are held against limits together, on all of its carriers in one setup."""
    same = (g for g in groups if (g.sample_id, g.latest.setup_id) == (group.sample_id, group.latest.setup_id))
    return sum(len(g.measured[0].lines) for g in same if g.measured)


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
    return _measured(group.carrier_hz, name, group.members, spectra)


def report_of(group: CarrierGroup, rules: RuleSet, rule: DecisionRule, region: int, of: int = 0) -> EmissionsReport:
    carrier = group.carrier
    assert carrier is not None and carrier.level_dbm is not None
    limit = limit_of(rules, carrier.frequency_hz, float(watts_of_dbm(carrier.level_dbm)), region)
    relative = isinstance(limit, Limit) and limit.relative
    return judge_emissions(group.measured, limit, rule, region, relative=relative, of=of)


def as_supplied(evaluation: Evaluation, finding: EmissionsFinding) -> bool:
    """Whether a finding is of the unit as it came, and not of what was added to it or of another place."""
    setup = next((s for s in evaluation.setups if s.id == finding.setup_id), None)
    return not finding.filter_name and (setup is None or setup.role is Role.AS_SUPPLIED)


def what_fails(n: int) -> str:
    """What a line is called that stands over its limit."""
    return f"its harmonic {n}" if n else "an emission that is not a harmonic"


def plain_sentence(evaluation: Evaluation, findings: Sequence[EmissionsFinding]) -> tuple[str, ...]:
    """For each unit that fails a rule set how far, and who answers for it."""
    labels: Mapping[str, str] = {s.id: s.label for s in evaluation.samples}
    told = []
    for finding in findings:
        worst = finding.report.worst
        failed = finding.report.verdict is Verdict.FAIL and as_supplied(evaluation, finding)
        if not failed or worst is None or worst.margin_db is None:
            continue
        told.append(
            said(
                "emission.fails",
                unit=labels.get(finding.sample_id, "The unit"),
                rules=finding.rule_id,
                what=what_fails(worst.n),
                at=worst.frequency_hz,
                over=-worst.margin_db,
            )
        )
    return tuple(told)
