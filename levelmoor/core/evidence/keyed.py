"""Captures of a keyed radio as evidence of its output power and its emissions, carrier by carrier."""

from collections.abc import Sequence

from levelmoor.core.bench.gates import Gate, GateState
from levelmoor.core.emissions.emission_findings import CarrierGroup, lines_beside, report_of, same_carrier
from levelmoor.core.emissions.emission_path import pieces_of
from levelmoor.core.emissions.emissions import EmissionsReport, judge_emissions, told_apart
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import Figure, GatedKind, Question
from levelmoor.core.metrology.decision import (
    VERDICT_WORDS,
    Verdict,
    conformity_probability,
    decide,
    guard_band,
)
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.rule_sets import Limit, NoFigure, RuleSet, shipped_rule_sets
from levelmoor.core.rf.levels import dbm_of_watts, watts_of_dbm
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import as_sentence, said

POWER_WITHIN_DB = 1.0
"""A radio keyed at a claimed power gives that to within so much: its stage, its battery (common practice, no
source)."""


class Keyed(GatedKind[CarrierGroup]):
    """Captures in groups: one state, one carrier by what it is said to be, one mode; the unit as it came."""

    todo = "capture"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        super().__init__(question, dossier)
        self.rules = named_rules(question.evaluation, self.claim)

    def pieces(self) -> Sequence[CarrierGroup]:
        return [g for g in self.dossier.carriers if self._mine(g)]

    def _mine(self, group: CarrierGroup) -> bool:
        if group.sample_id != self.question.sample_id or group.filter_name:
            return False
        modes = {c.mode.lower() for c in group.members}
        return not self.claim.mode or "" in modes or self.claim.mode.lower() in modes

    def set_aside(self) -> Sequence[tuple[CarrierGroup, str]]:
        return [(g, g.latest.set_aside) for g in self.dossier.carriers_aside if self._mine(g)]

    def covers(self, piece: CarrierGroup, window: Window | None) -> float:
        inside = window is None or window.low_hz <= piece.carrier_hz <= window.high_hz
        return float("inf") if inside else 0.0

    def same_place(self, one: CarrierGroup, other: CarrierGroup) -> bool:
        return same_carrier(one.carrier_hz, other.carrier_hz)

    def nothing(self, window: Window | None) -> str:
        where = said("nothing.on", windows=window.name) if window else ""
        mode = self.claim.mode
        return said("nothing.mode", where=where, mode=mode) if mode else said("nothing.capture", where=where)

    def shown(self, piece: CarrierGroup, window: Window | None) -> tuple[Verdict, str, Figure | None]:
        if not piece.measured:
            return Verdict.NOT_SHOWN, as_sentence(next(iter(piece.problems), "")) or self.nothing(window), None
        if self.claim.quantity is Quantity.OUTPUT_POWER:
            return self._power(piece)
        return self._at_the_power(piece, self._emissions(piece))

    def gates(self, piece: CarrierGroup, window: Window | None) -> Sequence[Gate]:
        """A path that was measured on the bench, where the bench is to be proven."""
        if self.dossier.book.rule is not BenchRule.PROVEN:
            return ()
        by_hand = any(p.by_hand for c in piece.members for p in pieces_of(self.dossier.book, c))
        if by_hand:
            return (Gate("Path", GateState.MISSING, said("gate.path_by_hand")),)
        return (Gate("Path", GateState.PASSED, said("gate.path_measured")),)

    # -- Power -------------------------------------------------------------------------------------------------------

    def _carriers(self) -> int:
        """How many carriers are held against the claim together."""
        return max(1, sum(bool(g.measured) for g in self.pieces()))

    def _power(self, group: CarrierGroup) -> tuple[Verdict, str, Figure | None]:
        """At least the claimed watts, with the guard band in dB."""
        carrier = group.carrier
        assert carrier is not None and carrier.level_dbm is not None and self.claim.limit is not None
        claimed, rule, of = float(dbm_of_watts(self.claim.limit)), self.question.evaluation.rule, self._carriers()
        level = carrier.torn[0] if carrier.torn else carrier.level_dbm
        verdict = decide(-claimed, -level, carrier.u_db, rule, of)
        if carrier.torn and decide(-claimed, -carrier.torn[1], carrier.u_db, rule, of) is not verdict:
            return Verdict.NOT_SHOWN, as_sentence(said("line.torn", low=carrier.torn[0], high=carrier.torn[1])), None
        margin = level - claimed
        guard = guard_band(carrier.u_db, rule, of if margin < 0 else 1)
        by, wide = told_apart(abs(margin), guard or 2 * carrier.u_db)
        end = said("power.sure", wide=wide) if guard else ""
        if verdict is Verdict.TOO_CLOSE:
            end = said("power.close", wide=wide, chance=conformity_probability(-claimed, -level, carrier.u_db))
        reason = said(
            "power.reads",
            watts=float(watts_of_dbm(level)),
            dbm=level,
            at=carrier.frequency_hz,
            by=by,
            side="over" if margin >= 0 else "under",
            claimed=self.claim.limit,
            end=end,
        )
        words = f"{float(watts_of_dbm(level)):.2g} W"
        return verdict, reason, Figure(level, carrier.u_db, margin, words)

    # -- Emissions ---------------------------------------------------------------------------------------------------

    def _emissions(self, group: CarrierGroup) -> tuple[Verdict, str, Figure | None]:
        """Every harmonic and spur by a named rule set, or so many dB under the carrier, or at most so many dBm."""
        of = lines_beside(self.pieces(), group)
        evaluation, claim = self.question.evaluation, self.claim
        if self.rules is not None:
            report = report_of(group, self.rules, evaluation.rule, evaluation.region, of)
            verdict, reason, figure = _worst_of(report)
            return verdict, said("emission.by_rules", rules=self.rules.id, found=reason), figure
        carrier = group.carrier
        assert carrier is not None and carrier.level_dbm is not None and claim.limit is not None
        absolute = claim.unit == "dBm"
        words = f"{claim.limit:g} dBm, as claimed" if absolute else f"{claim.limit:g} dB below the carrier, as claimed"
        dbm = claim.limit if absolute else carrier.level_dbm - claim.limit
        limit = Limit(dbm, words, "claim", ((words, dbm),))
        return _worst_of(
            judge_emissions(
                group.measured,
                limit,
                evaluation.rule,
                evaluation.region,
                every=False,
                relative=not absolute,
                of=of,
            )
        )

    def _at_the_power(
        self, group: CarrierGroup, found: tuple[Verdict, str, Figure | None]
    ) -> tuple[Verdict, str, Figure | None]:
        """More power makes emissions worse: what is kept with less than is claimed is not shown, what fails fails."""
        verdict, reason, figure = found
        carrier, claimed = group.carrier, self.claim.power_w
        if claimed is None or carrier is None or carrier.level_dbm is None or verdict is Verdict.FAIL:
            return found
        if carrier.level_dbm >= float(dbm_of_watts(claimed)) - POWER_WITHIN_DB - 2 * carrier.u_db:
            return found
        watts = float(watts_of_dbm(carrier.level_dbm))
        if verdict is Verdict.NOT_SHOWN:
            return verdict, said("emission.at_power", claimed=claimed, watts=watts, found=reason), figure
        words = VERDICT_WORDS[verdict]
        less = said("emission.less_power", watts=watts, verdict=words, claimed=claimed, found=reason)
        return (
            Verdict.NOT_SHOWN,
            as_sentence(said("emission.at_power", claimed=claimed, watts=watts, found=less)),
            figure,
        )


