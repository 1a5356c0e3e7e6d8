"""What all reports say of one product: every counted unit of every team, by quantity and band.

References
----------
.. [1] ISO 13528:2022, Statistical methods for use in proficiency testing, E_n score and zeta score (memory).
.. [2] R. A. Fisher, Statistical Methods for Research Workers, the exact test of a fourfold table (memory).
.. [3] JCGM 100:2008; the sum of ((g - mean)/u)^2 over n units that differ by the stated u alone is chi-squared with
   n - 1 degrees of freedom (memory).
"""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.quantiles import chi_squared_above
from levelmoor.core.metrology.unit_share import UnitShare, unit_share
from levelmoor.core.words.counting import counted

RARE = 0.05
"""What chance alone brings about more seldom than this is worth saying."""
BATCH_DIGITS = 2
"""The last digits of a serial number count within a batch (common practice, no source)."""
FEWEST_IN_BATCH = 2


@dataclass(frozen=True)
class TestedUnit:
    """One unit as one report has it. `gamma` and `u_gamma` are the largest |gamma| in the band and its standard
    uncertainty, None where no level of SWR decides. `counted` is false of controls and likely counterfeits."""

    report: str
    team: str
    unit: str
    serial: str
    counted: bool
    verdict: Verdict
    swr: float | None = None
    gamma: float | None = None
    u_gamma: float | None = None


@dataclass(frozen=True)
class Pair:
    """Two teams on one unit: E_n [1]_, above 1 where they differ by more than both state; without a serial in common
    the zeta score of their means, with the spread between units in it, above 2 where the teams differ."""

    first: str
    second: str
    serial: str
    score: float

    @property
    def apart(self) -> bool:
        """Whether the two differ by more than they state."""
        return self.score > (1.0 if self.serial else 2.0)

    @property
    def words(self) -> str:
        """The pair in a sentence."""
        name = "E_n" if self.serial else "zeta"
        what = f"on the unit with serial number {self.serial}" if self.serial else "on different units"
        end = "differ by more than" if self.apart else "agree within"
        return f"{self.first} and {self.second} {end} their stated uncertainties {what} ({name} {self.score:.1f})."


@dataclass(frozen=True)
class OddBatch:
    """A batch that fails oftener than the other units: k of n against k of n, and how rare that is by chance [2]_."""

    batch: str
    fails: int
    units: int
    other_fails: int
    others: int
    chance: float

    @property
    def words(self) -> str:
        """The batch in a sentence."""
        return (
            f"Serial numbers {self.batch}: {self.fails} of {counted(self.units, 'unit fails', 'units fail')}, and "
            f"{self.other_fails} of the {self.others} others. "
            f"Chance alone does that in {100 * self.chance:.1f} % of cases."
        )


@dataclass(frozen=True)
class UnitPool:
    """All units of a product in one question. `between` is the standard deviation of |gamma| between units, `within`
    what the measurements alone leave open; both None of fewer than two. `differ` tells whether the units differ by more
    than measurement error explains [3]_."""

    units: tuple[TestedUnit, ...]
    apart: tuple[TestedUnit, ...]
    share: UnitShare
    decided: int
    between: float | None
    within: float | None
    differ: bool | None
    pairs: tuple[Pair, ...]
    odd: tuple[OddBatch, ...]

    @property
    def spread_words(self) -> str:
        """Whether the units or the measurements make the differences."""
        if self.differ is None or self.between is None or self.within is None:
            return ""
        figures = f"(standard deviation of |Γ| {self.between:.3f} between units, {self.within:.3f} from measurement)"
        if self.differ:
            return f"The units differ by more than measurement error {figures}: one unit says little about the next."
        return f"The units differ by no more than measurement error {figures}."


