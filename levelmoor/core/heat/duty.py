"""How much of the time a mode has its power on, and what that comes to.

References
----------
.. [1] Amateur radio handbooks, duty cycles of modes for exposure evaluation (memory).
"""

import re
from collections.abc import Mapping

from levelmoor.core.words.digits import FIGURE

USUAL_DUTY: Mapping[str, float] = {
    "continuous": 1.0,
    "carrier": 1.0,
    "FM": 1.0,
    "RTTY": 1.0,
    "digital": 1.0,
    "data": 1.0,
    "AM": 1.0,
    "FT8": 0.5,
    "CW": 0.4,
    "voice": 0.2,
    "SSB": 0.2,
    "PEP": 0.2,
}
"""Average over peak envelope power while it is transmitted [1]_: speech without processing 0.2, Morse 0.4."""


def duty_of(mode: str) -> float | None:
    """The usual duty of a mode by its words, the most of several; None where none is known."""
    words = re.findall(r"[A-Za-z0-9]+", mode)
    known = [d for name, d in USUAL_DUTY.items() if any(w.lower() == name.lower() for w in words)]
    return max(known, default=None)


def duty_of_times(on_s: float, off_s: float) -> float:
    """The duty of on and off times.

    Raises
    ------
    ValueError
        Where nothing is keyed.
    """
    if not on_s > 0 or not off_s >= 0:
        raise ValueError(f"the time on must be above 0 s and the time off at least 0 s, not {on_s:g} and {off_s:g}")
    return on_s / (on_s + off_s)


def average_w(peak_w: float, duty: float, transmitting: float = 1.0) -> float:
    """Average power in W: the peak, its duty while transmitting, and the share of the time that is transmitted."""
    return peak_w * duty * transmitting


_TIME = rf"({FIGURE})\s*(s|secs?|seconds?|min|mins|minutes?)?"
_ON_OFF = re.compile(rf"{_TIME}\s*on\s*[,;/]?\s*{_TIME}\s*off", re.IGNORECASE)
_PER_CENT = re.compile(rf"({FIGURE})\s*(%|per ?cent)?", re.IGNORECASE)


def parse_duty(typed: str, mode: str = "") -> float:
    """A duty as typed, `40 %`, `15 on 45 off` in s, `5 min on 10 min off`, or a mode; of nothing typed the usual one of
    the mode, else all the time.

    Raises
    ------
    ValueError
        Saying what would be right.
    """
    bare = typed.strip()
    if not bare:
        return duty_of(mode) or 1.0
    if found := _ON_OFF.fullmatch(bare):
        on, on_unit, off, off_unit = found.groups()
        return duty_of_times(_seconds(on, on_unit or off_unit), _seconds(off, off_unit or on_unit))
    if re.fullmatch(r"key[\s-]*down", bare, re.IGNORECASE):
        return 1.0
    if (usual := duty_of(bare)) is not None:
        return usual
    found = _PER_CENT.fullmatch(bare)
    duty = _seconds(found[1], None) / 100 if found else 0.0
    if found and not found[2] and duty <= 0.01:
        raise ValueError(f'"{bare}" may be a fraction or per cent; write {100 * duty:g} %, or {1e4 * duty:g} %')
    if not 0.001 <= duty <= 1:
        raise ValueError(
            f'"{bare[:40]}" is not a duty cycle; write per cent, such as 40, or seconds, such as 15 on 45 off'
        )
    return duty


def _seconds(text: str, unit: str | None) -> float:
    return float(text.replace(",", ".")) * (60.0 if unit and unit.lower().startswith("m") else 1.0)
