"""Up to ten sweeps over one another: skylines over one water level, SWR or return loss."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.metrology.uncertainty import standard_uncertainty
from levelmoor.core.rf.dips import dip_near_window
from levelmoor.core.rf.reflection import FloatArray, gamma_from_return_loss, gamma_from_swr, return_loss_db
from levelmoor.core.rf.windows import Window
from levelmoor.figures.axis import frequency_axis
from levelmoor.figures.curves import Drawn, letters, stretches_in, view_of
from levelmoor.figures.scale import SWR_TICKS, TOP_GAMMA, Scale
from levelmoor.figures.svg import area_between, document, path_of, tag, text

MOST_BANDS = 4
"""With more curves their soft edges would hide one another."""
LARGEST_LOSS_DB = 40.0
LOSS_TICKS = (0, 10, 20, 30, 40)


@dataclass(frozen=True)
class LossScale(Scale):
    """The same places with return loss in dB as height: 0 dB at the top, so that a dip is a hollow here too."""

    def y(self, gamma: ArrayLike) -> FloatArray:
        share = np.clip(return_loss_db(np.maximum(np.abs(gamma), 1e-6)) / LARGEST_LOSS_DB, 0, 1)
        return np.asarray(self.top + share * (self.bottom - self.top))


def overlay(
    curves: Sequence[Drawn],
    windows: Sequence[Window],
    limit_swr: float,
    view: tuple[float, float] | None = None,
    return_loss: bool = False,
    label: str = "SWR of several sweeps over frequency",
    width: float = 720,
    height: float = 380,
    alone: bool = False,
) -> str:
    """The figure. Every curve carries its letter at its lowest place and at its end; its soft edge is 2u."""
    low, high = view_of(curves, view)
    kind = LossScale if return_loss else Scale
    scale = kind(low, high, 44, width - 26, 36, height - 40)
    level = float(gamma_from_swr(limit_swr))
    parts = [_sky(scale), *_grid(scale, return_loss), *_windows(scale, windows, level, limit_swr)]
    columns = int((scale.right - scale.left) / 2)
    for c in curves:
        for f, g in stretches_in(c.analysis, low, high, columns):
            if f.size < 2:
                x, y = float(scale.x(f[0])), float(scale.y(abs(g[0])))
                parts.append(tag("circle", class_=f"disc k{c.place}", cx=x, cy=y, r=3))
                continue
            if len(curves) <= MOST_BANDS:
                parts.append(_soft_edge(scale, c, f, np.abs(g)))
            parts.append(tag("path", class_=c.css, d=path_of(scale.x(f), scale.y(np.abs(g)))))
    parts += _letters(scale, curves, windows)
    parts += frequency_axis(scale)
    parts.append(_cursors(scale, curves))
    return document(
        (width, height), label, parts, alone,
        class_="lm-fig several", data_kind="loss" if return_loss else "swr",
        data_left=scale.left, data_right=scale.right, data_top=scale.top, data_bottom=scale.bottom,
        data_low=f"{low:.3f}", data_high=f"{high:.3f}", data_top_gamma=f"{TOP_GAMMA:.6f}", data_loss=LARGEST_LOSS_DB,
    )  # fmt: skip


def _sky(scale: Scale) -> str:
    size = {"width": scale.right - scale.left, "height": scale.bottom - scale.top}
    return tag("rect", class_="sky", x=scale.left, y=scale.top, **size)


def _soft_edge(scale: Scale, c: Drawn, f: FloatArray, g: FloatArray) -> str:
    sweep = c.analysis.sweep
    half = 0.0 if sweep.half_step_gamma is None else np.interp(f, sweep.frequency_hz, sweep.half_step_gamma)
    u = 2 * standard_uncertainty(g, c.figures, half, f)
    area = area_between(scale.x(f), scale.y(g + u), scale.y(np.maximum(g - u, 0)))
    return tag("path", class_=f"soft k{c.place}", d=area)


def _grid(scale: Scale, return_loss: bool) -> list[str]:
    parts = []
    ticks = [(float(gamma_from_return_loss(d)), f"{d}") for d in LOSS_TICKS] if return_loss else []
    ticks = ticks or [(float(gamma_from_swr(s)), f"{s:g}") for s in SWR_TICKS]
    for gamma, words in ticks:
        y = float(scale.y(gamma))
        parts.append(tag("line", class_="grid", x1=scale.left, x2=scale.right, y1=y, y2=y))
        parts.append(text(scale.left - 8, y + 4, words, text_anchor="end", class_="quiet"))
    parts.append(text(4, 16, "Return loss, dB" if return_loss else "SWR", class_="quiet"))
    return parts


def _windows(scale: Scale, windows: Sequence[Window], level: float, limit_swr: float) -> list[str]:
    """Water under the level inside the windows, as a basin that the skylines stand in."""
    parts = []
    y = float(scale.y(level))
    for window in windows:
        low, high = max(window.low_hz, scale.low_hz), min(window.high_hz, scale.high_hz)
        if low > high:
            continue
        x1, x2 = float(scale.x(low)), float(scale.x(high))
        basin = {"width": max(x2 - x1, 1.0), "height": scale.bottom - y}
        parts.append(tag("rect", class_="basin", x=x1, y=y, **basin))
        parts.append(tag("line", class_="level", x1=x1, x2=x2, y1=y, y2=y))
        for x in (x1, x2):
            parts.append(tag("line", class_="bank", x1=x, x2=x, y1=scale.top - 6, y2=scale.bottom))
        middle = min(max((x1 + x2) / 2, scale.left + 30), scale.right - 30)
        parts.append(text(middle, scale.top - 12, window.name, text_anchor="middle", class_="name"))
        if x2 - x1 > 40:
            parts.append(text(x2 - 5, y - 6, f"{limit_swr:.4g}:1", text_anchor="end", class_="level-text halo"))
    return parts


def _letters(scale: Scale, curves: Sequence[Drawn], windows: Sequence[Window]) -> list[str]:
    """The letter of each curve at its dip, and at its right end."""
    seen = [w for w in windows if w.low_hz < scale.high_hz and w.high_hz > scale.low_hz]
    places: list[tuple[float, float, Drawn]] = []
    for c in curves:
        sweep = c.analysis.sweep
        dips = [dip_near_window(c.analysis.dips, w.low_hz, w.high_hz) for w in seen]
        at = [(float(scale.x(d.frequency_hz)), d.magnitude) for d in dips if d]
        end = min(sweep.high_hz, scale.high_hz)
        at.append((float(scale.x(end)) + 11, float(abs(sweep.gamma_at(end)))))
        inside = ((x, g) for x, g in dict.fromkeys(at) if scale.left <= x <= scale.right + 11)
        places += [(x, float(scale.y(g)), c) for x, g in inside]
    return letters(places)


def _cursors(scale: Scale, curves: Sequence[Drawn]) -> str:
    dots = "".join(tag("circle", r=4.5, data_of=c.label) for c in curves)
    return tag("g", tag("line", y1=scale.top, y2=scale.bottom) + dots, class_="cursor", visibility="hidden")
