"""What a sweep or a capture is of: its sample, setup and instrument, and what is said of the calibration and state."""

from dataclasses import dataclass

from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round

CHOSEN = ("sample_id", "setup_id", "instrument_id", "setting_id", "calibration", "calibration_id")
"""What a person chooses; the round follows from the state."""


@dataclass(frozen=True)
class Place:
    """By the ids of rows."""

    sample_id: int | None
    setup_id: int | None
    instrument_id: int | None
    calibration: str = "unstated"
    calibration_id: int | None = None
    setting_id: int | None = None
    round: int = 0
    """0 is the latest that was swept or opened of that state."""

    @classmethod
    def on_bench(cls, row: t.Evaluation) -> "Place":
        """What new evidence is of, as long as nothing else is said."""
        return cls(**{n: getattr(row, f"bench_{n}") for n in CHOSEN})

    @classmethod
    def of(cls, hand: t.InHand) -> "Place":
        return cls(**{n: getattr(hand, n) for n in CHOSEN})

    def round_of(self, row: t.Evaluation) -> int:
        """The round that evidence of this place belongs to: the one it names, else the latest of its state."""
        return self.round or latest_round(row, self.sample_id, self.setup_id, self.setting_id)

    def to_bench(self, row: t.Evaluation) -> None:
        """What evidence is of from now on, where nobody has chosen otherwise."""
        for name in CHOSEN:
            setattr(row, f"bench_{name}", getattr(self, name))
