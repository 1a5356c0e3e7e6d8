"""Land and water: the SWR curve as a skyline, the limit as a water level.

Where the curve lies below the level the hollow fills; what stands above stays dry and hatched. Water across the
whole window is a pass, a ridge is where it fails.
"""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from itertools import pairwise

import numpy as np

from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.rf.dips import dip_near_window
from levelmoor.core.rf.reflection import FloatArray, gamma_from_swr, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.figures import format_mhz, format_swr
from levelmoor.figures.axis import frequency_axis
from levelmoor.figures.scale import SWR_TICKS, TOP_GAMMA, Scale
from levelmoor.figures.svg import area_between, document, path_of, tag, text
from levelmoor.figures.thinning import keep_extremes

DIP_WORDS_PX, LIMIT_WORDS_PX = 112.0, 40.0
"""How wide the words at a dip, and those at a limit, are at most."""


@dataclass(frozen=True)
class Waterline:
    """A limit over a window, with the guard band in |gamma|; `shown` is whether the sweep qualifies for it."""

    window: Window
    limit_swr: float
    guard: float = 0.0
    shown: bool = True

    @property
    def gamma(self) -> float:
        return float(gamma_from_swr(self.limit_swr))


def waterline_of(finding: WindowFinding, rule: DecisionRule) -> Waterline:
    """The level that a finding was judged against, with the rule's guard band at its worst point."""
    guard = guard_band(finding.u_gamma or 0.0, rule)
    return Waterline(finding.window, finding.limit_swr, guard, finding.verdict is not Verdict.NOT_SHOWN)


def view_around(sweep: Sweep, windows: list[Window], share: float = 0.25) -> tuple[float, float]:
    """A view that holds the windows with room on both sides, within the sweep; the whole sweep without windows."""
    if not windows:
        return sweep.low_hz, sweep.high_hz
    low, high = min(w.low_hz for w in windows), max(w.high_hz for w in windows)
    room = (high - low) * share
    low, high = max(low - room, sweep.low_hz), min(high + room, sweep.high_hz)
    return (low, high) if low < high else (sweep.low_hz, sweep.high_hz)


def landscape(
    analysis: SweepAnalysis,
    levels: list[Waterline],
    bench: Residuals,
    view: tuple[float, float] | None = None,
    segments: Sequence[Window] | None = None,
    label: str = "SWR over frequency",
    width: float = 800,
    height: float = 400,
    alone: bool = False,
    ident: str = "land",
) -> str:
    """The figure of one sweep against its levels, for the frequencies of `view` (the whole sweep by default).

    Read-off values ride along as data attributes, for the pointer and the arrow keys.
    """
    sweep = analysis.sweep
    low, high = view or (sweep.low_hz, sweep.high_hz)
    if not low < high:
        low, high = low * 0.99, high * 1.01
    foot = 62 if segments else 44
    scale = Scale(low, high, 44, width - 16, 40, height - foot)
    drawn = _curves(sweep, low, high, int(width))
    seen = [v for v in levels if v.window.high_hz > low and v.window.low_hz < high]
    parts = [
        _hatching(ident),
        tag(
            "rect",
            class_="sky",
            x=scale.left,
            y=scale.top,
            width=scale.right - scale.left,
            height=scale.bottom - scale.top,
        ),
        *_grid(scale),
    ]
    land = "".join(_under(scale, f, g) for f, g in drawn)
    if land:
        parts.append(tag("path", class_="land far" if seen else "land", d=land))
    if drawn or sweep.inside(low, high).size:
        parts += [piece for level in seen for piece in _water(scale, sweep, level, int(width), ident)]
    for f, g in drawn:
        parts += _skyline(scale, f, g, bench, sweep, sure=not seen or any(v.shown for v in seen))
    parts += [
        tag("circle", class_="point", cx=float(scale.x(p.low_hz)), cy=float(scale.y(p.magnitude[0])), r=3)
        for p in sweep.stretches
        if p.points == 1 and low <= p.low_hz <= high
    ]
    parts += _level_lines(scale, sweep, seen)
    parts += _marks(scale, analysis, seen)
    parts += _axes(scale, segments or ())
    parts.append(
        tag("g", tag("line", y1=scale.top, y2=scale.bottom) + tag("circle", r=5), class_="cursor", visibility="hidden")
    )
    return document(
        (width, height), label, parts, alone,
        class_="lm-fig landscape", id=ident,
        data_left=scale.left, data_right=scale.right, data_top=scale.top, data_bottom=scale.bottom,
        data_low=f"{low:.3f}", data_high=f"{high:.3f}", data_top_gamma=f"{TOP_GAMMA:.6f}",
    )  # fmt: skip


