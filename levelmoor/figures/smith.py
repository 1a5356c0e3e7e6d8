"""The Smith chart: reflection in the unit circle, with impedance, the circles of SWR, and markers.

References
----------
.. [1] P. H. Smith, Transmission Line Calculator, Electronics, January 1939 (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.dips import dip_near_window
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window
from levelmoor.figures.curves import Drawn, letters, stretches_in, view_of
from levelmoor.figures.svg import document, path_of, tag, text

RESISTANCES = (0.2, 0.5, 1.0, 2.0, 5.0)
REACTANCES = (0.2, 0.5, 1.0, 2.0, 5.0)
SWRS = (1.5, 2.0, 3.0)


@dataclass(frozen=True)
class Circle:
    """A circle in the plane of gamma: its centre and its radius."""

    centre: complex
    radius: float


def resistance_circle(r: float) -> Circle:
    """All impedances of normalised resistance r: centre r/(r + 1), radius 1/(r + 1) [1]_."""
    return Circle(complex(r / (r + 1), 0), 1 / (r + 1))


def reactance_circle(x: float) -> Circle:
    """All impedances of normalised reactance x, not 0: centre 1 + j/x, radius 1/|x| [1]_."""
    return Circle(complex(1, 1 / x), 1 / abs(x))


def smith(
    curves: Sequence[Drawn],
    windows: Sequence[Window],
    view: tuple[float, float] | None = None,
    label: str = "Smith chart of several sweeps",
    size: float = 520,
    alone: bool = False,
) -> str:
    """The chart of all complex sweeps inside the view, with dips, edges of windows and upper ends marked."""
    low, high = view_of(curves, view)
    middle, radius = size / 2, size / 2 - 26
    z0 = curves[0].analysis.sweep.z0_ohm if curves else 50.0

    def place(gamma: complex) -> tuple[float, float]:
        return middle + gamma.real * radius, middle - gamma.imag * radius

    clip = tag("clipPath", tag("circle", cx=middle, cy=middle, r=radius), id=f"smith-disc-{size:g}")
    parts = [tag("defs", clip), tag("circle", class_="sky", cx=middle, cy=middle, r=radius)]
    rings = [resistance_circle(r) for r in RESISTANCES]
    rings += [reactance_circle(x * sign) for x in REACTANCES for sign in (1, -1)]
    lines = "".join(_circle(c, place, radius, "grid thin") for c in rings)
    lines += tag("line", class_="grid thin", x1=middle - radius, x2=middle + radius, y1=middle, y2=middle)
    lines += "".join(_circle(Circle(0j, float(gamma_from_swr(s))), place, radius, "level thin") for s in SWRS)
    for c in (c for c in curves if not c.analysis.sweep.scalar):
        for _, g in (s for s in stretches_in(c.analysis, low, high, 350) if s[0].size > 1):
            lines += tag("path", class_=c.css, d=path_of(middle + g.real * radius, middle - g.imag * radius))
    parts.append(tag("g", lines, clip_path=f"url(#smith-disc-{size:g})"))
    parts.append(tag("circle", class_="rim", cx=middle, cy=middle, r=radius))
    parts += _words(place, z0)
    marked: list[tuple[float, float, Drawn]] = []
    for c in (c for c in curves if not c.analysis.sweep.scalar):
        parts += _edges(place, c, windows, (low, high))
        marked += [(*place(gamma), c) for gamma in _lettered(c, windows, (low, high))]
    parts += letters(marked)
    dots = "".join(tag("circle", r=4.5, data_of=c.label) for c in curves)
    parts.append(tag("g", dots, class_="cursor", visibility="hidden"))
    return document(
        (size, size), label, parts, alone, class_="lm-fig several smith", data_kind="smith",
        data_middle=middle, data_radius=radius, data_low=f"{low:.3f}", data_high=f"{high:.3f}",
    )  # fmt: skip


def _circle(circle: Circle, place, radius: float, css: str) -> str:  # type: ignore[no-untyped-def]
    x, y = place(circle.centre)
    return tag("circle", class_=css, cx=float(x), cy=float(y), r=float(circle.radius * radius))


def _words(place, z0: float) -> list[str]:  # type: ignore[no-untyped-def]
    """Ohms along the axis and around the rim, the SWR circles, and Z0 in the middle."""
    parts = []
    for r in RESISTANCES:
        x, y = place(complex((r - 1) / (r + 1)))
        if r == 1:
            parts.append(text(float(x) - 7, float(y) - 6, f"Z0 {z0:g} Ω", text_anchor="end", class_="quiet small halo"))
        else:
            parts.append(text(float(x) + 3, float(y) + 13, f"{r * z0:g}", class_="quiet small halo"))
    for x_ohm in REACTANCES:
        for sign in (1, -1):
            z = 1j * x_ohm * sign
            gamma = (z - 1) / (z + 1)
            x, y = place(gamma * 1.055)
            words = f"{'+' if sign > 0 else '−'}j{x_ohm * z0:g}"
            parts.append(text(float(x), float(y) + 4, words, text_anchor="middle", class_="quiet small"))
    for s in SWRS:
        x, y = place(complex(float(gamma_from_swr(s)) * np.exp(1j * math.radians(-62))))
        parts.append(text(float(x), float(y) + 4, f"{s:g}:1", text_anchor="middle", class_="level-text small halo"))
    x, y = place(0j)
    parts.append(tag("circle", class_="dip", cx=float(x), cy=float(y), r=2.5))
    return parts


def _edges(place, c: Drawn, windows: Sequence[Window], view: tuple[float, float]) -> list[str]:  # type: ignore[no-untyped-def]
    """A ring where the sweep is at a window's edge."""
    sweep = c.analysis.sweep
    edges = {f for w in windows for f in (w.low_hz, w.high_hz) if sweep.covers(f, f) and view[0] <= f <= view[1]}
    places = [place(complex(sweep.gamma_at(f))) for f in sorted(edges)]
    return [tag("circle", class_=f"edge k{c.place}", cx=float(x), cy=float(y), r=4) for x, y in places]


def _lettered(c: Drawn, windows: Sequence[Window], view: tuple[float, float]) -> set[complex]:
    """Where the curve carries its letter: at its dips inside the windows, and at its upper end."""
    dips = [dip_near_window(c.analysis.dips, w.low_hz, w.high_hz) for w in windows]
    end = min(c.analysis.sweep.high_hz, view[1])
    at_end = [complex(c.analysis.sweep.gamma_at(end))] if end > max(c.analysis.sweep.low_hz, view[0]) else []
    return {d.gamma for d in dips if d and view[0] <= d.frequency_hz <= view[1]} | set(at_end)
