"""Emissions as posts standing in the water or out of it: the limit is the level, the noise the bed."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.emissions.emission_path import PathLook
from levelmoor.core.emissions.emissions import EmissionFinding, EmissionsReport
from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.model.rule_sets import Limit, NoFigure, RuleSet, limit_of
from levelmoor.core.words.figures import brief_mhz, format_mhz
from levelmoor.figures.svg import document, path_of, tag, text


@dataclass(frozen=True)
class PostRow:
    """One unit, or one state of it, among posts side by side."""

    letter: str
    name: str
    report: EmissionsReport
    foreseen: bool = False
    """Whether a filter was reckoned in and not measured."""


def emission_posts(
    rows: Sequence[PostRow],
    rule: DecisionRule,
    noise_dbm: float | None = None,
    label: str = "Carrier and harmonics against the limit",
    width: float = 720,
    height: float = 360,
    alone: bool = False,
) -> str:
    """A group of posts for each harmonic, one post a row; the part in the water is within the limit, the ridge beyond.

    `noise_dbm` is the noise corrected for the path. Spurs that are not surely within stand at the right.
    """
    first = rows[0].report
    orders = [h.n for h in first.harmonics]
    spurs = sorted({round(s.frequency_hz, -3) for r in rows for s in r.report.spurious})
    places = ["carrier", *orders, *spurs]
    known = [f.level_dbm for r in rows for f in (*r.report.harmonics, *r.report.spurious) if f.level_dbm is not None]
    limits = [r.report.limit.dbm for r in rows if isinstance(r.report.limit, Limit)]
    carriers = [r.report.carrier.level_dbm or 0.0 for r in rows]
    top = max(carriers) + 5
    bottom = min([*known, *limits, *([noise_dbm] if noise_dbm is not None else [])], default=-60.0) - 8
    left, right, upper, lower = 54.0, width - 12, 30.0, height - 62

    def y(dbm: float) -> float:
        return lower - (min(max(dbm, bottom), top) - bottom) / (top - bottom) * (lower - upper)

    step = (right - left) / len(places)
    parts = [tag("rect", class_="sky", x=left, y=upper, width=right - left, height=lower - upper)]
    parts += _dbm_grid(bottom, top, y, left, right)
    if noise_dbm is not None and noise_dbm > bottom:
        parts.append(tag("rect", class_="bed", x=left, y=y(noise_dbm), width=right - left, height=lower - y(noise_dbm)))
        parts.append(text(left + 4, y(noise_dbm) + 14, "noise", class_="quiet halo"))
    if limits:
        parts += _water(first, rule, y, left + step, right, lower)
    for i, place in enumerate(places):
        middle = left + (i + 0.5) * step
        parts += _group(rows, place, middle, min(step / (len(rows) + 1), 34.0), y, lower, bottom)
        parts += _under(first, place, middle, lower, step)
    parts.append(text(left, upper - 12, "dBm at the radio", class_="quiet"))
    return document((width, height), label, parts, alone, class_="lm-fig posts")


def _dbm_grid(bottom: float, top: float, y, left: float, right: float) -> list[str]:  # type: ignore[no-untyped-def]
    parts = []
    for dbm in range(int(bottom // 20 + 1) * 20, int(top) + 1, 20):
        parts.append(tag("line", class_="grid", x1=left, x2=right, y1=y(dbm), y2=y(dbm)))
        parts.append(text(left - 6, y(dbm) + 4, f"{dbm}".replace("-", "−"), text_anchor="end", class_="quiet"))
    return parts


def _water(report: EmissionsReport, rule: DecisionRule, y, left: float, right: float, lower: float) -> list[str]:  # type: ignore[no-untyped-def]
    """The limit as a water level over all emissions, with its guard band."""
    assert isinstance(report.limit, Limit)
    level = report.limit.dbm
    guard = max((guard_band(h.u_db or 0.0, rule) for h in report.harmonics), default=0.0)
    parts = [tag("rect", class_="basin", x=left, y=y(level), width=right - left, height=lower - y(level))]
    if guard:
        size = {"width": right - left, "height": y(level - guard) - y(level + guard)}
        parts.append(tag("rect", class_="guard", x=left, y=y(level + guard), **size))
    parts.append(tag("line", class_="level", x1=left, x2=right, y1=y(level), y2=y(level)))
    words = f"limit {level:.1f} dBm".replace("-", "−")
    parts.append(text(right - 4, y(level + guard) - 5, words, text_anchor="end", class_="level-text halo"))
    return parts


def _at(report: EmissionsReport, place: object) -> EmissionFinding | None:
    if isinstance(place, int):
        return next((h for h in report.harmonics if h.n == place), None)
    return next((s for s in report.spurious if round(s.frequency_hz, -3) == place), None)


def _group(
    rows: Sequence[PostRow],
    place: object,
    middle: float,
    room: float,
    y: Callable[[float], float],
    lower: float,
    bottom: float,
) -> list[str]:
    """The posts of one harmonic, one for each row, with the level over each."""
    parts = []
    for i, row in enumerate(rows):
        x = middle + (i - (len(rows) - 1) / 2) * room
        found = None if place == "carrier" else _at(row.report, place)
        level = row.report.carrier.level_dbm if place == "carrier" else found.level_dbm if found else None
        half = min(room * 0.32, 9.0)
        if level is None:
            parts.append(tag("path", class_="basin-empty", d=f"M{x - half:.1f} {lower - 20:.1f}v20h{2 * half:.1f}v-20"))
            parts.append(text(x, lower - 26, "?", text_anchor="middle", class_="quiet"))
            continue
        limit = row.report.limit.dbm if isinstance(row.report.limit, Limit) and place != "carrier" else None
        dry = lower if limit is None else min(y(limit), lower)
        tip = y(level)
        css = "pole carrier" if place == "carrier" else "pole"
        if row.foreseen:
            css += " foreseen"
        parts.append(tag("rect", class_=css, x=x - half, y=tip, width=2 * half, height=max(lower - tip, 1.0)))
        if limit is not None and tip < dry and found is not None and found.verdict is not Verdict.NOT_SHOWN:
            parts.append(tag("rect", class_="pole out", x=x - half, y=tip, width=2 * half, height=dry - tip))
        words = f"{'≤' if found is not None and found.bound else ''}{level:.0f}".replace("-", "−")
        parts.append(text(x, tip - 5, words, text_anchor="middle", class_="halo"))
        if len(rows) > 1:
            parts.append(text(x, lower - 4, row.letter, text_anchor="middle", class_="letter halo"))
    return parts


def _under(report: EmissionsReport, place: object, middle: float, lower: float, step: float) -> list[str]:
    """Under each group its order, its frequency, and the bands it falls into."""
    services: tuple[str, ...] = ()
    if place == "carrier":
        name, f = "carrier", report.carrier.frequency_hz
    elif isinstance(place, int):
        found = _at(report, place)
        name = f"{place}."
        f = found.frequency_hz if found else place * report.carrier.frequency_hz
        services = found.services if found else ()
    else:
        name, f = "spur", float(str(place))
    parts = [text(middle, lower + 17, name, text_anchor="middle", class_="name")]
    parts.append(text(middle, lower + 33, format_mhz(round(f, -3)), text_anchor="middle", class_="quiet"))
    if services and step > 40:
        parts.append(text(middle, lower + 49, f"in {services[0]}", text_anchor="middle", class_="level-text"))
    return parts


def path_figure(look: PathLook, width: float = 720, height: float = 240) -> str:
    """The carrier's level from the radio along the path to the analyzer, with what the analyzer stands, the limit as it
    sees it, and its noise; where it is narrow their words stand over their lines."""
    levels = [s.level_dbm for s in look.stages]
    marks = [m for m in (look.stages[-1].highest_dbm, look.limit_seen_dbm, look.noise_dbm) if m is not None]
    top, bottom = max([*levels, *marks]) + 8, min([*levels, *marks]) - 8
    narrow = width < 500
    left, right, upper, lower = 54.0, width - (24.0 if narrow else 150.0), 22.0, height - 44.0

    def y(dbm: float) -> float:
        return lower - (dbm - bottom) / (top - bottom) * (lower - upper)

    step = (right - left) / max(len(levels) - 1, 1)
    xs = [left + i * step for i in range(len(levels))]
    parts = [tag("rect", class_="sky", x=left, y=upper, width=width - 12 - left, height=lower - upper)]
    parts += _dbm_grid(bottom, top, y, left, width - 12)
    land = "".join(f"H{x:.1f}V{y(v):.1f}" for x, v in zip(xs[1:], levels[1:], strict=True))
    parts.append(tag("path", class_="land", d=f"M{xs[0]:.1f} {lower}V{y(levels[0]):.1f}{land}H{right:.1f}V{lower}Z"))
    stairs = "".join(f"H{x:.1f}V{y(v):.1f}" for x, v in zip(xs[1:], levels[1:], strict=True))
    parts.append(tag("path", class_="skyline", d=f"M{xs[0]:.1f} {y(levels[0]):.1f}{stairs}H{right + 8:.1f}"))
    for i, (x, stage) in enumerate(zip(xs, look.stages, strict=True)):
        anchor = "start" if i == 0 else "end" if i == len(xs) - 1 else "middle"
        parts.append(text(x, lower + 18 + 15 * (i % 2), stage.name, text_anchor=anchor, class_="quiet"))
        if i == 0 or stage.level_dbm != levels[i - 1]:
            words = f"{stage.level_dbm:+.0f} dBm".replace("-", "−")
            parts.append(text(x + 4, y(stage.level_dbm) - 6, words, class_="halo"))
    for value, what in (
        (look.stages[-1].highest_dbm, "input maximum"),
        (look.limit_seen_dbm, "limit, as it sees it"),
        (look.noise_dbm, "its noise"),
    ):
        if value is not None:
            parts.append(tag("line", class_="level", x1=right - 30, x2=right + 12, y1=y(value), y2=y(value)))
            shown = f"{what} {value:+.0f}".replace("-", "−")
            place = {"x": right + 12, "y": y(value) - 4} if narrow else {"x": right + 18, "y": y(value) + 4}
            anchor = "end" if narrow else "start"
            parts.append(text(place["x"], place["y"], shown, text_anchor=anchor, class_="level-text halo"))
    return document((width, height), "Levels from the radio to the analyzer", parts, class_="lm-fig")


def limit_curve(rules: RuleSet, carrier_hz: float, width: float = 400, height: float = 220) -> str:
    """The limit in dBm over carrier powers from 10 mW to 1.5 kW, at one carrier; a gap where there is no figure."""
    powers = np.logspace(-2, np.log10(1500), 240)
    found = [limit_of(rules, carrier_hz, float(p)) for p in powers]
    pieces: list[list[tuple[float, float]]] = [[]]
    for p, one in zip(powers.tolist(), found, strict=True):
        if isinstance(one, NoFigure):
            pieces.append([])
        else:
            pieces[-1].append((p, one.dbm))
    shown = [v for piece in pieces for _, v in piece]
    top, bottom = (max(shown) + 6, min(shown) - 6) if shown else (0.0, -60.0)
    left, right, upper, lower = 54.0, width - 14, 24.0, height - 36

    def x(watts: float) -> float:
        return left + (math.log10(watts) + 2) / (math.log10(1500) + 2) * (right - left)

    def y(dbm: float) -> float:
        return lower - (dbm - bottom) / (top - bottom) * (lower - upper)

    parts = [tag("rect", class_="sky", x=left, y=upper, width=right - left, height=lower - upper)]
    for dbm in range(int(bottom // 10 + 1) * 10, int(top) + 1, 10):
        parts.append(tag("line", class_="grid", x1=left, x2=right, y1=y(dbm), y2=y(dbm)))
        parts.append(text(left - 6, y(dbm) + 4, f"{dbm}".replace("-", "−"), text_anchor="end", class_="quiet"))
    for watts in (0.01, 0.1, 1, 10, 100, 1000):
        at = float(x(watts))
        parts.append(tag("line", class_="axis", x1=at, x2=at, y1=lower, y2=lower + 5))
        parts.append(text(at, lower + 18, f"{watts:g} W", text_anchor="middle", class_="quiet"))
    for piece in (p for p in pieces if len(p) > 1):
        px, py = np.array([float(x(p)) for p, _ in piece]), np.array([y(v) for _, v in piece])
        parts.append(tag("path", class_="water", d=path_of(px, py) + f"L{px[-1]:.1f} {lower} {px[0]:.1f} {lower}Z"))
        parts.append(tag("path", class_="level", fill="none", d=path_of(px, py)))
    if not shown:
        parts.append(text((left + right) / 2, (upper + lower) / 2, "no figure for this carrier", text_anchor="middle"))
    parts.append(text(left, upper - 8, f"limit in dBm at {brief_mhz(carrier_hz)} MHz", class_="quiet"))
    return document((width, height), f"Limit of {rules.id} over carrier power", parts, class_="lm-fig")
