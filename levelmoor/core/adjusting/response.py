"""How the dips of all bands answer to moves of all elements: a linear model in ln f with a physical prior.

For each band ln f = b + sum over elements of s_e c_e(x_e). Of an element whose position acts as a whole, c = ln(x/x0):
a resonator whose length or number of turns grows by a share falls by about that share [1]_, so that nonlinearity is in
the coordinate; of a scale with marks of its own c is the way along the scale, and its square, which counts where the
rounds show a bend. Rounds are observations with their uncertainty; the posterior of a normal prior under weighted least
squares is normal [2]_.

References
----------
.. [1] f L constant: a resonant line scales with its length; inductance of a short coil goes with turns squared, so that
   f goes with 1/turns where the coil prevails (memory).
.. [2] A. Gelman et al., Bayesian Data Analysis, 3rd ed., 14.2 and 14.8, regression with a normal prior (memory).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.model.adjusting import Element, ElementKind

FloatArray = NDArray[np.float64]
CERTAIN = 1.96
MISFIT = 1e-3
"""What a dip strays from any such model, as a share: wind, sag, hands (common practice, no source)."""
START = 0.5
"""Standard deviation of ln f before anything was swept: nothing is known."""
SHARES: Mapping[ElementKind, tuple[float, float]] = {
    ElementKind.WHIP: (0.95, 0.25),
    ElementKind.DIPOLE_ENDS: (0.95, 0.25),
    ElementKind.PARALLEL: (0.93, 0.2),
    ElementKind.COIL_WHIP: (0.55, 0.35),
    ElementKind.TRAPPED: (0.6, 0.4),
    ElementKind.LINK: (0.6, 0.4),
    ElementKind.HAT: (0.3, 0.15),
    ElementKind.TAP: (0.7, 0.4),
}
"""What share of itself an element hands on to its own band, with its standard deviation: nearly all of it where it is
the whole resonator, less where a coil, a trap or another section carries the rest (common practice, no source)."""
BARE, BARE_SD = 1.0, 0.06
"""The same of an element whose length alone makes the dip (common practice, no source)."""
COUPLED_SD = 0.12
"""What an element does to bands that it is not thought to act on."""
SCALE, SCALE_SD = 0.5, 0.6
"""ln f along the whole of a scale: from nothing to two octaves."""
BEND_SD = 0.25
COILS = (ElementKind.TAP, ElementKind.COIL_WHIP)
COIL_BEND_SD, WHOLE_BEND_SD = 0.3, 0.03
"""ln f against ln of turns or of length is not quite straight: a coil's inductance goes with turns squared only while
it is short, and what hangs on it takes over (common practice, no source)."""
UNLIMITED = 20.0
"""Steps that stand for the whole of a scale whose ends are not written down."""


@dataclass(frozen=True)
class Observation:
    """Dips in a round: `at` the positions by element id, `dips_hz` by band index with their standard uncertainty."""

    at: Mapping[str, float]
    dips_hz: Mapping[int, tuple[float, float]]


@dataclass(frozen=True)
class Predicted:
    """A dip foreseen: in Hz, with its standard uncertainty as a share."""

    hz: float
    u: float

    @property
    def low_hz(self) -> float:
        return self.hz * math.exp(-CERTAIN * self.u)

    @property
    def high_hz(self) -> float:
        return self.hz * math.exp(CERTAIN * self.u)

    def holds(self, hz: float, u_hz: float = 0.0) -> bool:
        """Whether a dip that was measured lies where it was expected, its own uncertainty included."""
        return abs(math.log(hz / self.hz)) <= CERTAIN * math.hypot(self.u, u_hz / hz)


class Response:
    """The model of the rounds so far.

    Parameters
    ----------
    elements : what is moved
    bands : the windows' names, one for each dip
    start_hz : the targets, where a band has not been swept yet
    observations : the rounds, in order
    bare : band indices with the ids of elements whose length alone makes that band's dip, as a dip has shown
    """

    def __init__(
        self,
        elements: Sequence[Element],
        bands: Sequence[str],
        start_hz: Sequence[float],
        observations: Sequence[Observation],
        bare: frozenset[tuple[int, str]] = frozenset(),
    ) -> None:
        self.bare = bare
        self.elements, self.bands = tuple(elements), tuple(bands)
        self.observations = tuple(observations)
        self.mean: list[FloatArray] = []
        self.cov: list[FloatArray] = []
        for k, name in enumerate(self.bands):
            self._fit(k, name, start_hz[k])

    def coordinates(self, at: Mapping[str, float]) -> FloatArray:
        """(1 + terms,) the features of positions: one, and for each element its coordinate and that squared."""
        row = [1.0]
        for e in self.elements:
            c = coordinate(e, at[e.id])
            row += [c, c * c]
        return np.array(row)

    def _fit(self, k: int, name: str, start_hz: float) -> None:
        seen = [(o, *o.dips_hz[k]) for o in self.observations if k in o.dips_hz]
        base = math.log(seen[0][1] if seen else start_hz)
        mean, sd = [base], [START]
        for e in self.elements:
            share, spread = self._prior(k, e)
            mean += [share, 0.0]
            sd += [spread, bend_of(e)]
        m0, precision = np.array(mean), np.diag(1 / np.array(sd) ** 2)
        rows = np.array([self.coordinates(o.at) for o, _, _ in seen]).reshape(len(seen), m0.size)
        values = np.array([math.log(hz) for _, hz, _ in seen])
        each = np.diag([(u / hz) ** 2 + MISFIT**2 for _, hz, u in seen]) + self._missed(k, [o.at for o, _, _ in seen])
        weighted = np.linalg.solve(each, np.column_stack([rows, values])) if seen else np.zeros((0, m0.size + 1))
        lam = precision + rows.T @ weighted[:, :-1]
        self.cov.append(np.linalg.inv(lam))
        self.mean.append(np.linalg.solve(lam, precision @ m0 + rows.T @ weighted[:, -1]))

    def _prior(self, k: int, element: Element) -> tuple[float, float]:
        if (k, element.id) in self.bare:
            return (-BARE if element.lengthens else BARE), BARE_SD
        return prior_slope(element, self.bands[k])

    def _missed(self, k: int, places: Sequence[Mapping[str, float]]) -> FloatArray:
        """(n, n) covariance in ln f of rounds whose elements hands have set, by what an element usually does: rounds in
        which an element stands where it stood share what the hand missed there."""
        total = np.zeros((len(places), len(places)))
        for e in self.elements:
            at = np.array([place[e.id] for place in places])
            if not e.hand or np.unique(at).size < 2:
                continue
            missed = np.array([self._prior(k, e)[0] * per_unit(e, x) * e.hand for x in at])
            total += np.where(at[:, None] == at, np.outer(missed, missed), 0.0)
        return total

    def predict(self, k: int, at: Mapping[str, float]) -> Predicted:
        """The dip of a band once hands have set the elements to given positions."""
        row = self.coordinates(at)
        variance = float(row @ self.cov[k] @ row)
        if self.observations:
            now = self.observations[-1].at
            for i, e in enumerate(self.elements):
                if e.hand and abs(at[e.id] - now[e.id]) > 1e-9:
                    variance += (self.slope(k, i, at)[0] * e.hand) ** 2
        return Predicted(math.exp(float(row @ self.mean[k])), math.sqrt(variance + MISFIT**2))

    def slope(self, k: int, e: int, at: Mapping[str, float]) -> tuple[float, float]:
        """d ln f of a band for one unit of an element at given positions, with its standard uncertainty."""
        element = self.elements[e]
        x = at[element.id]
        c = coordinate(element, x)
        unit = per_unit(element, x)
        grad = np.zeros(self.mean[k].size)
        grad[1 + 2 * e] = unit
        grad[2 + 2 * e] = 2 * c * unit
        return float(grad @ self.mean[k]), math.sqrt(float(grad @ self.cov[k] @ grad))

    def change(self, k: int, e: int, at: Mapping[str, float], to: float) -> tuple[float, float]:
        """What moving one element alone from where it stands does to ln f of a band, with its standard uncertainty."""
        return self.change_together(k, at, {**at, self.elements[e].id: to})

    def change_together(self, k: int, at: Mapping[str, float], to: Mapping[str, float]) -> tuple[float, float]:
        """What moving elements from where they stand does to ln f of a band, with its standard uncertainty."""
        way = self.coordinates(to) - self.coordinates(at)
        return float(way @ self.mean[k]), math.sqrt(float(way @ self.cov[k] @ way))

    def learnt(self, k: int, e: int) -> bool:
        """Whether the rounds, and not the prior alone, tell what an element does to a band."""
        _, prior = self._prior(k, self.elements[e])
        return bool(math.sqrt(self.cov[k][1 + 2 * e, 1 + 2 * e]) < 0.5 * prior)

    def told_apart(self, k: int, one: int, other: int) -> bool:
        """Whether two elements' effects on a band are known each by itself, and not only their sum or difference."""
        if self.learnt(k, one) and self.learnt(k, other):
            return True
        i, j = 1 + 2 * one, 1 + 2 * other
        cov = self.cov[k]
        return bool(abs(cov[i, j]) < 0.9 * math.sqrt(cov[i, i] * cov[j, j]))


