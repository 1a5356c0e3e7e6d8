"""Everything behind the evidence of an evaluation, found once: pieces, planes, gates, readings."""

from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property

from levelmoor.core.bench.at_plane import AtPlane, at_plane
from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.gates import Gate, gates_of, is_meter, obstacle
from levelmoor.core.emissions.emission_findings import groups_of
from levelmoor.core.emissions.emission_path import pieces_of
from levelmoor.core.evidence.admission import loads_of_trials
from levelmoor.core.evidence.pieces import Piece, certain_share, repeat_groups
from levelmoor.core.evidence.rounds import Rounds
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.metrology.uncertainty import standard_uncertainty
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Setup
from levelmoor.core.model.reading_sheets import ReadingSheet
from levelmoor.core.model.state import Setting
from levelmoor.core.readings.expected import expected_of
from levelmoor.core.readings.reading_sheet import Entry, sheet_lines
from levelmoor.core.readings.reading_sweep import join_readings
from levelmoor.core.readings.readings import READING_WORDS, ReadingKind
from levelmoor.core.readings.slips import Expected
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis, analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import WindowFinding, judge_window
from levelmoor.core.words.said import said

LINE_WITHIN = 0.1
"""A feed line is of the impedance that SWR refers to where it differs by no more than this share."""


