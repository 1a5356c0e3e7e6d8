"""How much of anything is accepted. Whatever comes, typed, dropped or imported, is held against these before time or
memory is spent on it."""

import re
from collections.abc import Mapping

TYPED_LETTERS = 2_000
"""Of a line or a cell that is read for its meaning."""
LONG_LETTERS = 10_000
"""Of a text that people write for people."""
WINDOWS = 500
"""Of one claim, and of the frequencies a team names."""
WINDOWS_IN_ALL = 4_000
"""Of all claims of an evaluation."""
CLAIMS = 2_000
READINGS = 2_000
ROUNDS = 1_000
SETTINGS = 500
ELEMENTS = 60
MOVES = 60
NETWORKS = 20
KNOB_MARKS = 100
"""Of the table of a dial."""
TRIALS = 2_000
THROUGHS = 200
FIELD_RECORDS = 5_000
LEVEL_VALUES = 2_000
"""Of one reading of a level, such as minutes of noise."""
HEAT_POINTS = 5_000
STRIPS = 100
COMPARISONS = 12
STRIP_POINTS = 2_500
"""Ten minutes, four sweeps a second."""
STRIP_MARKS = 200
STRIP_WANTED = 4
POINTS = 200_000
EVALUATION_POINTS = 1_000_000
"""Of all sweeps of an evaluation together."""
COLUMNS = 200
CELLS = 1_000_000
LINE_LETTERS = 20_000
PIXELS = 16_000_000
ZIP_ENTRIES = 5_000
EXPANDED_BYTES = 100_000_000
DOCUMENT_BYTES = 10_000_000
JSON_DEPTH = 40
JSON_VALUES = 400_000
HIGHEST_HZ = 300e9

