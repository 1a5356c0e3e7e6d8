"""A sweep as it is judged: with the figures its bench has shown, at the plane that claims speak of."""

from dataclasses import dataclass, replace

from levelmoor.core.bench_records import CheckKind
from levelmoor.core.cable_check import CableCheck
from levelmoor.core.curve import Curve
from levelmoor.core.evaluation import Evidence, Plane, Setup
from levelmoor.core.feedline import sweep_at_far_end
from levelmoor.core.gates import BenchBook
from levelmoor.core.load_check import ResidualCheck
from levelmoor.core.meter_check import MeterCheck
from levelmoor.core.sweep import Sweep
from levelmoor.core.uncertainty import BenchFigures


@dataclass(frozen=True, eq=False)
class AtPlane:
    """The sweep with its figures and the plane it is at; `moved` says how it came there, or nothing."""

    sweep: Sweep
    figures: BenchFigures
    plane: Plane
    figures_source: str
    moved: str = ""


def at_plane(book: BenchBook, evidence: Evidence, setup: Setup) -> AtPlane:
    """Typical figures give way to measured ones; a sound, measured feed line takes the plane to the connector."""
    read = _as_read(book, evidence, setup)
    line = _line(book, evidence, setup) if setup.plane is Plane.SHACK else None
    return _moved(read, line, Plane.CONNECTOR) if line else read


def at_shack(book: BenchBook, evidence: Evidence, setup: Setup) -> AtPlane | None:
    """The sweep as it reads at the shack end of its line: as it came, or computed; None where the line is not known."""
    read = _as_read(book, evidence, setup)
    if setup.plane is Plane.SHACK:
        return read
    line = _line(book, evidence, setup)
    return _moved(read, line, Plane.SHACK) if line else None


def _as_read(book: BenchBook, evidence: Evidence, setup: Setup) -> AtPlane:
    instrument = book.instruments[evidence.instrument_id]
    figures, source = instrument.figures, instrument.figures_source
    meter = book.latest(CheckKind.METER, instrument_id=instrument.id)
    if meter is not None:
        result = book.result(meter)
        if isinstance(result, MeterCheck) and result.directivity_db is not None:
            figures = BenchFigures(result.directivity_db, 0.0, 80.0, figures.repeat_u)
            source = "measured against the analyzer on known loads"
    directivity, full = (_residual(book, evidence, kind) for kind in (CheckKind.LOAD, CheckKind.FULL))
    if directivity or full:
        figures, source = replace(figures, directivity=directivity, full=full), "measured with this calibration"
    spread = book.spread(evidence)
    if spread.sd is not None:
        figures = replace(figures, repeat=spread.sd)
        source += f", with the spread of {spread.count} repeats"
    return AtPlane(evidence.sweep, figures, setup.plane, source)


def _line(book: BenchBook, evidence: Evidence, setup: Setup) -> CableCheck | None:
    """The check of the setup's feed line where it is sound and covers the sweep."""
    cable = book.cable(setup)
    checked = book.result(cable) if cable else None
    if not isinstance(checked, CableCheck) or not checked.sound:
        return None
    return checked if checked.loss_db.covers(evidence.sweep.low_hz, evidence.sweep.high_hz) else None


def _moved(read: AtPlane, checked: CableCheck, plane: Plane) -> AtPlane:
    """Through a line that a check has shown to be sound, to its far end or back to its near one."""
    away = plane is Plane.CONNECTOR
    line = checked.figures if away else checked.figures.backwards
    loss = abs(float(line.loss_db.at(read.sweep.high_hz)))
    where = "connector" if away else "shack end"
    words = f"moved to the {where} through {checked.length_m:.1f} m of line losing up to {loss:.2f} dB"
    figures = replace(read.figures, line=line)
    return AtPlane(sweep_at_far_end(read.sweep, line), figures, plane, read.figures_source, words)


def _residual(book: BenchBook, evidence: Evidence, kind: CheckKind) -> Curve | None:
    """The measured figure that a sound check with the sweep's own calibration gives."""
    check = book.of_calibration(kind, evidence)
    result = book.result(check) if check else None
    return result.figure if isinstance(result, ResidualCheck) and result.sound else None
