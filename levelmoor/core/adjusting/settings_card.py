"""The settings card: for each setting its mark, what it gives on its bands, and how well a return to it repeats; a mark
foreseen for a frequency between; where a decimal slip was likely.

References
----------
.. [1] JCGM 100:2008, 4.2, the spread of few observations (memory).
.. [2] Linear interpolation between neighbours; its error is about what a parabola through the next neighbour says
   otherwise (memory).
"""

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from levelmoor.core.adjusting.band_rounds import BandRound
from levelmoor.core.adjusting.round_log import Round, RoundLog, State
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.quantiles import student
from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.state import Setting
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.targets import Aim, aims_of
from levelmoor.core.words.figures import brief_mhz, brief_range, format_range

SLIP = 0.12
"""How near, in ln f over ln f of a decade's slip, a mark has to come when its point is moved (common practice, no
source)."""
FAR_OFF = 0.5
"""So far, in ln f, a dip lies off what its neighbours say before a slip is asked about."""
AGAIN = {1: "once", 2: "twice", 3: "three times"}


@dataclass(frozen=True)
class Returns:
    """What leaving a mark and returning to it gives: how often, and the standard deviation of dip and SWR at the dip;
    None with fewer than three."""

    count: int
    dip_sd_hz: float | None = None
    swr_sd: float | None = None

    @property
    def words(self) -> str:
        """In a sentence for the card."""
        if self.dip_sd_hz is None or self.swr_sd is None:
            left = FEWEST - self.count
            return f"repeatability unknown: set this mark {AGAIN[left]} more"
        half = student(0.975, self.count - 1) * self.dip_sd_hz
        return f"returns within {half / 1e3:.2g} kHz and {2 * self.swr_sd:.1g} of SWR, {self.count} times"


@dataclass(frozen=True)
class CardBand:
    """What a setting gives on a band: the edges at the limit are where nothing has to be readjusted."""

    aim: Aim
    shown: BandRound
    returns: Returns
    taken_on: str
    setup: str = ""
    """How the sample stood, by name, where the card is of several setups."""

    @property
    def failing(self) -> str:
        """Which claim is not met there, in words; nothing where none fails."""
        if self.shown.judged is not Verdict.FAIL:
            return ""
        asked = " and ".join(f"{limit:g}:1 on {window.name}" for window, limit in self.aim.judged)
        return f"does not meet {asked}"

    @property
    def span(self) -> str:
        """From where to where it stays within the limit."""
        low, high = self.shown.low_hz, self.shown.high_hz
        return format_range(round(low, -3), round(high, -3)) if low and high else "the edges lie beyond the sweep"


@dataclass(frozen=True)
class CardLine:
    setting: Setting
    bands: tuple[CardBand, ...]
    elsewhere: tuple[str, ...] = ()
    """The setups in which it was swept and which the card is not of."""


@dataclass(frozen=True)
class Foreseen:
    """A mark for a frequency between known ones, with its standard uncertainty in marks."""

    mark: float
    u: float


@dataclass(frozen=True)
class Card:
    lines: tuple[CardLine, ...]
    asked: tuple[str, ...]
    """What is to be known before the card is relied on: bands without a setting, marks that look like slips."""

    @property
    def points(self) -> list[tuple[float, float]]:
        """Mark and dip in Hz of each setting with a number, by rising mark; of several setups those of the one with
        most, since marks of one say nothing between those of another."""
        found: dict[str, list[tuple[float, float]]] = {}
        for line in self.lines:
            first = {band.setup: band for band in reversed(line.bands)}
            for setup, band in first.items():
                if line.setting.mark is not None and band.shown.dip_hz:
                    found.setdefault(setup, []).append((line.setting.mark, band.shown.dip_hz))
        most = max((len(points) for points in found.values()), default=0)
        return sorted(next((points for points in found.values() if len(points) == most), []))

    @property
    def stray(self) -> float:
        """What a return strays by in ln f, the largest known of all settings."""
        known = [b.returns.dip_sd_hz / b.shown.dip_hz for line in self.lines for b in line.bands
                 if b.returns.dip_sd_hz is not None and b.shown.dip_hz]  # fmt: skip
        return max(known, default=0.0)

    def mark_for(self, wanted_hz: float) -> Foreseen | None:
        """The mark for a frequency, None where no two settings lie on either side of it."""
        return mark_for(self.points, wanted_hz, self.stray)


def most_swept(evaluation: Evaluation) -> tuple[str, str]:
    """The sample and the setup that most evidence in settings is of, the first ones where there is none."""
    swept = Counter((e.sample_id, e.setup_id) for e in evaluation.sweeps if e.setting_id)
    return max(swept, key=lambda k: swept[k], default=(evaluation.samples[0].id, evaluation.setups[0].id))


def carried(evaluation: Evaluation, sample_id: str) -> tuple[str, ...]:
    """The setups in which a sample was swept in settings, in the order they are listed."""
    swept = {e.setup_id for e in evaluation.sweeps if e.setting_id and e.sample_id == sample_id}
    return tuple(s.id for s in evaluation.setups if s.id in swept)


def card_of(evaluation: Evaluation, dossier: Dossier, sample_id: str, setup_ids: Sequence[str]) -> Card:
    """The card of a sample in the setups that are carried."""
    aims = aims_of(evaluation)
    lines = tuple(_line(evaluation, dossier, s, sample_id, setup_ids) for s in evaluation.settings)
    card = Card(lines, ())
    return replace(card, asked=(*_without(card, aims), *slips(card.points)))


