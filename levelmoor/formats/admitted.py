"""What an exported evaluation must keep to before it is taken in: the bounds of what is typed, and that what it names
is there. A refusal names the field."""

import math
from collections.abc import Iterator, Mapping
from typing import Any

from levelmoor.core.model.adjusting import UNITS
from levelmoor.core.model.bench_records import moment
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
_PLACED = ("sample_id", "setup_id", "instrument_id")
_NAMED = {
    "sweeps": _PLACED,
    "captures": _PLACED,
    "readings": _PLACED,
    "calibrations": ("instrument_id",),
    "adjustments": ("sample_id", "setup_id"),
    "widths": _PLACED,
    "strips": _PLACED,
    "trials": ("sample_id", "setup_id"),
    "throughs": _PLACED,
    "levels": ("sample_id", "setup_id"),
    "heats": ("sample_id", "setup_id"),
}
"""What a row of each kind must name; other rows may leave it empty."""
_KINDS = {
    "sweeps": "sweep", "captures": "capture", "claims": "claim", "samples": "sample", "setups": "setup",
    "pictures": "picture", "calibrations": "calibration", "checks": "check", "instruments": "instrument",
    "settings": "setting", "elements": "element", "adjustments": "adjustment",
    "widths": "width", "strips": "strip", "networks": "network", "trials": "trial",
    "throughs": "through", "levels": "level", "heats": "heat", "contacts": "contact",
}  # fmt: skip
_NEEDED = ("product.name", "sample.label", "setup.name", "sweep.name", "sweep.file_name", "capture.name",
           "capture.file_name", "instrument.name", "picture.file_name", "setting.name",
           "element.name", "network.name", "through.name", "through.file_name")  # fmt: skip
_MOST = {"claims": bounds.CLAIMS, "samples": 500, "setups": 500, "instruments": 500, "sweeps": 2000, "captures": 2000,
         "checks": 2000, "calibrations": 2000, "pictures": 500, "rule_sets": 100, "readings": 500,
         "settings": bounds.SETTINGS, "elements": bounds.ELEMENTS, "adjustments": bounds.ROUNDS,
         "widths": bounds.READINGS, "strips": bounds.STRIPS, "networks": bounds.NETWORKS, "trials": bounds.TRIALS,
         "throughs": bounds.THROUGHS, "levels": bounds.FIELD_RECORDS, "heats": bounds.FIELD_RECORDS,
         "contacts": bounds.FIELD_RECORDS,
         "filters": 100}  # fmt: skip


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
    for name, most in _MOST.items():
        if (count := len(getattr(document, name))) > most:
            raise NotAdmitted(f"{name}: there are {grouped(count)}; at most {grouped(most)} are taken in")
    for place, value in _leaves(document.model_dump(mode="python"), ""):
        _leaf(place, value)
    _texts(document)
    _case(document)
    for n, sample in enumerate(document.samples):
        _connector(f"samples.{n}.connector", sample.connector)
    for n, claim in enumerate(document.claims):
        _claim(f"claims.{n}", claim)
    if (windows := sum(len(c.windows) for c in document.claims)) > bounds.WINDOWS_IN_ALL:
        raise NotAdmitted(f"claims: their windows are {windows}; at most {bounds.WINDOWS_IN_ALL} are taken in")
    for n, record in enumerate(document.calibrations):
        _calibration(f"calibrations.{n}", record)
    for n, setting in enumerate(document.settings):
        _windows(f"settings.{n}", setting.windows)
        if setting.mark is not None:
            _bounded(f"settings.{n}.mark", setting.mark, "setting.mark")
    _adjusting(document)
    _trials(document)
    _field(document)
    for n, window in enumerate(document.own_bands):
        _span(f"own_bands.{n}", window.low_hz, window.high_hz, spot=True)
        if len(window.name) > 200:
            raise NotAdmitted(f"own_bands.{n}.name: at most 200 letters; this has {len(window.name)}")
    for n, check in enumerate(document.checks):
        place = f"checks.{n}"
        _moment(f"{place}.done_at", check.done_at)
        for i, pair in enumerate(check.pairs):
            for value in pair:
                _bounded(f"{place}.pairs.{i}", value, "check.pair")
    for n, capture in enumerate(document.captures):
        _bounded(f"captures.{n}.carrier_hz", capture.carrier_hz, "capture.carrier_hz")
        _bounded(f"captures.{n}.rbw_hz", capture.rbw_hz, "capture.rbw_hz")
        _moment(f"captures.{n}.taken_on", capture.taken_on)
        _unit(f"captures.{n}.unit", capture.unit)
    for n, sweep in enumerate(document.sweeps):
        _moment(f"sweeps.{n}.taken_on", sweep.taken_on)
        for i, part in enumerate((sweep, *sweep.segments)):
            _unit(f"sweeps.{n}.unit{i or ''}", part.unit)
            if part.kind not in ("", *KIND_WORDS):
                raise NotAdmitted(f"sweeps.{n}.kind{i or ''}: {part.kind!r} is none of {', '.join(KIND_WORDS)}")
    _equipment(document)
    _references(document)


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
        raise NotAdmitted(f"{place}: {value:g} is no figure that was measured or stated")
    if isinstance(value, int) and abs(value) > LARGEST_FIGURE:
        raise NotAdmitted(f"{place}: {value:.3g} is no figure that was measured or stated")
    if isinstance(value, str):
        if len(value) > bounds.LONG_LETTERS:
            raise NotAdmitted(f"{place}: at most {bounds.LONG_LETTERS} letters; this has {len(value)}")
        if sign := bounds.unprintable(value):
            raise NotAdmitted(f"{place}: holds {sign}, which is no letter")