class Dossier:
    """Look-ups by id, the bench behind each piece of evidence, and every piece read once per impedance."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.setups: Mapping[str, Setup] = {s.id: s for s in evaluation.setups}
        self.settings: Mapping[str, Setting] = {s.id: s for s in evaluation.settings}
        self.book, self.rounds = BenchBook(evaluation), Rounds(evaluation)
        self._placed: dict[tuple[str, ...], AtPlane] = {}
        self._readings: dict[tuple[tuple[str, ...], float], SweepAnalysis] = {}
        self._gates: dict[tuple[str, Window | None], tuple[Gate, ...]] = {}
        self._not_reached: dict[tuple[tuple[str, ...], Window, float], WindowFinding] = {}
        self._judged: dict[tuple[tuple[str, ...], Window, float, float, DecisionRule], WindowFinding] = {}
        self.leaps: dict[tuple[tuple[str, ...], str, Window], int] = {}
        """At how many points of a window a repeat leaps, by piece, repeat and window: no limit changes that."""
        self.u_of_dips: dict[tuple[tuple[str, ...], Window], float] = {}
        """The standard uncertainty of a dip in Hz, by piece and window, as far as it was asked for."""
        self._of_sheets = sheets_as_evidence(evaluation)
        loads = loads_of_trials(evaluation)
        self._sweeps = tuple(e for e in (*evaluation.sweeps, *self._of_sheets) if e.id not in loads)
        self.carriers = groups_of(evaluation, self.book)
        self.carriers_aside = groups_of(evaluation, self.book, set_aside=True)
        self.paths = [(c, pieces_of(self.book, c)) for c in evaluation.captures]
        self.pieces = self._pieces(evaluation)
        self._of = {e.id: p for p in self.pieces for e in p.members}

    def _pieces(self, evaluation: Evaluation) -> tuple[Piece, ...]:
        """The evidence that is not set aside, repeats together; what the bench holds up repeats nothing."""
        heard = [e for e in self._sweeps if not e.set_aside]
        sound = [e for e in heard if not obstacle(self.gates(e))]
        groups = repeat_groups(sound) + [(e,) for e in heard if e not in sound]
        order = {e.id: i for i, e in enumerate(self._sweeps)}
        return tuple(Piece(g) for g in sorted(groups, key=lambda g: order[g[-1].id]))

    @property
    def points(self) -> int:
        """Of all sweeps."""
        return sum(e.sweep.points for e in self._sweeps)

    def is_sweep(self, piece: Piece) -> bool:
        """Whether a piece is of sweeps and not of a sheet of readings."""
        return all(piece.latest is not e for e in self._of_sheets)

    def piece(self, evidence: Evidence) -> Piece:
        """The piece a sweep is part of; one that is set aside stands alone."""
        return self._of.get(evidence.id) or Piece((evidence,))

    @cached_property
    def _repeats(self) -> Mapping[str, int]:
        known = [p.members for p in self.pieces]
        apart = len(self._of) < len(self._sweeps) or any(obstacle(self.gates(e)) for e in self._sweeps)
        return {e.id: len(group) for group in (repeat_groups(self._sweeps) if apart else known) for e in group}

    def repeats(self, sweep_id: str) -> int:
        """How many repeats of one setup a sweep is one of, itself counted."""
        return self._repeats.get(sweep_id, 1)

    def of_sample(self, sample_id: str) -> list[Piece]:
        return [p for p in self.pieces if p.latest.sample_id == sample_id]

    def current(self, sample_id: str, setup_id: str) -> list[Piece]:
        """The pieces of a sample in a setup that are not history: those of each setting's latest round."""
        mine = [p for p in self.of_sample(sample_id) if p.latest.setup_id == setup_id]
        last = self.rounds.latest
        return [p for p in mine if p.latest.round == last(sample_id, setup_id, p.latest.setting_id)]

    def in_setting_for(self, evidence: Evidence, window: Window) -> bool:
        """Whether the sweep was taken in a setting that is meant for the window, or the article has none."""
        setting = self.settings.get(evidence.setting_id)
        return not self.settings or (setting is not None and setting.meant_for(window))

    def setup(self, evidence: Evidence) -> Setup:
        return self.setups[evidence.setup_id]

    def instrument(self, evidence: Evidence) -> Instrument:
        return self.book.instruments[evidence.instrument_id]

    def placed(self, piece: Piece) -> AtPlane:
        """The piece with its figures, at the plane it is judged at."""
        if piece.key not in self._placed:
            evidence = piece.evidence
            self._placed[piece.key] = at_plane(self.book, evidence, self.setup(evidence), self._repeat(piece))
        return self._placed[piece.key]

    def _repeat(self, piece: Piece) -> Curve | None:
        """Half of what repeats leave open: of their own mean, or for a sweep that was not repeated by others of the
        same sample, setup and instrument on that day that overlap it, since all of them stand in the same wind.
        """
        if piece.stray is not None:
            return _scaled(piece.stray, certain_share(len(piece.members), of_mean=True))
        one = piece.latest
        for other in self.pieces:
            kin = all(getattr(other.latest, n) == getattr(one, n) for n in ("sample_id", "setup_id", "instrument_id"))
            if not kin or len(other.members) < FEWEST or other.spread.sd is None:
                continue
            if len({e.taken_on[:10] for e in (other.latest, one) if e.taken_on}) > 1:
                continue  # another day, another wind
            if other.evidence.sweep.cut(one.sweep.low_hz, one.sweep.high_hz):
                return _scaled(other.spread.sd, certain_share(len(other.members), of_mean=False))
        return None

    def analysis(self, piece: Piece, z0_ohm: float) -> SweepAnalysis:
        key = (piece.key, z0_ohm)
        if key not in self._readings:
            self._readings[key] = analyse_sweep(self.placed(piece).sweep, z0_ohm)
        return self._readings[key]

    def gates(self, evidence: Evidence, window: Window | None = None) -> tuple[Gate, ...]:
        key = (evidence.id, window)
        if key not in self._gates:
            self._gates[key] = gates_of(self.book, evidence, self.setup(evidence), window)
        return self._gates[key]

    def disqualified(self, piece: Piece, window: Window) -> str:
        """Why the piece cannot count for a window, by the bench; nothing where it can."""
        return obstacle(self.gates(piece.latest, window))

    def judged(
        self,
        piece: Piece,
        window: Window,
        limit: float,
        z0_ohm: float,
        rule: DecisionRule,
        disqualified: str = "",
        instead: Sweep | None = None,
    ) -> WindowFinding:
        """One piece against a limit in one window; `instead` of what was swept by what it may be."""
        if instead is not None or disqualified:
            return self._judge(piece, window, limit, z0_ohm, rule, disqualified, instead)
        reach = (piece.key, window, z0_ohm)
        if reach in self._not_reached:
            return replace(self._not_reached[reach], limit_swr=limit)
        key = (*reach, limit, rule)
        if key not in self._judged:
            found = self._judged[key] = self._judge(piece, window, limit, z0_ohm, rule)
            if found.worst is None:  # whatever the limit is
                self._not_reached[reach] = found
        return self._judged[key]

    def _judge(
        self,
        piece: Piece,
        window: Window,
        limit: float,
        z0_ohm: float,
        rule: DecisionRule,
        disqualified: str = "",
        instead: Sweep | None = None,
    ) -> WindowFinding:
        placed = self.placed(piece)
        figures = placed.figures_at(float(gamma_from_swr(limit)))
        reason = disqualified or self.disqualified(piece, window)
        sweeps = [m.sweep for m in piece.members] if instead is None else []
        analysis = self.analysis(piece, z0_ohm) if instead is None else analyse_sweep(instead, z0_ohm)
        facts = is_meter(self.book, piece.latest.instrument_id)
        found = judge_window(analysis, window, limit, figures, rule, reason, sweeps, facts)
        return self._at_the_shack(piece, found, z0_ohm) if placed.plane is Plane.SHACK else found

    def _at_the_shack(self, piece: Piece, found: WindowFinding, z0_ohm: float) -> WindowFinding:
        """Loss in the line lowers the SWR at its shack end: a Fail there holds at the antenna, a Pass does not, and
        neither does where the line's own impedance is another than the one judged by."""
        if found.verdict is Verdict.NOT_SHOWN:
            return found
        line = self.book.line_z0_ohm(self.setup(piece.latest))
        if found.verdict is Verdict.FAIL:
            if line is None:
                swr = found.worst.swr if found.worst else 1.0
                return _not_shown(found, said("plane.no_line", swr=swr))
            if abs(line / z0_ohm - 1) > LINE_WITHIN:
                return _not_shown(found, said("plane.other_line", line=line))
            return replace(found, reason=said("plane.holds", found=found.reason, line=z0_ohm))
        return _not_shown(found, said("plane.loss"))

    def accuracy(self, piece: Piece, window: Window, limit: float) -> float:
        """What ranks pieces: u at the limit in the window's middle by what is stated and proven of the instrument, so
        that neither a better result nor having repeated is a reason to be preferred or passed over.
        """
        placed, middle = self.placed(piece), (window.low_hz + window.high_hz) / 2
        level = float(gamma_from_swr(limit))
        figures = replace(placed.figures_at(level), repeat=None, repeat_u=0.0)
        u = standard_uncertainty(level, figures, placed.sweep.half_step_at(middle), middle)
        return round(float(u), 9)


