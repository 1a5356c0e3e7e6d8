"""Where the dip of a band lies by the length of the element that makes it: a quarter of a wave, or three quarters.

A whip, or each side of a dipole, resonates where it is an odd number of quarter waves long [1]_. One element that
serves several bands makes the lowest with a quarter and the others with three or five. What a coil, a trap, a hat or a
link also tunes is not told by a length.

References
----------
.. [1] Ends shorten it by about 5 %: `starting_length` [1] (memory).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from levelmoor.core.adjusting.starting_length import LIGHT_M_PER_S, SHARES, Resonator
from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.verdict.targets import Aim

METRES = {"cm": 0.01, "mm": 0.001}
BY_LENGTH = (ElementKind.WHIP, ElementKind.DIPOLE_ENDS, ElementKind.PARALLEL)
OTHERWISE = (ElementKind.STUB, ElementKind.GAMMA)
"""They match and hardly tune, so that the length of another part still tells."""
ODD = (3, 5)
LIKE = 0.15
"""How near, in ln f, the target of a band is to three or five times that of the lowest where one element makes both."""
AGREES = 0.12
"""How near, in ln f, a dip is to what the length says where the length is all that makes it (common practice, no
source)."""


@dataclass(frozen=True)
class Mode:
    """What makes the dip of a band: one element, so many quarter waves long."""

    element: Element
    quarters: int

    def dip_hz(self, at: Mapping[str, float]) -> float:
        """The dip with the elements at given positions."""
        metres = at[self.element.id] * METRES[self.element.unit]
        return self.quarters * SHARES[Resonator.QUARTER] * LIGHT_M_PER_S / metres

    def agrees(self, at: Mapping[str, float], hz: float) -> bool:
        """Whether a dip lies where the length alone puts it."""
        return abs(math.log(hz / self.dip_hz(at))) < AGREES


def mode_of(aim: Aim, aims: Sequence[Aim], elements: Sequence[Element], at: Mapping[str, float]) -> Mode | None:
    """What makes the dip of a band, None where no length tells."""
    acting = [e for e in elements if e.acts_on(aim.window.name) and e.kind not in OTHERWISE]
    if len(acting) != 1 or acting[0].kind not in BY_LENGTH or acting[0].unit not in METRES or at[acting[0].id] <= 0:
        return None
    element = acting[0]
    served = [a for a in aims if element.acts_on(a.window.name)]
    lowest = min(a.wanted_hz for a in served)
    quarters = [_quarters(a.wanted_hz / lowest) for a in served]
    if len(set(quarters)) < len(quarters):  # one length cannot make them at the same time: it is set for each
        return None
    return Mode(element, quarters[served.index(aim)])


def _quarters(ratio: float) -> int:
    return next((n for n in ODD if abs(math.log(ratio / n)) < LIKE), 1)
