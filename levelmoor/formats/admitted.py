"""What an exported evaluation must keep to before it is taken in: the bounds of what is typed, and that what it names
is there. A refusal names the field."""

import math
from collections.abc import Iterator, Mapping
from typing import Any

from levelmoor.core.model.adjusting import UNITS
from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.catalogue import KINDS
from levelmoor.core.model.connectors import Connector, parse_connector
from levelmoor.core.model.evaluation import PLANE_WORDS
from levelmoor.core.model.networks import Part
from levelmoor.core.model.trials import MOST_DIALS
from levelmoor.core.readings.time_strip import check_strip
from levelmoor.core.trials.load_text import parse_load
from levelmoor.core.words import bounds
from levelmoor.core.words.counting import grouped
from levelmoor.formats.columns import FREQUENCY_UNITS, KIND_WORDS
from levelmoor.formats.owned_kinds import OWNED, kept_from

LARGEST_FIGURE = 1e15
_DAYS = ("taken_on", "made_at", "done_at")
"""Fields that say when something was."""


class NotAdmitted(ValueError):
    """What keeps a document from being taken in; names the field."""


def check_admitted(document: Any) -> None:
    """Hold an exchange document against all bounds.

    Parameters
    ----------
    document : EvaluationDocument

    Raises
    ------
    NotAdmitted
        Naming the first field that is not as it should be, what stands there, and what would be right.
    """
    for place in (*KINDS, "filters", "stays", "wanted_hz"):
        _most(place, getattr(document, place), bounds.MOST.get(place, bounds.USUAL_MOST))
    for place, value in _leaves(document.model_dump(mode="python"), ""):
        _leaf(place, value)
    _row("", "evaluation", document)
    _row("product", "product", document.product)
    _row("wishes", "wishes", document.wishes)
    for kind in KINDS.values():
        for n, row in enumerate(getattr(document, kind.at)):
            _row(f"{kind.at}.{n}", kind.name, row, kind.called_by)
    _rules_of_kinds(document)
    _equipment(document)
    _references(document)


def _row(place: str, kind: str, row: Any, called_by: tuple[str, ...] = ("name",)) -> None:
    """A row of a kind, field by field: what its bounds say, and what is right of days, connectors and windows."""
    for name in type(row).model_fields if hasattr(type(row), "model_fields") else vars(row):
        value, where, of = getattr(row, name), f"{place}.{name}".lstrip("."), f"{kind}.{name}"
        if isinstance(value, str):
            _text(where, value, bounds.TEXTS.get(of, 200))
            if name in called_by and not value.strip():
                raise NotAdmitted(f"{where} is empty; it needs a name")
        if name in _DAYS:
            _moment(where, value)
        if of in bounds.MOST:
            _most(where, value, bounds.MOST[of])
        if isinstance(value, Connector):
            _connector(where, value)
        if name == "windows":
            for n, window in enumerate(value):
                _window(f"{where}.{n}", window)
        if limits := bounds.bounds_of(kind, name):
            for at, figure in _leaves(value, where):
                if isinstance(figure, (int, float)):
                    _bounded(at, figure, limits)


def _most(place: str, rows: Any, most: int) -> None:
    if len(rows) > most:
        raise NotAdmitted(f"{place}: at most {grouped(most)} are allowed; there are {grouped(len(rows))}")


def _text(place: str, text: str, most: int) -> None:
    if len(text) > most:
        raise NotAdmitted(f"{place}: at most {most} characters; this has {len(text)}")


def _leaves(value: Any, place: str) -> Iterator[tuple[str, Any]]:
    if isinstance(value, Mapping):
        for key, inner in value.items():
            yield from _leaves(inner, f"{place}.{key}" if place else str(key))
    elif isinstance(value, (list, tuple)):
        for n, inner in enumerate(value):
            yield from _leaves(inner, f"{place}.{n}")
    else:
        yield place, value


def _leaf(place: str, value: Any) -> None:
    """What holds for every figure and every text, wherever it stands."""
    if isinstance(value, float) and not (math.isfinite(value) and abs(value) <= LARGEST_FIGURE):
        raise NotAdmitted(f"{place}: {value:g} is not a measured or stated figure")
    if isinstance(value, int) and abs(value) > LARGEST_FIGURE:
        raise NotAdmitted(f"{place}: {value:.3g} is not a measured or stated figure")
    if isinstance(value, str):
        _text(place, value, bounds.LONG_LETTERS)
        if sign := bounds.unprintable(value):
            raise NotAdmitted(f"{place}: holds {sign}, which cannot be typed")


