"""Coaxial connectors: families, genders, and what mates with what."""

import re
from dataclasses import dataclass
from enum import StrEnum


class Gender(StrEnum):
    MALE = "male"
    FEMALE = "female"


FAMILIES = ("N", "BNC", "TNC", "SMA", "RP-SMA", "UHF", "F", "SMB", "MCX", "MMCX", "4.3-10", "7-16", "3.5 mm", "posts")
"""Families by their generic names. UHF is the family of the PL-259 plug and the SO-239 socket."""
_MATES = {"SMA": "SMA", "3.5 mm": "SMA"}
"""3.5 mm and SMA mate; all others mate within their family only (memory)."""
_ALIASES = {
    "so239": ("UHF", Gender.FEMALE),
    "pl259": ("UHF", Gender.MALE),
    "rpsmamale": ("RP-SMA", Gender.MALE),
    "rpsmafemale": ("RP-SMA", Gender.FEMALE),
}
_GENDERS = {
    "male": Gender.MALE, "m": Gender.MALE, "plug": Gender.MALE, "pin": Gender.MALE,
    "female": Gender.FEMALE, "f": Gender.FEMALE, "socket": Gender.FEMALE, "jack": Gender.FEMALE,
}  # fmt: skip
_FAMILY_KEYS = {re.sub(r"[^a-z0-9]", "", f.lower()): f for f in FAMILIES}
_WRITTEN = re.compile(r"^(.*?)[\s(,-]{0,9}\b(male|female|plug|socket|jack|pin|m|f)\b\)?$", re.IGNORECASE)


@dataclass(frozen=True)
class Connector:
    """One connector: a family from `FAMILIES` and a gender (of the centre contact; posts have none that matters)."""

    family: str
    gender: Gender

    def __str__(self) -> str:
        return f"{self.family} {self.gender.value}"

    def mates(self, other: "Connector") -> bool:
        """Whether the two can be screwed together without force."""
        same = _MATES.get(self.family, self.family) == _MATES.get(other.family, other.family)
        return same and self.gender is not other.gender

    @property
    def opposite(self) -> "Connector":
        return Connector(self.family, Gender.MALE if self.gender is Gender.FEMALE else Gender.FEMALE)


def parse_connector(text: str) -> Connector:
    """A connector from `N female`, `BNC (m)`, `SMA plug`, `SO-239`.

    Raises
    ------
    ValueError
        If family or gender is missing or unknown; the message says what would be right.
    """
    bare = " ".join(text.split())
    alias = _ALIASES.get(re.sub(r"[^a-z0-9]", "", bare.lower()))
    if alias:
        return Connector(*alias)
    match = _WRITTEN.match(bare)
    family = _FAMILY_KEYS.get(re.sub(r"[^a-z0-9]", "", (match[1] if match else bare).lower()))
    if family is None:
        raise ValueError(f'"{text}" is not a known connector; write family and gender, such as N female or BNC male')
    if match is None:
        raise ValueError(f'"{text}" does not say its gender; write {family} male or {family} female')
    return Connector(family, _GENDERS[match[2].lower()])
