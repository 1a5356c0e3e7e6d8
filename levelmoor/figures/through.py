"""What goes through an article over frequency against what is claimed, and a body that heats up."""

import math
from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.heat.heating import HOUR_S, Heating
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.through_verdict import ThroughCurve, format_through
from levelmoor.figures.axis import frequency_axis
from levelmoor.figures.scale import Scale
from levelmoor.figures.svg import area_between, document, path_of, tag, text

MOST_TENS_WITH_STEPS = 4
"""Powers of ten on a scale up to which the steps between them have lines too."""


def through_figure(
    curve: ThroughCurve,
    parts_ohm: tuple[FloatArray, FloatArray] | None = None,
    limit: float | None = None,
    at_most: bool = False,
    tolerance: float | None = None,
    windows: Sequence[Window] = (),
    width: float = 760.0,
    height: float = 270.0,
) -> str:
    """The value with its soft edge; ohm on a scale of tens, dB straight. Water is the room to the limit where it is
    kept, heather what is missing. `parts_ohm` are R and X of a choke; a fence stands where the fixture's word ends."""
    logarithmic = curve.unit == "Ω"
    f = curve.frequency_hz
    scale = Scale(float(f[0]), float(f[-1]), 62, width - 16, 24, height - 36)
    values = [curve.value, *(np.abs(p) for p in parts_ohm or ())]
    low, high = _ends(values, limit, tolerance, logarithmic)

    def y(value: FloatArray | float) -> FloatArray:
        v = np.asarray(value, dtype=np.float64)
        share = np.log(np.maximum(v, 1e-9) / low) / math.log(high / low) if logarithmic else (v - low) / (high - low)
        return np.asarray(scale.bottom - np.clip(share, 0, 1) * (scale.bottom - scale.top))

    x = scale.x(f)
    parts = [tag("rect", class_="sky", x=scale.left, y=scale.top, width=scale.right - scale.left,
                 height=scale.bottom - scale.top)]  # fmt: skip
    for value in _ticks(low, high, logarithmic):
        at = float(y(value))
        parts.append(tag("line", class_="grid", x1=scale.left, x2=scale.right, y1=at, y2=at))
        words = f"{value / 1e3:g} k" if logarithmic and value >= 1000 else f"{value:g}"
        parts.append(text(scale.left - 6, at + 4, words, text_anchor="end", class_="quiet"))
    parts.append(text(scale.left, scale.top - 9, "choking impedance, Ω" if logarithmic else "dB", class_="quiet"))
    line = y(curve.value)
    if limit is not None:
        for window in windows or [Window(float(f[0]), float(f[-1]))]:
            parts += _room(curve, y, x, line, limit, at_most, tolerance, window)
    soft = 2 * curve.u + curve.open_
    parts.append(tag("path", class_="mist", d=area_between(x, y(curve.value + soft), y(curve.value - soft))))
    for part, css in zip(parts_ohm or (), ("curve k1", "curve k2"), strict=False):
        parts += [tag("path", class_=css, d=path_of(x[i], y(np.abs(part)[i]))) for i in _stretches(np.abs(part) >= low)]
    parts.append(tag("path", class_="skyline", d=path_of(x, line)))
    if parts_ohm is not None:
        parts += _names(x, {"|Z|": line, "R": y(np.abs(parts_ohm[0])), "X": y(np.abs(parts_ohm[1]))}, scale)
    if curve.most is not None and float(curve.most.min()) < high:
        parts.append(tag("path", class_="bank", fill="none", d=path_of(x, y(np.minimum(curve.most, high)))))
        parts.append(text(scale.right - 4, float(y(np.minimum(curve.most, high))[-1]) - 5, "believed up to here",
                          text_anchor="end", class_="quiet halo"))  # fmt: skip
    parts += frequency_axis(scale)
    least, most = float(curve.value.min()), float(curve.value.max())
    ends = f"{format_through(least, curve.unit)} to {format_through(most, curve.unit)}"
    label = f"{'Choking impedance' if logarithmic else 'Loss'}: {ends}"
    return document((width, height), label, parts, class_="lm-fig", data_low=f"{f[0]:.3f}", data_high=f"{f[-1]:.3f}",
                    data_scale=f"{low:g}-{high:g} {curve.unit}")  # fmt: skip


def _room(
    curve: ThroughCurve, y: object, x: FloatArray, line: FloatArray, limit: float, at_most: bool,
    tolerance: float | None, window: Window,
) -> list[str]:  # fmt: skip
    inside = (curve.frequency_hz >= window.low_hz * 0.999999) & (curve.frequency_hz <= window.high_hz * 1.000001)
    if inside.sum() < 2:
        return []
    xs, ys = x[inside], line[inside]
    ends = {"x1": float(xs[0]), "x2": float(xs[-1])}
    if tolerance is not None:
        edges = [float(y(v)) for v in (limit - tolerance, limit + tolerance)]  # type: ignore[operator]
        water = tag("rect", class_="water", x=ends["x1"], y=edges[1], width=ends["x2"] - ends["x1"],
                    height=edges[0] - edges[1])  # fmt: skip
        return [water, *(tag("line", class_="level", y1=e, y2=e, **ends) for e in edges)]
    level = np.full(xs.size, float(y(limit)))  # type: ignore[operator]
    good, bad = (np.maximum, np.minimum) if at_most else (np.minimum, np.maximum)
    return [
        tag("path", class_="water", d=area_between(xs, good(ys, level), level)),
        tag("path", class_="ridge", d=area_between(xs, bad(ys, level), level)),
        tag("line", class_="level", y1=float(level[0]), y2=float(level[0]), **ends),
    ]


