"""Emission rule sets: limits by carrier and power, as data, each figure with the term that binds.

The sets that come along are in `levelmoor/core/rules`, each file with its source.

References
----------
.. [1] dBm = 10 log10(P / 1 mW), definition.
"""

import json
import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from importlib.resources import files
from typing import Any

from levelmoor.core.plugins import RULE_SETS, plugged
from levelmoor.core.rf.bandplan import band_plan, other_services
from levelmoor.core.rf.levels import dbm_of_watts
from levelmoor.core.words.figures import brief_mhz
from levelmoor.core.words.sentence import uncapitalized


class TermKind(StrEnum):
    """ABSOLUTE in W; BELOW_CARRIER in dB; ATTENUATION of figure + 10 log10(P in W) dB."""

    ABSOLUTE = "absolute"
    BELOW_CARRIER = "below_carrier"
    ATTENUATION = "attenuation"


class Combine(StrEnum):
    STRICTEST = "strictest"
    LEAST_STRICT = "least_strict"


@dataclass(frozen=True)
class Term:
    kind: TermKind
    figure: float
    words: str = ""

    def __post_init__(self) -> None:
        if not math.isfinite(self.figure) or (self.kind is TermKind.ABSOLUTE and self.figure <= 0):
            raise ValueError(f"a term needs a number, and an absolute one must be above 0 W, not {self.figure:g}")

    def limit_dbm(self, power_w: float) -> float:
        """The limit in dBm that the term sets for a carrier power in W [1]_."""
        if self.kind is TermKind.ABSOLUTE:
            return float(dbm_of_watts(self.figure))
        carrier = float(dbm_of_watts(power_w))
        down = self.figure if self.kind is TermKind.BELOW_CARRIER else self.figure + 10 * math.log10(power_w)
        return carrier - down

    @property
    def said(self) -> str:
        """The term in words, its own or made from its figure."""
        made = {
            TermKind.ABSOLUTE: f"{self.figure * 1e6:g} µW",
            TermKind.BELOW_CARRIER: f"{self.figure:g} dB below the carrier",
            TermKind.ATTENUATION: f"{self.figure:g} + 10 log10(P in W) dB of attenuation",
        }
        return self.words or made[self.kind]


@dataclass(frozen=True)
class Section:
    """A part of a rule set for carriers from `low_hz` up to below `high_hz`, of powers above `low_w` up to `high_w`.

    No limit of it is below `floor_w`. None leaves a power open.
    """

    name: str
    low_hz: float
    high_hz: float
    terms: tuple[Term, ...]
    combine: Combine = Combine.STRICTEST
    low_w: float = 0.0
    high_w: float | None = None
    floor_w: float | None = None

    def __post_init__(self) -> None:
        figures = (self.high_hz, self.low_w, *(w for w in (self.high_w, self.floor_w) if w is not None))
        if not all(map(math.isfinite, figures)):
            raise ValueError(f"section {self.name}: frequencies and powers must be numbers")
        if not 0 <= self.low_hz < self.high_hz:
            raise ValueError(f"section {self.name}: carriers must run from a lower to a higher frequency")
        if not self.terms:
            raise ValueError(f"section {self.name}: it has no term")
        if self.high_w is not None and not self.low_w < self.high_w:
            raise ValueError(f"section {self.name}: powers must run from a lower to a higher one")
        if self.floor_w is not None and not self.floor_w > 0:
            raise ValueError(f"section {self.name}: a floor must be above 0 W")

    def holds(self, carrier_hz: float, power_w: float) -> bool:
        within = power_w > self.low_w and (self.high_w is None or power_w <= self.high_w)
        return self.low_hz <= carrier_hz < self.high_hz and within


@dataclass(frozen=True)
class RuleSet:
    """A named set of limits with its source and the day it was read; `not_covered` says where it has no figure."""

    id: str
    title: str
    sections: tuple[Section, ...]
    source: str = ""
    read_on: str = ""
    scope: str = ""
    not_covered: str = ""
    service: str = ""
    region: int = 0
    """The service it is of, `amateur`, empty for any, and the region of its bands, 0 for that of the evaluation."""

    def __post_init__(self) -> None:
        if not self.id or not self.title:
            raise ValueError("a rule set needs an id and a title")
        if not re.fullmatch(r"\w[\w.-]{0,59}", self.id):
            raise ValueError(f'"{self.id}" is not an id: up to 60 letters, digits, points and dashes, as in us-97.307')


