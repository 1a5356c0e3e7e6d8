"""Several sweeps in one figure: which curve is whose, told by letter, stroke and dash, never by colour alone."""

import json
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.comparison.comparison_model import Comparison
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.evaluation import Plane
from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.figures.svg import tag, text
from levelmoor.figures.thinning import keep_extremes


@dataclass(frozen=True, eq=False)
class Drawn:
    """One curve: its side's letter and name, its place among the sides, and whether it is at the shack end."""

    letter: str
    name: str
    place: int
    analysis: SweepAnalysis
    figures: Residuals
    at_shack: bool = False

    @property
    def css(self) -> str:
        return f"curve k{self.place}" + (" far-end" if self.at_shack else "")

    @property
    def label(self) -> str:
        return f"{self.letter}′" if self.at_shack else self.letter


def curves_of(comparison: Comparison) -> list[Drawn]:
    """Every curve of a comparison; a second one of the same side is the one at the shack end."""
    return [
        Drawn(side.letter, side.name, place, c.analysis, c.figures, n > 0 or (c.plane is Plane.SHACK and c.computed))
        for place, side in enumerate(comparison.sides)
        for n, c in enumerate(side.curves)
    ]


def view_of(curves: Sequence[Drawn], view: tuple[float, float] | None = None) -> tuple[float, float]:
    """The frequencies to draw, by default all that one of the curves has."""
    if view is not None:
        return view
    return min(c.analysis.sweep.low_hz for c in curves), max(c.analysis.sweep.high_hz for c in curves)


def letters(places: Sequence[tuple[float, float, Drawn]]) -> list[str]:
    """Each curve's letter at each of its places (x, y in px), moved up where two would meet."""
    parts: list[str] = []
    taken: list[tuple[float, float]] = []
    for x, wanted, c in sorted(places, key=lambda p: -p[1]):
        y = wanted
        while any(abs(x - tx) < 13 and abs(y - ty) < 13 for tx, ty in taken):
            y -= 2
        taken.append((x, y))
        disc = tag("circle", class_=f"disc k{c.place}", cx=x, cy=y, r=7.5)
        parts.append(disc + text(x, y + 4, c.label, text_anchor="middle", class_="letter"))
    return parts


def thinned(analysis: SweepAnalysis, low: float, high: float, columns: int) -> tuple[FloatArray, ComplexArray]:
    """The points of a sweep inside a view, its ends interpolated, thinned so that no extreme of |gamma| is lost."""
    part = analysis.sweep.cut(low, high)
    if part is None or part.points < 2:
        return np.empty(0), np.empty(0, dtype=np.complex128)
    kept = keep_extremes(part.frequency_hz, part.magnitude, columns)
    return part.frequency_hz[kept], part.gamma[kept]


def stretches_in(
    analysis: SweepAnalysis, low: float, high: float, columns: int
) -> list[tuple[FloatArray, ComplexArray]]:
    """The unbroken parts of a sweep inside a view, each thinned: no line is drawn across a gap."""
    part = analysis.sweep.cut(low, high)
    found = []
    for one in part.stretches if part else ():
        kept = keep_extremes(one.frequency_hz, one.magnitude, columns)
        found.append((one.frequency_hz[kept], one.gamma[kept]))
    return found


def gaps_in(sweep: Sweep, low: float, high: float) -> list[list[int]]:
    """The gaps of a sweep that reach into a view, as pairs of frequencies in Hz."""
    f = sweep.frequency_hz
    ends = [(f[i], f[i + 1]) for i in np.flatnonzero(sweep.gaps).tolist()]
    return [[int(a), int(b)] for a, b in ends if b > low and a < high]


def read_off_all(curves: Sequence[Drawn], low: float, high: float, columns: int = 220) -> str:
    """JSON for the pointer: of every curve frequencies in Hz and gamma, thinned so that no extreme is lost."""
    found = []
    for c in curves:
        f, g = thinned(c.analysis, low, high, columns)
        sweep = c.analysis.sweep
        found.append(
            {
                "label": c.label,
                "f": np.round(f).astype(int).tolist(),
                "re": np.round(g.real, 4).tolist(),
                "im": np.round(g.imag, 4).tolist(),
                "z0": sweep.z0_ohm,
                "scalar": sweep.scalar,
                "gaps": gaps_in(sweep, low, high),
            }
        )
    return json.dumps(found, separators=(",", ":"))
