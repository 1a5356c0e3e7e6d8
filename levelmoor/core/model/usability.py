"""Usability of a band: what a station can do with it, apart from what the maker claimed."""

from dataclasses import dataclass
from enum import StrEnum


@dataclass(frozen=True)
class Profile:
    """Where the line is drawn, by name and with the reason; practitioners differ, so it is a choice."""

    id: str
    name: str
    limit_swr: float
    reason: str


PROFILES = {
    p.id: p
    for p in (
        Profile("exacting", "Exacting 1.3:1", 1.3, "for teams that want almost no reflection anywhere in the band"),
        Profile("strict", "Strict 1.5:1", 1.5, "no power fold-back expected"),
        Profile("radio-safe", "Radio-safe 2:1", 2.0, "what most transmitters accept; check the radio's manual"),
        Profile("internal-tuner", "Internal tuner 3:1", 3.0, "what a built-in tuner reaches"),
    )
}
DEFAULT_PROFILE = PROFILES["radio-safe"]


def own_profile(limit_swr: float) -> Profile:
    """A limit of the team's own.

    Raises
    ------
    ValueError
        Where it is not an SWR above 1.
    """
    if not limit_swr > 1:
        raise ValueError(f"a usability limit must be an SWR above 1, not {limit_swr:g}")
    return Profile("own", f"Own limit {limit_swr:g}:1", limit_swr, "the team's own choice")


class Usability(StrEnum):
    ALL = "all"
    PART = "part"
    NONE = "none"
    NOT_SHOWN = "not_shown"


USABILITY_WORDS = {
    Usability.ALL: "Usable",
    Usability.PART: "In part",
    Usability.NONE: "Not usable",
    Usability.NOT_SHOWN: "Not shown",
}


def usability(share_within: float) -> Usability:
    """Usable throughout, in part or not at all, from the share of the band within the profile's limit."""
    if share_within >= 1 - 1e-12:
        return Usability.ALL
    return Usability.PART if share_within > 0 else Usability.NONE
