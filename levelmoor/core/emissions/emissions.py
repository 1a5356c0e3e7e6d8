"""Emissions judged: carrier and harmonics corrected for the path, each against its limit, by the same decision rules.

References
----------
.. [1] JCGM 106:2012 and ILAC-G8:09/2019, with the guard band in dB (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from levelmoor.core.emissions.captured_lines import (
    EmissionLine,
    MeasuredCapture,
)
from levelmoor.core.metrology.decision import (
    DecisionRule,
    Verdict,
    conformity_probability,
    decide,
    guard_band,
    worst_verdict,
)
from levelmoor.core.model.rule_sets import Limit, NoFigure
from levelmoor.core.rf.bandplan import band_plan, other_services
from levelmoor.core.rf.levels import watts_of_dbm
from levelmoor.core.words.said import as_sentence, said

DISTORTION_ROOM_DB = 15.0
"""A Fail this near to what the analyzer's input makes by itself needs the test with more pad."""
MORE_PAD_DB = 6.0
"""Two captures whose pads differ by this much tell whether the analyzer made an emission;"""
USUAL_MORE_PAD_DB = 10.0
"""so much is asked for, since the next pad in the box has it (common practice, no source)."""


@dataclass(frozen=True)
class EmissionFinding:
    """One emission against its limit; margin is limit less level. `trusted` names the capture it rests on."""

    n: int
    frequency_hz: float
    level_dbm: float | None
    dbc: float | None
    level_w: float | None
    u_db: float | None
    limit_dbm: float | None
    binding: str
    margin_db: float | None
    verdict: Verdict
    probability: float | None
    reason: str
    trusted: str = ""
    bound: bool = False
    services: tuple[str, ...] = ()


@dataclass(frozen=True)
class EmissionsReport:
    """The carrier, every harmonic, the spurs that are not surely within, and the worst of the verdicts."""

    carrier: EmissionLine
    harmonics: tuple[EmissionFinding, ...]
    spurious: tuple[EmissionFinding, ...]
    limit: Limit | NoFigure
    verdict: Verdict

    @property
    def worst(self) -> EmissionFinding | None:
        """The emission with the least margin, of those the verdict rests on."""
        every = [f for f in (*self.harmonics, *self.spurious) if f.verdict is self.verdict]
        return min(every, key=lambda f: math.inf if f.margin_db is None else f.margin_db, default=None)


def trusted_line(first: EmissionLine, captures: Sequence[MeasuredCapture]) -> tuple[EmissionLine, str, str]:
    """For a line of the first of captures by rising pad the line to rest on, its capture's name, and what the test with
    more pad showed.

    A true emission reads the same corrected level with more pad. One that the analyzer made reads lower, so that the
    capture with more pad is the one to trust, as an upper bound: what is left may be made there too. Where the noise
    hides it with more pad, its bound counts likewise.
    """
    lines = [first, *(c.again(first) for c in captures[1:])]
    known = [(c, line) for c, line in zip(captures, lines, strict=True) if line.level_dbm is not None]
    if not known:
        return first, captures[0].name, ""
    chosen, line = known[0]
    words = ""
    for capture, other in known[1:]:
        if capture.pad_db - chosen.pad_db < MORE_PAD_DB:
            continue
        assert line.level_dbm is not None and other.level_dbm is not None
        fell = line.level_dbm - other.level_dbm
        room = 2 * math.hypot(line.u_db, other.u_db)
        more = capture.pad_db - chosen.pad_db
        if fell < -room:
            words = said("pad.higher", more=more, by=-fell)
            chosen, line = capture, replace(other, cancelled=True)
        elif fell > room:
            words = said("pad.lower", more=more, by=fell)
            chosen, line = capture, replace(other, bound=True, suspect=True)
        elif not other.bound:
            line = replace(line, bound=False, suspect=False, cancelled=False)
            words = said("pad.same", more=more, room=room)
    return line, chosen.name, words


