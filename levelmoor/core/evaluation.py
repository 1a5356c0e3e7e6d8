"""The evaluation: one product, its samples, its claims and all evidence, as a tree of plain data."""

from dataclasses import dataclass, field
from enum import StrEnum

from levelmoor.core.claims import Claim
from levelmoor.core.decision import Rule
from levelmoor.core.sweep import Sweep
from levelmoor.core.uncertainty import BenchFigures
from levelmoor.core.usability import DEFAULT_PROFILE, Profile


class Obtained(StrEnum):
    """How a sample was obtained; readers want to know whether the reviewer was paid."""

    BOUGHT = "bought"
    LENT = "lent"
    DONATED = "donated"
    MAKER = "maker"
    WON = "won"
    UNSTATED = "unstated"


OBTAINED_WORDS = {
    Obtained.BOUGHT: "bought by the team",
    Obtained.LENT: "lent by its owner",
    Obtained.DONATED: "donated",
    Obtained.MAKER: "sent by the maker",
    Obtained.WON: "won in a prize draw",
    Obtained.UNSTATED: "not stated",
}


class Calibration(StrEnum):
    """What is known of the calibration behind a sweep."""

    AT_PLANE = "at_plane"
    NONE = "none"
    UNSTATED = "unstated"


CALIBRATION_WORDS = {
    Calibration.AT_PLANE: "done at the reference plane",
    Calibration.NONE: "none, or of another span or plane",
    Calibration.UNSTATED: "not stated",
}


class Plane(StrEnum):
    """Where the reflection is referred to."""

    CONNECTOR = "connector"
    SHACK = "shack"


PLANE_WORDS = {
    Plane.CONNECTOR: "the sample's connector",
    Plane.SHACK: "the shack end of the feed line",
}


@dataclass(frozen=True)
class Product:
    name: str
    maker: str = ""
    description: str = ""


@dataclass(frozen=True)
class Sample:
    id: str
    label: str
    serial: str = ""
    obtained: Obtained = Obtained.UNSTATED
    note: str = ""


@dataclass(frozen=True)
class Setup:
    """How the sample stood when it was measured, and where the reflection is referred to."""

    id: str
    name: str
    description: str = ""
    plane: Plane = Plane.CONNECTOR
    tuner_in_line: bool = False


@dataclass(frozen=True)
class Instrument:
    """An instrument with its effective figures after calibration; `figures_source` says whose figures they are."""

    id: str
    name: str
    kind: str = ""
    figures: BenchFigures = field(default_factory=BenchFigures)
    figures_source: str = "typical of the class"


@dataclass(frozen=True, eq=False)
class Evidence:
    """One sweep with its conditions. `file_name` and `sha256` name the raw file it came from; port, unit and kind
    say how it was read where the file leaves a choice.
    """

    id: str
    name: str
    sample_id: str
    setup_id: str
    instrument_id: str
    calibration: Calibration
    sweep: Sweep
    file_name: str = ""
    sha256: str = ""
    taken_on: str = ""
    port: int = 1
    unit: str = ""
    kind: str = ""


@dataclass(frozen=True, eq=False)
class Evaluation:
    title: str
    product: Product
    region: int = 1
    rule: Rule = Rule.GUARDED
    profile: Profile = DEFAULT_PROFILE
    samples: tuple[Sample, ...] = ()
    claims: tuple[Claim, ...] = ()
    setups: tuple[Setup, ...] = ()
    instruments: tuple[Instrument, ...] = ()
    sweeps: tuple[Evidence, ...] = ()
    notes: str = field(default="")
