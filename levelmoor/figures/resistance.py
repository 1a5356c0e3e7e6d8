"""R and X over frequency, with X = 0 marked: where a sample resonates, and what it is then."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.reflection import FloatArray, impedance_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.figures.axis import frequency_axis
from levelmoor.figures.curves import Drawn, letters, view_of
from levelmoor.figures.scale import Scale
from levelmoor.figures.svg import document, path_of, tag, text
from levelmoor.figures.thinning import keep_extremes

MOST_OHM = 200.0
"""Beyond this both are cut: what is read there is far from any match."""


@dataclass(frozen=True)
class OhmScale(Scale):
    """A linear frequency axis, and height in ohm from `bottom_ohm` to `top_ohm`."""

    bottom_ohm: float = 0.0
    top_ohm: float = MOST_OHM

    def y(self, ohm: ArrayLike) -> FloatArray:
        share = (np.asarray(ohm, dtype=np.float64) - self.bottom_ohm) / (self.top_ohm - self.bottom_ohm)
        return np.asarray(self.bottom - np.clip(share, 0, 1) * (self.bottom - self.top))


def resistance(
    curves: Sequence[Drawn],
    view: tuple[float, float] | None = None,
    label: str = "R and X of several sweeps over frequency",
    width: float = 720,
    height: float = 380,
    alone: bool = False,
) -> str:
    """R above, X below, over one frequency axis. Sweeps of SWR alone have neither and are left out."""
    low, high = view_of(curves, view)
    split = 36 + (height - 76) * 0.46
    r_scale = OhmScale(low, high, 44, width - 26, 36, split - 14, 0.0, MOST_OHM)
    x_scale = OhmScale(low, high, 44, width - 26, split + 14, height - 40, -MOST_OHM, MOST_OHM)
    parts = [*_plot(r_scale, "R, Ω", (0, 50, 100, 150, 200)), *_plot(x_scale, "X, Ω", (-200, -100, 0, 100, 200))]
    zero = float(x_scale.y(0))
    parts.append(tag("line", class_="level", x1=x_scale.left, x2=x_scale.right, y1=zero, y2=zero))
    places: list[tuple[float, float, Drawn]] = []
    for c in (c for c in curves if not c.analysis.sweep.scalar):
        whole = c.analysis.sweep.cut(low, high)
        for part in (p for p in (whole.stretches if whole else ()) if p.points > 1):
            places += _drawn(parts, r_scale, x_scale, part, c, int(width / 3))
        for x, r_y in _zeros(x_scale, r_scale, c):
            parts.append(tag("path", class_="zero", d=f"M{x:.1f} {zero - 5:.1f}l5 5l-5 5l-5 -5Z"))
            if r_y > r_scale.top:
                parts.append(tag("circle", class_=f"disc k{c.place}", cx=x, cy=r_y, r=4))
            places.append((x, zero - 16, c))
    parts += letters(places) + frequency_axis(x_scale)
    cursor = tag("line", y1=r_scale.top, y2=x_scale.bottom)
    parts.append(tag("g", cursor, class_="cursor", visibility="hidden"))
    return document(
        (width, height), label, parts, alone, class_="lm-fig several", data_kind="rx",
        data_left=x_scale.left, data_right=x_scale.right, data_low=f"{low:.3f}", data_high=f"{high:.3f}",
    )  # fmt: skip


def _drawn(
    parts: list[str], r_scale: OhmScale, x_scale: OhmScale, part: Sweep, c: Drawn, columns: int
) -> list[tuple[float, float, Drawn]]:
    """Draws R and X of one unbroken stretch; gives where its letters belong."""
    z = impedance_from_gamma(part.gamma, part.z0_ohm)
    known = np.isfinite(z.real) & np.isfinite(z.imag)
    f, z = part.frequency_hz[known], z[known]
    places = []
    for scale, ohm in ((r_scale, z.real), (x_scale, z.imag)):
        if not f.size:
            continue
        kept = keep_extremes(f, np.clip(ohm, scale.bottom_ohm, scale.top_ohm), columns)
        parts.append(tag("path", class_=c.css, d=path_of(scale.x(f[kept]), scale.y(ohm[kept]))))
        places.append((float(scale.x(f[-1])) + 11, float(scale.y(ohm[-1])), c))
    return places


def _plot(scale: OhmScale, words: str, ticks: Sequence[float]) -> list[str]:
    size = {"width": scale.right - scale.left, "height": scale.bottom - scale.top}
    parts = [tag("rect", class_="sky", x=scale.left, y=scale.top, **size)]
    for ohm in ticks:
        y = float(scale.y(ohm))
        parts.append(tag("line", class_="grid", x1=scale.left, x2=scale.right, y1=y, y2=y))
        parts.append(text(scale.left - 6, y + 4, f"{ohm:g}".replace("-", "−"), text_anchor="end", class_="quiet"))
    parts.append(text(scale.left, scale.top - 6, words, class_="quiet"))
    return parts


def _zeros(x_scale: OhmScale, r_scale: OhmScale, c: Drawn) -> list[tuple[float, float]]:
    """Of the first six resonances in view the place on the axis, and the height of R there."""
    z0 = c.analysis.sweep.z0_ohm
    seen = [r for r in c.analysis.resonances if x_scale.low_hz <= r.frequency_hz <= x_scale.high_hz][:6]
    ohm = [float(impedance_from_gamma(r.gamma, z0).real) for r in seen]
    return [(float(x_scale.x(r.frequency_hz)), float(r_scale.y(z))) for r, z in zip(seen, ohm, strict=True)]
