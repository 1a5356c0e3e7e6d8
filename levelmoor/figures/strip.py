"""The band strip: one tiny skyline per band, for lists and for laying results side by side."""

import numpy as np

from levelmoor.core.evidence.findings import UsabilityFinding
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.figures.scale import Scale
from levelmoor.figures.svg import area_between, document, path_of, tag


def tiny_skyline(
    sweep: Sweep, window: Window, limit_swr: float, share: float | None, width: float = 76, height: float = 34
) -> str:
    """One window of one sweep, on the same vertical scale as the large figure; `share` is what was found within."""
    part = sweep.cut(window.low_hz, window.high_hz)
    scale = Scale(window.low_hz, window.high_hz, 0, width, 1, height)
    at = float(scale.y(gamma_from_swr(limit_swr)))
    parts = [tag("rect", class_="sky", x=0, y=0, width=width, height=height)]
    for one in (s for s in (part.stretches if part else ()) if s.points > 1):
        f = np.union1d(np.linspace(one.low_hz, one.high_hz, 38), one.best()[0])
        x, y = scale.x(f), scale.y(np.abs(one.gamma_at(f)))
        base, level = np.full(f.size, height), np.full(f.size, at)
        parts += [
            tag("path", class_="land", d=area_between(x, np.maximum(y, at), base)),
            tag("path", class_="water", d=area_between(x, level, np.maximum(y, at))),
            tag("path", class_="ridge", d=area_between(x, np.minimum(y, at), level)),
            tag("path", class_="skyline", d=path_of(x, y)),
        ]
    parts.append(tag("line", class_="level", x1=0, x2=width, y1=at, y2=at))
    found = "not shown" if share is None else f"{100 * share:.0f} % within {limit_swr:g}:1"
    label = f"{window.name}: {found}"
    return document((width, height), label, parts, class_="lm-fig tiny", width=width, height=height)


def curve_of(evaluation: Evaluation, use: UsabilityFinding) -> Sweep:
    """What a usability finding looked at."""
    return use.curve or next(e.sweep for e in evaluation.sweeps if e.id == use.sweep_id)


def band_strip(evaluation: Evaluation, use: UsabilityFinding, width: float = 104, height: float = 44) -> str:
    """The tiny skyline of a usability finding, against the evaluation's profile."""
    window = Window(use.low_hz, use.high_hz, use.band)
    return tiny_skyline(curve_of(evaluation, use), window, evaluation.profile.limit_swr, use.share, width, height)
