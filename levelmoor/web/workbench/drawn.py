"""The figure of the main screen, drawn once as long as nothing that it shows is new."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.figures.landscape import Waterline, landscape, read_off_data, view_around
from levelmoor.records.kept import Kept

SIZES = ("wide", "narrow")


@dataclass(frozen=True)
class Panel:
    """One drawn figure; `svg` for a screen, `small` for a telephone, either empty where it is not wanted; `points` for
    reading off."""

    name: str
    svg: str
    small: str
    points: str


@dataclass(frozen=True)
class Drawn:
    """What the figure is drawn of: a sweep as analysed with its instrument's figures, the windows and levels it is held
    against, and the view that is wanted of them."""

    analysis: SweepAnalysis
    figures: Residuals
    windows: tuple[Window, ...]
    levels: list[Waterline]
    region: int
    view: str
    own: tuple[Window, ...] = ()


_panels: Kept[tuple[Panel, ...]] = Kept(64)


def panels(drawn: Drawn, name: str, sizes: Sequence[str], key: Hashable) -> tuple[Panel, ...]:
    """The panels of the figure of a sweep; `key` stands for the evaluation and what is in hand of it."""
    return _panels.get((key, tuple(sizes)), lambda: _draw(drawn, name, sizes))


def _draw(drawn: Drawn, sweep_name: str, sizes: Sequence[str]) -> tuple[Panel, ...]:
    segments = [*(s for b in band_plan(drawn.region).bands for s in b.segments), *drawn.own]
    views = _views(drawn.view, drawn.analysis, drawn.windows)
    found = []
    for i, (name, low, high) in enumerate(views):
        inside = [s for s in segments if s.low_hz < high and s.high_hz > low] if high - low < 0.2 * high else []
        label = f"SWR of {sweep_name} from {low / 1e6:.3f} to {high / 1e6:.3f} MHz"
        wide = 800 / len(views) if len(views) <= 2 else 400
        sized = {
            size: landscape(
                drawn.analysis,
                drawn.levels,
                drawn.figures,
                (low, high),
                inside,
                label=label,
                width=width,
                height=height,
                ident=f"land-{i}-{size}",
            )
            for size, width, height in (("wide", wide, 350), ("narrow", 360, 320))
            if size in sizes
        }
        points = read_off_data(drawn.analysis.sweep, low, high)
        found.append(Panel(name, sized.get("wide", ""), sized.get("narrow", ""), points))
    return tuple(found)


def _views(wanted: str, analysis: SweepAnalysis, windows: tuple[Window, ...]) -> list[tuple[str, float, float]]:
    """The panels of a view: `whole`, one window by its number, or every window beside the others."""
    sweep = analysis.sweep
    whole = [("Whole sweep", sweep.low_hz, sweep.high_hz)]
    if wanted.isdigit() and int(wanted) < len(windows):
        windows = (windows[int(wanted)],)
    reached = [w for w in windows if sweep.cut(w.low_hz, w.high_hz) is not None]
    if wanted == "whole" or not 0 < len(reached) <= 4:
        return whole
    return [(w.name, *view_around(sweep, [w])) for w in reached]