def _rules_of_kinds(document: Any) -> None:
    """What holds of one kind alone."""
    _bounded("profile.limit_swr", document.profile.limit_swr, bounds.NUMBERS["evaluation.profile_limit"])
    if len(document.profile.id) > 20:
        raise NotAdmitted(f"profile.id: {document.profile.id[:40]!r} is not a profile")
    for place in ("own_bands", "spots"):
        for n, window in enumerate(getattr(document, place)):
            _window(f"{place}.{n}", window)
    for place in ("wishes.own", "calibrations", "widths"):
        for n, row in enumerate(document.wishes.own if "." in place else getattr(document, place)):
            _span(f"{place}.{n}", row.low_hz, row.high_hz)
    for n, setup in enumerate(document.setups):
        for name, value in vars(setup.conditions).items():
            _text(f"setups.{n}.conditions.{name}", value, bounds.TEXTS["setup.condition"])
    for n, claim in enumerate(document.claims):
        if claim.seen_on and (len(claim.seen_on) > 10 or moment(claim.seen_on) is None):
            raise NotAdmitted(f"claims.{n}.seen_on: {claim.seen_on!r} is not a date; write it like 2026-05-31")
    if (windows := sum(len(c.windows) for c in document.claims)) > bounds.WINDOWS_IN_ALL:
        raise NotAdmitted(f"claims: their windows are {windows}; at most {bounds.WINDOWS_IN_ALL} are allowed")
    for n, record in enumerate(document.calibrations):
        if record.plane not in [p.value for p in PLANE_WORDS]:
            raise NotAdmitted(f"calibrations.{n}.plane: {record.plane[:40]!r} is not a reference plane")
    for n, capture in enumerate(document.captures):
        _unit(f"captures.{n}.unit", capture.unit)
    for n, sweep in enumerate(document.sweeps):
        for i, part in enumerate((sweep, *sweep.segments)):
            _unit(f"sweeps.{n}.unit{i or ''}", part.unit)
            if part.kind not in ("", *KIND_WORDS):
                raise NotAdmitted(f"sweeps.{n}.kind{i or ''}: {part.kind!r} is not one of {', '.join(KIND_WORDS)}")
    for n, element in enumerate(document.elements):
        if element.unit not in UNITS:
            raise NotAdmitted(f"elements.{n}.unit: {element.unit[:40]!r} is not one of {', '.join(UNITS)}")
    for n, one in enumerate(document.adjustments):
        for i, move in enumerate(one.moves):
            _bounded(f"adjustments.{n}.moves.{i}.by", move.by, bounds.NUMBERS["adjustment.by"])
    for n, strip in enumerate(document.strips):
        try:
            check_strip(strip)
        except ValueError as problem:
            raise NotAdmitted(f"strips.{n}.{problem}") from None
    for n, run in enumerate(document.heats):
        for i, (seconds, celsius) in enumerate(run.points):
            _bounded(f"heats.{n}.points.{i}", seconds, bounds.NUMBERS["heat.seconds"])
            _bounded(f"heats.{n}.points.{i}", celsius, bounds.NUMBERS["heat.celsius"])
    for n, contact in enumerate(document.contacts):
        if not contact.at or moment(contact.at[:16]) is None:
            raise NotAdmitted(f"contacts.{n}.at: {contact.at[:40]!r} is not a time; write it like 2026-05-31T14:20")
    _tuners(document)


def _tuners(document: Any) -> None:
    for n, network in enumerate(document.networks):
        place = f"networks.{n}.knobs"
        _most(place, network.knobs, len(Part))
        for i, knob in enumerate(network.knobs):
            if len(knob.dial) > bounds.KNOB_MARKS or len(knob.name) > bounds.TEXTS["trial.dial"]:
                raise NotAdmitted(f"{place}.{i}: at most {bounds.KNOB_MARKS} marks and a short name are allowed")
            for label in knob.labels:
                _text(f"{place}.{i}.labels", label, bounds.TEXTS["trial.dial"])
            for mark in (knob.low, knob.high, *knob.dial):
                _bounded(f"{place}.{i}", mark, bounds.NUMBERS["knob.mark"])
    for n, trial in enumerate(document.trials):
        texts = (t for d in trial.dials for t in (d.knob, d.at))
        if len(trial.dials) > MOST_DIALS or any(len(t) > bounds.TEXTS["trial.dial"] for t in texts):
            raise NotAdmitted(f"trials.{n}.dials: at most {MOST_DIALS} knobs, each with a short name and place")
        try:
            parse_load(trial.load or "open")
        except ValueError as problem:
            raise NotAdmitted(f"trials.{n}.load: {problem}") from None


