"""What a claim can be about: each quantity's words, unit, bounds, and what shows it, once.

How a quantity is read from text stands in `claims/quantity_text.py`, how it is judged in `judge.py`.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class Quantity(StrEnum):
    SWR = "swr"
    RETURN_LOSS = "return_loss"
    RESONANCE = "resonance"
    BANDWIDTH = "bandwidth"
    IMPEDANCE = "impedance"
    CONNECTOR = "connector"
    OUTPUT_POWER = "output_power"
    EMISSIONS = "emissions"
    TUNER_RANGE = "tuner_range"
    TUNER_TIME = "tuner_time"
    RECALL = "recall"
    CHOKING = "choking"
    ATTENUATION = "attenuation"
    INSERTION_LOSS = "insertion_loss"
    GAIN = "gain"
    PATTERN = "pattern"
    POWER = "power"
    WEATHER = "weather"
    OTHER = "other"

    @property
    def spec(self) -> "Specification":
        return SPECIFICATIONS[self]


class ShownBy(StrEnum):
    """Which evidence shows that a claim holds."""

    LEVEL = "level"
    """A sweep of reflection, against a level of SWR."""
    READ_OFF = "read off"
    """A sweep of reflection, off which a frequency or a width is read."""
    CAPTURE = "capture"
    """A capture of the keyed radio."""
    CASE = "case"
    """What is seen when the case is opened."""
    REFERENCE = "reference"
    """None of its own: it names what other claims refer to."""
    TRIAL = "trial"
    """Trials of a tuner."""
    THROUGH = "through"
    """A sweep through it, from one port to the other."""
    HEAT = "heat"
    """A run under power with its temperature."""
    NOTHING = "nothing"
    """Nothing that is measured here."""


REFLECTION = frozenset((ShownBy.LEVEL, ShownBy.READ_OFF))
"""What a sweep of reflection shows."""


@dataclass(frozen=True)
class Specification:
    """One quantity. `words` head a claim of it, `limit` is what its limit is called where that has to be `above` a
    figure; `unit` is the limit's own. `powered` claims name a carrier power, a mode and a duty cycle; those
    `at_a_frequency` may name one instead of a window, those `in_a_band` mean the band where they name one; two claims
    in `free_text` are never compared."""

    words: str
    shown_by: ShownBy = ShownBy.NOTHING
    unit: str = ""
    limit: str = ""
    above: float | None = None
    needs_limit: bool = False
    powered: bool = False
    at_a_frequency: bool = False
    in_a_band: bool = False
    free_text: bool = False

    @property
    def swept(self) -> bool:
        """Whether a sweep of reflection shows it."""
        return self.shown_by in (ShownBy.LEVEL, ShownBy.READ_OFF)

    def check_limit(self, limit: float) -> None:
        """Raises ValueError where the limit is none of this quantity."""
        if self.above is not None and not limit > self.above:
            raise ValueError(f"{self.limit} must be above {f'{self.above:g} {self.unit}'.strip()}, not {limit:g}")


SPECIFICATIONS: Mapping[Quantity, Specification] = {
    Quantity.SWR: Specification("SWR at most", ShownBy.LEVEL, "", "an SWR limit", 1, needs_limit=True),
    Quantity.RETURN_LOSS: Specification(
        "Return loss at least", ShownBy.LEVEL, "dB", "a return loss limit", 0, needs_limit=True
    ),
    Quantity.RESONANCE: Specification("Resonant", ShownBy.READ_OFF),
    Quantity.BANDWIDTH: Specification(
        "Bandwidth at least", ShownBy.READ_OFF, "kHz", "a bandwidth", 0, needs_limit=True, in_a_band=True
    ),
    Quantity.IMPEDANCE: Specification("Nominal impedance", ShownBy.REFERENCE, "Ω", "an impedance", 0),
    Quantity.CONNECTOR: Specification("Connector", ShownBy.CASE),
    Quantity.OUTPUT_POWER: Specification(
        "Output power", ShownBy.CAPTURE, "W", "a power", 0, powered=True, at_a_frequency=True
    ),
    Quantity.EMISSIONS: Specification(
        "Harmonics down by", ShownBy.CAPTURE, "dB", powered=True, at_a_frequency=True
    ),
    Quantity.TUNER_RANGE: Specification("Matching range", ShownBy.TRIAL, "", "a residual SWR", 1),
    Quantity.TUNER_TIME: Specification("Matching time at most", ShownBy.TRIAL, "s", "a time", 0, needs_limit=True),
    Quantity.RECALL: Specification("Recall time at most", ShownBy.TRIAL, "s", "a time", 0, needs_limit=True),
    Quantity.CHOKING: Specification(
        "Choking impedance at least", ShownBy.THROUGH, "Ω", "an impedance", 0, needs_limit=True, at_a_frequency=True
    ),
    Quantity.ATTENUATION: Specification(
        "Attenuation", ShownBy.THROUGH, "dB", "an attenuation", 0, needs_limit=True, at_a_frequency=True
    ),
    Quantity.INSERTION_LOSS: Specification(
        "Insertion loss at most", ShownBy.THROUGH, "dB", "a loss", 0, needs_limit=True, at_a_frequency=True
    ),
    Quantity.GAIN: Specification("Gain", unit="dBi", in_a_band=True),
    Quantity.PATTERN: Specification("Pattern", free_text=True),
    Quantity.POWER: Specification("Power handling", ShownBy.HEAT, "W", "a power", 0, powered=True),
    Quantity.WEATHER: Specification("Weather sealing", free_text=True),
    Quantity.OTHER: Specification("Other", free_text=True),
}  # fmt: skip
