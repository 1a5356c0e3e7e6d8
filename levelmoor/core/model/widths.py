"""Edges typed from a notebook: from where to where an SWR was kept, on a band, on a day."""

from dataclasses import dataclass


@dataclass(frozen=True)
class WidthReading:
    """A width as it was read: `low_hz` and `high_hz` where the SWR was `swr`, `best_hz` and `best_swr` where it was
    lowest, if that was noted. `step_hz` is the last digit of the edges as typed. `band` is the window that it is of;
    what was read on one band says nothing of another."""

    id: str
    sample_id: str
    setup_id: str
    instrument_id: str
    band: str
    low_hz: float
    high_hz: float
    swr: float = 2.0
    best_hz: float | None = None
    best_swr: float | None = None
    step_hz: float = 0.0
    setting_id: str = ""
    round: int = 1
    taken_on: str = ""
    who: str = ""
    note: str = ""
    set_aside: str = ""

    @property
    def width_hz(self) -> float:
        return self.high_hz - self.low_hz