def _texts(document: Any) -> None:
    rows = [("product", "product", document.product), ("evaluation", "", document)]
    rows += [
        (kind, f"{place}.{n}", row) for place, kind in _KINDS.items() for n, row in enumerate(getattr(document, place))
    ]
    for kind, place, row in rows:
        for name, value in ((n, getattr(row, n)) for n in _fields(row)):
            most = bounds.TEXTS.get(f"{kind}.{name}", 200)
            where = f"{place}.{name}".lstrip(".")
            if isinstance(value, str) and len(value) > most:
                raise NotAdmitted(f"{where}: at most {most} letters; this has {len(value)}")
            if f"{kind}.{name}" in _NEEDED and not str(value).strip():
                raise NotAdmitted(f"{where}: is empty; it needs a name")
        if kind == "setup":
            for name, value in vars(row.conditions).items():
                if len(value) > bounds.TEXTS["setup.condition"]:
                    raise NotAdmitted(f"{place}.conditions.{name}: at most 200 letters; this has {len(value)}")


def _fields(row: Any) -> Any:
    return type(row).model_fields if hasattr(type(row), "model_fields") else vars(row)


def _case(document: Any) -> None:
    _bounded("region", document.region, "evaluation.region")
    _bounded("age_limit_h", document.age_limit_h, "evaluation.age_limit_h")
    _bounded("profile.limit_swr", document.profile.limit_swr, "evaluation.profile_limit")
    if len(document.profile.id) > 20:
        raise NotAdmitted(f"profile.id: {document.profile.id[:40]!r} is no profile")
    wishes = document.wishes
    for name in ("rebuild_min", "calibration_min", "sweep_min"):
        _bounded(f"wishes.{name}", getattr(wishes, name), "wishes.minutes")
    for name in ("shift_hz", "spread_hz", "rbw_hz"):
        _bounded(f"wishes.{name}", getattr(wishes, name), "wishes.hz")
    for n, own in enumerate(wishes.own):
        _span(f"wishes.own.{n}", own.low_hz, own.high_hz)


def _claim(place: str, claim: Any) -> None:
    for name in ("limit", "z0_ohm", "swr_at", "power_w", "duty", "tolerance"):
        if (value := getattr(claim, name)) is not None:
            _bounded(f"{place}.{name}", value, f"claim.{name}")
    if claim.seen_on and (len(claim.seen_on) > 10 or moment(claim.seen_on) is None):
        raise NotAdmitted(f"{place}.seen_on: {claim.seen_on!r} is no date; write it like 2026-05-31")
    _windows(place, claim.windows)


def _windows(place: str, windows: Any) -> None:
    if len(windows) > bounds.WINDOWS:
        raise NotAdmitted(f"{place}.windows: there are {len(windows)}; at most {bounds.WINDOWS} are taken in")
    for n, window in enumerate(windows):
        _span(f"{place}.windows.{n}", window.low_hz, window.high_hz, spot=True)
        if len(window.name) > 200:
            raise NotAdmitted(f"{place}.windows.{n}.name: at most 200 letters; this has {len(window.name)}")


