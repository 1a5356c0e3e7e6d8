"""Trials of a tuner: a frequency, a load, what came of it."""

from dataclasses import dataclass
from enum import StrEnum


class Outcome(StrEnum):
    """How a trial ended. One that was stopped by hand says nothing of the tuner."""

    MATCHED = "matched"
    GAVE_UP = "gave_up"
    REFUSED = "refused"
    STOPPED = "stopped"


OUTCOME_WORDS = {
    Outcome.MATCHED: "matched",
    Outcome.GAVE_UP: "gave up",
    Outcome.REFUSED: "refused",
    Outcome.STOPPED: "stopped by hand",
}
MOST_DIALS = 12
STOPWATCH_U_S = 0.2
"""Standard uncertainty of a time taken by hand, key to silence (common practice, no source)."""


@dataclass(frozen=True)
class DialPosition:
    """Where a knob stood, as a number or in words."""

    knob: str
    at: str


@dataclass(frozen=True)
class Trial:
    """One match. `load` is what hung on the tuner, in the words of `core/trials/load_text.py`; of an antenna
    `load_sweep_id` is its sweep without the tuner. `power_w` is what was keyed, None with an analyzer for a source.
    `memory` says that the tuner recalled an earlier setting. `swr_step` is the last digit of the SWR as typed. The
    SWR after it was read with `instrument_id`; `network_id` names the tuner's network where that is written down;
    `through_id` a sweep through the tuner in this setting.
    """

    id: str
    sample_id: str
    setup_id: str
    frequency_hz: float
    outcome: Outcome
    load: str = ""
    load_sweep_id: str = ""
    power_w: float | None = None
    memory: bool = False
    swr_before: float | None = None
    swr_after: float | None = None
    swr_step: float = 0.1
    seconds: float | None = None
    dials: tuple[DialPosition, ...] = ()
    instrument_id: str = ""
    network_id: str = ""
    through_id: str = ""
    taken_on: str = ""
    who: str = ""
    note: str = ""
    set_aside: str = ""
    setting_id: str = ""
    round: int = 1

    def __post_init__(self) -> None:
        if not self.frequency_hz > 0:
            raise ValueError(f"a frequency must be above 0 Hz, not {self.frequency_hz:g}")
        for name in ("swr_before", "swr_after"):
            value = getattr(self, name)
            if value is not None and not value >= 1:
                raise ValueError(f"an SWR must be at least 1, not {value:g}")
        if self.seconds is not None and not self.seconds >= 0:
            raise ValueError(f"a time must be at least 0 s, not {self.seconds:g}")

    @property
    def tried(self) -> bool:
        """Whether it says something of the tuner."""
        return self.outcome is not Outcome.STOPPED and not self.set_aside