def named_rules(evaluation: Evaluation, claim: Claim) -> RuleSet | None:
    """The rule set that a claim of emissions names, as `us-97.307`."""
    known = {r.id.lower(): r for r in (*shipped_rule_sets().values(), *evaluation.rule_sets)}
    return known.get(claim.stated.strip().lower()) if claim.quantity is Quantity.EMISSIONS else None


def _worst_of(report: EmissionsReport) -> tuple[Verdict, str, Figure | None]:
    if isinstance(report.limit, NoFigure):
        return Verdict.OUTSIDE, as_sentence(said("rule.no_figure", words=report.limit.words)), None
    worst = report.worst
    if worst is None:
        return report.verdict, said("emission.nothing"), None
    reason = said(
        "emission.worst",
        what=f"harmonic {worst.n}" if worst.n else "a spurious emission",
        at=worst.frequency_hz,
        down=said("emission.down", db=-worst.dbc) if worst.dbc is not None else "",
        found=worst.reason,
    )
    figure = None
    if worst.level_dbm is not None and worst.margin_db is not None and worst.u_db is not None:
        words = f"{worst.level_dbm:.1f} dBm" + (f", {-worst.dbc:.1f} dB down" if worst.dbc is not None else "")
        figure = Figure(worst.level_dbm, worst.u_db, worst.margin_db, words)
    return report.verdict, as_sentence(reason), figure
