"""The plan's figures: a time axis of rebuilds, calibrations and sweeps, and which window is covered by which sweep."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.plan.plan_model import Plan, Run, StageKind
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import room_of
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import format_range, format_step
from levelmoor.figures.svg import document, tag, text

LANES = (
    (StageKind.REBUILD, "Rebuild", "lane-rebuild"),
    (StageKind.CALIBRATION, "Calibrate", "lane-calibration"),
    (StageKind.SWEEP, "Sweep", "lane-sweep"),
)


def time_axis(plan: Plan, width: float = 760, height: float = 132) -> str:
    """Three lanes over minutes; the words of a rebuild stand in it where they fit."""
    left, right, top, lane = 84.0, width - 16, 8.0, 28.0
    total = max(plan.minutes, 1.0)
    bottom = top + 3 * lane + 6

    def x(minutes: float) -> float:
        return left + minutes / total * (right - left)

    parts = [tag("rect", class_="sky", x=left, y=top, width=right - left, height=3 * lane + 2)]
    step = next(s for s in (5, 10, 15, 30, 60, 120, 240, 480, 1440, 10**9) if total / s <= 12)
    for minute in np.arange(0, total + 0.01, step):
        at = x(float(minute))
        parts.append(tag("line", class_="grid", x1=at, x2=at, y1=top, y2=bottom))
        words = f"{int(minute) // 60}:{int(minute) % 60:02d}"
        parts.append(text(at, bottom + 16, words, text_anchor="middle", class_="quiet"))
    parts.append(text(right, bottom + 32, "hours:minutes", text_anchor="end", class_="quiet"))
    for n, (kind, name, css) in enumerate(LANES):
        y = top + 2 + n * lane
        parts.append(text(left - 8, y + 18, name, text_anchor="end"))
        for stage in (s for s in plan.stages if s.kind is kind):
            start, end = x(stage.start_min), x(stage.start_min + stage.minutes)
            shown = max(end - start - 0.8, 1.2)
            parts.append(
                tag(
                    "rect",
                    tag("title", _escaped(f"{stage.words}, {stage.minutes:g} min")),
                    class_=css,
                    x=start,
                    y=y,
                    width=shown,
                    height=lane - 4,
                    rx=2,
                )
            )
            fitting = int((shown - 8) / 6.4)
            if kind is StageKind.REBUILD and fitting >= 3:
                words = stage.words if len(stage.words) <= fitting else f"{stage.words[: fitting - 1].rstrip(', ')}…"
                parts.append(text(start + 4, y + 16, words))
    said = ", ".join(counted(plan.count(k), k.value) for k in StageKind)
    return document((width, height), f"{said}; {total:.0f} minutes in all", parts, class_="lm-fig")


def _escaped(words: str) -> str:
    return words.replace("&", "&amp;").replace("<", "&lt;")


@dataclass(frozen=True)
class CoverRow:
    """A window with the run that shows it, and of how many samples and setups."""

    window: Window
    run: Run | None
    times: int


def cover_rows(plan: Plan) -> list[CoverRow]:
    """One row for each window of the claims, covered or not, by rising frequency."""
    runs = {r.key: r for r in plan.runs}
    rows: dict[tuple[float, float], CoverRow] = {}
    for cover in plan.covers:
        key = (cover.window.low_hz, cover.window.high_hz)
        run = runs[cover.run_key]
        times = sum(1 for r in plan.runs if not r.problem and r.claim_ids and _has(r, key))
        rows.setdefault(key, CoverRow(cover.window, run, times))
    for lost in plan.uncovered:
        if lost.window is None:
            continue
        key = (lost.window.low_hz, lost.window.high_hz)
        rows.setdefault(key, CoverRow(lost.window, None, 0))
    return [rows[k] for k in sorted(rows)]


def _has(run: Run, window: tuple[float, float]) -> bool:
    return any((w.low_hz, w.high_hz) == window for w in run.windows)


def cover_map(rows: list[CoverRow], width: float = 760, row_height: float = 44) -> str:
    """Each window a basin in the land, on a scale of its own: filled where a sweep covers it, its points as stakes."""
    left, right = 128.0, width - 250
    parts = []
    for n, row in enumerate(rows):
        y = 6 + n * row_height
        parts += _basin(row, left, right, y, row_height - 12)
        parts.append(
            text(
                left - 10,
                y + 20,
                _short(row.window),
                text_anchor="end",
                class_="name",
            )
        )
        for k, line in enumerate(_said(row)):
            parts.append(text(right + 12, y + 13 + 15 * k, line, class_="" if k == 0 else "quiet"))
    label = "; ".join(f"{r.window.name}: {' '.join(_said(r))}" for r in rows)
    return document((width, 12 + len(rows) * row_height), label, parts, class_="lm-fig")


def _short(window: Window) -> str:
    """A band by its name, a range by its figures without trailing zeros."""
    if "MHz" not in window.name:
        return window.name
    return f"{window.low_hz / 1e6:.6g}" if window.spot else f"{window.low_hz / 1e6:.6g}–{window.high_hz / 1e6:.6g}"


def _said(row: CoverRow) -> list[str]:
    if row.run is None:
        return [format_range(row.window.low_hz, row.window.high_hz), "no sweep shows it"]
    inside = _inside(row.run, row.window)
    passes = f", {counted(len(row.run.segments), 'pass', 'passes')}" if len(row.run.segments) > 1 else ""
    instrument = row.run.choice.instrument.name if row.run.choice.instrument else ""
    times = counted(row.times, "run")
    step = format_step(max(s.step_hz for s in row.run.segments))
    points = "" if row.window.spot else f"{counted(inside, 'point')} inside, "
    return [f"{instrument}, {times}", f"{points}step {step}{' around it' if row.window.spot else ''}{passes}"]


def _inside(run: Run, window: Window) -> int:
    points = np.unique(np.concatenate([np.linspace(s.low_hz, s.high_hz, s.points) for s in run.segments]))
    return int(np.count_nonzero((points >= window.low_hz) & (points <= window.high_hz)))


def _basin(row: CoverRow, left: float, right: float, y: float, height: float) -> list[str]:
    """The land with its basin from the window's low to its high end; stakes where the points fall."""
    room = 0.16
    a, b = left + room * (right - left), right - room * (right - left)
    floor = y + height
    parts = [
        tag(
            "path",
            class_="land",
            d=f"M{left} {y + 6}H{a}L{a + 9} {floor}H{b - 9}L{b} {y + 6}H{right}V{floor + 3}H{left}Z",
        )
    ]
    if row.run is None:
        parts.append(tag("path", class_="basin-empty", d=f"M{a} {y + 6}L{a + 9} {floor}H{b - 9}L{b} {y + 6}"))
        return parts
    parts.append(tag("path", class_="water", d=f"M{a + 2} {y + 10}L{a + 9} {floor}H{b - 9}L{b - 2} {y + 10}Z"))
    # A spot has no width of its own; its basin is half of what is swept around it.
    low = row.window.low_hz - (room_of(row.window) / 4 if row.window.spot else 0)
    high = row.window.high_hz + (room_of(row.window) / 4 if row.window.spot else 0)
    hz_per_px = (high - low) / (b - a)

    def x(hertz: float) -> float:
        return a + (hertz - low) / hz_per_px

    for segment in row.run.segments:
        start, end = max(x(segment.low_hz), left), min(x(segment.high_hz), right)
        if end <= left or start >= right:
            continue
        parts.append(tag("line", class_="reach", x1=start, x2=end, y1=y + 2, y2=y + 2))
        for edge in (start, end):
            parts.append(tag("line", class_="reach", x1=edge, x2=edge, y1=y - 1, y2=y + 5))
        wide = segment.step_hz / hz_per_px
        every = max(1, int(np.ceil(2.5 / wide)))
        stakes = [x(segment.low_hz + k * segment.step_hz) for k in range(0, segment.points, every)]
        d = "".join(f"M{s:.1f} {y + 4}v4" for s in stakes if start <= s <= end)
        parts.append(tag("path", class_="stakes", d=d))
    return parts
