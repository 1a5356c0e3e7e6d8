"""What a live sweep looks like on a screen: the large figure and four large numbers."""

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.live_numbers import LiveNumbers, live_lines, live_numbers
from levelmoor.core.rf.spectral_lines import SpectralLine
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.through_numbers import through_numbers
from levelmoor.core.through.through_verdict import format_through
from levelmoor.core.words.figures import format_mhz, format_swr
from levelmoor.figures.landscape import Waterline, landscape
from levelmoor.figures.profile import Post, Profile, profile
from levelmoor.instruments.live import Taken
from levelmoor.web.through.drawn import Between

LEVELS = 21
"""Frequencies at which the level tells whether the article is being moved."""


@dataclass(frozen=True)
class Asked:
    """What a live screen asks for: windows with their limits, the instrument's figures, the wanted frequencies, the
    first of them in large; with a tuner in line nothing is said of long and short."""

    limits: tuple[tuple[Window, float], ...]
    figures: Residuals
    wanted_hz: tuple[float, ...] = ()
    tuner: bool = False


SIZES = ((900.0, 400.0), (380.0, 330.0))
"""Wide and narrow."""


def drawn_between(taken: Taken, between: Between, wanted_hz: float | None) -> dict[str, Any]:
    """The same of a sweep from port to port."""
    assert taken.through is not None
    curve, found = read = between.read(taken.through)
    n = through_numbers(curve, found.impedance if found else None, wanted_hz)
    wide, narrow = between.figures_of(read, SIZES)
    return {
        **_named(taken),
        "ports": True,
        "wide": wide,
        "narrow": narrow,
        "least": format_through(n.least, n.unit),
        "least_at": f"at {format_mhz(round(n.least_hz, -3))} MHz",
        "most": format_through(n.most, n.unit),
        "most_at": f"at {format_mhz(round(n.most_hz, -3))} MHz",
        "through": "–" if n.wanted is None else format_through(n.wanted, n.unit),
        "through_at": _at(wanted_hz, n.wanted is not None),
        "through_ohm": "–" if n.wanted_ohm is None else _ohm(n.wanted_ohm).removesuffix(" Ω"),
        "stray": found.stray if found else "",
    }


def _named(taken: Taken) -> dict[str, Any]:
    return {"number": taken.number, "at": taken.at.strftime("%H:%M:%S")}


def _ohm(z: complex) -> str:
    return f"{z.real:.0f} {'−' if z.imag < 0 else '+'} j{abs(z.imag):.0f} Ω".replace("-", "−")


@lru_cache(maxsize=64)
def drawn(taken: Taken, asked: Asked) -> dict[str, Any]:
    """Figures for a wide and a narrow screen, and the numbers as text; every screen of one question shares them."""
    return _named(taken) | (_traced(taken) if taken.sweep is None else _swept(taken, asked))


def _swept(taken: Taken, asked: Asked) -> dict[str, Any]:
    assert taken.sweep is not None
    analysis = analyse_sweep(taken.sweep, 50.0)
    sweep = analysis.sweep
    levels = [
        Waterline(w, limit) for w, limit in asked.limits if not w.spot and sweep.cut(w.low_hz, w.high_hz) is not None
    ]
    sized = [
        landscape(analysis, levels, asked.figures, None, (), "SWR of the live sweep", width, height, ident=f"live-{n}")
        for n, (width, height) in zip(("wide", "narrow"), SIZES, strict=True)
    ]
    wanted_hz = next(iter(asked.wanted_hz), None)
    n = live_numbers(analysis, wanted_hz)
    wanted = "–"
    if n.wanted_swr is not None:
        wanted = format_swr(n.wanted_swr)
    return {
        "wide": sized[0],
        "narrow": sized[1],
        "best": format_swr(n.best_swr),
        "where": f"{format_mhz(round(n.best_hz, -3))} MHz",
        "wanted": wanted,
        "wanted_at": _at(n.wanted_hz, n.wanted_swr is not None),
        "ohm": "–" if n.wanted_ohm is None else _ohm(n.wanted_ohm),
        "zero": f"{format_mhz(round(n.zero_hz, -3))}" if n.zero_hz else "none",
        "zero_at": f"R = {n.zero_ohm:.0f} Ω there" if n.zero_ohm is not None else "X is nowhere zero",
        "way": "" if asked.tuner and n.off else n.way,
        "dips": [d.frequency_hz for d in analysis.dips if not d.at_edge],
        "levels": np.abs(sweep.gamma_at(np.linspace(sweep.low_hz, sweep.high_hz, LEVELS))).round(4).tolist(),
        "dip_hz": n.best_hz,
        "heard": [_heard(live_numbers(analysis, hz), asked) for hz in asked.wanted_hz if sweep.covers(hz, hz)],
    }


def _at(wanted_hz: float | None, reached: bool) -> str:
    if wanted_hz is None:
        return "no target"
    return f"at {format_mhz(wanted_hz)} MHz{'' if reached else ', not swept'}"


def _heard(n: LiveNumbers, asked: Asked) -> dict[str, Any]:
    """One wanted frequency for the ear: its SWR, whether its window's limit is kept, and the words that are spoken."""
    swr, hz = n.wanted_swr, n.wanted_hz or 0.0
    known = swr is not None and math.isfinite(swr)
    limit = min((limit for w, limit in asked.limits if w.low_hz <= hz <= w.high_hz), default=None)
    off = "" if asked.tuner else n.off
    several = f"{format_mhz(hz).rstrip('0').rstrip('.')}: " if len(asked.wanted_hz) > 1 else ""
    said = f"{swr:.1f}" if known else "everything is reflected"
    return {
        "hz": hz,
        "swr": swr if known else None,
        "within": known and limit is not None and swr is not None and swr <= limit,
        "spoken": f"{several}{said}{f', {off}' if off and known else ''}",
    }


def _traced(taken: Taken) -> dict[str, Any]:
    trace = taken.trace
    assert trace is not None
    carrier, harmonics = live_lines(trace, taken.span.rbw_hz, taken.peak[0] if taken.peak else None)
    lines = [line for line in (carrier, *harmonics) if line and not line.bound]
    posts = tuple(Post(x.frequency_hz, x.indicated_dbm, _level(x.indicated_dbm)) for x in lines)
    data = Profile(trace.frequency_hz, trace.level_db, "dBm", posts=posts)
    said = {
        "wide": profile(data, "Live spectrum", *SIZES[0]),
        "narrow": profile(data, "Live spectrum", *SIZES[1]),
        "best": f"{_level(carrier.indicated_dbm)} dBm" if carrier else "–",
        "where": f"{_mhz(carrier)} MHz, at the analyzer" if carrier else "no radio is keyed",
    }
    for n, line in enumerate(harmonics, 2):
        down = f"{_level(line.indicated_dbm - carrier.indicated_dbm)} dBc" if carrier and line else "–"
        said[f"n{n}"] = f"≤ {down}" if line and line.bound else down
        said[f"n{n}_at"] = f"at {_mhz(line)} MHz" if line else "not reached" if carrier else ""
    return said


def _level(db: float) -> str:
    return f"{db:.1f}".replace("-", "−")


def _mhz(line: SpectralLine) -> str:
    return format_mhz(round(line.frequency_hz, -3))
