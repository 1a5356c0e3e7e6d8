"""Setups as rows: another like one that is there, with some of its facts changed."""

from levelmoor.core.model.state import Role
from levelmoor.records import tables as t


def another_like(source: t.Setup, name: str, role: Role, description: str = "", **facts: str) -> t.Setup:
    """A setup of its own with the other's plane, line and conditions, but for these facts."""
    return t.Setup(
        name=name[:200],
        description=description,
        plane=source.plane,
        tuner_in_line=source.tuner_in_line,
        line_id=source.line_id,
        planned=source.planned,
        conditions={**source.conditions, **facts},
        role=role.value,
    )
