"""What a published evaluation carries: all that any row of it names, whatever kind of row that is, and nobody's name."""

from dataclasses import MISSING, fields, is_dataclass
from enum import Enum
from typing import get_args, get_origin, get_type_hints

import pytest

from levelmoor.core.model.evaluation import Evaluation, Instrument, Product
from levelmoor.core.model.relied_on import BENCH, only_relied_on

OWN = {"heats": {"points": ((0.0, 20.0), (60.0, 25.0))}, "levels": {"unit": "mA"}}
"""What rows check of themselves."""


def rows_with(field):
    """The fields of an evaluation whose rows have one, with what those rows are."""
    for name, kind in get_type_hints(Evaluation).items():
        row = next(iter(get_args(kind)), None)
        if name not in BENCH and is_dataclass(row) and field in {f.name for f in fields(row)}:
            yield name, row


def usual(kind):
    """Something that may stand in a field of a kind."""
    if isinstance(kind, type) and issubclass(kind, Enum):
        return next(iter(kind))
    if get_origin(kind) is tuple:
        return (usual(get_args(kind)[0]),) * 2
    return {float: 1.0, int: 1, str: ""}.get(kind)


def made(row, **said):
    """A row with what is said, and something usual wherever a field has no value of its own."""
    kinds = get_type_hints(row)
    asked = {f.name: usual(kinds[f.name]) for f in fields(row) if f.default is MISSING and f.default_factory is MISSING}
    one = object.__new__(row)  # what does not go together is no matter here
    for f in fields(row):
        own = f.default_factory() if f.default_factory is not MISSING else f.default
        object.__setattr__(one, f.name, {**asked, **said}.get(f.name, own))
    return one


@pytest.mark.parametrize(("name", "row"), rows_with("instrument_id"))
def test_an_instrument_that_a_row_names_goes_with_it(name, row):
    case = Evaluation("t", Product("p"), instruments=(Instrument("a", "A"), Instrument("b", "B")))
    object.__setattr__(case, name, (made(row, instrument_id="a", **OWN.get(name, {})),))
    assert [i.id for i in only_relied_on(case).instruments] == ["a"]


@pytest.mark.parametrize(("name", "row"), rows_with("who"))
def test_who_typed_a_row_does_not_go_with_it(name, row):
    case = Evaluation("t", Product("p"))
    object.__setattr__(case, name, (made(row, who="Somebody", **OWN.get(name, {})),))
    assert [one.who for one in getattr(only_relied_on(case), name)] == [""]
