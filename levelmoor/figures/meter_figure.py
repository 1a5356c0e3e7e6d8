"""A meter against the analyzer: each known load a point, the diagonal the level on which both agree."""

import numpy as np

from levelmoor.core.bench.meter_check import MeterCheck
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.figures.scale import SWR_TICKS, TOP_GAMMA
from levelmoor.figures.svg import area_between, document, path_of, tag, text


def meter_figure(check: MeterCheck, label: str, size: float = 300) -> str:
    """SWR by the meter over SWR by the analyzer, both axes in |gamma|; the band is twice what the check found."""
    left, bottom, top, right = 48.0, size - 40, 16.0, size - 12

    def x(gamma: float) -> float:
        return left + min(gamma / TOP_GAMMA, 1.0) * (right - left)

    def y(gamma: float) -> float:
        return bottom - min(max(gamma / TOP_GAMMA, 0.0), 1.0) * (bottom - top)

    parts = [tag("rect", class_="sky", x=left, y=top, width=right - left, height=bottom - top)]
    along = np.linspace(0, TOP_GAMMA, 40)
    if check.u_gamma:
        upper = np.array([y(g + 2 * (check.u_gamma or 0)) for g in along])
        lower = np.array([y(g - 2 * (check.u_gamma or 0)) for g in along])
        parts.append(tag("path", class_="guard", d=area_between(np.array([x(g) for g in along]), upper, lower)))
    parts.append(tag("path", class_="level", fill="none", d=path_of(np.array([left, right]), np.array([bottom, top]))))
    for swr in SWR_TICKS:
        g = float(gamma_from_swr(swr))
        parts.append(text(x(g), bottom + 17, f"{swr:g}", text_anchor="middle", class_="quiet"))
        parts.append(text(left - 8, y(g) + 4, f"{swr:g}", text_anchor="end", class_="quiet"))
    parts.append(text(right, bottom + 33, "SWR by the analyzer", text_anchor="end", class_="quiet"))
    parts.append(text(left + 8, top + 16, "SWR by the meter", class_="quiet"))
    for analyzer, meter in check.pairs:
        at = x(float(gamma_from_swr(analyzer))), y(float(gamma_from_swr(meter)))
        parts.append(tag("circle", class_="dip", cx=at[0], cy=at[1], r=5))
    return document((size, size), label, parts, class_="lm-fig")