def unit_pool(units: Sequence[TestedUnit]) -> UnitPool:
    """Pool the units of all reports. A serial number that several teams tested is one unit: it fails where any of them
    finds a Fail. Units that are not counted are kept apart."""
    heard = [u for u in units if u.counted]
    verdicts: dict[str, set[Verdict]] = {}
    for unit in heard:
        verdicts.setdefault(_identity(unit), set()).add(unit.verdict)
    decided = {i: Verdict.FAIL in v for i, v in verdicts.items() if v & {Verdict.PASS, Verdict.FAIL}}
    measured = [u for u in heard if u.gamma is not None and u.u_gamma]
    between, within, differ = _spread(measured)
    return UnitPool(
        tuple(heard),
        tuple(u for u in units if not u.counted),
        unit_share(sum(decided.values()), len(decided)),
        len(decided),
        between,
        within,
        differ,
        tuple(_pairs(measured, between or 0.0)),
        tuple(_odd_batches(heard, decided)),
    )


def _identity(unit: TestedUnit) -> str:
    return f"serial {unit.serial.casefold()}" if unit.serial else f"{unit.report} {unit.unit}"


def _spread(units: Sequence[TestedUnit]) -> tuple[float | None, float | None, bool | None]:
    if len({_identity(u) for u in units}) < 2:
        return None, None, None
    values, u = [float(x.gamma or 0) for x in units], [float(x.u_gamma or 1) for x in units]
    count = len(values)
    mean = sum(values) / count
    between = math.sqrt(sum((v - mean) ** 2 for v in values) / (count - 1))
    weights = [1 / x**2 for x in u]
    centre = sum(w * v for w, v in zip(weights, values, strict=True)) / sum(weights)
    chi2 = sum(w * (v - centre) ** 2 for w, v in zip(weights, values, strict=True))
    return between, math.sqrt(sum(x**2 for x in u) / count), chi_squared_above(chi2, count - 1) < RARE


def _pairs(units: Sequence[TestedUnit], between: float) -> list[Pair]:
    teams = sorted({u.team for u in units})
    found = []
    for first, second in combinations(teams, 2):
        of = [[u for u in units if u.team == team] for team in (first, second)]
        common = {u.serial for u in of[0] if u.serial} & {u.serial for u in of[1] if u.serial}
        for serial in sorted(common):
            one, two = (next(u for u in mine if u.serial == serial) for mine in of)
            spread = 2 * math.hypot(one.u_gamma or 0, two.u_gamma or 0)
            found.append(Pair(first, second, serial, abs((one.gamma or 0) - (two.gamma or 0)) / spread))
        if not common:
            means = [sum(u.gamma or 0 for u in mine) / len(mine) for mine in of]
            variance = sum(
                (sum((u.u_gamma or 0) ** 2 for u in mine) / len(mine) + between**2) / len(mine) for mine in of
            )
            found.append(Pair(first, second, "", abs(means[0] - means[1]) / math.sqrt(variance)))
    return found


def batch_of(serial: str) -> str:
    """The batch that a serial number belongs to, its last digits as dots: `F2-10..`; nothing where it has none."""
    found = re.fullmatch(r"(.*?)(\d+)", serial.strip())
    if not found or len(found[2]) <= BATCH_DIGITS:
        return ""
    return f"{found[1]}{found[2][:-BATCH_DIGITS]}{'.' * BATCH_DIGITS}"


def _odd_batches(units: Sequence[TestedUnit], failed: dict[str, bool]) -> list[OddBatch]:
    batches: dict[str, set[str]] = {}
    for unit in units:
        if _identity(unit) in failed and (batch := batch_of(unit.serial)):
            batches.setdefault(batch, set()).add(_identity(unit))
    odd = []
    for batch, members in batches.items():
        fails, others = sum(failed[m] for m in members), len(failed) - len(members)
        other_fails = sum(failed.values()) - fails
        if len(members) < FEWEST_IN_BATCH or not others or fails * others <= other_fails * len(members):
            continue
        chance = _at_least(fails, len(members), fails + other_fails, len(failed))
        if chance < RARE:
            odd.append(OddBatch(batch, fails, len(members), other_fails, others, chance))
    return odd


def _at_least(fails: int, drawn: int, all_fails: int, every: int) -> float:
    """The chance of so many fails or more among those drawn, if fails lie anywhere: the hypergeometric tail [2]_."""
    ways = sum(
        math.comb(all_fails, k) * math.comb(every - all_fails, drawn - k)
        for k in range(fails, min(drawn, all_fails) + 1)
    )
    return ways / math.comb(every, drawn)
