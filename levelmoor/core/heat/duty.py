"""How much of the time a mode has its power on, and what that comes to.

References
----------
.. [1] Amateur radio handbooks, duty cycles of modes for exposure evaluation (memory).
"""

import re
from collections.abc import Mapping

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
        raise ValueError(f"on for more than 0 s, off for at least 0 s; not {on_s:g} and {off_s:g}")
    return on_s / (on_s + off_s)


def average_w(peak_w: float, duty: float, transmitting: float = 1.0) -> float:
    """Average power in W: the peak, its duty while transmitting, and the share of the time that is transmitted."""
    return peak_w * duty * transmitting


_SECONDS = r"(\d+(?:[.,]\d+)?)\s*(?:s|sec|secs|seconds)?"
_ON_OFF = re.compile(rf"{_SECONDS}\s*on\s*[,;/]?\s*{_SECONDS}\s*off", re.IGNORECASE)
_PER_CENT = re.compile(r"(\d+(?:[.,]\d+)?)\s*%?")


def parse_duty(typed: str, mode: str = "") -> float:
    """A duty as typed, `40 %` or `15 on 45 off` in s; of nothing typed the usual one of the mode, else all the time.

    Raises
    ------
    ValueError
        Saying what would be right.
    """
    bare = typed.strip()
    if not bare:
        return duty_of(mode) or 1.0
    if found := _ON_OFF.fullmatch(bare):
        return duty_of_times(*(float(f.replace(",", ".")) for f in found.groups()))
    found = _PER_CENT.fullmatch(bare)
    duty = float(found[1].replace(",", ".")) / 100 if found else 0.0
    if not 0.001 <= duty <= 1:
        raise ValueError(
            f'"{bare[:40]}" is no duty; write per cent up to 100, as in 40, or seconds, as in 15 on 45 off'
        )
    return duty
