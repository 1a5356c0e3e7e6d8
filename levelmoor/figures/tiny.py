"""Tiny figures for lists: loads matched, emissions against their limit, an impedance or a loss over frequency."""

from collections.abc import Sequence

import numpy as np

from levelmoor.core.rf.reflection import FloatArray
from levelmoor.figures.svg import area_between, document, path_of, tag

WIDTH, HEIGHT = 76.0, 34.0
DB_SHOWN = 40.0
"""Of emissions, so far below the limit and half as far above it."""


def _tiny(label: str, parts: Sequence[str]) -> str:
    sky = tag("rect", class_="sky", x=0, y=0, width=WIDTH, height=HEIGHT)
    return document((WIDTH, HEIGHT), label, [sky, *parts], class_="lm-fig tiny", width=WIDTH, height=HEIGHT)


def tiny_tally(matched: int, tried: int, label: str) -> str:
    """A field for each trial, filled with water where it matched, hatched land where it did not."""
    columns = min(max(tried, 1), 12)
    rows = -(-tried // columns)
    wide, high = WIDTH / columns, HEIGHT / max(rows, 1)
    fields = [
        tag(
            "rect",
            class_="water" if n < matched else "ridge",
            x=(n % columns) * wide + 0.75,
            y=(n // columns) * high + 0.75,
            width=wide - 1.5,
            height=max(high - 1.5, 1),
        )
        for n in range(tried)
    ]
    return _tiny(label, fields)


def tiny_posts(margins_db: Sequence[float], label: str) -> str:
    """A post for each emission, by its margin to the limit: what stands above the line is over it."""
    whole = 1.5 * DB_SHOWN
    level = HEIGHT * DB_SHOWN / 2 / whole
    wide = WIDTH / max(len(margins_db), 1)
    parts = []
    for n, margin in enumerate(margins_db):
        top = level + min(max(margin, -DB_SHOWN / 2), DB_SHOWN) * HEIGHT / whole
        x, width = n * wide + wide / 4, min(wide / 2, 10.0)
        parts.append(tag("rect", class_="land", x=x, y=max(top, level), width=width, height=HEIGHT - max(top, level)))
        if top < level:
            parts.append(tag("rect", class_="ridge", x=x, y=top, width=width, height=level - top))
    return _tiny(label, [*parts, tag("line", class_="level", x1=0, x2=WIDTH, y1=level, y2=level)])


def tiny_curve(frequency_hz: FloatArray, size: FloatArray, limit: float | None, label: str) -> str:
    """A positive size over frequency, both in decades, with its limit as a line."""
    kept = np.linspace(0, frequency_hz.size - 1, min(frequency_hz.size, 40)).astype(int)
    f, y = np.log(frequency_hz[kept]), np.log10(np.maximum(size[kept], 1e-9))
    shown = [*y.tolist(), *([] if limit is None else [float(np.log10(limit))])]
    low, high = min(shown) - 0.2, max(shown) + 0.2
    at = HEIGHT * (high - y) / (high - low)
    x = WIDTH * (f - f[0]) / max(float(f[-1] - f[0]), 1e-9)
    parts = [
        tag("path", class_="land", d=area_between(x, at, np.full(x.size, HEIGHT))),
        tag("path", class_="skyline", d=path_of(x, at)),
    ]
    if limit is not None:
        line = HEIGHT * (high - float(np.log10(limit))) / (high - low)
        parts.append(tag("line", class_="level", x1=0, x2=WIDTH, y1=line, y2=line))
    return _tiny(label, parts)
