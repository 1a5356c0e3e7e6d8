"""What `choke --json` prints."""

import numpy as np

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.choking import Choking
from levelmoor.formats.claim_answer import Answer


class ChokePoint(Answer):
    """|Z| with twice its u, R and X where the phase is known, and up to where the fixture lets it be believed."""

    frequency_hz: float
    magnitude_ohm: float
    expanded_ohm: float
    resistance_ohm: float | None
    reactance_ohm: float | None
    believed_ohm: float


class ChokeAnswer(Answer):
    """The choke over the windows that were asked for, or over all of the sweep, and the verdict on a limit."""

    stray: str
    least_ohm: float
    least_hz: float
    points: list[ChokePoint]
    verdict: Verdict | None
    reason: str


def choke_answer(found: Choking, windows: tuple[Window, ...], most: int = 41) -> ChokeAnswer:
    """The figures of a choke, thinned to so many points.

    Raises
    ------
    ValueError
        Where nothing was swept in the windows.
    """
    f = found.frequency_hz
    inside = np.ones(f.size, dtype=bool)
    if windows:
        inside = np.any([(f >= w.low_hz * 0.999999) & (f <= w.high_hz * 1.000001) for w in windows], axis=0)
    at = np.flatnonzero(inside)
    if not at.size:
        raise ValueError("nothing was swept there")
    least = int(at[np.argmin(found.magnitude_ohm[at])])
    kept = at[np.unique(np.linspace(0, at.size - 1, min(most, at.size)).astype(int))]
    points = [
        ChokePoint(
            frequency_hz=float(f[i]),
            magnitude_ohm=float(found.magnitude_ohm[i]),
            expanded_ohm=2 * float(found.u_ohm[i]) + found.half_width_ohm,
            resistance_ohm=None if found.impedance is None else float(found.impedance[i].real),
            reactance_ohm=None if found.impedance is None else float(found.impedance[i].imag),
            believed_ohm=float(found.believed_ohm[i]),
        )
        for i in kept
    ]
    return ChokeAnswer(
        stray=found.stray, least_ohm=float(found.magnitude_ohm[least]), least_hz=float(f[least]), points=points,
        verdict=None, reason="",
    )  # fmt: skip
