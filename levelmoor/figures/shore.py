"""The shore of what a tuner matches: by band the loads it took as water, those it did not as land, trials as stones."""

import math
from collections.abc import Sequence

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.trial_verdict import CellFinding
from levelmoor.figures.svg import document, tag, text

PANEL_W, PANEL_H = 172.0, 128.0
LEFT, TOP, GAP = 46.0, 26.0, 14.0
BOTTOM = 40.0
CELLS_X, CELLS_Y = 24, 12
REACH = 0.45
"""So far in Γ a trial speaks for the loads around it."""


def shore(
    bands: Sequence[tuple[Window, Sequence[CellFinding]]], claimed: float | None = None, most_across: int = 5
) -> str:
    """A panel for each band: the angle of the load's reflection across, its size upwards, so that 50 Ω lies along the
    bottom and what reflects everything along the top. `claimed` draws the size up to which a match is claimed.

    Water and land are those of the nearest trial; where none is near, the paper stays bare.
    """
    across = min(len(bands), most_across)
    rows = math.ceil(len(bands) / across)
    width = LEFT + most_across * (PANEL_W + GAP)  # so that few bands are not drawn larger than many
    height = rows * (PANEL_H + TOP + BOTTOM)
    parts = []
    for n, (window, cells) in enumerate(bands):
        x0 = LEFT + (n % across) * (PANEL_W + GAP)
        y0 = TOP + (n // across) * (PANEL_H + TOP + BOTTOM)
        parts += _panel(window, cells, claimed, x0, y0, n % across == 0)
    told = sum(c.tried for _, cells in bands for c in cells)
    good = sum(c.good for _, cells in bands for c in cells)
    return document((width, height), f"Loads matched: {good} of {told} trials within the limit", parts, class_="lm-fig")


def _panel(
    window: Window, cells: Sequence[CellFinding], claimed: float | None, x0: float, y0: float, labelled: bool
) -> list[str]:
    known = [(c, c.cell.load.gamma) for c in cells if c.cell.load.gamma is not None]
    parts = [
        text(x0, y0 - 8, window.name, class_="name"),
        tag("rect", class_="sky", x=x0, y=y0, width=PANEL_W, height=PANEL_H),
    ]
    wide, high = PANEL_W / CELLS_X, PANEL_H / CELLS_Y
    for i in range(CELLS_X):
        for j in range(CELLS_Y):
            size, angle = (j + 0.5) / CELLS_Y, -math.pi + 2 * math.pi * (i + 0.5) / CELLS_X
            here = size * complex(math.cos(angle), math.sin(angle))
            near = min(known, key=lambda k: abs(k[1] - here), default=None)
            if near is None or abs(near[1] - here) > REACH:
                continue
            name = {Verdict.PASS: "water", Verdict.FAIL: "land"}.get(near[0].verdict)
            if name:
                parts.append(
                    tag("rect", class_=name, x=x0 + i * wide, y=y0 + PANEL_H - (j + 1) * high, width=wide, height=high)
                )
    if claimed is not None:
        y = y0 + PANEL_H * (1 - claimed)
        parts.append(tag("line", class_="level", x1=x0, x2=x0 + PANEL_W, y1=y, y2=y))
    for found, gamma in known:
        angle = math.atan2(gamma.imag, gamma.real)
        x, y = x0 + PANEL_W * (angle + math.pi) / (2 * math.pi), y0 + PANEL_H * (1 - min(abs(gamma), 1.0))
        x = min(max(x, x0 + 5), x0 + PANEL_W - 5)
        y = min(max(y, y0 + 5), y0 + PANEL_H - 5)
        parts.append(_stone(found, x, y))
    for share, words in ((0.0, "short"), (0.5, "open"), (1.0, "short")):
        anchor = "start" if share == 0 else "end" if share == 1 else "middle"
        parts.append(text(x0 + share * PANEL_W, y0 + PANEL_H + 15, words, text_anchor=anchor, class_="quiet"))
    for share, words in ((0.25, "capacitive"), (0.75, "inductive")):
        parts.append(text(x0 + share * PANEL_W, y0 + PANEL_H + 29, words, text_anchor="middle", class_="quiet"))
    if labelled:
        for swr in (1, 3, 10):
            y = y0 + PANEL_H * (1 - (swr - 1) / (swr + 1))
            parts.append(text(x0 - 5, y + 4 - (3 if swr == 1 else 0), f"{swr}:1", text_anchor="end", class_="quiet"))
    return parts


def _stone(found: CellFinding, x: float, y: float) -> str:
    """A full stone matched, a ring did not, half of one came out either way."""
    title = tag("title", f"{found.place}: {found.words}")
    if found.verdict is Verdict.PASS:
        return tag("circle", title, class_="pebble", cx=x, cy=y, r=4.5)
    if found.verdict is Verdict.FAIL:
        return tag("g", title + tag("circle", class_="stone", cx=x, cy=y, r=4.5)
                   + tag("path", class_="stone", d=f"M{x - 3:.1f} {y - 3:.1f}l6 6m0 -6l-6 6"))  # fmt: skip
    return tag("g", title + tag("circle", class_="stone", cx=x, cy=y, r=4.5)
               + tag("path", class_="pebble", d=f"M{x - 4.5:.1f} {y:.1f}a4.5 4.5 0 0 0 9 0Z"))  # fmt: skip


def seconds_figure(times: Sequence[tuple[str, float, bool]], limit_s: float | None, width: float = 900.0) -> str:
    """Each timed match as a column, fresh ones full, recalled ones hollow; the line is what is claimed."""
    height, left, top, bottom = 150.0, 44.0, 14.0, 34.0
    high = 1.15 * max([s for _, s, _ in times] + ([limit_s] if limit_s else []) + [0.1])
    room = (width - left - 10) / max(len(times), 1)

    def y(s: float) -> float:
        return height - bottom - (height - top - bottom) * s / high

    parts = [
        tag("rect", class_="sky", x=left, y=top, width=width - left - 10, height=height - top - bottom),
        text(left - 5, top + 10, f"{high:.3g} s", text_anchor="end", class_="quiet"),
        text(left - 5, height - bottom, "0", text_anchor="end", class_="quiet"),
    ]
    for n, (words, s, memory) in enumerate(times):
        x = left + room * (n + 0.5)
        bar = min(room * 0.66, 26.0)
        size = {"x": x - bar / 2, "y": y(s), "width": bar, "height": height - bottom - y(s)}
        title = tag("title", f"{words}: {s:g} s{', recalled' if memory else ''}")
        parts.append(tag("rect", title, class_="stone" if memory else "water", **size))
    if limit_s:
        parts.append(tag("line", class_="level", x1=left, x2=width - 10, y1=y(limit_s), y2=y(limit_s)))
    step = max(1, math.ceil(len(times) * 52 / (width - left)))
    for n in range(0, len(times), step):
        at, below = left + room * (n + 0.5), height - bottom + 16
        parts.append(text(at, below, times[n][0].split(" ")[0], text_anchor="middle", class_="quiet"))
    parts.append(text(left, height - 3, "MHz; full: fresh, hollow: from memory", class_="quiet"))
    return document((width, height), f"Seconds of {len(times)} matches", parts, class_="lm-fig")
