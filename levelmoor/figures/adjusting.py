"""Rounds of an adjustment: the way of each dip towards its wanted frequency, and the rounds' skylines behind each
other."""

from collections.abc import Sequence

import numpy as np

from levelmoor.core.adjusting.response import Predicted
from levelmoor.core.adjusting.round_log import RoundLog
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.verdict.targets import Aim
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import brief_mhz, format_mhz
from levelmoor.figures.axis import frequency_axis
from levelmoor.figures.curves import stretches_in
from levelmoor.figures.scale import Scale
from levelmoor.figures.svg import document, path_of, tag, text

WIDTH, HEIGHT = 300.0, 190.0
LEFT, RIGHT, TOP, BOTTOM = 58.0, 14.0, 22.0, 34.0


def dip_path(log: RoundLog, k: int) -> str:
    """The way of a band's dip over the rounds: water is the window, the line in it what is wanted; bars are where a dip
    was expected."""
    aim = log.aims[k]
    seen = [(n, b.dip_hz) for n, r in enumerate(log.rounds) if (b := r.bands[k]) is not None and b.dip_hz is not None]
    foreseen = [(n, p) for n, r in enumerate(log.rounds) if (p := log.foreseen(r)[k]) is not None]
    if log.advice.moves and (next_ := log.advice.expected[k]) is not None:
        foreseen.append((len(log.rounds), next_))
    steps = max([n for n, _ in seen] + [n for n, _ in foreseen] + [1])
    low, high = _range(aim, [hz for _, hz in seen])

    def x(n: float) -> float:
        return LEFT + 16 + (WIDTH - LEFT - RIGHT - 40) * n / steps

    def y(hz: float) -> float:
        share = min(max((hz - low) / (high - low), 0.0), 1.0)
        return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * share

    parts = _stage(aim, low, high, y)
    parts += [_bar(x(n), y, p) for n, p in foreseen]
    at = [(x(n), y(hz)) for n, hz in seen]
    if len(at) > 1:
        parts.append(tag("path", class_="skyline", d=path_of(*(np.array(v) for v in zip(*at, strict=True)))))
    parts += [
        tag("circle", class_="point", cx=px, cy=py, r=5.0 if i == len(at) - 1 else 3.0) for i, (px, py) in enumerate(at)
    ]
    for n, r in enumerate(log.rounds):
        parts.append(text(x(n), HEIGHT - BOTTOM + 16, str(r.number), text_anchor="middle", class_="quiet"))
    parts.append(text(WIDTH - RIGHT, HEIGHT - 4, "round", text_anchor="end", class_="quiet"))
    if at:
        px, py = at[-1]
        side = 18.0 if py < TOP + 24 else -10.0
        parts.append(
            text(
                min(px, WIDTH - 40),
                py + side,
                format_mhz(round(seen[-1][1], -3)),
                text_anchor="middle",
                class_="name halo",
            )
        )
    last = f", last at {brief_mhz(round(seen[-1][1], -3))} MHz" if seen else ", no dip yet"
    label = (
        f"{aim.window.name}: the dip over {counted(len(log.rounds), 'round')}, target {brief_mhz(aim.wanted_hz)} "
        f"MHz{last}"
    )
    return document((WIDTH, HEIGHT), label, parts, class_="lm-fig")


def _range(aim: Aim, dips: Sequence[float]) -> tuple[float, float]:
    every = [aim.window.low_hz, aim.window.high_hz, aim.wanted_hz, *dips]
    room = max(0.15 * (max(every) - min(every)), 0.004 * aim.wanted_hz)
    return min(every) - room, max(every) + room


def _stage(aim: Aim, low: float, high: float, y) -> list[str]:  # type: ignore[no-untyped-def]
    width = WIDTH - LEFT - RIGHT
    top, bottom = y(min(aim.window.high_hz, high)), y(max(aim.window.low_hz, low))
    parts = [
        tag("rect", class_="sky", x=LEFT, y=TOP, width=width, height=HEIGHT - TOP - BOTTOM),
        tag("rect", class_="basin", x=LEFT, y=top, width=width, height=max(bottom - top, 2.0)),
        tag("line", class_="level", x1=LEFT, x2=WIDTH - RIGHT, y1=y(aim.wanted_hz), y2=y(aim.wanted_hz)),
        text(LEFT, 14, aim.window.name, class_="name"),
        text(LEFT - 6, y(aim.wanted_hz) + 4, format_mhz(aim.wanted_hz), text_anchor="end", class_="level-text"),
    ]
    for hz in (low, high):
        if abs(y(hz) - y(aim.wanted_hz)) > 16:
            parts.append(
                text(
                    LEFT - 6,
                    y(hz) + (4 if hz == low else 10),
                    format_mhz(round(hz, -3)),
                    text_anchor="end",
                    class_="quiet",
                )
            )
    return parts


def _bar(x: float, y, foreseen: Predicted) -> str:  # type: ignore[no-untyped-def]
    high, low = y(foreseen.high_hz), y(foreseen.low_hz)
    return tag("rect", class_="mist", x=x - 7, y=high, width=14.0, height=max(low - high, 2.0))


def skylines(log: RoundLog, k: int, analyses: Sequence[SweepAnalysis]) -> str:
    """The curves of a band's rounds behind each other, the latest in front and solid, the first the faintest."""
    aim = log.aims[k]
    dips = [b.dip_hz for r in log.rounds if (b := r.bands[k]) is not None and b.dip_hz is not None]
    low, high = _range(aim, dips)
    wide = max((high - low) / 4, 0.02 * aim.wanted_hz)
    scale = Scale(low - wide, high + wide, LEFT, WIDTH - RIGHT, TOP, HEIGHT - BOTTOM)
    level = float(scale.y(gamma_from_swr(aim.limit_swr)))
    x1, x2 = (float(scale.x(v)) for v in (aim.window.low_hz, aim.window.high_hz))
    parts = [
        tag("rect", class_="sky", x=LEFT, y=TOP, width=WIDTH - LEFT - RIGHT, height=HEIGHT - TOP - BOTTOM),
        tag("rect", class_="basin", x=x1, y=level, width=max(x2 - x1, 1.0), height=scale.bottom - level),
        tag("line", class_="level", x1=LEFT, x2=WIDTH - RIGHT, y1=level, y2=level),
        text(LEFT - 6, level + 4, f"{aim.limit_swr:g}", text_anchor="end", class_="level-text"),
        text(LEFT - 6, scale.bottom, "1", text_anchor="end", class_="quiet"),
        text(LEFT - 6, 14, "SWR", text_anchor="end", class_="quiet"),
    ]
    for n, analysis in enumerate(analyses):
        latest = n == len(analyses) - 1
        fade = 1.0 if latest else 0.25 + 0.4 * n / max(len(analyses) - 1, 1)
        for f, g in stretches_in(analysis, scale.low_hz, scale.high_hz, 160):
            if f.size > 1:
                path = path_of(scale.x(f), scale.y(np.abs(g)))
                parts.append(tag("path", class_="skyline", d=path, opacity=fade, stroke_width=None if latest else 1.0))
    parts += frequency_axis(scale)
    label = f"{aim.window.name}: the curves of {counted(len(analyses), 'round')}, the latest in front"
    return document((WIDTH, HEIGHT), label, parts, class_="lm-fig")