def _adjusting(document: Any) -> None:
    for n, hz in enumerate(document.wanted_hz):
        _bounded(f"wanted_hz.{n}", hz, "wanted.hz")
    for n, element in enumerate(document.elements):
        for name in ("at", "low", "high"):
            if (value := getattr(element, name)) is not None:
                _bounded(f"elements.{n}.{name}", value, "element.position")
        if element.unit not in UNITS:
            raise NotAdmitted(f"elements.{n}.unit: {element.unit[:40]!r} is none of {', '.join(UNITS)}")
    for n, strip in enumerate(document.strips):
        try:
            check_strip(strip)
        except ValueError as problem:
            raise NotAdmitted(f"strips.{n}.{problem}") from None
    for n, width in enumerate(document.widths):
        _span(f"widths.{n}", width.low_hz, width.high_hz)
        _moment(f"widths.{n}.taken_on", width.taken_on)
        _bounded(f"widths.{n}.round", width.round, "adjustment.round")
        _bounded(f"widths.{n}.swr", width.swr, "claim.swr_at")
        if width.best_swr is not None:
            _bounded(f"widths.{n}.best_swr", width.best_swr, "width.best_swr")
    for n, one in enumerate(document.adjustments):
        _bounded(f"adjustments.{n}.round", one.round, "adjustment.round")
        _moment(f"adjustments.{n}.made_at", one.made_at)
        if one.down_min is not None:
            _bounded(f"adjustments.{n}.down_min", one.down_min, "adjustment.down_min")
        if len(one.moves) > bounds.MOVES:
            raise NotAdmitted(f"adjustments.{n}.moves: there are {len(one.moves)}; at most {bounds.MOVES} are taken in")
        for i, move in enumerate(one.moves):
            _bounded(f"adjustments.{n}.moves.{i}.by", move.by, "element.position")


def _trials(document: Any) -> None:
    for n, network in enumerate(document.networks):
        place = f"networks.{n}"
        for name in ("coil_q", "capacitor_q"):
            _bounded(f"{place}.{name}", getattr(network, name), "network.q")
        for name in ("rated_v", "rated_a"):
            if (value := getattr(network, name)) is not None:
                _bounded(f"{place}.{name}", value, "network.rated")
        if len(network.knobs) > len(Part):
            raise NotAdmitted(f"{place}.knobs: there are {len(network.knobs)}; at most {len(Part)} are taken in")
        for i, knob in enumerate(network.knobs):
            if len(knob.dial) > bounds.KNOB_MARKS or len(knob.name) > bounds.TEXTS["trial.dial"]:
                raise NotAdmitted(f"{place}.knobs.{i}: at most {bounds.KNOB_MARKS} marks and a short name are taken in")
            for mark in (knob.low, knob.high, *knob.dial):
                _bounded(f"{place}.knobs.{i}", mark, "knob.mark")
    for n, trial in enumerate(document.trials):
        place = f"trials.{n}"
        for name in ("swr_before", "swr_after", "seconds", "power_w"):
            if (value := getattr(trial, name)) is not None:
                _bounded(f"{place}.{name}", value, f"trial.{name.removesuffix('_before').removesuffix('_after')}")
        _bounded(f"{place}.frequency_hz", trial.frequency_hz, "wanted.hz")
        _moment(f"{place}.taken_on", trial.taken_on)
        if len(trial.dials) > MOST_DIALS or any(
            len(t) > bounds.TEXTS["trial.dial"] for d in trial.dials for t in (d.knob, d.at)
        ):
            raise NotAdmitted(f"{place}.dials: at most {MOST_DIALS} knobs, each with a short name and place")
        try:
            parse_load(trial.load or "open")
        except ValueError as problem:
            raise NotAdmitted(f"{place}.load: {problem}") from None


def _field(document: Any) -> None:
    """What was noted in the field: its figures, times and days."""
    for n, level in enumerate(document.levels):
        if len(level.values) > bounds.LEVEL_VALUES:
            raise NotAdmitted(f"levels.{n}.values: at most {bounds.LEVEL_VALUES} are taken in")
        for i, value in enumerate(level.values):
            _bounded(f"levels.{n}.values.{i}", value, "level.value")
        _bounded(f"levels.{n}.frequency_hz", level.frequency_hz, "wanted.hz")
        _moment(f"levels.{n}.taken_on", level.taken_on)
    for n, run in enumerate(document.heats):
        if len(run.points) > bounds.HEAT_POINTS:
            raise NotAdmitted(f"heats.{n}.points: at most {bounds.HEAT_POINTS} are taken in")
        for i, (seconds, celsius) in enumerate(run.points):
            _bounded(f"heats.{n}.points.{i}", seconds, "heat.seconds")
            _bounded(f"heats.{n}.points.{i}", celsius, "heat.celsius")
        _bounded(f"heats.{n}.power_w", run.power_w, "trial.power_w")
        _moment(f"heats.{n}.taken_on", run.taken_on)
    for n, contact in enumerate(document.contacts):
        _bounded(f"contacts.{n}.frequency_hz", contact.frequency_hz, "wanted.hz")
        if contact.snr_db is not None:
            _bounded(f"contacts.{n}.snr_db", contact.snr_db, "contact.snr_db")
        if not contact.at or moment(contact.at[:16]) is None:
            raise NotAdmitted(f"contacts.{n}.at: {contact.at[:40]!r} is no time; write it like 2026-05-31T14:20")
    for n, one in enumerate(document.throughs):
        _moment(f"throughs.{n}.taken_on", one.taken_on)
    for place in ("captures", "throughs", "heats", "trials", "opened"):
        for n, one in enumerate(getattr(document, place)):
            _bounded(f"{place}.{n}.round", one.round, "adjustment.round")