def read_off_data(sweep: Sweep, low: float, high: float, columns: int = 700) -> str:
    """JSON for the pointer: frequencies in Hz, Re and Im of gamma, thinned so that no extreme is lost."""
    f, g = sweep.frequency_hz, sweep.gamma
    chosen = (f >= low) & (f <= high)
    f, g = f[chosen], g[chosen]
    if f.size:
        kept = keep_extremes(f, np.abs(g), columns)
        f, g = f[kept], g[kept]
    return json.dumps(
        {
            "f": np.round(f, 1).tolist(),
            "re": np.round(g.real, 5).tolist(),
            "im": np.round(g.imag, 5).tolist(),
            "z0": sweep.z0_ohm,
            "scalar": sweep.scalar,
        },
        separators=(",", ":"),
    )


def _curve(sweep: Sweep, low: float, high: float, pixels: int) -> tuple[FloatArray, FloatArray]:
    """|gamma| along the interpolated path inside the view, dense enough to draw, thin enough to send."""
    part = sweep.cut(low, high)
    if part is None or part.points < 2:
        return np.empty(0), np.empty(0)
    f = np.union1d(part.frequency_hz, np.linspace(part.low_hz, part.high_hz, pixels // 2))
    magnitude = np.abs(part.gamma_at(f))
    kept = keep_extremes(f, magnitude, pixels // 2)
    return f[kept], magnitude[kept]


def _curves(sweep: Sweep, low: float, high: float, pixels: int) -> list[tuple[FloatArray, FloatArray]]:
    """The unbroken parts inside the view: no line is drawn across a gap."""
    found = (_curve(part, low, high, pixels) for part in sweep.stretches)
    return [(f, g) for f, g in found if f.size > 1]


def _under(scale: Scale, f: FloatArray, g: FloatArray) -> str:
    return area_between(scale.x(f), scale.y(g), np.full(f.size, scale.bottom))


def _water(scale: Scale, sweep: Sweep, level: Waterline, pixels: int, ident: str) -> list[str]:
    """Land, water and hatched ridge inside one window; where nothing is shown, bare points and no water."""
    low, high = max(level.window.low_hz, scale.low_hz), min(level.window.high_hz, scale.high_hz)
    drawn = _curves(sweep, low, high, pixels)
    if not level.shown:
        inside = sweep.inside(low, high)[:200]
        places = zip(scale.x(inside), scale.y(np.abs(sweep.gamma_at(inside))), strict=True)
        return [tag("circle", class_="point", cx=float(px), cy=float(py), r=3) for px, py in places]
    return [piece for f, g in drawn for piece in _filled(scale, f, g, float(scale.y(level.gamma)), ident)]


def _filled(scale: Scale, f: FloatArray, g: FloatArray, at: float, ident: str) -> list[str]:
    """Land, the water on it up to a level, and the ridge above."""
    x, y = scale.x(f), scale.y(g)
    return [
        tag("path", class_="land", d=_under(scale, f, g)),
        tag("path", class_="water", d=area_between(x, np.full(f.size, at), np.maximum(y, at))),
        tag("path", class_="ridge", d=area_between(x, np.minimum(y, at), np.full(f.size, at))),
        tag("path", fill=f"url(#{ident}-hatch)", d=area_between(x, np.minimum(y, at), np.full(f.size, at))),
    ]


def _skyline(scale: Scale, f: FloatArray, g: FloatArray, bench: Residuals, sweep: Sweep, sure: bool) -> list[str]:
    """The curve with its soft edge, dashed where no window of the view is shown by it, and marks where it is cut."""
    half = np.zeros(f.size)
    if sweep.half_step_gamma is not None:
        half = np.interp(f, sweep.frequency_hz, sweep.half_step_gamma)
    expanded = 2 * standard_uncertainty(g, bench, half, f)
    x = scale.x(f)
    parts = [tag("path", class_="mist", d=area_between(x, scale.y(g + expanded), scale.y(np.maximum(g - expanded, 0))))]
    parts.append(tag("path", class_="skyline" if sure else "skyline unsure", d=path_of(x, scale.y(g))))
    above = np.flatnonzero(np.diff(np.concatenate(([0], (g > TOP_GAMMA).astype(int), [0]))))
    for start, stop in zip(above[::2], above[1::2], strict=True):
        middle = float((x[start] + x[stop - 1]) / 2)
        slashes = "".join(f"M{middle + d - 3:.1f} {scale.top + 5:.1f}l6 -10" for d in (-3, 3))
        parts.append(tag("path", class_="cut", d=slashes))
    return parts


def _grid(scale: Scale) -> list[str]:
    parts = []
    for swr in SWR_TICKS:
        y = float(scale.y(gamma_from_swr(swr)))
        parts.append(tag("line", class_="grid", x1=scale.left, x2=scale.right, y1=y, y2=y))
        parts.append(text(scale.left - 8, y + 4, f"{swr:g}", text_anchor="end", class_="quiet"))
    parts.append(text(4, 16, "SWR", class_="quiet"))
    return parts


def _level_lines(scale: Scale, sweep: Sweep, levels: list[Waterline]) -> list[str]:
    parts = []
    last_name_end = -1e9
    for level in sorted(levels, key=lambda v: v.window.low_hz):
        x1 = float(scale.x(max(level.window.low_hz, scale.low_hz)))
        x2 = float(scale.x(min(level.window.high_hz, scale.high_hz)))
        y = float(scale.y(level.gamma))
        if level.guard:
            top, bottom = float(scale.y(level.gamma + level.guard)), float(scale.y(max(level.gamma - level.guard, 0)))
            parts.append(tag("rect", class_="guard", x=x1, y=top, width=x2 - x1, height=bottom - top))
        parts.append(tag("line", class_="level", x1=x1, x2=x2, y1=y, y2=y))
        for x in (x1, x2):
            parts.append(tag("line", class_="bank", x1=x, x2=x, y1=scale.top - 6, y2=scale.bottom))
        words = level.window.name if level.window.name.endswith("MHz") else f"{level.window.name}"
        room = 7.0 * len(words) / 2
        middle = min(max((x1 + x2) / 2, scale.left + room), scale.right - room)
        if middle - room > last_name_end:
            parts.append(text(middle, scale.top - 12, words, text_anchor="middle", class_="name"))
            last_name_end = middle + room
        if x2 - x1 > 30:
            left, right = np.abs(sweep.gamma_at(np.array([level.window.low_hz, level.window.high_hz])))
            place = (x2 - 5, "end") if right <= left else (x1 + 5, "start")  # over the water rather than in the ridge
            words = f"{level.limit_swr:.4g}:1"
            parts.append(text(place[0], y - 6, words, text_anchor=place[1], class_="level-text halo"))
    return parts


def _marks(scale: Scale, analysis: SweepAnalysis, levels: list[Waterline]) -> list[str]:
    """Dips with the deepest of each window named, and where X = 0."""
    parts: list[str] = []
    words_over: list[str] = []  # drawn last: no mark lies on a word
    named = {id(dip_near_window(analysis.dips, v.window.low_hz, v.window.high_hz)) for v in levels} or {
        id(d) for d in sorted(analysis.dips, key=lambda d: d.magnitude)[:1]
    }
    taken: list[float] = []
    for dip in analysis.dips:
        if not scale.low_hz <= dip.frequency_hz <= scale.high_hz:
            continue
        x, y = float(scale.x(dip.frequency_hz)), float(scale.y(dip.magnitude))
        parts.append(tag("path", class_="dip", d=f"M{x:.1f} {y - 3:.1f}l-5 -9h10Z"))
        if id(dip) in named and all(abs(x - t) > 110 for t in taken):
            taken.append(x)
            words = f"{format_swr(float(swr_from_gamma(dip.magnitude)))} at {format_mhz(round(dip.frequency_hz, -3))}"
            middle = min(max(x, scale.left + DIP_WORDS_PX / 2), scale.right - DIP_WORDS_PX / 2)
            at = max(_clear_of_limits(scale, levels, middle, y - 18), scale.top + 14)
            words_over.append(text(middle, at, words, text_anchor="middle", class_="halo name"))
    shown = [r for r in analysis.resonances if scale.low_hz <= r.frequency_hz <= scale.high_hz][:12]
    for resonance in shown:
        x, y = float(scale.x(resonance.frequency_hz)), float(scale.y(abs(resonance.gamma)))
        parts.append(tag("path", class_="zero", d=f"M{x:.1f} {y - 5:.1f}l5 5l-5 5l-5 -5Z"))
    return parts + words_over


def _clear_of_limits(scale: Scale, levels: list[Waterline], middle: float, y: float) -> float:
    """Where a dip's words stand, raised over those of a limit that they would lie on."""
    for level in levels:
        ends = [
            float(scale.x(min(max(f, scale.low_hz), scale.high_hz)))
            for f in (level.window.low_hz, level.window.high_hz)
        ]
        under = float(scale.y(level.gamma)) - 6
        if abs(under - y) < 14 and any(abs(middle - x) < DIP_WORDS_PX / 2 + LIMIT_WORDS_PX for x in ends):
            y = under - 14
    return y


def _axes(scale: Scale, segments: Sequence[Window]) -> list[str]:
    parts = frequency_axis(scale)
    y = scale.bottom + 28
    for segment in segments:
        low, high = max(segment.low_hz, scale.low_hz), min(segment.high_hz, scale.high_hz)
        if low >= high:
            continue
        x1, x2 = float(scale.x(low)), float(scale.x(high))
        title = tag("title", escape(segment.name))
        parts.append(tag("rect", title, class_="segment", x=x1, y=y, width=max(x2 - x1 - 1, 1), height=17))
        words = segment.name
        if 5.6 * len(words) > x2 - x1:
            words = words.partition(" ")[2] or words
        if 5.6 * len(words) < x2 - x1:
            parts.append(text((x1 + x2) / 2, y + 12.5, words, text_anchor="middle", class_="segment-text"))
    return parts


def _hatching(ident: str) -> str:
    line = tag("line", class_="hatch", x1=0, y1=0, x2=0, y2=7)
    pattern = tag(
        "pattern",
        line,
        id=f"{ident}-hatch",
        width=7,
        height=7,
        patternUnits="userSpaceOnUse",
        patternTransform="rotate(45)",
    )
    return tag("defs", pattern)


def text_skyline(analysis: SweepAnalysis, level: Waterline | None, columns: int = 72) -> list[str]:
    """The same idea in letters, for a terminal: land #, water ~, SWR 1 at the bottom."""
    sweep = analysis.sweep
    if sweep.points < 2:
        return []
    edges = np.linspace(sweep.low_hz, sweep.high_hz, columns + 1)
    heights = [part.worst()[1] for a, b in pairwise(edges) if (part := sweep.cut(float(a), float(b)))]
    steps = (0.0, 0.1, 0.2, 1 / 3, 0.43, 0.5, 2 / 3, TOP_GAMMA)
    rows = []
    for low in reversed(steps):
        row = ""
        for height, f in zip(heights, edges, strict=False):
            wet = level and low < level.gamma and level.window.low_hz <= f <= level.window.high_hz
            row += "#" if height > low else "~" if wet else " "
        rows.append(f"{float(swr_from_gamma(low)):5.1f} {row.rstrip()}")
    axis = f"{format_mhz(sweep.low_hz)} MHz"
    rows.append(" " * 6 + axis + f"{format_mhz(sweep.high_hz)} MHz".rjust(columns - len(axis)))
    return rows