@dataclass(frozen=True)
class Limit:
    """A limit in dBm, the words of what binds, the section, and what every term of it would be."""

    dbm: float
    binding: str
    section: str
    terms: tuple[tuple[str, float], ...]
    relative: bool = False
    """Whether it is counted from the carrier."""


@dataclass(frozen=True)
class NoFigure:
    """A rule set that states no number for a carrier, in words."""

    words: str


AMATEUR = "amateur"


def limit_of(rules: RuleSet, carrier_hz: float, power_w: float, region: int | None = None) -> Limit | NoFigure:
    """The limit of a carrier in Hz and W, and why it is that one. With a region, a carrier outside the service that the
    rules are of has none.

    Raises
    ------
    ValueError
        Where the power is not above 0 W.
    """
    if not power_w > 0:
        raise ValueError(f"a carrier power is above 0 W, not {power_w:g}")
    if region is not None and rules.service == AMATEUR and not _amateur(carrier_hz, rules.region or region):
        other = next((b.name for b in other_services().bands if b.low_hz <= carrier_hz <= b.high_hz), "")
        where = f"{brief_mhz(round(carrier_hz, -3))} MHz is not in an amateur band of region {rules.region or region}"
        where += f", but in {other}" if other else ""
        return NoFigure(f"{rules.id} covers the amateur service, and {where}: it does not cover such a transmitter")
    section = next((s for s in rules.sections if s.holds(carrier_hz, power_w)), None)
    if section is None:
        words = rules.not_covered or "it has no limit there"
        at = f"{power_w:.3g} W at {brief_mhz(carrier_hz)} MHz"
        return NoFigure(f"no figure for {at} in {rules.id}: {uncapitalized(words)}")
    choose = min if section.combine is Combine.STRICTEST else max
    binds = choose(section.terms, key=lambda t: t.limit_dbm(power_w))
    dbm, binding, relative = binds.limit_dbm(power_w), binds.said, binds.kind is not TermKind.ABSOLUTE
    if section.floor_w is not None and dbm < float(dbm_of_watts(section.floor_w)):
        dbm = float(dbm_of_watts(section.floor_w))
        relative = False
        binding = f"never required to be below {section.floor_w * 1e6:g} µW"
    terms = tuple((t.said, t.limit_dbm(power_w)) for t in section.terms)
    return Limit(dbm, binding, section.name, terms, relative)


def _amateur(carrier_hz: float, region: int) -> bool:
    return any(b.low_hz <= carrier_hz <= b.high_hz for b in band_plan(region).bands)


def rule_set_from(data: Mapping[str, Any]) -> RuleSet:
    """A rule set from its JSON data.

    Raises
    ------
    ValueError
        Naming what is missing or is not as it should be.
    """
    try:
        sections = tuple(
            Section(
                str(s["name"]),
                float(s["low_hz"]),
                float(s["high_hz"]),
                tuple(Term(TermKind(t["kind"]), float(t["figure"]), str(t.get("words", ""))) for t in s["terms"]),
                Combine(s.get("combine", Combine.STRICTEST)),
                float(s.get("low_w") or 0.0),
                None if s.get("high_w") is None else float(s["high_w"]),
                None if s.get("floor_w") is None else float(s["floor_w"]),
            )
            for s in data["sections"]
        )
        texts = {n: str(data.get(n, "")) for n in ("source", "read_on", "scope", "not_covered", "service")}
        return RuleSet(str(data["id"]), str(data["title"]), sections, **texts, region=int(data.get("region") or 0))
    except KeyError as missing:
        raise ValueError(f"the rule set has no {missing.args[0]}") from None
    except TypeError as problem:
        raise ValueError(f"the rule set is invalid: {problem}") from None


@lru_cache
def shipped_rule_sets() -> dict[str, RuleSet]:
    """The rule sets that come along, or that plug-ins bring, by id."""
    folder = files("levelmoor.core").joinpath("rules")
    found = [rule_set_from(json.loads(f.read_text("utf-8"))) for f in folder.iterdir() if f.name.endswith(".json")]
    own = {r.id: r for r in sorted(found, key=lambda r: r.id, reverse=True)}
    return {r.id: r for r in plugged(RULE_SETS, rule_set_from).values()} | own


def usual_rules(region: int) -> list[str]:
    """What an evaluation starts with: the sets of its region."""
    return ["us-97.307"] if region == 2 else ["itu-amateur-a"]