def extent(element: Element) -> float:
    """The length of a scale in its unit."""
    if element.low is not None and element.high is not None and element.high > element.low:
        return element.high - element.low
    return UNLIMITED * element.step


def per_unit(element: Element, x: float) -> float:
    """By how much the coordinate grows for one unit of an element at a position."""
    return 1 / max(x, 1e-9) if element.whole else 1 / extent(element)


def bend_of(element: Element) -> float:
    """Standard deviation of an element's bend before any round: most of a scale and of a coil, little of a length."""
    if not element.whole:
        return BEND_SD
    return COIL_BEND_SD if element.kind in COILS else WHOLE_BEND_SD


def coordinate(element: Element, x: float) -> float:
    """Where an element stands, on the scale in which its dips move evenly; 0 where it began."""
    if element.whole:
        return math.log(max(x, 1e-3 * element.at) / element.at)
    return (x - element.at) / extent(element)


def prior_slope(element: Element, band: str) -> tuple[float, float]:
    """d ln f for one of the coordinate before any round, with its standard deviation."""
    sign = -1.0 if element.lengthens else 1.0
    mean, sd = SHARES.get(element.kind, (SCALE, SCALE_SD)) if element.whole else (SCALE, SCALE_SD)
    return (sign * mean, sd) if element.acts_on(band) else (0.0, COUPLED_SD)
