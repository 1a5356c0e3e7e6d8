"""The figure beside an answer of Help, drawn from the demo by what draws it on its own page."""

from collections.abc import Callable, Mapping
from functools import cache

from levelmoor.core.adjusting.round_log import RoundLog, states_of
from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Evaluation, Evidence
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.demo.load import example
from levelmoor.figures.adjusting import dip_path
from levelmoor.figures.band_line import band_line
from levelmoor.figures.check_figure import check_figure
from levelmoor.figures.curves import Drawn
from levelmoor.figures.landscape import landscape, view_around, waterline_of
from levelmoor.figures.overlay import overlay
from levelmoor.figures.plan_figures import time_axis
from levelmoor.services.findings import behind_of
from levelmoor.services.plans import plan_of
from levelmoor.services.strips import strips_of
from levelmoor.web.emissions.view import carriers
from levelmoor.web.through.view import build as build_through
from levelmoor.web.tuner.view import build as build_tuner


def _claim(title: str, place: int) -> str:
    """The figure of a claim's first window on the first sample, by the sweep that decides it."""
    of = example(title)
    found = judge(of)
    claim, who = of.claims[place], of.samples[0]
    window = next(f for f in found.claims if (f.claim_id, f.sample_id) == (claim.id, who.id)).windows[0]
    evidence = next(e for e in of.sweeps if e.id == window.sweep_id)
    levels = [waterline_of(window.finding, of.rule)] if window.finding else []
    figures = next(i.figures for i in of.instruments if i.id == evidence.instrument_id)
    view = view_around(evidence.sweep, list(claim.windows[:1]))
    return landscape(
        analyse_sweep(evidence.sweep, claim.z0_ohm), levels, figures, view, label=claim.wording, height=320
    )


def _overlay(title: str, wanted: Callable[[Evidence], bool], window: Window, limit: float = 2.0) -> str:
    of = example(title)
    chosen = [e for e in of.sweeps if wanted(e) and e.sweep.cut(window.low_hz, window.high_hz) is not None]
    figures = {i.id: i.figures for i in of.instruments}
    curves = [
        Drawn("ABCDEF"[n], e.name, n, analyse_sweep(e.sweep, 50.0), figures[e.instrument_id])
        for n, e in enumerate(chosen[:6])
    ]
    return overlay(curves, [window], limit, view_around(chosen[0].sweep, [window]), height=320)


def _planned() -> str:
    return time_axis(plan_of(example("Linkline 60/40/30")))


def _at_both_ends() -> str:
    six = Window(50_000_000.0, 52_000_000.0, "6m")
    return _overlay("Rectangle Six", lambda e: e.name in ("rectangle-hill", "rectangle-shack-end"), six)


def _by_meter() -> str:
    of = example("Fourstay 70")
    meter = next(e for e in of.sweeps if e.name == "fourstay-hut-meter")
    figures = next(i.figures for i in of.instruments if i.id == meter.instrument_id)
    return landscape(analyse_sweep(meter.sweep, 50.0), [], figures, label="Readings of a meter", height=320)


def _adjusting() -> str:
    of = example("Threespire 6/4/2")
    return dip_path(RoundLog(of, behind_of(of), states_of(of)[0]), 0)


def _first_check() -> str:
    of = example("Linkline 60/40/30")
    book = behind_of(of).book
    return next(check_figure(c, r) for c in of.checks if (r := book.result(c)) is not None)


def _tuner() -> str:
    of = example("Tarnhouse Auto")
    return build_tuner(of, of.samples[0].id).shore


def _through() -> str:
    of = example("Ringstone Choke")
    return next(p.wide for p in build_through(of, of.samples[0].id).sweeps if p.wide)


def _emissions() -> str:
    of = example("Carrick Five")
    return carriers(of, judge(of))[0].wide


def _skylines() -> str:
    of: Evaluation = example("Rollaway 2/70")
    return "".join(svg for _, svg in strips_of(of, judge(of)))


THIRTY = Window(10_100_000.0, 10_150_000.0, "30m")
FIGURES: Mapping[str, tuple[Callable[[], str], str]] = {
    "claims": (lambda: _claim("Rollaway 2/70", 0), "A claim on a band is a level over that band."),
    "verdicts": (lambda: _claim("Rollaway 2/70", 3), "Dry land above the level, across part of the band: a Fail."),
    "rules": (lambda: _claim("Rollaway 2/70", 1), "The guard band lies around the level."),
    "first": (_planned, "A plan: what is rebuilt, calibrated and swept, and how long it takes."),
    "plane": (_at_both_ends, "One antenna, measured at its connector and at the shack end of its feed line."),
    "readings": (_by_meter, "Readings of a meter, with what their last digit leaves open."),
    "states": (
        lambda: _overlay("Linkline 60/40/30", lambda e: "nine" in e.name or "plain" in e.name, THIRTY),
        "The same antenna without a choke and with one: two setups, and only one of them is as supplied.",
    ),
    "repeats": (
        lambda: _overlay("Linkline 60/40/30", lambda e: "plain" in e.name, THIRTY),
        "Four repeats of one setup: their spread is what a real difference has to exceed.",
    ),
    "bench": (_first_check, "A check of the bench: what was found, against what is wanted."),
    "adjust": (_adjusting, "The dip of a band, round by round, on its way to the target."),
    "tuner": (_tuner, "What a tuner matched, load by load and band by band."),
    "through": (_through, "The impedance of a choke over frequency, against what is claimed."),
    "emissions": (_emissions, "Each harmonic as a post: in the water it is within the limit."),
    "radios": (_skylines, "What a radio can do follows from how each band lies against its levels."),
    "bands": (lambda: band_line(band_plan(1)), "The bands of region 1; other regions and services are listed below."),
    "profiles": (_skylines, "Each band against the profile's level."),
}
"""By the task: the figure, and a sentence that says what it shows."""


@cache
def figure_of(task: str) -> tuple[str, str]:
    """The figure of a task with its sentence; both empty where it has none."""
    if task not in FIGURES:
        return "", ""
    draw, words = FIGURES[task]
    return draw(), words
