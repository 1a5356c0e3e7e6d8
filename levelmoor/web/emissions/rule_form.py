"""A rule set as a table: its facts over it, a row for each section, terms as they are written."""

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import Any

from werkzeug.datastructures import MultiDict

from levelmoor.core.claims.rule_text import parse_power, parse_terms, power_text, terms_text
from levelmoor.core.model.rule_sets import Combine, RuleSet, Section
from levelmoor.core.rf.frequency import parse_frequency

FACTS = {
    "id": "Id", "title": "Title", "source": "Source", "read_on": "Read on", "scope": "Scope",
    "not_covered": "Where it has no limit",
}  # fmt: skip
ROOM = 2
"""Empty rows under those that are filled."""


@dataclass(frozen=True)
class SectionRow:
    """A section as typed."""

    section: str = ""
    low: str = ""
    high: str = ""
    above: str = ""
    up_to: str = ""
    terms: str = ""
    combine: str = Combine.STRICTEST
    floor: str = ""

    @property
    def empty(self) -> bool:
        return not (self.section or self.low or self.high or self.terms)


COLUMNS = {
    "section": "Section", "low": "Carriers from", "high": "to below", "above": "Power above", "up_to": "up to",
    "terms": "Terms", "combine": "If there are several terms", "floor": "Never below",
}  # fmt: skip


@dataclass(frozen=True)
class RuleForm:
    facts: Mapping[str, str]
    rows: tuple[SectionRow, ...]

    @property
    def shown(self) -> tuple[SectionRow, ...]:
        return (*self.rows, *(SectionRow() for _ in range(ROOM)))


def typed(form: MultiDict[str, str]) -> RuleForm:
    """What stands in the form, rows without anything left out."""
    columns = zip(*(form.getlist(f.name) for f in fields(SectionRow)), strict=False)
    rows = (SectionRow(*(v.strip() for v in values)) for values in columns)
    return RuleForm({f: form.get(f, "").strip() for f in FACTS}, tuple(r for r in rows if not r.empty))


def form_of(rules: RuleSet) -> RuleForm:
    """A rule set as it is typed."""
    return RuleForm({f: getattr(rules, f) for f in FACTS}, tuple(_row(s) for s in rules.sections))


def _row(s: Section) -> SectionRow:
    return SectionRow(
        s.name, _hz(s.low_hz), _hz(s.high_hz), power_text(s.low_w) if s.low_w else "",
        "" if s.high_w is None else power_text(s.high_w), terms_text(s.terms), s.combine,
        "" if s.floor_w is None else power_text(s.floor_w),
    )  # fmt: skip


def _hz(frequency_hz: float) -> str:
    return f"{frequency_hz / 1e6:.10g} MHz"


def rules_of(form: RuleForm) -> RuleSet:
    """The rule set of what was typed.

    Raises
    ------
    ValueError
        Naming field, or row and column, and what would be right.
    """
    for name in ("id", "title"):
        if not form.facts[name]:
            raise ValueError(f"{FACTS[name]} is empty; a rule set needs one")
    sections = tuple(_section(number, row) for number, row in enumerate(form.rows, 1))
    facts: dict[str, Any] = dict(form.facts)
    return RuleSet(sections=sections, **facts)


def _section(number: int, row: SectionRow) -> Section:
    column = "section"
    try:
        if not row.section:
            raise ValueError("it is empty; name the section as in the rule")
        column = "low"
        low = 0.0 if row.low in ("", "0", "0 MHz") else parse_frequency(row.low)
        column = "high"
        high = parse_frequency(row.high)
        column = "above"
        above = parse_power(row.above) if row.above not in ("", "0") else 0.0
        column = "up_to"
        up_to = parse_power(row.up_to) if row.up_to else None
        column = "terms"
        terms = parse_terms(row.terms)
        column = "floor"
        floor = parse_power(row.floor) if row.floor else None
    except ValueError as problem:
        raise ValueError(f"row {number}, {COLUMNS[column]}: {problem}") from None
    return Section(row.section, low, high, terms, Combine(row.combine), above, up_to, floor)
