"""What a team owns: instruments, adapters, loads, calibration kits, pads, feed lines, radios."""

from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import TypeVar

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.connectors import Connector
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.windows import Window


class InstrumentClass(StrEnum):
    ANALYZER = "analyzer"
    METER = "meter"
    WATTMETER = "wattmeter"
    BRIDGE = "bridge"
    SPECTRUM = "spectrum"
    SOURCE = "source"
    UNSTATED = "unstated"


CLASS_WORDS = {
    InstrumentClass.ANALYZER: "Antenna or network analyzer",
    InstrumentClass.METER: "Radio's own meter",
    InstrumentClass.WATTMETER: "Wattmeter",
    InstrumentClass.BRIDGE: "Bridge",
    InstrumentClass.SPECTRUM: "Spectrum analyzer",
    InstrumentClass.SOURCE: "Signal source",
    InstrumentClass.UNSTATED: "Not stated",
}


@dataclass(frozen=True)
class Instrument:
    """An instrument with its effective figures after calibration; `figures_source` says whose figures they are.

    Frequencies in Hz, powers in dBm; 0 or None where a figure is not written down. The noise is the floor seen in
    `noise_rbw_hz`. `memories` is how many calibrations it keeps at once. `checked_on` is an ISO date.
    Of a spectrum analyzer `level_u_db` is the standard uncertainty of a level, the intercepts tell its own distortion.
    What is `retired` the team has no longer: evidence rests on it, and nothing new is planned with it.
    """

    id: str
    name: str
    description: str = ""
    figures: Residuals = field(default_factory=Residuals)
    figures_source: str = "typical of the class"
    instrument_class: InstrumentClass = InstrumentClass.UNSTATED
    low_hz: float = 0.0
    high_hz: float = 0.0
    points: int = 0
    ports: int = 1
    memories: int = 0
    connector: Connector | None = None
    max_input_dbm: float | None = None
    noise_dbm: float | None = None
    noise_rbw_hz: float | None = None
    checked_on: str = ""
    level_u_db: float = 0.5
    second_intercept_dbm: float | None = None
    third_intercept_dbm: float | None = None
    retired: bool = False

    @property
    def sweeps(self) -> bool:
        """Whether it sweeps reflection over frequency by itself; one not classed is taken at its word."""
        return self.instrument_class in (InstrumentClass.ANALYZER, InstrumentClass.UNSTATED)

    @property
    def measures_spectra(self) -> bool:
        return self.instrument_class is InstrumentClass.SPECTRUM


@dataclass(frozen=True)
class Adapter:
    """A piece with two ends: an adapter or a short lead. `count` is how many alike are owned."""

    id: str
    name: str
    end_a: Connector
    end_b: Connector
    low_hz: float = 0.0
    high_hz: float = 0.0
    loss_db: float = 0.0
    count: int = 1


@dataclass(frozen=True)
class Load:
    """A known termination; `return_loss_db` is its own stated figure, None where not stated."""

    id: str
    name: str
    connector: Connector | None = None
    resistance_ohm: float = 50.0
    return_loss_db: float | None = None
    high_hz: float = 0.0
    power_w: float | None = None
    retired: bool = False


@dataclass(frozen=True)
class Kit:
    """A calibration kit. The open's fringing capacitance is c0 + c1 f + c2 f^2 + c3 f^3 in F, f in Hz.

    Delays are one way, in s.
    """

    id: str
    name: str
    connector: Connector | None = None
    low_hz: float = 0.0
    high_hz: float = 0.0
    open_c: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    open_delay_s: float = 0.0
    short_delay_s: float = 0.0
    load_ohm: float = 50.0
    retired: bool = False


@dataclass(frozen=True)
class Pad:
    """An attenuator: the label's figure, what it stands, and its measured figures in dB where it was measured."""

    id: str
    name: str
    nominal_db: float
    power_w: float
    measured: Curve | None = None
    end_a: Connector | None = None
    end_b: Connector | None = None
    high_hz: float = 0.0
    retired: bool = False


@dataclass(frozen=True)
class FeedLine:
    """A feed line of a generic type (`rf.line_types`), its length, its measured one-way loss in dB, and what it stands
    on average in W where it is used highest, None where nobody says."""

    id: str
    name: str
    type: str
    length_m: float
    measured: Curve | None = None
    end_a: Connector | None = None
    end_b: Connector | None = None
    power_w: float | None = None
    retired: bool = False


@dataclass(frozen=True)
class Radio:
    """A transmitter: power in W by frequency, and the SWR it tolerates (its manual's figure).

    `ranges` are where it transmits, none where nobody says; `fold_back` what share of its power it gives at an SWR,
    with its source; `tuner_swr` what its own tuner reaches; `meter` the name of the instrument that is its own meter.
    """

    id: str
    name: str
    power_w: Curve | None = None
    tolerates_swr: float = 2.0
    connector: Connector | None = None
    ranges: tuple[Window, ...] = ()
    fold_back: tuple[tuple[float, float], ...] = ()
    fold_back_source: str = ""
    tuner_swr: float | None = None
    meter: str = ""


@dataclass(frozen=True)
class Equipment:
    """All that a team owns besides its instruments."""

    adapters: tuple[Adapter, ...] = ()
    loads: tuple[Load, ...] = ()
    kits: tuple[Kit, ...] = ()
    pads: tuple[Pad, ...] = ()
    lines: tuple[FeedLine, ...] = ()
    radios: tuple[Radio, ...] = ()

    @property
    def in_use(self) -> "Equipment":
        """What the team still has of it."""
        return replace(
            self,
            loads=_in_use(self.loads),
            kits=_in_use(self.kits),
            pads=_in_use(self.pads),
            lines=_in_use(self.lines),
        )


Piece = TypeVar("Piece", Load, Kit, Pad, FeedLine)


def _in_use(pieces: tuple[Piece, ...]) -> tuple[Piece, ...]:
    return tuple(x for x in pieces if not x.retired)
