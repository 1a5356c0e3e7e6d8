"""Levels as they are typed."""

import re
from collections.abc import Callable, Mapping

from levelmoor.core.model.through import LEVEL_UNITS, LevelKind
from levelmoor.core.readings.field_levels import DB_PER_S
from levelmoor.core.rf.levels import DBUV_AT_0_DBM
from levelmoor.core.words.bounds import LEVEL_VALUES, NUMBERS
from levelmoor.core.words.digits import FIGURE
from levelmoor.formats.equipment_fields import number

_BETWEEN = re.compile(r"(?:[;\s]|,(?=\s|$)|,(?=\s*S))*", re.IGNORECASE)
_IN_S = re.compile(rf"S\s*({FIGURE})(?:\s*\+\s*({FIGURE})\s*(?:dB(?![a-zµ]))?)?(?=[;,\s]|$)", re.IGNORECASE)
_FIGURE = re.compile(rf"([-+−]?{FIGURE})\s*(dBm|dB[µu]V|dB[µu]A|dB|mA|[µu]A|A|S(?!\s*\d))?(?=[;,\s]|$)", re.IGNORECASE)
_AS: Mapping[str, tuple[str, str, Callable[[float], float]]] = {
    "dbm": ("dBm", "dBm", lambda v: v), "dbµv": ("dBµV", "dBm", lambda v: v - DBUV_AT_0_DBM),
    "s": ("S", "S", lambda v: v), "ma": ("mA", "mA", lambda v: v), "a": ("A", "mA", lambda v: 1e3 * v),
    "µa": ("µA", "mA", lambda v: 1e-3 * v), "dbµa": ("dBµA", "mA", lambda v: float(1e-3 * 10 ** (v / 20))),
    "db": ("dB", "dB", lambda v: v),
}  # fmt: skip
"""How a unit is written, what it is kept as, and how its figures become so; of voltages in 50 ohm."""


def read_values(text: str, kind: LevelKind) -> tuple[tuple[float, ...], str]:
    """Readings one after the other, and their unit where it is written with one of them: `S7 S6.5 S9+10`,
    `-104 -103 dBm`, `31 28 30 mA`; without one the first of the kind. S units are of 6 dB, so that S9+10 is 10.67.

    Raises
    ------
    ValueError
        Naming what is not a reading, a unit that is none of the kind, or two units side by side.
    """
    found: list[tuple[float, str]] = []
    at = _BETWEEN.match(text).end()  # type: ignore[union-attr]
    while at < len(text):
        in_s, figure = _IN_S.match(text, at), _FIGURE.match(text, at)
        if in_s is not None:
            over = number(in_s[2], "dB over S9", 0, 120) / DB_PER_S if in_s[2] else 0.0
            if over and number(in_s[1], "S units", 0, 1e6) != 9:
                raise ValueError(f'"{in_s[0].strip()}": add dB only to S9, as in S9+10')
            found.append((number(in_s[1], "S units, as in S7", 0, 60) + over, "s"))
        elif figure is not None:
            unit = (figure[2] or "").lower().replace("u", "µ")
            found.append((number(figure[1], "readings, as in 31 28 30 mA", *NUMBERS["level.values"]), unit))
        else:
            word = re.split(r"[;\s]", text[at:], maxsplit=1)[0]
            raise ValueError(
                f'"{word[:40]}" is not a reading; write readings one after another, as in S7 S6.5 S9+10 or 31 28 mA'
            )
        at = _BETWEEN.match(text, (in_s or figure).end()).end()  # type: ignore[union-attr]
    if not found:
        raise ValueError("write the readings one after another, as in S7 S6.5 S7")
    if len(found) > LEVEL_VALUES:
        raise ValueError(f"at most {LEVEL_VALUES} readings are allowed; you wrote {len(found)}")
    units = sorted({u for _, u in found if u})
    if len(units) > 1:
        raise ValueError(f"readings in {' and '.join(_AS[u][0] for u in units)} are mixed; use one unit")
    written, kept, convert = _AS[units[0] if units else LEVEL_UNITS[kind][0].lower()]
    if kept not in LEVEL_UNITS[kind]:
        raise ValueError(f"{written} is not a unit for this; write {' or '.join(LEVEL_UNITS[kind])}")
    return tuple(round(convert(v), 6) for v, _ in found), kept
