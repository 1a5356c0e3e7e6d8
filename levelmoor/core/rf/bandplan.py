"""Band plans: amateur bands of the three ITU regions with their working segments, and other services.

The figures are data in `levelmoor.core.bands`, each file with its sources.
"""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

from levelmoor.core.plugins import BAND_PLANS, plugged
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

REGIONS = (1, 2, 3)


@dataclass(frozen=True)
class Band:
    name: str
    low_hz: float
    high_hz: float
    segments: tuple[Window, ...] = ()
    note: str = ""
    aliases: tuple[str, ...] = ()

    @property
    def window(self) -> Window:
        return Window(self.low_hz, self.high_hz, self.name)


@dataclass(frozen=True)
class BandPlan:
    title: str
    bands: tuple[Band, ...]
    sources: tuple[str, ...]


@lru_cache
def _read(name: str) -> BandPlan:
    return _plan(json.loads(files("levelmoor.core.bands").joinpath(f"{name}.json").read_text("utf-8")))


def _plan(raw: Mapping[str, Any]) -> BandPlan:
    bands = tuple(
        Band(
            b["name"],
            b["low_hz"],
            b["high_hz"],
            tuple(Window(s["low_hz"], s["high_hz"], f"{b['name']} {s['name']}") for s in b["segments"]),
            b.get("note", ""),
            tuple(b.get("aliases", ())),
        )
        for b in raw["bands"]
    )
    return BandPlan(raw["title"], bands, tuple(raw["sources"]))


def band_plan(region: int) -> BandPlan:
    """The amateur bands of an ITU region. Raises ValueError for a region that is not 1, 2 or 3."""
    if region not in REGIONS:
        raise ValueError(f"there are ITU regions 1, 2 and 3, but no {region}")
    return _read(f"region-{region}")


def band_at(hz: float, region: int) -> str:
    """The name of the amateur band that a frequency in Hz lies in; nothing where it lies in none."""
    return next((b.name for b in band_plan(region).bands if b.low_hz <= hz <= b.high_hz), "")


@lru_cache
def other_services() -> BandPlan:
    """Citizens' band, licence-exempt channels and the bands that plug-ins bring, judged only when named."""
    every = (_read("other"), *plugged(BAND_PLANS, _plan).values())
    return BandPlan(
        every[0].title, tuple(b for p in every for b in p.bands), tuple(s for p in every for s in p.sources)
    )


def _key(name: str) -> str:
    return "".join(name.split()).replace(",", "").lower()


@lru_cache
def _by_name(region: int) -> dict[str, Window]:
    found: dict[str, Window] = {}
    for band in (*other_services().bands, *band_plan(region).bands):
        for name in (band.name, *band.aliases):
            found[_key(name)] = band.window
        for segment in band.segments:
            found.setdefault(_key(segment.name), segment)
    return found


def find_band(name: str, region: int) -> Window:
    """The window of a band or segment by its name (`20m`, `70 cm`, `CB`, `20m voice`), case and spaces ignored.

    Raises
    ------
    ValueError
        If the region has no such band; the message lists those it has.
    """
    window = _by_name(region).get(_key(name))
    if window is None:
        names = ", ".join(b.name for b in (*band_plan(region).bands, *other_services().bands))
        raise ValueError(f'there is no band "{name}" in region {region}; choose from {names}')
    return window


@dataclass(frozen=True)
class MovedBand:
    """A band by its name that was written down in another region than it is judged in."""

    old: Window
    new: Window
    region: int


def moved_bands(windows: Iterable[Window], region: int, own: Sequence[Window] = ()) -> tuple[MovedBand, ...]:
    """The windows that are a band or segment of another region by name and edges, and another one of that name here.

    A range that somebody typed has no band's name, and a team's `own` bands mean themselves.
    """
    return tuple(m for w in windows if (m := _moved(w, region, own)) is not None)


def in_region(windows: Iterable[Window], region: int, own: Sequence[Window] = ()) -> tuple[Window, ...]:
    """The windows with every band that is meant by its name as it is in the region."""
    return tuple(m.new if (m := _moved(w, region, own)) else w for w in windows)


def _moved(window: Window, region: int, own: Sequence[Window]) -> MovedBand | None:
    here = _by_name(region).get(_key(window.name))
    if here is None or here.ends == window.ends or any(w.name == window.name for w in own):
        return None
    for other in REGIONS:
        there = _by_name(other).get(_key(window.name))
        if there is not None and there.ends == window.ends:
            return MovedBand(window, Window(*here.ends, window.name), other)
    return None


def bands_covered(sweep: Sweep, region: int) -> list[Band]:
    """The amateur bands of the region that lie wholly inside a sweep, by rising frequency."""
    return [b for b in band_plan(region).bands if sweep.covers(b.low_hz, b.high_hz)]
