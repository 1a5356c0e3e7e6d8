"""What took long to work out is kept in the database too, for other processes and after a restart.

A result is named by all that it rests on and by the program that made it; the newest are kept. What is read back may
hold objects of the core and arrays, and nothing else.
"""

from collections.abc import Callable, Hashable, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from functools import cache
from hashlib import blake2b, sha256
from importlib.resources import files
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
from sqlalchemy import delete, insert, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.packed_objects import packed, read_back

T = TypeVar("T")
MOST = 200
_where: sessionmaker[Session] | None = None


def keep_in(maker: sessionmaker[Session] | None) -> None:
    """Keep results in this database from now on; None keeps none."""
    global _where  # noqa: PLW0603  one installation, one database
    _where = maker


def kept_result(name: str, rests_on: Hashable, work: Callable[[], T]) -> T:
    """The result of some work, from the database where it is there; else it is worked out and kept."""
    if _where is None:
        return work()
    key = sha256(f"{name} {_program()} {content_digest(rests_on)}".encode()).hexdigest()
    found = _read(key)
    if found is None:
        found = work()
        _keep(key, found)
    return found  # type: ignore[no-any-return]


def _read(key: str) -> Any:
    assert _where is not None
    try:
        with _where() as session:
            body = session.scalar(select(t.KeptResult.body).where(t.KeptResult.key == key))
        return None if body is None else read_back(body)
    except Exception:  # whatever is wrong with what was kept, it is worked out instead
        return None


def _keep(key: str, result: object) -> None:
    assert _where is not None
    try:
        with _where.begin() as session:
            row = {"key": key, "made_at": now(), "body": packed(result)}
            session.execute(insert(t.KeptResult).prefix_with("IGNORE").values(row))
            order = (t.KeptResult.made_at.desc(), t.KeptResult.key)
            old = session.scalars(select(t.KeptResult.key).order_by(*order).offset(MOST).limit(MOST)).all()
            if old:
                session.execute(delete(t.KeptResult).where(t.KeptResult.key.in_(old)))
    except SQLAlchemyError:
        return  # it is only quicker with it


@cache
def _program() -> str:
    digest = sha256()
    for path in sorted(Path(str(files("levelmoor.core"))).rglob("*.py")):
        digest.update(path.read_bytes())
    return digest.hexdigest()


def content_digest(value: object) -> str:
    """A digest of plain data, equal for equal data in whatever process.

    Raises
    ------
    TypeError
        For anything but plain data.
    """
    digest = blake2b(digest_size=24)
    _add(digest, value)
    return digest.hexdigest()


def _add(digest: Any, value: object) -> None:
    if value is None or isinstance(value, (bool, int, float, bytes)):
        digest.update(f"{type(value).__name__}:{value!r};".encode())
    elif isinstance(value, Enum):
        digest.update(f"{type(value).__qualname__}.{value.name};".encode())
    elif isinstance(value, str):
        digest.update(f"s{len(value)}:{value}".encode())
    elif isinstance(value, np.ndarray):
        digest.update(f"{value.dtype.str}{value.shape}".encode() + value.tobytes())
    elif isinstance(value, (tuple, list)):
        digest.update(f"({len(value)}".encode())
        for one in value:
            _add(digest, one)
    elif isinstance(value, (frozenset, set)):
        _add(digest, sorted(content_digest(one) for one in value))
    elif isinstance(value, Mapping):
        _add(digest, [(k, value[k]) for k in sorted(value)])
    elif is_dataclass(value):
        digest.update(type(value).__qualname__.encode())
        _add(digest, [getattr(value, field.name) for field in fields(value)])
    else:
        raise TypeError(f"{type(value).__name__} is not plain data")
