"""What the emissions page shows: the path before anything is keyed, the captures, each harmonic against the limit."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.bench_records import CheckKind
from levelmoor.core.captures import Capture
from levelmoor.core.claims import Claim, Quantity
from levelmoor.core.curve import Curve
from levelmoor.core.decision import Verdict
from levelmoor.core.emission_findings import CarrierGroup, foresee, report_of, same_carrier
from levelmoor.core.emission_path import PathLook, PathPiece, look_along, noise_in, pieces_of
from levelmoor.core.equipment import Instrument
from levelmoor.core.evaluation import Evaluation
from levelmoor.core.gates import BenchBook
from levelmoor.core.judge import Bench
from levelmoor.core.rule_sets import Limit, RuleSet, limit_of
from levelmoor.core.spectral_lines import noise_of
from levelmoor.core.trace import Trace
from levelmoor.core.unit_share import UnitShare, unit_share
from levelmoor.figures.emissions import Row, emission_posts, path_figure

LETTERS = "ABCDEFGHIJ"


@dataclass(frozen=True)
class Asked:
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
    rows: tuple[Row, ...]
    wide: str
    narrow: str
    share: UnitShare | None
    problems: tuple[str, ...]


def usual_path(evaluation: Evaluation, book: BenchBook) -> Asked:
    """What the latest capture used, else what the claims say and the bench has."""
    spectra = [i for i in evaluation.instruments if i.measures_spectra]
    instrument = spectra[0].id if spectra else (evaluation.instruments[0].id if evaluation.instruments else "")
    claims = [c for c in evaluation.claims if c.quantity in (Quantity.EMISSIONS, Quantity.OUTPUT_POWER)]
    power = next((c.power_w or c.limit for c in sorted(claims, key=_by_power) if c.power_w or c.limit), None) or 5.0
    windows = [w for c in claims for w in c.windows]
    carrier = round((windows[0].low_hz + windows[0].high_hz) / 2, -3) if windows else 145e6
    duty = next((c.duty for c in claims if c.duty), 0.25)
    mode = next((c.mode for c in claims if c.mode), "")
    pads = [p for p in book.equipment.pads if book.latest(CheckKind.PAD, item_id=p.id) or p.measured]
    first = max(pads, key=lambda p: p.nominal_db, default=None)
    if evaluation.captures:
        last = evaluation.captures[-1]
        return Asked(
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
    return Asked(carrier, power, duty, (first.id,) if first else (), "", instrument, 30e3, None, mode)


def _by_power(claim: Claim) -> bool:
    return claim.quantity is not Quantity.OUTPUT_POWER


def look(evaluation: Evaluation, book: BenchBook, asked: Asked) -> tuple[PathLook, tuple[str, str]]:
    """The path in words and as a figure, wide and narrow, by the first rule set's limit."""
    instrument = book.instruments.get(asked.instrument_id, Instrument("", "analyzer"))
    nothing = Trace(np.ones(1), np.ones(1))
    capture = Capture(
        "", "", "", "", asked.instrument_id, asked.carrier_hz, nothing, asked.rbw_hz, pad_ids=asked.pad_ids,
        line_id=asked.line_id, offset=asked.offset,
    )  # fmt: skip
    limit = limit_of(evaluation.rule_sets[0], asked.carrier_hz, asked.power_w) if evaluation.rule_sets else None
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
    evaluation: Evaluation, bench: Bench, filters: Sequence[tuple[str, Trace]] = ()
) -> tuple[CarrierView, ...]:
    """Every carrier by every rule set; a filter that was swept is reckoned in beside what was measured."""
    found: list[list[CarrierGroup]] = []
    for group in bench.carriers:
        home = next((g for g in found if same_carrier(group.carrier_hz, g[0].carrier_hz)), None)
        if home is None:
            found.append([group])
        else:
            home.append(group)
    return tuple(_view(evaluation, groups, rules, filters) for groups in found for rules in evaluation.rule_sets)


def _view(
    evaluation: Evaluation, groups: list[CarrierGroup], rules: RuleSet, filters: Sequence[tuple[str, Trace]]
) -> CarrierView:
    labels = {s.id: s.label for s in evaluation.samples}
    shown = [(g, False) for g in groups if g.measured]
    shown += [
        (made, True)
        for g in groups
        if g.measured and not g.filter_name
        for name, through in filters
        if (made := foresee(g, through, name)).measured
    ]
    rows = tuple(
        Row(letter, _name(labels, g, foreseen), report_of(g, rules, evaluation.rule, evaluation.region), foreseen)
        for letter, (g, foreseen) in zip(LETTERS, shown, strict=False)
    )
    bare = [
        r.report.verdict for r, (g, foreseen) in zip(rows, shown, strict=False) if not foreseen and not g.filter_name
    ]
    judged = [v for v in bare if v in (Verdict.PASS, Verdict.FAIL)]
    share = unit_share(judged.count(Verdict.FAIL), len(judged)) if len(judged) > 1 else None
    noise = _noise(groups)
    sized = [
        emission_posts(rows, evaluation.rule, noise, width=w, height=h) if rows else ""
        for w, h in ((760, 360), (390, 340))
    ]
    problems = tuple(p for g in groups for p in g.problems)
    return CarrierView(groups[0].carrier_hz, rules, rows, sized[0], sized[1], share, problems)


def _name(labels: dict[str, str], group: CarrierGroup, foreseen: bool) -> str:
    name = labels.get(group.sample_id, "")
    if foreseen:
        return f"{name} as foreseen with {group.filter_name}"
    return f"{name} with {group.filter_name}" if group.filter_name else name


def _noise(groups: list[CarrierGroup]) -> float | None:
    """The noise of the first trace, corrected for its path at the carrier; None for peak lists."""
    for group in groups:
        for measured in group.measured:
            level = noise_of(measured.spectrum.trace)
            if level > -1e6:
                return level + measured.pad_db
    return None


def pieces_words(pieces: Sequence[PathPiece], carrier_hz: float, up_to: int = 1) -> str:
    """The path in words, with each piece's figure at the carrier and its harmonics; a dash where there is none."""
    told = []
    for p in pieces:
        at = [n * carrier_hz for n in range(1, up_to + 1)]
        figures = [f"{float(p.curve.at(f)):.2f}" if p.curve and p.curve.covers(f, f) else "–" for f in at]
        told.append(f"{p.name} {', '.join(figures)} dB" if set(figures) != {"–"} else f"{p.name}, not measured")
    return "; ".join(told) or "no pad"
