"""Models of what goes in and out, made from the core's dataclasses: a field is declared once, where its row is."""

from dataclasses import MISSING, fields
from typing import Any, get_type_hints

from pydantic import BaseModel, ConfigDict, Field, create_model


class Document(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


def model_of(name: str, core: type[Any], without: tuple[str, ...] = (), /, **own: Any) -> Any:
    """The model of a dataclass: its fields, but for those `without`, and those that are its `own`, as pydantic's
    `create_model` takes them."""
    hints = get_type_hints(core)
    kept = {f.name: (hints[f.name], _default(f)) for f in fields(core) if f.name not in without}
    first = {n: v for n, v in own.items() if n not in kept}
    return create_model(name, __base__=Document, __doc__=core.__doc__, **{**first, **kept, **own})


def _default(field: Any) -> Any:
    if field.default_factory is not MISSING:
        return Field(default_factory=field.default_factory)
    return ... if field.default is MISSING else field.default