def _line(
    evaluation: Evaluation, dossier: Dossier, setting: Setting, sample_id: str, setup_ids: Sequence[str]
) -> CardLine:
    names = {s.id: s.name for s in evaluation.setups}
    found = []
    for setup_id in setup_ids:
        log = RoundLog(evaluation, dossier, State(sample_id, setup_id, setting.id))
        for k, aim in enumerate(log.aims):
            last = next((r for r in reversed(log.rounds) if (b := r.bands[k]) is not None and b.dip_hz), None)
            if last is None or not setting.meant_for(aim.window) or not _near(last.bands[k], aim):
                continue
            shown = last.bands[k]
            assert shown is not None
            taken_on = next((e.taken_on for e in evaluation.sweeps if e.id == shown.sweep_id), "")
            setup = names.get(setup_id, "") if len(setup_ids) > 1 else ""
            found.append(CardBand(aim, shown, returns_of(log, k, last), taken_on, setup))
    swept = {e.setup_id for e in evaluation.sweeps if e.setting_id == setting.id and e.sample_id == sample_id}
    return CardLine(setting, tuple(found), tuple(names[i] for i in names if i in swept and i not in setup_ids))


def _near(band: BandRound | None, aim: Aim) -> bool:
    """Whether a dip is one for the band: inside it, or no farther than it is wide."""
    if band is None or band.dip_hz is None:
        return False
    room = aim.window.high_hz - aim.window.low_hz
    return aim.window.low_hz - room <= band.dip_hz <= aim.window.high_hz + room


def returns_of(log: RoundLog, k: int, last: Round) -> Returns:
    """The rounds up to one that nothing was moved between: each but the first was opened by leaving the mark and
    returning to it [1]_."""
    dips: list[float] = []
    swrs: list[float] = []
    for round_ in reversed([r for r in log.rounds if r.number <= last.number]):
        band = round_.bands[k]
        if band is not None and band.dip_hz is not None and band.best_swr is not None:
            dips.append(band.dip_hz)
            swrs.append(band.best_swr)
        if not round_.adjustments or any(a.moves for a in round_.adjustments):
            break
    if len(dips) < FEWEST:
        return Returns(len(dips))
    return Returns(len(dips), float(np.std(dips, ddof=1)), float(np.std(swrs, ddof=1)))


def mark_for(points: Sequence[tuple[float, float]], wanted_hz: float, stray: float = 0.0) -> Foreseen | None:
    """The mark between neighbours whose dips lie on either side, straight in ln f [2]_; `stray` is what a return strays
    by in ln f."""
    x = [math.log(f) for _, f in points]
    wanted = math.log(wanted_hz)
    for i, ((m1, m2), (x1, x2)) in enumerate(zip(pairwise(m for m, _ in points), pairwise(x), strict=True)):
        if min(x1, x2) <= wanted <= max(x1, x2) and x1 != x2:
            mark = m1 + (m2 - m1) * (wanted - x1) / (x2 - x1)
            bends = [_parabola(points[j : j + 3], wanted) - mark for j in (i - 1, i) if 0 <= j <= len(points) - 3]
            bend = max((abs(b) for b in bends), default=abs(m2 - m1) / 4) / math.sqrt(3)
            return Foreseen(mark, math.hypot(bend, stray * abs((m2 - m1) / (x2 - x1))))
    return None


def _parabola(three: Sequence[tuple[float, float]], wanted: float) -> float:
    """The mark at ln f on the parabola through three points."""
    x = np.array([math.log(f) for _, f in three])
    if np.unique(x).size < 3:
        return float(three[1][0])
    fit = np.polyfit(x - x[1], [m for m, _ in three], 2)
    return float(np.polyval(fit, wanted - x[1]))


def slips(points: Sequence[tuple[float, float]]) -> tuple[str, ...]:
    """Marks out of order that stand in it once their decimal point is moved."""
    found = []
    for i, (mark, hz) in enumerate(points):
        rest = [p for j, p in enumerate(points) if j != i]
        if len(rest) < 3:
            continue
        order = np.sign(np.diff([f for _, f in rest]))
        if abs(order.sum()) != len(order):
            continue  # the others are in no order either
        expected = mark_for(rest, hz)
        if expected is None or expected.mark == 0 or mark == 0 or abs(math.log(abs(mark / expected.mark))) < FAR_OFF:
            continue
        for scale, words in ((0.1, f"{mark / 10:g}"), (10.0, f"{mark * 10:g}")):
            if abs(math.log(abs(mark * scale / expected.mark))) < SLIP * math.log(10):
                found.append(
                    f"The mark {mark:g} gives {brief_mhz(round(hz, -3))} MHz, between others it would be about "
                    f"{expected.mark:.2g}: is it {words}?"
                )
    return tuple(found)


def _without(card: Card, aims: Sequence[Aim]) -> list[str]:
    """Bands that no setting gives."""
    given = {band.aim.window for line in card.lines for band in line.bands}
    return [_unreached(card, aim) for aim in aims if aim.window not in given] if card.lines else []


def _unreached(card: Card, aim: Aim) -> str:
    window: Window = aim.window
    foreseen = card.mark_for(aim.wanted_hz)
    if foreseen is not None:
        spread = f" ± {2 * foreseen.u:.2g}" if foreseen.u else ""
        return f"{window.name}: no setting for it; mark {foreseen.mark:.3g}{spread} should fit. Sweep there."
    dips = [f for _, f in card.points]
    if len(dips) >= 2:
        reached = brief_range(min(dips), max(dips))
        return f"{window.name}: no mark reaches it; the swept marks cover {reached}."
    return f"{window.name}: no setting for it."
