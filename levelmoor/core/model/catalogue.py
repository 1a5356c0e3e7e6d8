"""Every kind of row that an evaluation holds, read off the dataclasses that declare it.

A field is declared once, where its row is: one without a default must be said, `x_id` names a row of the kind x, what a
row is called by may not be empty. The exchange form, admission, what a bundle carries along and the tests of tables and
history follow from that. Bounds of texts and figures stand in `core.words.bounds` by kind and field.
"""

from collections.abc import Mapping
from dataclasses import MISSING, dataclass, fields, is_dataclass
from functools import cached_property
from typing import Any, get_args, get_type_hints

from levelmoor.core.model.evaluation import Evaluation

CALLED_BY = ("name", "label", "file_name")
"""What a row is called by."""
_NAMED = {"load_sweep": "sweep", "item": "piece"}
"""What a field names, where it is not the kind that it is called after."""


@dataclass(frozen=True)
class Kind:
    """A kind of row: the field of an evaluation that holds its rows, and what one is made of."""

    at: str
    row: type[Any]

    @property
    def name(self) -> str:
        """As cells, bounds and the history call one of them."""
        return self.at.removesuffix("s")

    @property
    def has_id(self) -> bool:
        """Whether others can name its rows."""
        return any(f.name == "id" for f in fields(self.row))

    @cached_property
    def names(self) -> Mapping[str, str]:
        """The fields that name rows by their ids, each with the kind that it names."""
        ids = (f.name.removesuffix("_ids").removesuffix("_id") for f in fields(self.row))
        return {f.name: _NAMED.get(kind, kind) for f, kind in zip(fields(self.row), ids, strict=True) if kind != f.name}

    @cached_property
    def must_name(self) -> frozenset[str]:
        """Those of them that may not be empty."""
        asked = {f.name for f in fields(self.row) if f.default is MISSING and f.default_factory is MISSING}
        return frozenset(self.names) & asked

    @cached_property
    def called_by(self) -> tuple[str, ...]:
        """The texts that may not be empty: a row that others name has something to be called by."""
        return tuple(f.name for f in fields(self.row) if f.name in CALLED_BY and self.has_id)


def _kinds() -> Mapping[str, Kind]:
    held = ((at, next(iter(get_args(hint)), None)) for at, hint in get_type_hints(Evaluation).items())
    return {at: Kind(at, row) for at, row in held if isinstance(row, type) and is_dataclass(row)}


KINDS: Mapping[str, Kind] = _kinds()
"""By the field of an evaluation."""
