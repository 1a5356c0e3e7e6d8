"""What a band is good for, by the sweep that decides there, by every profile, and with every radio of the team."""

from levelmoor.core.bench.at_plane import at_shack
from levelmoor.core.bench.gates import obstacle
from levelmoor.core.evidence.court import Court
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import Part, ProfileUse, UsabilityFinding, WindowEvidence
from levelmoor.core.evidence.kinds import Question
from levelmoor.core.evidence.radio_use import RadioUse, use_on
from levelmoor.core.evidence.reflection import Reflection
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Evaluation, Plane, Sample
from levelmoor.core.model.usability import PROFILES, Usability, usability
from levelmoor.core.readings.reading_usability import usability_at_readings
from levelmoor.core.rf.bandplan import Band, band_plan, other_services
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.said import said


class BandUse:
    """The usability of one sample's bands: the same court, without a claim."""

    def __init__(self, evaluation: Evaluation, dossier: Dossier, sample: Sample) -> None:
        self.evaluation, self.dossier, self.sample = evaluation, dossier, sample
        own = (Band(w.name, w.low_hz, w.high_hz) for w in evaluation.own_bands if not w.spot)
        self.bands = (*band_plan(evaluation.region).bands, *_named(evaluation), *own)
        self._courts: dict[float, Court] = {}

    def _court(self, limit: float) -> Court:
        if limit not in self._courts:
            question = Question(self.evaluation, self.sample.id, None, limit)
            self._courts[limit] = Court(question, (Reflection(question, self.dossier),), self.dossier.rounds)
        return self._courts[limit]

    def findings(self) -> tuple[UsabilityFinding, ...]:
        """Every band that the sweep which decides there covers."""
        limit = limit_for(None, self.evaluation.profile)
        return tuple(found for b in self.bands if (found := self._band(b, limit)) is not None)

    def _band(self, band: Band, limit: float) -> UsabilityFinding | None:
        dossier = self.dossier
        found = self._court(limit).window(band.window)
        sweep = next((e for e in self.evaluation.sweeps if e.id == found.sweep_id), None)
        if sweep is None or found.finding is None or not sweep.sweep.covers(band.low_hz, band.high_hz):
            return None
        finding, state = found.finding, usability_of(found)
        top, share = finding.worst.swr if finding.worst else None, finding.share_within_limit
        words = found.reason
        if state is not Usability.NOT_SHOWN:
            words = said(f"use.{state.value}", limit=limit, share=share or 0.0)
        piece = dossier.piece(sweep)
        placed = dossier.placed(piece)
        open_ = any(p.part is Part.CONTRADICTS for p in found.pieces)
        blocked = open_ or placed.plane is Plane.SHACK or obstacle(dossier.gates(piece.latest, band.window))
        if state is Usability.NOT_SHOWN and not blocked:
            at_points = usability_at_readings(placed.sweep, band.window, limit)
            if at_points is not None:
                state, share, words = at_points.state, at_points.share, at_points.sentence
        seen = dossier.analysis(piece, 50.0).sweep if placed.moved or len(piece.members) > 1 else None
        curve = seen.cut(band.low_hz, band.high_hz) if seen else None
        return UsabilityFinding(
            self.sample.id, band.name, band.low_hz, band.high_hz, state, share, top, sweep.id, words, curve
        )

    def by_profiles(self, use: UsabilityFinding) -> tuple[ProfileUse, ...]:
        """A band by every profile, the chosen one's own limit among them."""
        band, chosen, told = Band(use.band, use.low_hz, use.high_hz), self.evaluation.profile, []
        for profile in {p.name: p for p in (*PROFILES.values(), chosen)}.values():
            same = profile.limit_swr == chosen.limit_swr
            found = use if same else self._band(band, profile.limit_swr)
            if found is not None:
                of = (use.sample_id, use.band, profile.name, profile.limit_swr)
                told.append(ProfileUse(*of, found.state, found.share))
        return tuple(told)

    def by_radios(self, use: UsabilityFinding) -> tuple[RadioUse, ...]:
        """A band by every radio of the team whose ranges are written down, at the shack end of the line that is
        there."""
        radios = [r for r in self.evaluation.equipment.radios if r.ranges]
        if not radios:
            return ()
        dossier = self.dossier
        evidence = next(e for e in self.evaluation.sweeps if e.id == use.sweep_id)
        placed, near = (
            dossier.placed(dossier.piece(evidence)),
            at_shack(dossier.book, evidence, dossier.setup(evidence)),
        )
        at_radio = near.sweep if near is not None else placed.sweep
        line = next((x.figures.line for x in (placed, near) if x is not None and x.figures.line is not None), None)
        if line is not None and line.delay_s < 0:
            line = line.backwards
        window = Window(use.low_hz, use.high_hz, use.band)
        at_antenna = placed.sweep if line is not None else None
        found = (use_on(r, use.sample_id, window, at_radio, at_antenna, line) for r in radios)
        return tuple(f for f in found if f is not None)


def _named(evaluation: Evaluation) -> list[Band]:
    """Bands of other services, the citizens' band among them, that a claim or the notebook of widths names."""
    claimed = [w for c in evaluation.claims for w in c.windows]
    noted = {w.band for w in evaluation.widths}
    return [
        b
        for b in other_services().bands
        if b.name in noted or any(b.low_hz <= w.low_hz and w.high_hz <= b.high_hz for w in claimed)
    ]


def usability_of(found: WindowEvidence | WindowFinding) -> Usability:
    """What a finding against a profile's limit says of the band."""
    finding = found.finding if isinstance(found, WindowEvidence) else found
    if found.verdict is Verdict.NOT_SHOWN or finding is None or finding.share_within_limit is None or finding.unfit:
        return Usability.NOT_SHOWN
    return usability(finding.share_within_limit)
