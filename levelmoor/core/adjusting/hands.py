"""Hands off: a hand at the element, or a part being moved, is seen by how fast dips and levels move; what is swept
meanwhile is not counted until they stand still again.

References
----------
.. [1] A hand near an element adds capacitance: all its dips fall together, at once, and noise rises (common practice,
   no source).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

STEADY_S = 3.0
"""How long dips have to stand still before a reading counts again."""
MOVED = 0.004
"""A step of all dips from one sweep to the next, in ln f, that wind seldom makes (common practice, no source)."""
LEVEL = 0.03
"""The same in |gamma| anywhere in the sweep, for where no dip is in sight (common practice, no source)."""
STILL = 0.4
"""Less than this share of either from one sweep to the next is standing still."""
SETTLED, UNSTEADY, STEADY_AGAIN = "settled", "unsteady", "steady again"


@dataclass(frozen=True)
class Steadiness:
    """How the sweeps stand: `state` settled, unsteady or steady again, which is said once; whether to count them."""

    state: str
    words: str = ""

    @property
    def counts(self) -> bool:
        return self.state != UNSTEADY


class Hands:
    """Follows the dips of one screen's sweeps.

    Parameters
    ----------
    steady_s : seconds of standing still after which readings count again
    """

    def __init__(self, steady_s: float = STEADY_S) -> None:
        self.steady_s = steady_s
        self._last: tuple[tuple[float, ...], tuple[float, ...]] | None = None
        self._of: object = None
        self._still_since: float | None = 0.0
        self._unsteady = False

    def tell(
        self, at_s: float, dips_hz: Sequence[float], levels: Sequence[float] = (), of: object = None
    ) -> Steadiness:
        """How it stands with the next sweep: its dips by rising frequency, |gamma| at some frequencies always the same;
        `of` is the span, a new one begins anew."""
        now, before = (tuple(dips_hz), tuple(levels)), self._last
        begun = before is None or of != self._of
        self._last, self._of = now, of
        if before is None or begun:
            self._unsteady = False
            return Steadiness(SETTLED)
        if _moved(before, now) > (STILL if self._unsteady else 1.0):
            self._unsteady, self._still_since = True, None
            return Steadiness(UNSTEADY, "A hand is at the antenna, or it is moving: not counted yet.")
        if not self._unsteady:
            return Steadiness(SETTLED)
        if self._still_since is None:
            self._still_since = at_s
        left = self.steady_s - (at_s - self._still_since)
        if left > 0:
            return Steadiness(UNSTEADY, f"Steady in {math.ceil(left)} s.")
        self._unsteady = False
        return Steadiness(STEADY_AGAIN, "Steady again: this sweep counts.")


def _moved(before: tuple[Sequence[float], ...], now: tuple[Sequence[float], ...]) -> float:
    """How far dips and levels moved, as a share of what wind seldom makes; infinite where there are others than
    before."""
    (dips, levels), (now_dips, now_levels) = before, now
    if len(dips) != len(now_dips) or len(levels) != len(now_levels):
        return math.inf
    steps = sorted(math.log(b / a) for a, b in zip(dips, now_dips, strict=True))
    common = abs(steps[len(steps) // 2]) if steps else 0.0
    level = max((abs(b - a) for a, b in zip(levels, now_levels, strict=True)), default=0.0)
    return max(common / MOVED, level / LEVEL)
