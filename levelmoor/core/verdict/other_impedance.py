"""A level of SWR alone, read in one impedance and claimed in another: an interval and not a number.

References
----------
.. [1] All impedances of one SWR s in Z0 lie on a circle that meets the real axis at s Z0 and Z0/s; in another
   resistance Z1 their SWR is largest and smallest there (follows from the map of impedances; P. H. Smith, 1939
   (memory)).
"""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.rf.reflection import gamma_from_swr, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.said import as_sentence, said

HIGHEST_SWR = 1e6


def swr_between(swr: float, read_ohm: float, claimed_ohm: float) -> tuple[float, float]:
    """The least and the most that an SWR read in one resistance may be in another [1]_."""
    k = max(claimed_ohm / read_ohm, read_ohm / claimed_ohm)
    return max(swr / k, k / swr), swr * k


def judge_in_other_impedance(
    read: WindowFinding, sweep: Sweep, claimed_ohm: float, judge: Callable[[Sweep], WindowFinding]
) -> WindowFinding:
    """The finding of a scalar sweep on a claim that refers to another resistance: a Pass where the most it may be
    passes, a Fail where the least it may be fails, else Not shown."""
    swr = np.minimum(swr_from_gamma(sweep.magnitude), HIGHEST_SWR)
    k = max(claimed_ohm / sweep.z0_ohm, sweep.z0_ohm / claimed_ohm)
    ends = (np.maximum(swr / k, k / swr), swr * k)
    least, most = (
        judge(replace(sweep, gamma=gamma_from_swr(end).astype(np.complex128), z0_ohm=claimed_ohm)) for end in ends
    )
    if most.verdict is Verdict.PASS:
        return most
    if least.verdict is Verdict.FAIL:
        return least
    worst = read.worst.swr if read.worst else 1.0
    low, high = swr_between(worst, sweep.z0_ohm, claimed_ohm)
    reason = said(
        "window.other_impedance",
        read=sweep.z0_ohm,
        claimed=claimed_ohm,
        swr=worst,
        low=low,
        high=high,
        low_ohm=sweep.z0_ohm / worst,
        high_ohm=sweep.z0_ohm * worst,
    )
    return replace(read, verdict=Verdict.NOT_SHOWN, probability=None, reason=as_sentence(reason))
