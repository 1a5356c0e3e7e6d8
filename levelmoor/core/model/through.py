"""Sweeps through an article, and what is noted of it in use: common-mode current, received noise, heat."""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.rf.two_port import TwoPort


class Fixture(StrEnum):
    """How the article stood between the ports."""

    THROUGH = "through"
    SERIES = "series"
    OPEN = "open"


FIXTURE_WORDS = {
    Fixture.THROUGH: "from port to port",
    Fixture.SERIES: "a choke in the series fixture",
    Fixture.OPEN: "the series fixture, empty",
}


@dataclass(frozen=True, eq=False)
class Through:
    """One sweep with its conditions; `file_name` and `sha256` name the raw file it came from, `calibration_id` the
    calibration on record that it was taken with."""

    id: str
    name: str
    sample_id: str
    setup_id: str
    instrument_id: str
    two_port: TwoPort
    fixture: Fixture = Fixture.THROUGH
    file_name: str = ""
    sha256: str = ""
    taken_on: str = ""
    note: str = ""
    set_aside: str = ""
    setting_id: str = ""
    round: int = 1
    calibration_id: str = ""


class LevelKind(StrEnum):
    """What a level in the field is of."""

    CURRENT = "current"
    NOISE = "noise"


LEVEL_WORDS = {LevelKind.CURRENT: "common-mode current by a clamp", LevelKind.NOISE: "received noise"}
LEVEL_UNITS = {LevelKind.CURRENT: ("mA", "dB"), LevelKind.NOISE: ("S", "dBm")}


@dataclass(frozen=True)
class FieldLevel:
    """Readings of one setup at a frequency, one after the other: a current, or minutes of noise."""

    id: str
    kind: LevelKind
    sample_id: str
    setup_id: str
    frequency_hz: float
    values: tuple[float, ...]
    unit: str
    power_w: float | None = None
    taken_on: str = ""
    who: str = ""
    note: str = ""

    def __post_init__(self) -> None:
        if not self.values:
            raise ValueError("write at least one reading")
        if self.unit not in LEVEL_UNITS[self.kind]:
            raise ValueError(f'"{self.unit}" is not one of {", ".join(LEVEL_UNITS[self.kind])}')


@dataclass(frozen=True)
class HeatRun:
    """A run under power with its temperature. `points` are seconds from the first key and °C at `where`; `duty` is the
    share of the time that the power is on, `limit_c` the temperature that nothing may pass, None where nobody says;
    `instrument_id` the thermometer."""

    id: str
    sample_id: str
    setup_id: str
    power_w: float
    points: tuple[tuple[float, float], ...]
    duty: float = 1.0
    mode: str = ""
    frequency_hz: float | None = None
    where: str = ""
    limit_c: float | None = None
    taken_on: str = ""
    who: str = ""
    note: str = ""
    setting_id: str = ""
    round: int = 1
    set_aside: str = ""
    instrument_id: str = ""

    def __post_init__(self) -> None:
        if not self.power_w > 0 or not 0 < self.duty <= 1:
            raise ValueError("a run needs a power above 0 W, and a duty cycle above 0 and at most 1")
        if len(self.points) < 2 or any(b[0] <= a[0] for a, b in zip(self.points, self.points[1:], strict=False)):
            raise ValueError("a run needs at least two temperatures, at rising times")

    @property
    def average_w(self) -> float:
        return self.power_w * self.duty
