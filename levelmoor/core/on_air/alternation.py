"""Two antennas in alternation: what the other side reported of one against the other, in dB with its spread.

References
----------
.. [1] An S unit is 6 dB (IARU Region 1, technical recommendation R.1 (memory)); few receivers keep to it.
.. [2] Student's t for the mean of pairs, any statistics text (memory).
"""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from levelmoor.core.metrology.quantiles import student
from levelmoor.core.model.contacts import Contact
from levelmoor.core.on_air.locator import bearing_deg, distance_km, position_of

PAIR_MIN = 10.0
"""Two reports of one station within so many minutes are a pair."""
FEWEST = 3
S_UNIT_DB = 6.0


def way_of(contact: Contact) -> tuple[float, float] | None:
    """Distance in km and bearing in degrees to the other station, None without two locators."""
    try:
        here, there = position_of(contact.own_locator), position_of(contact.locator)
    except ValueError:
        return None
    return distance_km(here, there), bearing_deg(here, there)


def report_db(contact: Contact) -> float | None:
    """The report received as dB: a signal to noise ratio as it is, of readability and strength six dB to an S unit
    [1]_; None where it is neither."""
    if contact.snr_db is not None:
        return contact.snr_db
    text = contact.received.strip().replace("−", "-")
    if re.fullmatch(r"[+-]\d{1,2}", text):
        return float(text)
    found = re.fullmatch(r"[1-5]([1-9])\d?(?:\s*\+\s*(\d{1,2})(?:\s*dB)?)?", text, re.IGNORECASE)
    return S_UNIT_DB * float(found[1]) + float(found[2] or 0) if found else None


@dataclass(frozen=True)
class Alternation:
    """Setup B against setup A over pairs: mean difference in dB and twice its standard error, None of too few."""

    first_setup: str
    second_setup: str
    pairs: int
    mean_db: float
    spread_db: float | None

    @property
    def words(self) -> str:
        said = f"{abs(self.mean_db):.1f} dB {'stronger' if self.mean_db > 0 else 'weaker'}"
        if self.spread_db is None:
            return f"{said} in {self.pairs} pairs, too few to know the spread"
        sure = "" if abs(self.mean_db) > self.spread_db else ", which is within the spread"
        return f"{said} ± {self.spread_db:.1f} dB in {self.pairs} pairs{sure}"


def alternations(contacts: Sequence[Contact]) -> list[Alternation]:
    """Every two setups that one station reported within ten minutes on one band, by pairs; each report is used once."""
    setups = list(dict.fromkeys(c.setup_id for c in contacts if c.setup_id))
    found = []
    for n, first in enumerate(setups):
        for second in setups[n + 1 :]:
            pairs = _pairs(contacts, first, second)
            if not pairs:
                continue
            mean = sum(pairs) / len(pairs)
            spread = None
            if len(pairs) >= FEWEST:
                sd = math.sqrt(sum((p - mean) ** 2 for p in pairs) / (len(pairs) - 1))
                spread = student(0.975, len(pairs) - 1) * sd / math.sqrt(len(pairs))
            found.append(Alternation(first, second, len(pairs), mean, spread))
    return found


def _pairs(contacts: Sequence[Contact], first: str, second: str) -> list[float]:
    told = [(c, db) for c in contacts if (db := report_db(c)) is not None]
    mine = [(c, db) for c, db in told if c.setup_id == first]
    others = [(c, db) for c, db in told if c.setup_id == second]
    found = []
    for c, db in mine:
        near = [o for o in others if _same(c, o[0])]
        if near:
            other = min(near, key=lambda o: _minutes(c, o[0]))
            others.remove(other)
            found.append(other[1] - db)
    return found


def _same(a: Contact, b: Contact) -> bool:
    band = abs(math.log(a.frequency_hz / b.frequency_hz)) < 0.05
    return a.call.upper() == b.call.upper() and a.mode == b.mode and band and _minutes(a, b) <= PAIR_MIN


def _minutes(a: Contact, b: Contact) -> float:
    return abs((datetime.fromisoformat(a.at[:19]) - datetime.fromisoformat(b.at[:19])).total_seconds()) / 60
