"""The stand-ins: an antenna analyzer with one port, two with two ports, and a spectrum analyzer."""

import time
from enum import StrEnum

import numpy as np

from levelmoor.core.bench.calibration import IDEAL_KIT, ErrorTerms, correct, error_terms
from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.instruments.stand_ins.physics import (
    AnalyzerInput,
    ErrorBox,
    KeyedRadio,
    RingChoke,
    SimulatedLine,
    StandingAntenna,
    reflection,
)
from levelmoor.instruments.stand_ins.scpi import Scpi


class Fault(StrEnum):
    """What goes wrong on request, with the next answer that carries data or tells the end."""

    NONE = "none"
    TIMEOUT = "timeout"
    GARBAGE = "garbage"
    DISCONNECT = "disconnect"
    SPAN = "span"


STANDARDS = {"OPEN": 1.0, "SHORT": -1.0, "LOAD": 0.0}


class StandIn:
    """What all of them have: span, points, one sweep that takes its time, faults."""

    def __init__(self, name: str, reach_hz: tuple[float, float], most_points: int, point_s: float) -> None:
        self.name, self.reach_hz, self.most_points, self.point_s = name, reach_hz, most_points, point_s
        self.low_hz, self.high_hz, self.points = 140e6, 150e6, 201
        self.fault, self.times = Fault.NONE, 0
        self.random = np.random.default_rng(7)
        self.ends_at: float | None = None
        self.scpi = Scpi.empty()
        self._words()

    def _words(self) -> None:
        s = self.scpi
        s.on("*IDN?", lambda _t: f"Levelmoor,{self.name},simulated,1")
        s.on("*CLS", lambda _t: self._clear())
        s.on("*RST", lambda _t: self._clear())
        s.on("*OPC", lambda _t: None)
        s.on("*OPC?", lambda _t: "1" if self._ended() else "0")
        s.on("*ESR?", lambda _t: self._status())
        s.on("SYSTem:ERRor?", lambda _t: s.error())
        s.figure("SENSe:FREQuency:STARt", lambda: self.low_hz, self._low)
        s.figure("SENSe:FREQuency:STOP", lambda: self.high_hz, self._high)
        s.figure("SENSe:SWEep:POINts", lambda: self.points, self._points)
        s.on("SENSe:SWEep:TIME?", lambda _t: f"{self.points * self.point_s:.4f}")
        s.on("INITiate:IMMediate", lambda _t: self._start())
        s.on("SIMulate:FAULt", self._set_fault)

    def _clear(self) -> None:
        self.ends_at = None

    def _start(self) -> None:
        self.ends_at = time.monotonic() + self.points * self.point_s

    def _ended(self) -> bool:
        return self.ends_at is not None and time.monotonic() >= self.ends_at

    def _status(self) -> str:
        done = self._ended()
        if done:
            self.ends_at = None
        return "1" if done else "0"

    def _low(self, hz: float) -> None:
        self.low_hz = min(max(hz, self.reach_hz[0]), self.reach_hz[1])

    def _high(self, hz: float) -> None:
        self.high_hz = min(max(hz, self.reach_hz[0]), self.reach_hz[1])
        if self.due(Fault.SPAN):
            self.high_hz *= 0.9

    def _points(self, count: float) -> None:
        self.points = int(min(max(count, 2), self.most_points))

    def _set_fault(self, text: str) -> None:
        """`SIM:FAUL TIMEOUT 2`: the fault, and how often it comes (once)."""
        name, _, times = text.lower().partition(" ")
        self.fault, self.times = Fault(name), int(times or 1)

    def due(self, fault: Fault) -> bool:
        """Whether that fault comes now; each time uses it up."""
        if self.fault is not fault or self.times < 1:
            return False
        self.times -= 1
        return True

    @property
    def frequency_hz(self) -> FloatArray:
        return np.linspace(self.low_hz, self.high_hz, self.points)


LEAKAGE = 3e-5
"""What reaches the other port though nothing leads there, with the receiver's noise."""


