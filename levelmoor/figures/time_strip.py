"""A time strip: SWR over the minutes with its marks; by azimuth as a polar figure; against distance."""

import math

import numpy as np

from levelmoor.core.model.time_strips import StripKind, TimeStrip
from levelmoor.core.readings.time_strip import FEWEST, placed
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.figures.scale import SWR_TICKS, TOP_GAMMA
from levelmoor.figures.svg import document, path_of, tag, text

WIDTH, HEIGHT = 320.0, 170.0
LEFT, RIGHT, TOP, BOTTOM = 34.0, 12.0, 30.0, 28.0
ROUND = 240.0
RINGS = (1.1, 1.2, 1.5, 2.0, 3.0, 5.0, 10.0)
MOST_RINGS = 3
RING_AT = 22.0
"""Degrees at which a ring says its SWR, between where marks mostly are."""


def _gamma(swr: float | None) -> float:
    return 1.0 if swr is None else float(gamma_from_swr(swr))


def strip_figure(strip: TimeStrip) -> str:
    """SWR at each wanted frequency over the minutes; what does not count is drawn thin, marks stand over it."""
    last = max((p.at_s for p in strip.points), default=1.0) or 1.0
    height = HEIGHT - TOP - BOTTOM

    def x(at_s: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * at_s / last

    def y(swr: float | None) -> float:
        return HEIGHT - BOTTOM - height * min(_gamma(swr) / TOP_GAMMA, 1.0)

    parts = [tag("rect", class_="sky", x=LEFT, y=TOP, width=WIDTH - LEFT - RIGHT, height=height)]
    for tick in SWR_TICKS:
        parts.append(tag("line", class_="grid", x1=LEFT, x2=WIDTH - RIGHT, y1=y(tick), y2=y(tick)))
        parts.append(text(LEFT - 6, y(tick) + 4, f"{tick:g}", text_anchor="end", class_="quiet"))
    for k in range(len(strip.wanted_hz)):
        at = np.array([x(p.at_s) for p in strip.points])
        swr = np.array([y(p.swr[k]) for p in strip.points])
        if at.size > 1:
            parts.append(tag("path", class_=f"curve k{k}", d=path_of(at, swr)))
    for p in (p for p in strip.points if not p.counts):
        parts.append(tag("line", class_="bank", x1=x(p.at_s), x2=x(p.at_s), y1=TOP, y2=HEIGHT - BOTTOM))
    for n, mark in enumerate(strip.marks):
        parts.append(tag("line", class_="level thin", x1=x(mark.at_s), x2=x(mark.at_s), y1=TOP - 4, y2=HEIGHT - BOTTOM))
        words = f"{mark.figure:g}" if mark.figure is not None else mark.words[:12]
        parts.append(text(x(mark.at_s) + 2, TOP - 8 - 10 * (n % 2), words, class_="small"))
    parts.append(text(WIDTH - RIGHT, HEIGHT - 8, f"{last / 60:.1f} min", text_anchor="end", class_="quiet"))
    label = f"SWR over {last / 60:.1f} minutes with {len(strip.marks)} marks"
    return document((WIDTH, HEIGHT), label, parts, class_="lm-fig several")


def place_figure(strip: TimeStrip) -> str:
    """By azimuth a polar figure, by distance a curve; empty where the marks have too few figures."""
    where = placed(strip)
    if len(where) < FEWEST:
        return ""
    return _polar(strip) if strip.kind is StripKind.ROTATION else _by_distance(strip)


def _polar(strip: TimeStrip) -> str:
    """|gamma| as the way from the middle, north up: a circle is what does not depend on where it points."""
    middle, most = ROUND / 2, ROUND / 2 - 28
    where = placed(strip)
    top = 1.1 * max(*(_gamma(s.high) for _, s in where), _gamma(1.2))

    def at(degrees: float, swr: float) -> tuple[float, float]:
        way = most * _gamma(swr) / top
        turn = math.radians(degrees)
        return middle + way * math.sin(turn), middle - way * math.cos(turn)

    parts = [tag("circle", class_="sky", cx=middle, cy=middle, r=most)]
    turn = math.radians(RING_AT)
    for tick in [s for s in RINGS if _gamma(s) <= top][-MOST_RINGS:]:
        r = most * _gamma(tick) / top
        parts.append(tag("circle", class_="rim thin", cx=middle, cy=middle, r=r))
        parts.append(text(middle + r * math.sin(turn), middle - r * math.cos(turn), f"{tick:g}", class_="small halo"))
    for degrees in (0.0, 90.0, 180.0, 270.0):
        px = middle + (most + 14) * math.sin(math.radians(degrees))
        py = middle - (most + 14) * math.cos(math.radians(degrees))
        parts.append(text(px, py + 4, f"{degrees:g}°", text_anchor="middle", class_="quiet"))
    ring = [at(d, s.middle) for d, s in where]
    closed = np.array([*ring, ring[0]])
    parts.append(tag("path", class_="skyline", d=path_of(closed[:, 0], closed[:, 1])))
    for (degrees, s), (px, py) in zip(where, ring, strict=True):
        (x1, y1), (x2, y2) = at(degrees, s.low), at(degrees, s.high)
        parts.append(tag("line", class_="post", x1=x1, y1=y1, x2=x2, y2=y2))
        parts.append(tag("circle", class_="point", cx=px, cy=py, r=4.0))
    label = f"SWR by azimuth ({len(where)}), north up"
    return document((ROUND, ROUND), label, parts, class_="lm-fig")


def _by_distance(strip: TimeStrip) -> str:
    where = placed(strip)
    far = max(d for d, _ in where) or 1.0
    height = HEIGHT - TOP - BOTTOM

    def x(metres: float) -> float:
        return LEFT + 10 + (WIDTH - LEFT - RIGHT - 20) * metres / far

    def y(swr: float) -> float:
        return HEIGHT - BOTTOM - height * min(_gamma(swr) / TOP_GAMMA, 1.0)

    parts = [tag("rect", class_="sky", x=LEFT, y=TOP, width=WIDTH - LEFT - RIGHT, height=height)]
    for tick in SWR_TICKS:
        parts.append(tag("line", class_="grid", x1=LEFT, x2=WIDTH - RIGHT, y1=y(tick), y2=y(tick)))
        parts.append(text(LEFT - 6, y(tick) + 4, f"{tick:g}", text_anchor="end", class_="quiet"))
    line = np.array([(x(d), y(s.middle)) for d, s in where])
    parts.append(tag("path", class_="skyline", d=path_of(line[:, 0], line[:, 1])))
    for d, s in where:
        parts.append(tag("line", class_="post", x1=x(d), x2=x(d), y1=y(s.low), y2=y(s.high)))
        parts.append(tag("circle", class_="point", cx=x(d), cy=y(s.middle), r=4.0))
        parts.append(text(x(d), HEIGHT - BOTTOM + 15, f"{d:g}", text_anchor="middle", class_="quiet"))
    parts.append(text(WIDTH - RIGHT, HEIGHT - 2, "m", text_anchor="end", class_="quiet"))
    return document((WIDTH, HEIGHT), f"SWR against distance ({len(where)})", parts, class_="lm-fig")
