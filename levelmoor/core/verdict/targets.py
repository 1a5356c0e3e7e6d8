"""The one target of each band: where its dip is wanted, and who said so."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for

LEAST_TOLERANCE = 2e-3
"""Half of a window's width, as a share, that is asked of a dip at the least: a spot is met to this."""
SPOT_SHARE = 0.005
"""Half of the window around a target that lies in no band and no claim."""


class SaidBy(StrEnum):
    """Who said where a dip is wanted, the first that did: Adjust, a claim, the team's own frequency, or nobody."""

    ADJUST = "adjust"
    CLAIM = "claim"
    SPOT = "spot"
    MIDDLE = "middle"


SAID_BY_WORDS = {
    SaidBy.ADJUST: "as set in Adjust",
    SaidBy.CLAIM: "as claimed",
    SaidBy.SPOT: "your team's frequency",
    SaidBy.MIDDLE: "the middle of the band",
}


@dataclass(frozen=True)
class Aim:
    """What is wanted of a band: the dip at `wanted_hz`, the whole window within the limit. `asked` are the windows that
    claims name in it, each with its own limit, where they are others than the whole."""

    window: Window
    wanted_hz: float
    limit_swr: float
    z0_ohm: float = 50.0
    said_by: SaidBy = SaidBy.MIDDLE
    asked: tuple[tuple[Window, float], ...] = ()

    @property
    def tolerance(self) -> float:
        """How near, as a share, the dip has to come: half of the window's width."""
        half = (self.window.high_hz - self.window.low_hz) / 2 / self.wanted_hz
        return max(half, LEAST_TOLERANCE)

    @property
    def judged(self) -> tuple[tuple[Window, float], ...]:
        """The windows that have to be within their limits."""
        return self.asked or ((self.window, self.limit_swr),)

    @property
    def from_words(self) -> str:
        """Who said where the dip is wanted."""
        return SAID_BY_WORDS[self.said_by]


def aims_of(evaluation: Evaluation) -> tuple[Aim, ...]:
    """One aim for each band that claims of SWR without a tuner name, and for what was said to be wanted besides, by
    rising frequency; a window that only puts others together is left out."""
    limits = _limits(evaluation)
    wide = {w for w in limits if not w.spot and sum(_inside(o, w) for o in limits if not o.spot) > 1}
    found = [_aim(evaluation, group, limits) for group in _by_band(evaluation, set(limits) - wide, limits)]
    for hz in evaluation.wanted_hz:
        if not any(a.window.low_hz <= hz <= a.window.high_hz for a in found):
            band = _band(evaluation, hz) or Window(hz * (1 - SPOT_SHARE), hz * (1 + SPOT_SHARE))
            found.append(Aim(band, hz, evaluation.profile.limit_swr, said_by=SaidBy.ADJUST))
    return tuple(sorted(found, key=lambda a: a.wanted_hz))


def target_in(evaluation: Evaluation, window: Window) -> tuple[float, SaidBy]:
    """The target in any window: that of its band's aim where it lies inside, else as the team or nobody says."""
    aim = next((a for a in aims_of(evaluation) if window.low_hz <= a.wanted_hz <= window.high_hz), None)
    return (aim.wanted_hz, aim.said_by) if aim else _wanted(evaluation, window, None, window.middle_hz)


def targets_in(aims: Iterable[Aim], low_hz: float, high_hz: float, most: int) -> tuple[Aim, ...]:
    """The aims whose targets lie in a span, at most so many."""
    return tuple(a for a in aims if low_hz <= a.wanted_hz <= high_hz)[:most]


def _limits(evaluation: Evaluation) -> dict[Window, tuple[float, float]]:
    """The windows of the claims, each once with its strictest limit and that claim's impedance."""
    limits: dict[Window, tuple[float, float]] = {}
    for claim in evaluation.claims:
        if claim.limit_swr is None or claim.tuner.value == "with":
            continue
        for window in claim.windows:
            limit = limit_for(claim, evaluation.profile)
            if window not in limits or limit < limits[window][0]:
                limits[window] = limit, claim.z0_ohm
    return limits


def _by_band(
    evaluation: Evaluation, windows: Iterable[Window], limits: dict[Window, tuple[float, float]]
) -> list[list[Window]]:
    """Windows that one dip has to serve: those that overlap, and those of one band. The whole stands before its parts,
    the stricter before the others."""
    groups: list[list[Window]] = []
    for window in sorted(windows, key=lambda w: (w.spot, limits[w][0], w.high_hz - w.low_hz, w.low_hz)):
        band = _band(evaluation, window.middle_hz)
        home = next((g for g in groups if any(_meet(o, window) or (band and _inside(o, band)) for o in g)), None)
        if home is None:
            groups.append([window])
        else:
            home.append(window)
    return groups


def _aim(evaluation: Evaluation, group: Sequence[Window], limits: dict[Window, tuple[float, float]]) -> Aim:
    first, low, high = group[0], min(w.low_hz for w in group), max(w.high_hz for w in group)
    whole = next((w for w in group if (w.low_hz, w.high_hz) == (low, high)), None)
    middle = first.middle_hz if whole else (low + high) / 2
    if whole is None:
        band = _band(evaluation, (low + high) / 2)
        whole = Window(low, high, band.name if band else first.name)
    spots = sorted(w.low_hz for w in (*group, *_resonant(evaluation)) if w.spot and low <= w.low_hz <= high)
    wanted, said_by = _wanted(evaluation, whole, (spots[0] + spots[-1]) / 2 if spots else None, middle)
    limit, z0 = limits[first]
    asked = tuple((w, limits[w][0]) for w in group) if len(group) > 1 or whole not in limits else ()
    return Aim(whole, wanted, limit, z0, said_by, asked)


def _wanted(evaluation: Evaluation, window: Window, claimed_hz: float | None, middle_hz: float) -> tuple[float, SaidBy]:
    own = (w.low_hz for w in (*evaluation.spots, *evaluation.own_bands) if w.spot)
    said: tuple[tuple[Iterable[float], SaidBy], ...] = (
        (evaluation.wanted_hz, SaidBy.ADJUST),
        ((claimed_hz,) if claimed_hz else (), SaidBy.CLAIM),
        (own, SaidBy.SPOT),
    )
    for frequencies, by in said:
        for hz in frequencies:
            if window.low_hz <= hz <= window.high_hz:
                return hz, by
    return middle_hz, SaidBy.MIDDLE


def _resonant(evaluation: Evaluation) -> list[Window]:
    """The frequencies at which claims say that it is resonant."""
    return [w for c in evaluation.claims if c.quantity is Quantity.RESONANCE for w in c.windows if w.spot]


def _band(evaluation: Evaluation, hz: float) -> Window | None:
    bands = (*(b.window for b in band_plan(evaluation.region).bands), *(w for w in evaluation.own_bands if not w.spot))
    return next((b for b in bands if b.low_hz <= hz <= b.high_hz), None)


def _inside(one: Window, other: Window) -> bool:
    """Whether a window lies in another that is not the same."""
    return one != other and other.low_hz <= one.low_hz and one.high_hz <= other.high_hz


def _meet(one: Window, other: Window) -> bool:
    """Whether two windows have more in common than an edge."""
    if one.spot or other.spot:
        return one.low_hz <= other.high_hz and other.low_hz <= one.high_hz
    return one.low_hz < other.high_hz and other.low_hz < one.high_hz