class AntennaAnalyzer(StandIn):
    """Reflection of an antenna through a line and an error box, raw or corrected by its own calibration."""

    def __init__(
        self,
        name: str,
        reach_hz: tuple[float, float],
        most_points: int,
        point_s: float = 1e-3,
        antenna: StandingAntenna | None = None,
    ) -> None:
        self.antenna, self.parameter = antenna or StandingAntenna(), "S11"
        self.line_m, self.power_dbm, self.noise = 0.0, -10.0, 4e-4
        self.box, self.correction = ErrorBox(), True
        self.acquired: dict[str, ComplexArray] = {}
        self.terms: tuple[FloatArray, ErrorTerms] | None = None
        super().__init__(name, reach_hz, most_points, point_s)

    def _words(self) -> None:
        super()._words()
        s = self.scpi
        s.figure("SOURce:POWer", lambda: self.power_dbm, lambda v: setattr(self, "power_dbm", v))
        s.on("CALCulate:PARameter:DEFine", self._select)
        s.on("CALCulate:DATA?", lambda _t: self._data())
        s.on("SENSe:CORRection:STATe", lambda t: setattr(self, "correction", t.upper() in ("ON", "1")))
        s.on("SENSe:CORRection:STATe?", lambda _t: str(int(self.correction)))
        s.on("SENSe:CORRection:COLLect:ACQuire", self._acquire)
        s.on("SENSe:CORRection:COLLect:SAVE", lambda _t: self._save())
        a = self.antenna
        for words, field in (("LENGth", "length_m"), ("HEIGht", "height_m"), ("HAND", "hand"), ("WIND", "wind")):
            s.figure(f"SIMulate:{words}", lambda f=field: getattr(a, f), lambda v, f=field: setattr(a, f, v))  # type: ignore[misc]
        s.figure("SIMulate:LINE", lambda: self.line_m, lambda v: setattr(self, "line_m", v))

    def _select(self, text: str) -> None:
        if text.upper() not in ("S11", "S21", "S12", "S22"):
            raise ValueError(text)
        self.parameter = text.upper()

    def _noise(self, size: float) -> ComplexArray:
        real, imaginary = size * self.random.standard_normal((2, self.points))
        return np.asarray(real + 1j * imaginary)

    def _raw(self, gamma: ComplexArray) -> ComplexArray:
        f = self.frequency_hz
        return self.box.raw(f, gamma) + self._noise(self.noise)

    def _acquire(self, text: str) -> None:
        standard = text.upper()
        if standard not in STANDARDS:
            raise ValueError(standard)
        self.acquired[standard] = self._raw(np.full(self.points, STANDARDS[standard], dtype=np.complex128))
        self._start()

    def _save(self) -> None:
        if set(self.acquired) != set(STANDARDS) or len({a.size for a in self.acquired.values()}) != 1:
            raise ValueError("open, short and load over one span first")
        f = self.frequency_hz
        seen = self.acquired
        self.terms = f, error_terms(f, seen["OPEN"], seen["SHORT"], seen["LOAD"], IDEAL_KIT)
        self.correction = True
        self._start()

    def _data(self) -> str:
        if self.parameter == "S11":
            return _pairs(self._gamma())
        open_port = 1.0 if self.parameter == "S22" else 0.0  # the second port, to which nothing leads
        return _pairs(open_port + self._noise(LEAKAGE))

    def _gamma(self) -> ComplexArray:
        f = self.frequency_hz
        gamma = reflection(self.antenna.impedance(f, self.random))
        if self.line_m:
            gamma = SimulatedLine(self.line_m, 0.012).seen_through(f, gamma)
        if not self.correction:
            gamma = self._raw(gamma)
        elif self.terms is not None and np.array_equal(self.terms[0], f):
            gamma = correct(self.terms[1], f, self._raw(gamma))
        else:  # the calibration it left the works with
            gamma = gamma + 0.004 - 0.002j + self._noise(self.noise)
        return gamma


