"""Sheets of readings as they were typed, one figure at a time."""

from dataclasses import dataclass


@dataclass(frozen=True)
class TypedReading:
    """A reading as it was typed, with what was asked and answered, each as pairs of a name and what was typed."""

    entry_id: str
    typed: tuple[tuple[str, str], ...]
    answers: tuple[tuple[str, str], ...] = ()
    made_at: str = ""
    made_by: str = ""


@dataclass(frozen=True)
class ReadingSheet:
    """Readings of one sample in one setup with one instrument; `kind` is what was read beside the frequency, `sweep_id`
    the sweep that they were joined into, empty as long as they were not."""

    id: str
    sample_id: str
    setup_id: str
    instrument_id: str
    kind: str
    sweep_id: str = ""
    setting_id: str = ""
    round: int = 1
    readings: tuple[TypedReading, ...] = ()