def sheets_as_evidence(evaluation: Evaluation) -> tuple[Evidence, ...]:
    """The sheets of readings that were not joined into a sweep, each as one: points as a person read them."""
    open_ = (sheet for sheet in evaluation.readings if not sheet.sweep_id)
    return tuple(e for sheet in open_ if (e := _of_sheet(sheet, expected_of(evaluation, sheet.instrument_id))))


def _of_sheet(sheet: ReadingSheet, expected: Expected) -> Evidence | None:
    kind = ReadingKind(sheet.kind)
    entries = [Entry(r.entry_id, dict(r.typed), dict(r.answers)) for r in sheet.readings]
    read = tuple(line.reading for line in sheet_lines(entries, kind, expected) if line.reading and line.counts)
    if not read:
        return None
    taken = max((r.made_at for r in sheet.readings), default="")[:16]
    return Evidence(
        f"sheet-{sheet.id}", f"readings of {READING_WORDS[kind]}", sheet.sample_id, sheet.setup_id, sheet.instrument_id,
        Calibration.UNSTATED, join_readings(read), taken_on=taken, setting_id=sheet.setting_id, round=sheet.round,
        sha256=f"sheet-{sheet.id}",
    )  # fmt: skip


def _not_shown(found: WindowFinding, reason: str) -> WindowFinding:
    return replace(found, verdict=Verdict.NOT_SHOWN, probability=None, reason=reason)


def _scaled(curve: Curve, factor: float) -> Curve:
    return Curve(curve.frequency_hz, tuple(v * factor for v in curve.value))
