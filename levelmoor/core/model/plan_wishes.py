"""What a team wants of a plan, and its own figures: minutes, and changes made by hand."""

from dataclasses import dataclass


@dataclass(frozen=True)
class OwnRun:
    """A run added by hand: a sample in a setup over a range in Hz."""

    sample_id: str
    setup_id: str
    low_hz: float
    high_hz: float


@dataclass(frozen=True)
class PlanWishes:
    """Minutes are the team's own. `shift_hz` is the change to be shown, `spread_hz` the spread of one reading of a dip.

    `dropped` are keys of runs left out by hand, `order` keys in the order wanted (others follow), `own` added runs.
    """

    rebuild_min: float = 20.0
    calibration_min: float = 6.0
    sweep_min: float = 2.0
    shift_hz: float = 20e3
    spread_hz: float = 5e3
    rbw_hz: float = 10e3
    dropped: tuple[str, ...] = ()
    order: tuple[str, ...] = ()
    own: tuple[OwnRun, ...] = ()
