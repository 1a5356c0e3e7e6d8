"""A notebook's widths over the days, each band by itself: nothing is joined across bands."""

from collections.abc import Sequence

from levelmoor.core.model.widths import WidthReading
from levelmoor.core.words.figures import format_step
from levelmoor.figures.svg import document, tag, text

WIDTH, HEIGHT = 300.0, 150.0
LEFT, RIGHT, TOP, BOTTOM = 58.0, 14.0, 22.0, 30.0


def widths_figure(band: str, readings: Sequence[tuple[WidthReading, float]], claimed_hz: float | None) -> str:
    """The readings of one band in the order of their days, each with twice its u; the line is what is claimed."""
    tops = [w.width_hz + 2 * u for w, u in readings] + ([claimed_hz] if claimed_hz else [])
    high = 1.1 * max(tops)

    def y(hz: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * min(max(hz / high, 0.0), 1.0)

    step = (WIDTH - LEFT - RIGHT - 20) / max(len(readings), 1)
    parts = [
        tag("rect", class_="sky", x=LEFT, y=TOP, width=WIDTH - LEFT - RIGHT, height=HEIGHT - TOP - BOTTOM),
        text(LEFT, 14, band, class_="name"),
        text(LEFT - 6, TOP + 8, format_step(high), text_anchor="end", class_="quiet"),
        text(LEFT - 6, HEIGHT - BOTTOM, "0", text_anchor="end", class_="quiet"),
    ]
    if claimed_hz:
        parts.append(tag("line", class_="level", x1=LEFT, x2=WIDTH - RIGHT, y1=y(claimed_hz), y2=y(claimed_hz)))
    for n, (w, u) in enumerate(readings):
        x = LEFT + 10 + step * (n + 0.5)
        size = {"width": step * 0.56, "height": HEIGHT - BOTTOM - y(w.width_hz)}
        parts.append(tag("rect", class_="water", x=x - step * 0.28, y=y(w.width_hz), **size))
        parts.append(tag("line", class_="post", x1=x, x2=x, y1=y(w.width_hz + 2 * u), y2=y(w.width_hz - 2 * u)))
    for n in {0, len(readings) - 1}:
        day, first = readings[n][0].taken_on[:10] or f"{n + 1}", n == 0
        x, anchor = (LEFT + 4, "start") if first else (WIDTH - RIGHT, "end")
        parts.append(text(x, HEIGHT - BOTTOM + 16, day, text_anchor=anchor, class_="quiet"))
    latest = readings[-1][0]
    label = f"{band}: {len(readings)} widths at {latest.swr:g}:1, the latest {format_step(latest.width_hz)}"
    return document((WIDTH, HEIGHT), label, parts, class_="lm-fig")