def _pairs(s: ComplexArray) -> str:
    return ",".join(f"{v:.6e}" for v in np.column_stack((s.real, s.imag)).ravel())


class ThroughStandIn(AntennaAnalyzer):
    """Both ports of an analyzer at a series fixture with a choke in it, or with the fixture empty."""

    def __init__(self, name: str, reach_hz: tuple[float, float], most_points: int, point_s: float = 1e-3) -> None:
        self.choke, self.inside = RingChoke(), 1.0
        super().__init__(name, reach_hz, most_points, point_s)

    def _words(self) -> None:
        self.scpi.figure("SIMulate:CHOKe", lambda: self.inside, lambda v: setattr(self, "inside", v))
        super()._words()

    def _data(self) -> str:
        f = self.frequency_hz
        z = self.choke.impedance(f, bool(self.inside))
        s = 100 / (100 + z) if self.parameter in ("S21", "S12") else z / (100 + z)
        return _pairs(s + self._noise(LEAKAGE))


class SpectrumStandIn(StandIn):
    """A keyed radio behind a pad, seen by an input that makes harmonics of its own."""

    def __init__(self, name: str) -> None:
        self.radio, self.input = KeyedRadio(145.5e6, keyed=True), AnalyzerInput(pad_db=46.3)
        self.rbw_hz, self.reference_dbm, self.marker = 30e3, 0.0, (0.0, -200.0)
        self.trace: FloatArray | None = None
        super().__init__(name, (10e3, 1e9), 2001, 5e-4)
        self.low_hz, self.high_hz, self.points = 100e6, 800e6, 1401

    def _words(self) -> None:
        super()._words()
        s = self.scpi
        s.figure("SENSe:BANDwidth", lambda: self.rbw_hz, lambda v: setattr(self, "rbw_hz", max(v, 10.0)))
        s.figure(
            "DISPlay:WINDow:TRACe:Y:RLEVel", lambda: self.reference_dbm, lambda v: setattr(self, "reference_dbm", v)
        )
        s.on("TRACe:DATA?", lambda _t: ",".join(f"{v:.2f}" for v in self._levels()))
        s.on("CALCulate:MARKer:MAXimum", lambda _t: self._peak())
        s.on("CALCulate:MARKer:X?", lambda _t: f"{self.marker[0]:.0f}")
        s.on("CALCulate:MARKer:Y?", lambda _t: f"{self.marker[1]:.2f}")
        s.on("SIMulate:KEY", lambda t: setattr(self.radio, "keyed", t.upper() in ("ON", "1")))
        s.figure("SIMulate:CARRier", lambda: self.radio.carrier_hz, lambda v: setattr(self.radio, "carrier_hz", v))
        s.figure("SIMulate:PAD", lambda: self.input.pad_db, lambda v: setattr(self.input, "pad_db", v))

    def _levels(self) -> FloatArray:
        self.trace = self.input.levels(self.frequency_hz, self.radio.lines(), self.rbw_hz, self.random)
        return self.trace

    def _peak(self) -> None:
        trace = self.trace if self.trace is not None and self.trace.size == self.points else self._levels()
        at = int(np.argmax(trace))
        self.marker = float(self.frequency_hz[at]), float(trace[at])


def stand_ins() -> list[StandIn]:
    """Those that `levelmoor instruments` starts, in the order of their ports: at an antenna for 2 m, at wires for 60,
    40 and 30 m, at a keyed handheld, at a choke in a series fixture."""
    wires = StandingAntenna(length_m=26.95, further_m=(20.3, 14.1), height_m=12.0)
    return [
        AntennaAnalyzer("one-port analyzer", (100e3, 1e9), 1001),
        AntennaAnalyzer("two-port analyzer", (300e3, 1.5e9), 10001, 5e-4, wires),
        SpectrumStandIn("spectrum analyzer"),
        ThroughStandIn("two-port analyzer at a choke", (300e3, 1.5e9), 10001, 5e-4),
    ]