def judge_emissions(
    captures: Sequence[MeasuredCapture],
    limit: Limit | NoFigure,
    rule: DecisionRule,
    region: int = 1,
    every: bool = True,
    relative: bool = False,
    of: int = 0,
) -> EmissionsReport:
    """Every harmonic and spur against the limit, by captures of one carrier; the one with the least pad comes first.

    `every` asks for all emissions and not only for harmonics and what stands out: what the carrier hides then is not
    shown. A `relative` limit is counted from the carrier, whose own uncertainty then belongs to the margin. `of` is how
    many lines are held against limits together, those of other carriers counted; else those of this one.

    Where its analyzer's intercepts are known or asked for, a Fail that the analyzer may have made itself is Not shown
    until the test with more pad: within 15 dB of its stated distortion, or wherever that is not stated.
    """
    ordered = sorted(captures, key=lambda c: (c.pad_db, -c.span_hz, c.name))
    first = ordered[0]
    count = of or len(first.lines)

    def judged_line(line: EmissionLine) -> EmissionFinding:
        """A ratio to the carrier has the carrier's uncertainty too; the two errors are independent."""
        rests, name, tested = trusted_line(line, ordered)
        u = math.hypot(rests.u_db, first.carrier.u_db) if relative else rests.u_db
        return _judged(replace(rests, u_db=u), name, tested, first, limit, rule, region, count)

    harmonics = tuple(judged_line(x) for x in first.lines)
    judged = (judged_line(x) for x in spurs_of(ordered))
    # Of several captures the one that resolves most tells what stands beside the carrier.
    closest = min(ordered, key=lambda c: (any(x.missing for x in c.beside), c.spectrum.rbw_hz, c.span_hz))
    found = {s.frequency_hz for s in spurs_of(ordered)}
    hidden = [x for x in closest.beside if x.level_dbm is None or not _seen_as_spur(x, found, closest)]
    beside = (_judged(x, closest.name, "", first, limit, rule, region, count) for x in (hidden if every else ()))
    spurs = tuple(s for s in (*judged, *beside) if s.verdict not in (Verdict.PASS, Verdict.OUTSIDE))
    verdict = worst_verdict(f.verdict for f in (*harmonics, *spurs))
    return EmissionsReport(first.carrier, harmonics, spurs, limit, verdict)


def _seen_as_spur(bound: EmissionLine, spurs_hz: set[float], capture: MeasuredCapture) -> bool:
    """Whether the highest that the carrier's skirts hide is a line that was found by itself: it is told once."""
    near = max(4 * capture.spectrum.rbw_hz, 1e-4 * capture.carrier.frequency_hz)
    return any(abs(bound.frequency_hz - f) <= near for f in spurs_hz)


def spurs_of(captures: Sequence[MeasuredCapture]) -> list[EmissionLine]:
    """The spurs of all captures, each once: of the first that shows it."""
    found: list[EmissionLine] = []
    for capture in captures:
        near = max(4 * capture.spectrum.rbw_hz, 1e-4 * capture.carrier.frequency_hz)
        found += [s for s in capture.spurs if all(abs(s.frequency_hz - x.frequency_hz) > near for x in found)]
    return sorted(found, key=lambda s: s.frequency_hz)


def _judged(
    line: EmissionLine,
    trusted: str,
    tested: str,
    first: MeasuredCapture,
    limit: Limit | NoFigure,
    rule: DecisionRule,
    region: int,
    of: int,
) -> EmissionFinding:
    n, level, carrier = line.n, line.level_dbm, first.carrier.level_dbm
    bare = EmissionFinding(
        n, line.frequency_hz, level, None, None, None, None, "", None, Verdict.NOT_SHOWN, None,
        as_sentence(line.missing), trusted, line.bound, services_at(line.frequency_hz, region),
    )  # fmt: skip
    known = bare
    if level is not None and carrier is not None:
        known = replace(bare, dbc=level - carrier, level_w=float(watts_of_dbm(level)), u_db=line.u_db)
    if isinstance(limit, NoFigure):  # whether it was measured or not, there is nothing to hold it against
        return replace(known, verdict=Verdict.OUTSIDE, reason=as_sentence(said("rule.no_figure", words=limit.words)))
    known = replace(known, limit_dbm=limit.dbm, binding=limit.binding)
    if level is None or carrier is None:
        return known
    margin = limit.dbm - level
    verdict = decide(limit.dbm, level, line.u_db, rule, of)
    probability: float | None = conformity_probability(limit.dbm, level, line.u_db)
    reason = _reason(verdict, line, margin, limit, rule, probability, of)
    more = USUAL_MORE_PAD_DB
    if line.bound and verdict is not Verdict.PASS:
        verdict, probability = Verdict.NOT_SHOWN, None
        own = said("line.still_own", dbm=level, more=more)
        reason = own if line.suspect else said("line.noise", dbm=level, limit=limit.dbm)
    elif line.torn is not None and verdict is not decide(limit.dbm, line.torn[0], line.u_db, rule, of):
        verdict, probability = Verdict.NOT_SHOWN, None
        reason = said("line.torn", low=line.torn[0], high=line.torn[1])
    elif line.cancelled:
        verdict, probability = Verdict.NOT_SHOWN, None
        reason = said("line.cancelled", dbm=level, more=more)
    elif not tested:
        obstacle = _may_be_the_analyzers(line, first) if verdict is Verdict.FAIL else ""
        if verdict is Verdict.PASS:
            obstacle = _may_be_cancelled(line, first, limit.dbm)
        if obstacle:
            verdict, probability, reason = Verdict.NOT_SHOWN, None, obstacle
    if tested:
        reason = said("line.tested", found=reason, tested=tested)
    return replace(known, margin_db=margin, verdict=verdict, probability=probability, reason=as_sentence(reason))


