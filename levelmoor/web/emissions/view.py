"""What the emissions page shows: the path before anything is keyed, the captures, each harmonic against the limit."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.emissions.emission_findings import EmissionsFinding, foresee, report_of, same_carrier
from levelmoor.core.emissions.emission_path import PathLook, look_along, noise_in, pieces_of
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import Findings
from levelmoor.core.metrology.decision import Verdict, worst_verdict
from levelmoor.core.metrology.unit_share import UnitShare, unit_share
from levelmoor.core.model.bench_records import CheckKind
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.rule_sets import Limit, RuleSet, limit_of
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.trace import Trace
from levelmoor.figures.emissions import PostRow, emission_posts, path_figure

LETTERS = "ABCDEFGHIJ"


@dataclass(frozen=True)
class PathAsked:
    """The path that is looked at: as typed for the next capture, or as the claims and the plan have it."""

    carrier_hz: float
    power_w: float
    duty: float
    pad_ids: tuple[str, ...]
    line_id: str
    instrument_id: str
    rbw_hz: float
    offset: Curve | None = None
    mode: str = ""


@dataclass(frozen=True, eq=False)
class CarrierView:
    """One carrier by one rule set: units and filters side by side."""

    carrier_hz: float
    rules: RuleSet
    rows: tuple[PostRow, ...]
    wide: str
    narrow: str
    share: UnitShare | None
    problems: tuple[str, ...]


def usual_path(evaluation: Evaluation, book: BenchBook) -> PathAsked:
    """What the latest capture used, else what the claims say and the bench has."""
    spectra = [i for i in evaluation.instruments_in_use if i.measures_spectra]
    instrument = spectra[0].id if spectra else (evaluation.instruments[0].id if evaluation.instruments else "")
    claims = [c for c in evaluation.claims if c.quantity.spec.shown_by is ShownBy.CAPTURE]
    power = next((c.power_w or c.limit for c in sorted(claims, key=_by_power) if c.power_w or c.limit), None) or 5.0
    windows = [w for c in claims for w in c.windows]
    carrier = round((windows[0].low_hz + windows[0].high_hz) / 2, -3) if windows else 145e6
    duty = next((c.duty for c in claims if c.duty), 0.25)
    mode = next((c.mode for c in claims if c.mode), "")
    pads = [p for p in book.equipment.in_use.pads if book.latest(CheckKind.PAD, item_id=p.id) or p.measured]
    first = max(pads, key=lambda p: p.nominal_db, default=None)
    if evaluation.captures:
        last = evaluation.captures[-1]
        return PathAsked(
            last.carrier_hz,
            power,
            duty,
            last.pad_ids,
            last.line_id,
            last.instrument_id,
            last.rbw_hz,
            last.offset,
            last.mode,
        )
    return PathAsked(carrier, power, duty, (first.id,) if first else (), "", instrument, 30e3, None, mode)


def _by_power(claim: Claim) -> bool:
    return claim.quantity is not Quantity.OUTPUT_POWER


def look(evaluation: Evaluation, book: BenchBook, asked: PathAsked) -> tuple[PathLook, tuple[str, str]]:
    """The path in words and as a figure, wide and narrow, by the first rule set's limit."""
    instrument = book.instruments.get(asked.instrument_id, Instrument("", "analyzer"))
    nothing = Trace(np.ones(1), np.ones(1))
    capture = Capture(
        "", "", "", "", asked.instrument_id, asked.carrier_hz, nothing, asked.rbw_hz, pad_ids=asked.pad_ids,
        line_id=asked.line_id, offset=asked.offset,
    )  # fmt: skip
    limit = (
        limit_of(evaluation.rule_sets[0], asked.carrier_hz, asked.power_w, evaluation.region)
        if evaluation.rule_sets
        else None
    )
    found = look_along(
        asked.power_w,
        asked.duty,
        asked.carrier_hz,
        pieces_of(book, capture),
        instrument,
        limit.dbm if isinstance(limit, Limit) else None,
        noise_in(book, instrument, asked.rbw_hz),
    )
    return found, (path_figure(found), path_figure(found, width=390, height=300))


def carriers(
    evaluation: Evaluation, findings: Findings, bench: Dossier | None = None, filters: Sequence[tuple[str, Trace]] = ()
) -> tuple[CarrierView, ...]:
    """Every carrier by every rule set, from what was found; with the bench, a filter that was swept is reckoned in
    beside what was measured."""
    rules = {r.id: r for r in evaluation.rule_sets}
    found: list[list[EmissionsFinding]] = []
    for one in findings.emissions:
        home = next((g for g in found if g[0].rule_id == one.rule_id and _same(g[0], one)), None)
        if home is None:
            found.append([one])
        else:
            home.append(one)
    views = [
        _view(evaluation, group, rules[group[0].rule_id], findings, bench, filters)
        for group in found
        if group[0].rule_id in rules
    ]
    told = {v.carrier_hz for v in views}
    silent = {hz: words for hz, words in findings.emission_problems if not any(same_carrier(hz, t) for t in told)}
    empty = tuple(
        CarrierView(hz, r, (), "", "", None, (words,)) for hz, words in silent.items() for r in evaluation.rule_sets
    )
    return (*views, *empty)


def _same(one: EmissionsFinding, other: EmissionsFinding) -> bool:
    return same_carrier(one.carrier_hz, other.carrier_hz)


def _view(
    evaluation: Evaluation,
    found: list[EmissionsFinding],
    rules: RuleSet,
    findings: Findings,
    bench: Dossier | None,
    filters: Sequence[tuple[str, Trace]],
) -> CarrierView:
    labels = {s.id: s.label for s in evaluation.samples}
    counted = {s.id for s in evaluation.samples if s.counted}
    named = [(_name(labels, f.sample_id, f.filter_name, False), f.report, False) for f in found]
    for group in bench.carriers if bench else ():
        if not group.measured or group.filter_name or not same_carrier(group.carrier_hz, found[0].carrier_hz):
            continue
        for name, through in filters:
            made = foresee(group, through, name)
            if made.measured:
                report = report_of(made, rules, evaluation.rule, evaluation.region)
                named.append((_name(labels, group.sample_id, name, True), report, True))
    rows = tuple(PostRow(letter, *one) for letter, one in zip(LETTERS, named, strict=False))
    bare: dict[str, list[Verdict]] = {}
    for one in found:
        if not one.filter_name and one.sample_id in counted:
            bare.setdefault(one.sample_id, []).append(one.report.verdict)
    judged = [v for v in map(worst_verdict, bare.values()) if v in (Verdict.PASS, Verdict.FAIL)]
    share = unit_share(judged.count(Verdict.FAIL), len(judged)) if len(judged) > 1 else None
    noise = next((f.noise_dbm for f in found if f.noise_dbm is not None), None)
    sized = [
        emission_posts(rows, evaluation.rule, noise, width=w, height=h) if rows else ""
        for w, h in ((760, 360), (390, 340))
    ]
    hz = found[0].carrier_hz
    problems = tuple(words for at, words in findings.emission_problems if same_carrier(hz, at))
    return CarrierView(hz, rules, rows, sized[0], sized[1], share, problems)


def _name(labels: dict[str, str], sample_id: str, filter_name: str, foreseen: bool) -> str:
    name = labels.get(sample_id, "")
    if foreseen:
        return f"{name} as expected with {filter_name}"
    return f"{name} with {filter_name}" if filter_name else name
