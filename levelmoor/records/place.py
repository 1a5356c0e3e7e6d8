"""What a sweep or a capture is of: its sample, setup and instrument, and what is said of the calibration and state."""

from dataclasses import dataclass, fields

from levelmoor.records import tables as t


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
    """0 is the latest that was swept of that state, or the one that was opened on the bench."""

    @classmethod
    def on_bench(cls, row: t.Evaluation) -> "Place":
        """What new evidence is of, as long as nothing else is said."""
        return cls(**{f.name: getattr(row, f"bench_{f.name}") for f in fields(cls)})

    def to_bench(self, row: t.Evaluation) -> None:
        for f in fields(self):
            setattr(row, f"bench_{f.name}", getattr(self, f.name))