def _may_be_the_analyzers(line: EmissionLine, capture: MeasuredCapture) -> str:
    """Why a harmonic's Fail needs the test with more pad first, or nothing."""
    intercepts = capture.spectrum.intercepts
    if intercepts is None or line.n == 0:
        return ""
    own = intercepts.own_dbm(line.n, capture.fundamental.indicated_dbm)
    assert line.indicated_dbm is not None
    seen = capture.own_dbm.get(line.n)
    if seen is not None and line.indicated_dbm - seen >= DISTORTION_ROOM_DB:
        return ""  # another unit came as strongly by this path, and so much less was read of it there
    if own is None:
        return said("line.own_unknown", more=USUAL_MORE_PAD_DB)
    above = line.indicated_dbm - own
    if above >= DISTORTION_ROOM_DB:
        return ""
    return said("line.own_near", above=above, room=DISTORTION_ROOM_DB, more=USUAL_MORE_PAD_DB)


def _may_be_cancelled(line: EmissionLine, capture: MeasuredCapture, limit_dbm: float) -> str:
    """Why a harmonic's Pass needs the test with more pad first: what the input makes by its stated intercepts could
    have taken an emission over the limit down to what was read. Nothing where it could not."""
    intercepts = capture.spectrum.intercepts
    own = intercepts.own_dbm(line.n, capture.fundamental.indicated_dbm) if intercepts and line.n else None
    if own is not None:
        own = min(own, capture.own_dbm.get(line.n, own))
    if own is None or line.indicated_dbm is None or line.level_dbm is None:
        return ""
    own_dbm = own + line.level_dbm - line.indicated_dbm
    together = 20 * math.log10(10 ** (own_dbm / 20) + 10 ** (line.level_dbm / 20))
    if together < limit_dbm:
        return ""
    return said("line.could_cancel", own=own_dbm, more=USUAL_MORE_PAD_DB)


def _reason(
    verdict: Verdict,
    line: EmissionLine,
    margin: float,
    limit: Limit,
    rule: DecisionRule,
    probability: float | None,
    of: int,
) -> str:
    repeats = ""
    if line.repeats > 1 and line.torn is None:
        spread = "" if line.spread_db is None else said("line.spread", db=line.spread_db)
        repeats = said("line.repeats", count=line.repeats, spread=spread)
    level = said("line.level", most=line.bound, dbm=line.level_dbm, repeats=repeats)
    guard = guard_band(line.u_db, rule, of if margin < 0 else 1)
    apart, wide = told_apart(abs(margin), guard or 2 * line.u_db)
    side = "under" if margin >= 0 else "over"
    away = said("line.away", level=level, apart=apart, side=side, limit=limit.dbm)
    if verdict is Verdict.TOO_CLOSE:
        return said("line.close", away=away, wide=wide, chance=probability or 0.0)
    return said("line.sure", away=away, wide=wide) if guard else away


def told_apart(first_db: float, second_db: float) -> tuple[str, str]:
    """Both to a tenth of a dB, or to a hundredth where a tenth would not tell them apart."""
    digits = 1 if f"{first_db:.1f}" != f"{second_db:.1f}" else 2
    return f"{first_db:.{digits}f}", f"{second_db:.{digits}f}"


def services_at(frequency_hz: float, region: int) -> tuple[str, ...]:
    """The bands of the band data that a frequency falls into: an emission there meets somebody."""
    plans = (band_plan(region), other_services())
    return tuple(b.name for p in plans for b in p.bands if b.low_hz <= frequency_hz <= b.high_hz)
