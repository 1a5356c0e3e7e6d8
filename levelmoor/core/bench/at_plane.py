"""A sweep as it is judged: with the figures its bench has shown, at the plane that claims speak of."""

import math
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.bench.load_check import ResidualCheck
from levelmoor.core.bench.meter_check import MeterCheck
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.bench_records import CheckKind
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evidence, Plane, Setup
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.feedline import can_be_moved, sweep_at_far_end
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.said import said


@dataclass(frozen=True, eq=False)
class AtPlane:
    """The sweep with its figures and the plane it is at; `moved` says how it came there, or nothing.

    `checked` are the |gamma| between which a meter was checked against known loads; beyond them what is `stated` of it
    counts, where that is worse.
    """

    sweep: Sweep
    figures: Residuals
    plane: Plane
    figures_source: str
    moved: str = ""
    checked: tuple[float, float] | None = None
    stated: Residuals | None = None

    def figures_at(self, level: float) -> Residuals:
        """The figures that count at a level of |gamma|."""
        if self.checked is None or self.stated is None or self.checked[0] <= level <= self.checked[1]:
            return self.figures
        return self.stated


def at_plane(book: BenchBook, evidence: Evidence, setup: Setup, repeat: Curve | None = None) -> AtPlane:
    """Typical figures give way to measured ones; a sound, measured feed line takes the plane to the connector.

    `repeat` is half of what the repeats' mean is surely within, where there are repeats.
    """
    read = _as_read(book, evidence, setup, repeat)
    line = _line(book, evidence, setup) if setup.plane is Plane.SHACK else None
    return _moved(read, line, Plane.CONNECTOR) if line else read


def at_shack(book: BenchBook, evidence: Evidence, setup: Setup) -> AtPlane | None:
    """The sweep as it reads at the shack end of its line: as it came, or computed; None where the line is not known."""
    read = _as_read(book, evidence, setup, None)
    if setup.plane is Plane.SHACK:
        return read
    line = _line(book, evidence, setup)
    return _moved(read, line, Plane.SHACK) if line else None


def _as_read(book: BenchBook, evidence: Evidence, setup: Setup, repeat: Curve | None) -> AtPlane:
    instrument = book.instruments[evidence.instrument_id]
    figures, source = instrument.figures, instrument.figures_source
    checked = _checked_meter(book, instrument)
    levels: tuple[float, float] | None = None
    stated = figures
    if checked is not None and checked.directivity_db is not None:
        figures = Residuals(checked.directivity_db, 0.0, 80.0, figures.repeat_u)
        stated = Residuals(min(checked.directivity_db, stated.directivity_db), stated.tracking, 80.0, stated.repeat_u)
        levels = checked.levels
        source = "measured against the analyzer on known loads"
    load, full = (_residual(book, evidence, kind) for kind in (CheckKind.LOAD, CheckKind.OPEN_OR_SHORT))
    if load is not None and load.proves:
        figures, source = replace(figures, directivity=load.figure), "measured with this calibration"
    if full is not None and full.worst_away > figures.tracking:
        tracking = np.maximum(full.figure.value, figures.tracking)
        figures = replace(figures, full=Curve(full.figure.frequency_hz, tuple(tracking.tolist())))
        source = "measured with this calibration"
    if repeat is not None:
        figures = replace(figures, repeat=repeat)
        source += ", with the spread of repeats"
    sweep = _cut_off(evidence.sweep) if instrument.figures.truncates and evidence.sweep.scalar else evidence.sweep
    if levels is None:
        return AtPlane(sweep, figures, setup.plane, source)
    return AtPlane(sweep, figures, setup.plane, source, checked=levels, stated=stated)


def _cut_off(sweep: Sweep) -> Sweep:
    """What a display shows that cuts digits off lies between the figure and the next: its middle is half a step up."""
    half = sweep.half_step_gamma
    return sweep if half is None else replace(sweep, gamma=sweep.gamma + half)


def _checked_meter(book: BenchBook, instrument: Instrument) -> MeterCheck | None:
    check = book.latest(CheckKind.METER, instrument_id=instrument.id)
    result = book.result(check) if check else None
    return result if isinstance(result, MeterCheck) else None


def _line(book: BenchBook, evidence: Evidence, setup: Setup) -> CableCheck | None:
    """The check of the setup's feed line where it is sound and covers the sweep."""
    cable = book.cable(setup)
    checked = book.result(cable) if cable else None
    if not isinstance(checked, CableCheck) or not checked.sound:
        return None
    if not can_be_moved(evidence.sweep, checked.figures):
        return None
    return checked if checked.loss_db.covers(evidence.sweep.low_hz, evidence.sweep.high_hz) else None


def _moved(read: AtPlane, checked: CableCheck, plane: Plane) -> AtPlane:
    """Through a line that a check has shown to be sound, to its far end or back to its near one."""
    away = plane is Plane.CONNECTOR
    line = checked.figures if away else checked.figures.backwards
    if read.sweep.scalar:  # what is not referred to the line's own impedance moves with that much less certainty
        u = math.hypot(line.u_z0_ohm, line.z0_ohm - read.sweep.z0_ohm)
        line = replace(line, z0_ohm=read.sweep.z0_ohm, u_z0_ohm=u)
    loss = abs(float(line.loss_db.at(read.sweep.high_hz)))
    where = "connector" if away else "shack end"
    words = said("path.moved", where=where, length=checked.length_m, loss=loss)
    return replace(
        read,
        sweep=sweep_at_far_end(read.sweep, line),
        figures=replace(read.figures, line=line),
        stated=replace(read.stated, line=line) if read.stated else None,
        plane=plane,
        moved=words,
    )


def _residual(book: BenchBook, evidence: Evidence, kind: CheckKind) -> ResidualCheck | None:
    """What a sound check with the sweep's own calibration gives."""
    check = book.of_calibration(kind, evidence)
    result = book.result(check) if check else None
    return result if isinstance(result, ResidualCheck) and result.sound else None
