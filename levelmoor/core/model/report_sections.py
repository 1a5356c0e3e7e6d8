"""Which sections a team puts into its report beside the verdicts, each with a sentence of its own."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


class ReportSection(StrEnum):
    """A section that may be left out of the page; what it is made from stays in the bundle."""

    SETUPS = "setups"
    SETTINGS = "settings"
    STRIPS = "strips"
    TRIALS = "trials"
    THROUGH = "through"
    CONTACTS = "contacts"


SECTION_WORDS = {
    ReportSection.SETUPS: "As supplied, by setup",
    ReportSection.SETTINGS: "Settings",
    ReportSection.STRIPS: "Rotation, proximity, wind",
    ReportSection.TRIALS: "Trials of the tuner",
    ReportSection.THROUGH: "Port to port, in use, under power",
    ReportSection.CONTACTS: "On the air: not evidence",
}


@dataclass(frozen=True)
class ChosenSection:
    """Whether a section is shown, and what the team says above it."""

    section: ReportSection
    shown: bool = True
    words: str = ""


def chosen(sections: Iterable[ChosenSection], section: ReportSection) -> ChosenSection:
    """What was chosen of a section; one that nobody chose about is shown without words."""
    return next((s for s in sections if s.section is section), ChosenSection(section))