def _equipment(document: Any) -> None:
    """Each field of each piece as if it were typed: the same bounds, by the same reading."""
    places = {"instrument": ("instruments", document.instruments)}
    places |= {k: (f"equipment.{k}s", getattr(document.equipment, f"{k}s")) for k in OWNED if k != "instrument"}
    for kind, (place, pieces) in places.items():
        if len(pieces) > bounds.CLAIMS:
            raise NotAdmitted(f"{place}: there are {len(pieces)}; at most {bounds.CLAIMS} are allowed")
        for n, core in enumerate(pieces):
            if not 0 < len(core.name.strip()) <= bounds.TEXTS["instrument.name"]:
                raise NotAdmitted(f"{place}.{n}.name: a piece has a name of at most 200 characters")
            try:
                kept = kept_from(kind, core)
                for field in OWNED[kind].fields:
                    name = field.name
                    field.read(field.write(kept[name]))
            except (ValueError, TypeError, ArithmeticError, LookupError) as problem:
                raise NotAdmitted(f"{place}.{n}.{name}: {problem}") from None


def _references(document: Any) -> None:
    """What a row names is in the document."""
    owned = document.equipment
    pieces = (*owned.loads, *owned.lines, *owned.pads, *owned.radios)
    named = [kind for kind in KINDS.values() if kind.has_id and kind.at != "readings"]  # sheets may be told by place
    known = {kind.name: _ids(kind.name, getattr(document, kind.at)) for kind in named}
    known |= {k: _ids(k, getattr(owned, f"{k}s")) for k in ("kit", "pad", "line", "load")}
    known["piece"] = {x.id for x in pieces}
    for kind in KINDS.values():
        for n, row in enumerate(getattr(document, kind.at)):
            for name, what in kind.names.items():
                value = getattr(row, name)
                for ident in (value,) if isinstance(value, str) else value:
                    if (ident or name in kind.must_name) and ident not in known[what]:
                        raise NotAdmitted(f"{kind.at}.{n}.{name}: there is no {what} {ident[:40]!r} in the document")
    for n, one in enumerate(document.adjustments):
        for i, move in enumerate(one.moves):
            if move.element_id not in known["element"]:
                raise NotAdmitted(
                    f"adjustments.{n}.moves.{i}: there is no element {move.element_id[:40]!r} in the document"
                )
    for n, own in enumerate(document.wishes.own):
        if own.sample_id not in known["sample"] or own.setup_id not in known["setup"]:
            raise NotAdmitted(f"wishes.own.{n}: names a sample or setup that is not in the document")


def _ids(what: str, rows: Any) -> set[str]:
    found: set[str] = set()
    for n, row in enumerate(rows):
        if row.id in found or not row.id:
            raise NotAdmitted(f"{what} {n}: its id {row.id[:40]!r} is empty or used twice")
        found.add(row.id)
    return found


def _bounded(place: str, value: float, limits: tuple[float, float]) -> None:
    low, high = limits
    if not low <= value <= high:
        raise NotAdmitted(f"{place}: {value:g} is out of range; {low:g} to {high:g} is allowed")


def _span(place: str, low: float, high: float, spot: bool = False) -> None:
    if not (0 < low <= high if spot else 0 < low < high) or high > bounds.HIGHEST_HZ:
        raise NotAdmitted(
            f"{place}: {low:g} to {high:g} Hz is not a range of frequencies; write a rising one, up to 300 GHz"
        )


def _window(place: str, window: Any) -> None:
    _span(place, window.low_hz, window.high_hz, spot=True)
    _text(f"{place}.name", window.name, 200)


def _unit(place: str, unit: str) -> None:
    if unit not in ("", *FREQUENCY_UNITS):
        raise NotAdmitted(f"{place}: {unit[:40]!r} is not one of {', '.join(FREQUENCY_UNITS)}")


def _connector(place: str, connector: Connector) -> None:
    try:
        parse_connector(str(connector))
    except ValueError as problem:
        raise NotAdmitted(f"{place}: {problem}") from None


def _moment(place: str, text: str) -> None:
    if text and (len(text) > 16 or moment(text) is None):
        raise NotAdmitted(f"{place}: {text[:40]!r} is not a day or time; write it like 2026-05-31 or 2026-05-31T14:20")
