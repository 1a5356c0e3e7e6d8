"""Whole evaluations of ordinary evidence, for the tests of the court."""

import numpy as np

from levelmoor.core.judge import judge
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture, HeatRun, Through
from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window
from tests.sweeps import flat

TWENTY, FORTY = Window(14e6, 14.35e6, "20m"), Window(7e6, 7.2e6, "40m")
EIGHTY, TEN = Window(3.5e6, 3.8e6, "80m"), Window(28e6, 29.7e6, "10m")
TWO, SEVENTY = Window(144e6, 146e6, "2m"), Window(430e6, 440e6, "70cm")
SWR = Claim("c", Quantity.SWR, (TWENTY,), 2.0)
PLAIN, UNIT = Setup("plain", "Plain"), Sample("s", "Unit")
DAY = "2026-05-31T11:00"


def case(*sweeps, setups=(PLAIN,), claims=(SWR,), instruments=None, samples=(UNIT,), **more):
    owned = instruments or (Instrument("i", "Analyzer"), Instrument("j", "Second analyzer"))
    return Evaluation("case", Product("article"), samples=samples, claims=claims, setups=setups,
                      instruments=owned, sweeps=sweeps, **more)  # fmt: skip


def only(evaluation):
    (found,) = judge(evaluation).claims
    return found


def evidence(ident, sweep, **more):
    given = {"setup_id": "plain", "instrument_id": "i", "sha256": ident, "taken_on": DAY, **more}
    return Evidence(ident, ident, "s", calibration=given.pop("calibration", Calibration.AT_PLANE), sweep=sweep, **given)


def level(swr, turn_deg=0.0, low=13.9e6, high=14.5e6, points=301):
    """A flat sweep of one SWR and phase."""
    at = flat(float(gamma_from_swr(swr)), low, high, points)
    return Sweep(at.frequency_hz, at.gamma * np.exp(1j * np.radians(turn_deg)))


def at(swr, ident="e", turn_deg=0.0, span=(13.9e6, 14.5e6), points=301, **more):
    return evidence(ident, level(swr, turn_deg, *span, points), **more)


METER = Instrument("m", "Radio's meter", instrument_class=InstrumentClass.METER)


def read(mhz, swr, ident="m", z0_ohm=50.0, **more):
    """Figures that a person read off the meter."""
    f = np.array(mhz) * 1e6
    g = np.broadcast_to(gamma_from_swr(swr), f.shape).astype(complex)
    half = np.full(f.size, 0.01)
    more = {"instrument_id": "m", "calibration": Calibration.UNSTATED, **more}
    return evidence(ident, Sweep(f, g, z0_ohm, True, half), **more)


def peaks(carrier_mhz=146.0, watts_dbm=37.0, second_dbm=-30.0, others=-70.0, pad=40.0):
    """A list of peaks as the analyzer sees them through a pad."""
    f = carrier_mhz * 1e6 * np.arange(1, 7)
    return Trace(f, np.array([watts_dbm, second_dbm, *([others] * 4)]) - pad)


def captured(ident="k", *, trace=None, carrier_mhz=146.0, pad=40.0, **more):
    """A capture through an offset that was written down."""
    given = {"sample_id": "s", "setup_id": "plain", "instrument_id": "x", "taken_on": DAY, "file_name": f"{ident}.csv",
             "sha256": ident, "offset": Curve((1e6, 1e10), (pad, pad)), **more}  # fmt: skip
    seen = trace if trace is not None else peaks(carrier_mhz, pad=pad)
    return Capture(ident, ident, carrier_hz=carrier_mhz * 1e6, trace=seen, **given)


SPECTRUM = Instrument(
    "x", "Spectrum analyzer", instrument_class=InstrumentClass.SPECTRUM, second_intercept_dbm=80.0,
    third_intercept_dbm=80.0,
)  # fmt: skip


def radio(*captures, claims, setups=(PLAIN,), instruments=(SPECTRUM,), **more):
    return case(setups=setups, claims=claims, instruments=instruments, captures=captures, **more)


def heat(ident, mhz, hour_c, limit_c=70.0, power_w=100.0, **more):
    """A run that comes to a temperature after an hour."""
    t = np.arange(0, 1801, 60)
    rise = (hour_c - 20.0) / -np.expm1(-3600 / 600)
    points = tuple((float(s), float(20 + rise * -np.expm1(-s / 600))) for s in t)
    given = {"setup_id": "plain", "frequency_hz": mhz * 1e6 if mhz else None, "taken_on": DAY, **more}
    return HeatRun(ident, "s", power_w=power_w, points=points, limit_c=limit_c, **given)


def trial(ident, mhz=7.1, load="50", swr=1.1, **more):
    given = {"setup_id": "plain", "instrument_id": "i", "taken_on": DAY, **more}
    return Trial(ident, "s", frequency_hz=mhz * 1e6, outcome=Outcome.MATCHED, load=load, swr_after=swr, **given)


def through(ident, s21, low=5e6, high=9e6, fixture=Fixture.SERIES, **more):
    f = np.linspace(low, high, np.size(s21) if np.ndim(s21) else 201)
    given = {"setup_id": "plain", "instrument_id": "i", "taken_on": DAY, "sha256": ident, **more}
    values = np.broadcast_to(np.asarray(s21, dtype=complex), f.shape)
    return Through(ident, ident, "s", two_port=TwoPort(f, values), fixture=fixture, **given)