def _ends(
    values: Sequence[FloatArray], limit: float | None, tolerance: float | None, logarithmic: bool
) -> tuple[float, float]:
    every = [float(v) for value in values for v in (value.min(), value.max())]
    if limit is not None:
        every += [limit, *((limit - tolerance, limit + tolerance) if tolerance is not None else ())]
    if logarithmic:
        least = [max(float(values[0].min()), 1.0), *(v for v in (limit,) if v)]
        if len(values) > 1:
            least.append(max(float(np.quantile(values[1], 0.02)), float(values[0].max()) * 1e-3, 1.0))
        low = 10.0 ** math.floor(math.log10(min(least)))
        return low, max(10.0 ** math.ceil(math.log10(max(every) * 1.05)), 10 * low)
    room = max(0.15 * (max(every) - min(every)), 0.05)
    low, high = min(every) - room, max(every) + room
    step = _step(low, high)  # ends that stay where they are while live sweeps differ a little
    return math.floor(low / step) * step, math.ceil(high / step) * step


def _step(low: float, high: float) -> float:
    size = 10.0 ** math.floor(math.log10((high - low) / 3))
    return next(m * size for m in (1, 2, 5, 10) if (high - low) / (m * size) <= 6)


def _stretches(shown: NDArray[np.bool_]) -> list[NDArray[np.intp]]:
    """The places of each run of points that the scale has room for: what lies below it is left out, not cut flat."""
    at = np.flatnonzero(shown)
    return [run for run in np.split(at, np.flatnonzero(np.diff(at) > 1) + 1) if run.size > 1]


def _names(x: FloatArray, curves: Mapping[str, FloatArray], scale: Scale) -> list[str]:
    """Each curve's name where it is farthest from the others."""
    found = []
    for name, y in curves.items():
        others = [v for n, v in curves.items() if n != name]
        apart = np.min([np.abs(y - other) for other in others], axis=0)
        apart[(y > scale.bottom - 6) | (x < scale.left + 20) | (x > scale.right - 20)] = -1.0
        i = int(np.argmax(np.minimum(apart, 30.0)))
        if apart[i] > 0:
            found.append(text(float(x[i]), float(y[i]) - 5, name, text_anchor="middle", class_="halo"))
    return found


def _ticks(low: float, high: float, logarithmic: bool) -> list[float]:
    """Of a scale of tens every one, two and five where there are few of them."""
    if logarithmic:
        tens = range(round(math.log10(low)), round(math.log10(high)) + 1)
        steps = (1, 2, 5) if len(tens) <= MOST_TENS_WITH_STEPS else (1,)
        return [m * 10.0**n for n in tens for m in steps if m * 10.0**n <= high * 1.0001]
    step = _step(low, high)
    return [round(v, 9) for v in np.arange(math.ceil(low / step - 1e-9) * step, high + step / 2, step)]


def heat_figure(
    points: Sequence[tuple[float, float]], found: Heating | None, limit_c: float | None, width: float
) -> str:
    """Temperatures as stones, the fitted course to an hour; water is the room below the limit."""
    height, left, top, bottom = 220.0, 46.0, 18.0, 34.0
    end = max(HOUR_S if found else 0.0, points[-1][0]) * 1.02
    hottest = max([c for _, c in points] + ([found.hour_c] if found else []) + ([limit_c] if limit_c else []))
    coldest = min(c for _, c in points)
    low, high = coldest - 5, hottest + 0.1 * (hottest - coldest) + 2

    def x(s: float) -> float:
        return left + (width - left - 12) * s / end

    def y(c: float) -> float:
        return height - bottom - (height - top - bottom) * min(max((c - low) / (high - low), 0.0), 1.0)

    parts = [tag("rect", class_="sky", x=left, y=top, width=width - left - 12, height=height - top - bottom)]
    if found is not None:
        at = np.linspace(0, end / 1.02, 80)
        course = np.array([found.at(float(s)) for s in at])
        xs, ys = np.array([x(float(s)) for s in at]), np.array([y(float(c)) for c in course])
        if limit_c is not None:
            level = np.full(xs.size, y(limit_c))
            parts.append(tag("path", class_="water", d=area_between(xs, np.minimum(ys, level), ys)))
            parts.append(tag("path", class_="ridge", d=area_between(xs, ys, np.maximum(level, ys))))
        parts.append(tag("path", class_="skyline unsure", d=path_of(xs, ys)))
    if limit_c is not None:
        parts.append(tag("line", class_="level", x1=left, x2=width - 12, y1=y(limit_c), y2=y(limit_c)))
        parts.append(text(width - 16, y(limit_c) - 5, f"{limit_c:g} °C", text_anchor="end", class_="level-text halo"))
    step = max(1, len(points) // 60)
    parts += [tag("circle", class_="pebble", cx=x(s), cy=y(c), r=3.2) for s, c in points[::step]]
    for c in (coldest, hottest):
        parts.append(text(left - 5, y(c) + 4, f"{c:.0f}", text_anchor="end", class_="quiet"))
    parts.append(text(left, top - 6, "°C", class_="quiet"))
    for share in (0.0, 0.5, 1.0):
        anchor = "start" if share == 0 else "end" if share == 1 else "middle"
        minutes = f"{share * end / 1.02 / 60:.0f} min"
        parts.append(text(x(share * end / 1.02), height - bottom + 17, minutes, text_anchor=anchor, class_="quiet"))
    label = f"Temperature, the hottest {max(c for _, c in points):.0f} °C" + (
        f", {found.hour_c:.0f} °C expected after an hour" if found else ""
    )
    return document((width, height), label, parts, class_="lm-fig")