def _calibration(place: str, record: Any) -> None:
    _span(place, record.low_hz, record.high_hz)
    _bounded(f"{place}.points", record.points, "calibration.points")
    _moment(f"{place}.done_at", record.done_at)
    if record.plane not in [p.value for p in PLANE_WORDS]:
        raise NotAdmitted(f"{place}.plane: {record.plane[:40]!r} is no reference plane")


def _equipment(document: Any) -> None:
    """Each field of each piece as if it were typed: the same bounds, by the same reading."""
    places = {"instrument": ("instruments", document.instruments)}
    places |= {k: (f"equipment.{k}s", getattr(document.equipment, f"{k}s")) for k in OWNED if k != "instrument"}
    for kind, (place, pieces) in places.items():
        if len(pieces) > bounds.CLAIMS:
            raise NotAdmitted(f"{place}: there are {len(pieces)}; at most {bounds.CLAIMS} are taken in")
        for n, core in enumerate(pieces):
            if not 0 < len(core.name.strip()) <= bounds.TEXTS["instrument.name"]:
                raise NotAdmitted(f"{place}.{n}.name: a piece has a name of at most 200 letters")
            try:
                kept = kept_from(kind, core)
                for field in OWNED[kind].fields:
                    name = field.name
                    field.read(field.write(kept[name]))
            except (ValueError, TypeError, ArithmeticError, LookupError) as problem:
                raise NotAdmitted(f"{place}.{n}.{name}: {problem}") from None


def _references(document: Any) -> None:
    owned = document.equipment
    ids = {
        "sample": document.samples, "setup": document.setups, "instrument": document.instruments,
        "claim": document.claims, "calibration": document.calibrations, "kit": owned.kits, "pad": owned.pads,
        "line": owned.lines, "load": owned.loads, "setting": document.settings, "network": document.networks,
        "load_sweep": document.sweeps, "through": document.throughs,
    }  # fmt: skip
    known = {what: _ids(what, rows) for what, rows in ids.items()}
    known["item"] = {x.id for rows in (owned.loads, owned.lines, owned.pads, owned.radios) for x in rows}
    for place in (
        "sweeps",
        "captures",
        "checks",
        "calibrations",
        "setups",
        "claims",
        "pictures",
        "readings",
        "adjustments",
        "widths",
        "strips",
        "trials",
        "throughs",
        "levels",
        "heats",
        "contacts",
        "opened",
    ):
        for n, row in enumerate(getattr(document, place)):
            for what, there in known.items():
                value = getattr(row, f"{what}_id", "")
                if (value or f"{what}_id" in _NAMED.get(place, ())) and value not in there:
                    raise NotAdmitted(f"{place}.{n}.{what}_id: there is no {what} {str(value)[:40]!r} in the document")
    for n, capture in enumerate(document.captures):
        for i, pad in enumerate(capture.pad_ids):
            if pad not in known["pad"]:
                raise NotAdmitted(f"captures.{n}.pad_ids.{i}: there is no pad {pad[:40]!r} in the document")
    elements = _ids("element", document.elements)
    for n, one in enumerate(document.adjustments):
        for i, move in enumerate(one.moves):
            if move.element_id not in elements:
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
            raise NotAdmitted(f"{what} {n}: its id {row.id[:40]!r} is empty or another's too")
        found.add(row.id)
    return found


def _bounded(place: str, value: float, of: str) -> None:
    low, high = bounds.NUMBERS[of]
    if not low <= value <= high:
        raise NotAdmitted(f"{place}: {value:g} is out of range; {low:g} to {high:g} are taken")


def _span(place: str, low: float, high: float, spot: bool = False) -> None:
    if not (0 < low <= high if spot else 0 < low < high) or high > bounds.HIGHEST_HZ:
        raise NotAdmitted(f"{place}: {low:g} to {high:g} Hz is no range of frequencies; it rises, up to 300 GHz")


def _unit(place: str, unit: str) -> None:
    if unit not in ("", *FREQUENCY_UNITS):
        raise NotAdmitted(f"{place}: {unit[:40]!r} is none of {', '.join(FREQUENCY_UNITS)}")


def _connector(place: str, connector: Connector | None) -> None:
    if connector is not None:
        try:
            parse_connector(str(connector))
        except ValueError as problem:
            raise NotAdmitted(f"{place}: {problem}") from None


def _moment(place: str, text: str) -> None:
    if text and (len(text) > 16 or moment(text) is None):
        raise NotAdmitted(f"{place}: {text[:40]!r} is no day or time; write it like 2026-05-31 or 2026-05-31T14:20")
