"""Rows from the core's plain data and back, by the names they share: the core's dataclasses are the one description."""

from collections.abc import Mapping
from dataclasses import asdict, fields, is_dataclass
from datetime import date
from enum import Enum
from functools import cache
from typing import Any, TypeVar, get_args, get_origin, get_type_hints

from sqlalchemy import Date, inspect

from levelmoor.core.model.connectors import Connector
from levelmoor.core.rf.curve import Curve
from levelmoor.formats.equipment_fields import connector_from, curve_data, curve_from

C = TypeVar("C")
R = TypeVar("R")


def core_from(kind: type[C], row: Any, **said: Any) -> C:
    """The core's data from a row; what the row keeps otherwise is `said`, what it has not keeps its default."""
    of: Any = kind
    values = {n: read(getattr(row, n)) for n, read in _readers(of).items() if n not in said and hasattr(row, n)}
    return kind(**values, **said)


def row_from(kind: type[R], core: Any, **said: Any) -> R:
    """A row with the core's values; what is kept otherwise, as by the ids of other rows, is `said`."""
    of: Any = kind
    values = {}
    for name, column in _columns(of).items():
        if name not in said and hasattr(core, name):
            value = _kept(getattr(core, name))
            if isinstance(column.type, Date):
                value = date.fromisoformat(value) if value else None
            values[name] = "" if value is None and not column.nullable else value
    return kind(**values, **said)


@cache
def _columns(kind: Any) -> Mapping[str, Any]:
    return {a.key: a.columns[0] for a in inspect(kind).column_attrs if a.key != "id"}


@cache
def _readers(kind: Any) -> Mapping[str, Any]:
    hints = get_type_hints(kind)
    return {f.name: _reader(hints[f.name]) for f in fields(kind) if f.init}


def _reader(hint: Any) -> Any:
    if hint is str:
        return lambda v: "" if v is None else v.isoformat() if isinstance(v, date) else str(v)
    if hint is bool or (isinstance(hint, type) and issubclass(hint, Enum)):
        return hint
    if get_origin(hint) is tuple:
        one: Any = get_args(hint)[0]
        parts = is_dataclass(one)
        return lambda v: tuple(one(**part) if parts else one(part) for part in v)
    if Connector in get_args(hint):
        return connector_from
    return curve_from if Curve in get_args(hint) else lambda v: v


def _kept(value: Any) -> Any:
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, Connector):
        return str(value)
    if isinstance(value, Curve):
        return curve_data(value)
    if isinstance(value, tuple):
        return [asdict(part) if is_dataclass(part) else part for part in value]  # type: ignore[arg-type]
    return value
