"""A window: the frequency range a claim or a question is about; where both ends are one, a spot."""

from dataclasses import dataclass

from levelmoor.core.words.figures import format_mhz, format_range

EDGE_TOLERANCE = 1e-9
"""So much of a frequency may lack at an end: files round what was set."""


def reaches(have_low_hz: float, have_high_hz: float, low_hz: float, high_hz: float) -> bool:
    """Whether one span holds another, to one part in 10^9."""
    slack = EDGE_TOLERANCE * high_hz
    return bool(have_low_hz <= low_hz + slack and have_high_hz >= high_hz - slack)


@dataclass(frozen=True)
class Window:
    """A named range; low and high in Hz, both above zero, low <= high; equal ends are a spot frequency."""

    low_hz: float
    high_hz: float
    name: str = ""

    def __post_init__(self) -> None:
        if not 0 < self.low_hz <= self.high_hz:
            raise ValueError(
                f"a window must run from a lower to a higher frequency, not from {self.low_hz:g} to {self.high_hz:g} Hz"
            )
        if not self.name:
            words = f"{format_mhz(self.low_hz)} MHz" if self.spot else format_range(self.low_hz, self.high_hz)
            object.__setattr__(self, "name", words)

    @property
    def ends(self) -> tuple[float, float]:
        return self.low_hz, self.high_hz

    @property
    def middle_hz(self) -> float:
        return (self.low_hz + self.high_hz) / 2

    @property
    def spot(self) -> bool:
        return self.low_hz == self.high_hz