TEXTS: Mapping[str, int] = {
    "product.name": 200, "product.maker": 200, "product.description": 5000, "product.in_the_box": 5000,
    "sample.label": 200, "sample.serial": 200, "sample.obtained_from": 200, "sample.price": 60,
    "sample.suspicion": 5000, "sample.note": 5000, "sample.terms": 2000, "sample.ties": 2000, "sample.afterwards": 2000,
    "sample.rework": 2000, "section.words": 2000,
    "setup.name": 200, "setup.description": 5000, "setup.condition": 200,
    "claim.condition": 2000, "claim.source": 2000, "claim.mode": 40, "claim.stated": 200, "claim.excerpt": 5000,
    "evaluation.title": 200, "evaluation.notes": 10000,
    "sweep.name": 200, "sweep.file_name": 200, "capture.name": 200, "capture.file_name": 200, "capture.mode": 40,
    "capture.filter_name": 60, "picture.caption": 200, "picture.file_name": 200, "calibration.standards": 200,
    "calibration.at": 200, "check.note": 2000, "instrument.name": 200,
    "setting.name": 200, "capture.set_aside": 2000, "heat.set_aside": 2000, "width.set_aside": 2000,
    "sweep.set_aside": 2000, "sweep.dips": 500, "sample.set_aside": 2000, "setup.set_aside": 2000,
    "setting.mark_words": 200, "element.name": 200, "element.unit": 20, "adjustment.who": 200, "adjustment.note": 2000,
    "network.name": 200, "network.q_source": 200, "network.learnt_from": 8000,
    "trial.load": 200, "trial.who": 200, "trial.note": 2000,
    "through.name": 200, "through.file_name": 200, "through.note": 2000, "through.set_aside": 2000,
    "level.note": 2000, "level.who": 200, "heat.note": 2000, "heat.who": 200, "heat.where": 200, "heat.mode": 40,
    "contact.mode": 40, "contact.call": 40, "contact.own_locator": 12, "contact.locator": 12, "contact.sent": 40,
    "contact.received": 40, "contact.who": 200, "contact.note": 2000,
    "trial.set_aside": 2000, "trial.dial": 60,
    "comparison.words": 2000, "comparison.question": 20,
    "strip.who": 200, "strip.note": 2000, "width.band": 200, "width.who": 200, "width.note": 2000,
}  # fmt: skip
"""The letters that a text may have, by kind of row and field."""
NUMBERS: Mapping[str, tuple[float, float]] = {
    "round": (1, ROUNDS), "mounting": (1, ROUNDS), "frequency_hz": (1e3, HIGHEST_HZ),
    "claim.limit": (-1e6, 1e6), "claim.z0_ohm": (0.1, 10000), "claim.swr_at": (1.001, 1000),
    "claim.power_w": (1e-6, 1e6), "claim.duty": (0.001, 1), "claim.tolerance": (0.001, 60),
    "evaluation.age_limit_h": (0.1, 10000), "evaluation.profile_limit": (1.01, 1000), "evaluation.region": (1, 3),
    "evaluation.wanted_hz": (1e3, HIGHEST_HZ),
    "capture.rbw_hz": (0, 1e8), "capture.carrier_hz": (1e-3, HIGHEST_HZ), "capture.entered_db": (-200, 200),
    "calibration.points": (0, 1e6), "check.pairs": (1, 1000), "setting.mark": (-1e6, 1e6),
    "element.at": (-1e6, 1e6), "element.low": (-1e6, 1e6), "element.high": (-1e6, 1e6),
    "adjustment.down_min": (0, 10000), "adjustment.by": (-1e6, 1e6),
    "level.values": (-300, 1e6), "heat.celsius": (-60, 1000), "heat.seconds": (0, 1e6), "heat.duty": (0.001, 1),
    "heat.power_w": (1e-6, 1e5), "contact.snr_db": (-100, 200),
    "trial.swr_before": (1, 1000), "trial.swr_after": (1, 1000), "trial.seconds": (0, 3600),
    "trial.power_w": (1e-6, 1e5), "network.coil_q": (1, 1e5), "network.capacitor_q": (1, 1e5),
    "network.rated_v": (1e-3, 1e6), "network.rated_a": (1e-3, 1e6), "knob.mark": (-1e4, 1e4),
    "width.swr": (1.001, 1000), "width.best_swr": (1, 1000),
    "wishes.rebuild_min": (0, 600), "wishes.calibration_min": (0, 600), "wishes.sweep_min": (0, 600),
    "wishes.shift_hz": (0, 1e9), "wishes.spread_hz": (0, 1e9), "wishes.rbw_hz": (0, 1e9),
}  # fmt: skip
"""The least and the most that a figure may be, by kind of row and field or field alone, in the unit it is kept in."""
MOST: Mapping[str, int] = {
    "claims": CLAIMS, "sweeps": 2000, "captures": 2000, "checks": 2000, "calibrations": 2000, "rule_sets": 100,
    "settings": SETTINGS, "elements": ELEMENTS, "adjustments": ROUNDS, "widths": READINGS, "strips": STRIPS,
    "comparisons": COMPARISONS, "sections": 20,
    "networks": NETWORKS, "trials": TRIALS, "throughs": THROUGHS, "levels": FIELD_RECORDS, "heats": FIELD_RECORDS,
    "contacts": FIELD_RECORDS, "own_bands": WINDOWS, "spots": WINDOWS, "opened": ROUNDS, "filters": 100, "stays": 20,
    "wanted_hz": ELEMENTS,
    "adjustment.moves": MOVES, "level.values": LEVEL_VALUES, "heat.points": HEAT_POINTS, "claim.windows": WINDOWS,
    "setting.windows": WINDOWS,
}  # fmt: skip
"""How many rows an evaluation may hold, and how many of something a row; 500 of what is not named here."""
USUAL_MOST = 500


def bounds_of(kind: str, field: str) -> tuple[float, float] | None:
    """The least and the most that a figure of a kind of row may be; None where nothing is said of it."""
    return NUMBERS.get(f"{kind}.{field}") or NUMBERS.get(field)


_UNPRINTABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff]")


def one_line(text: str, most: int = TYPED_LETTERS) -> str:
    """A typed line, blanks put together: what is read by patterns is read without runs of blanks.

    Raises
    ------
    ValueError
        Where it has more letters than are taken.
    """
    if len(text) > most:
        raise ValueError(f"at most {most:,} characters are allowed; this has {len(text):,}".replace(",", "\u202f"))
    return " ".join(text.split())


def unprintable(text: str) -> str:
    """The first character of a text that cannot be printed, told by its number; nothing where there is none."""
    found = _UNPRINTABLE.search(text)
    return f"U+{ord(found[0]):04X}" if found else ""
