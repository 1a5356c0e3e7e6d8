"""A figure of the bench over frequency: what was measured as skyline, what is asked of it as water level."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.words.figures import format_mhz
from levelmoor.figures.scale import Scale
from levelmoor.figures.svg import area_between, document, path_of, tag, text
from levelmoor.figures.thinning import keep_extremes


@dataclass(frozen=True)
class Post:
    """A figure at one frequency that stands out, with its words."""

    frequency_hz: float
    value: float
    words: str


@dataclass(frozen=True)
class Profile:
    """What is drawn: values (n,) over Hz (n,), a level over the same frequencies, and posts.

    Water lies under the level where the curve is below it; what stands above is ridge.
    """

    frequency_hz: FloatArray
    value: FloatArray
    unit: str
    level: FloatArray | None = None
    level_words: str = ""
    posts: Sequence[Post] = ()
    other: FloatArray | None = None
    """A second curve to compare with, dashed."""
    other_words: str = ""


def profile(data: Profile, label: str, width: float = 640, height: float = 250) -> str:
    """The figure; its vertical axis holds every curve, level and post."""
    f = data.frequency_hz
    every = [
        data.value,
        *(x for x in (data.level, data.other) if x is not None),
        np.array([p.value for p in data.posts]),
    ]
    low, high = (float(fn(np.concatenate(every))) for fn in (np.min, np.max))
    room = max((high - low) * 0.12, abs(high) * 0.02, 1e-3)
    bottom_value, top_value = low - room, high + room
    ends = (float(f[0]), float(f[-1])) if f[0] < f[-1] else (float(f[0]) * 0.99, float(f[0]) * 1.01)
    scale = Scale(*ends, 58, width - 14, 26, height - 34)

    def y(value: FloatArray | float) -> FloatArray:
        share = (np.asarray(value, dtype=np.float64) - bottom_value) / (top_value - bottom_value)
        return np.asarray(scale.bottom - share * (scale.bottom - scale.top))

    kept = keep_extremes(f, data.value, int(width))
    x, curve = scale.x(f[kept]), y(data.value[kept])
    base = np.full(x.size, scale.bottom)
    parts = [
        tag(
            "rect",
            class_="sky",
            x=scale.left,
            y=scale.top,
            width=scale.right - scale.left,
            height=scale.bottom - scale.top,
        ),
        *_grid(scale, bottom_value, top_value, y, data.unit),
    ]
    if x.size > 1:
        parts.append(tag("path", class_="land", d=area_between(x, curve, base)))
        if data.level is not None:
            level = y(data.level[kept])
            parts.append(tag("path", class_="water", d=area_between(x, np.minimum(level, curve), curve)))
            parts.append(tag("path", class_="ridge", d=area_between(x, curve, np.maximum(level, curve))))
        parts.append(tag("path", class_="skyline", d=path_of(x, curve)))
    if data.other is not None:
        parts.append(tag("path", class_="skyline unsure", d=path_of(x, y(data.other[kept]))))
    parts += _words(scale, data, kept, y)
    parts += _posts(scale, data.posts, y)
    return document((width, height), label, parts, class_="lm-fig")


def _grid(scale: Scale, low: float, high: float, y: object, unit: str) -> list[str]:
    size = 10.0 ** np.floor(np.log10((high - low) / 3))
    step = next(float(m * size) for m in (1, 2, 5, 10) if (high - low) / (m * size) <= 6)
    parts = []
    for value in np.arange(np.ceil(low / step) * step, high, step):
        at = float(y(float(value)))  # type: ignore[operator]
        parts.append(tag("line", class_="grid", x1=scale.left, x2=scale.right, y1=at, y2=at))
        parts.append(
            text(
                scale.left - 6,
                at + 4,
                f"{round(value, 9) + 0.0:.6g}".replace("-", "−"),
                text_anchor="end",
                class_="quiet",
            )
        )
    parts.append(text(scale.left, scale.top - 9, unit, class_="quiet"))
    ticks, decimals = scale.frequency_ticks()
    for tick in ticks:
        place = float(scale.x(tick))
        parts.append(tag("line", class_="axis", x1=place, x2=place, y1=scale.bottom, y2=scale.bottom + 5))
        anchor = "end" if place > scale.right - 30 else "middle"
        parts.append(text(place, scale.bottom + 19, format_mhz(tick, decimals), text_anchor=anchor, class_="quiet"))
    parts.append(text(scale.right, scale.bottom + 32, "MHz", text_anchor="end", class_="quiet"))
    return parts


def _words(scale: Scale, data: Profile, kept: NDArray[np.intp], y: object) -> list[str]:
    parts = []
    for values, words, line in ((data.level, data.level_words, "level"), (data.other, data.other_words, "")):
        if values is None:
            continue
        at = y(values[kept])  # type: ignore[operator]
        x = scale.x(data.frequency_hz[kept])
        if line:
            parts.append(tag("path", class_=line, fill="none", d=path_of(x, at)))
        place = int(0.96 * (at.size - 1)) if line else int(0.04 * (at.size - 1))
        anchor = "end" if line else "start"
        css = "level-text halo" if line else "quiet halo"
        parts.append(text(float(x[place]), float(at[place]) - 7, words, text_anchor=anchor, class_=css))
    return parts


def _posts(scale: Scale, posts: Sequence[Post], y: object) -> list[str]:
    parts = []
    for post in posts:
        x, at = float(scale.x(post.frequency_hz)), float(y(post.value))  # type: ignore[operator]
        parts.append(tag("line", class_="post", x1=x, x2=x, y1=at, y2=scale.bottom))
        parts.append(tag("circle", class_="dip", cx=x, cy=at, r=4))
        anchor = "end" if x > scale.right - 70 else "start" if x < scale.left + 40 else "middle"
        parts.append(text(x, at - 9, post.words, text_anchor=anchor, class_="halo"))
    return parts
