"""A cell that somebody else changed since the page showed it: nobody's text is written over without a word."""

from collections.abc import Mapping
from typing import Any

from flask import render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.model.bench_records import BENCH_RULE_WORDS
from levelmoor.core.model.evaluation import CALIBRATION_WORDS, OBTAINED_WORDS, PLANE_WORDS
from levelmoor.core.model.networks import PART_WORDS, Part
from levelmoor.core.model.state import SETUP_ROLE_WORDS
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import format_range
from levelmoor.records import history
from levelmoor.records import tables as t
from levelmoor.records.kinds import KINDS, kind_of, name_of
from levelmoor.web.context import db


def meanwhile(row: Any, name: str) -> t.AuditEntry | None:
    """Who changed the cell of a row since the page that asks has seen it, where what is asked differs from it.

    To be asked when the new value stands in the row and is not written yet.
    """
    seen = request.form.get("seen", type=int)
    if seen is None or not any(history.changes_of(row)):
        return None
    with db().no_autoflush:
        return history.later_change(db(), kind_of(row), row.id, history.together(name), seen)


def conflict(place: str, entry: t.AuditEntry, typed: str, theirs: str | None = None) -> ResponseReturnValue:
    """Both values, who and when, and the choice; nothing is stored meanwhile. `theirs` is theirs as the cell writes it,
    where that is not as the history has it."""
    db().rollback()
    data = {
        "place": place,
        "entry": entry,
        "theirs": as_typed(entry) if theirs is None else theirs,
        "theirs_said": said(entry.field, entry.new_value) if theirs is None else theirs,
        "typed": typed,
        "typed_said": typed_said(entry.field, typed),
    }
    return render_template("together/conflict.html", **data), 422, {"HX-Reswap": "none"}


def in_words(entry: t.AuditEntry, typed: str) -> str:
    """The same in one sentence, for cells whose table is drawn anew: theirs stands in it then."""
    theirs = said(entry.field, entry.new_value) or "nothing"
    yours = typed_said(entry.field, typed) or "nothing"
    return (
        f"{entry.who} changed this to {theirs} in the meantime, so yours ({yours}) was not saved. Write it again "
        f"to save it."
    )


def as_typed(entry: t.AuditEntry) -> str:
    """What the field became, as its cell has it."""
    row = db().get(KINDS[entry.row_kind or ""], entry.row_id)
    value, name = entry.new_value, entry.field or ""
    if name.startswith("calibration") and row is not None and row.calibration_id:
        return f"record:{row.calibration_id}"
    if name == "duty" and value is not None:
        return f"{100 * value:g}"
    return plain(value)


def plain(value: Any) -> str:
    """A value of the history as a text: windows by their names, nothing as nothing."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.12g}"
    if isinstance(value, list) and value and all(isinstance(v, list) for v in value):  # a table
        return "; ".join(" ".join(plain(v) for v in line) for line in value)
    if isinstance(value, list):
        return ", ".join(str(v.get("name") or v) if isinstance(v, dict) else str(v) for v in value)
    if isinstance(value, dict):
        return ", ".join(f"{k} {plain(v)}" for k, v in value.items())
    return str(value)


def field_said(field: str | None) -> str:
    """What a field of the history is called."""
    first, _, fact = (field or "").partition(" ")
    if fact and first in list(Part):
        return f"{PART_WORDS[Part(first)]}, {fact}"
    return (field or "").replace("_id", "").replace("_", " ")


CHOICES: Mapping[str, Mapping[Any, str]] = {
    "obtained": OBTAINED_WORDS,
    "calibration": CALIBRATION_WORDS,
    "plane": PLANE_WORDS,
    "role": SETUP_ROLE_WORDS,
    "bench_rule": BENCH_RULE_WORDS,
}
"""The words of what is chosen from a list, by the field."""


def typed_said(field: str | None, typed: str) -> str:
    """What was chosen or typed, for a reader: a choice by its words, another row by what it is called."""
    name = field or ""
    if name.endswith("_id") and typed.isdigit():
        return said(name, int(typed))
    if typed.startswith("record:"):
        row = db().get(t.Calibration, int(typed.removeprefix("record:")))
        return name_of(row) if row is not None else typed
    return CHOICES.get(name, {}).get(typed, typed)


def said(field: str | None, value: Any) -> str:
    """A value of the history for a reader: what names another row by what it is called."""
    if field and field.endswith("_id") and value is not None:
        kind = field.removesuffix("_id")
        model = KINDS.get("piece" if kind in ("line", "kit", "load", "item") else kind)
        row = db().get(model, value) if model else None
        return name_of(row) if row is not None else plain(value)
    if field == "windows" and isinstance(value, list):
        named = [Window(**w) for w in value]
        ranges = (w.name if w.name == Window(*w.ends).name else f"{w.name} {format_range(*w.ends)}" for w in named)
        return ", ".join(ranges) or "none"
    if field and field.endswith("_hz") and isinstance(value, float):
        return f"{value / 1e6:.9g} MHz" if value >= 1e6 else f"{value / 1e3:.9g} kHz"
    if isinstance(value, str) and value in CHOICES.get(field or "", {}):
        return CHOICES[field or ""][value]
    return plain(value).replace("_", " ")
