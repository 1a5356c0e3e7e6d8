"""Settings that match exactly: the part at the transmitter is eliminated, and one equation is left for another dial.

With a coil and two capacitors there is a match, or two, for each inductance; they are followed along the whole coil, or
tap by tap, to the ends of the dials.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 5.1, matching with lumped elements; two solutions of an L (memory).
.. [2] Bisection, any text of numerical analysis.
"""

import math
from collections.abc import Mapping, Sequence

import numpy as np

from levelmoor.core.matching.knobs import SIZE, positions_of, value_at
from levelmoor.core.matching.ladder import impedances, input_impedance, reactance_with_loss, stress
from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, gamma_from_impedance

Values = dict[Part, float]
"""Farad and henry by part."""
SCANNED: Mapping[NetworkKind, tuple[Part, Part]] = {
    NetworkKind.T: (Part.C_IN, Part.C_OUT),
    NetworkKind.PI: (Part.C_IN, Part.C_OUT),
    NetworkKind.L_SERIES_FIRST: (Part.COIL, Part.C_OUT),
    NetworkKind.L_SHUNT_FIRST: (Part.C_IN, Part.COIL),
    NetworkKind.DIFFERENTIAL_T: (Part.COIL, Part.C_IN),
}
"""Which part is eliminated, and along which the match is looked for."""
ALONG_THE_COIL, CLOSER, PLACES = 120, 24, 300
"""Inductances that are looked at, those about the best of them, and places along the dial that is looked along."""
HALVINGS = 60


def can_be_solved(network: Network) -> bool:
    """Whether the two dials that a match is solved for turn freely."""
    return not any((k := network.knob(p)) is None or k.steps for p in SCANNED[network.kind])


def exact_settings(network: Network, frequency_hz: float, load_ohm: complex, z0_ohm: float = 50.0) -> list[Values]:
    """Every match within the parts' ranges, the least loss among them to a part in thousands [1]_ [2]_.

    Parameters
    ----------
    network : one that `can_be_solved`, its tables complete
    load_ohm : with resistance above 0
    """
    of = _Equation(network, frequency_hz, load_ohm, z0_ohm)
    if of.outer is None:
        return of.crossings(np.array([np.nan]), of.spread(of.along))
    coil = of.knob(Part.COIL)
    inductances = np.sort(value_at(coil, positions_of(coil, ALONG_THE_COIL)))
    found = of.crossings(inductances, of.spread(of.along))
    if coil.steps:
        return found
    # matches that lie within a narrow range of inductances are met from the other dial
    places = of.spread(of.along)[:: PLACES // ALONG_THE_COIL]
    found += of.crossings(of.spread(Part.COIL), places, coil_along=True)
    for _ in range(2 if found else 0):
        best = found[int(np.argmax(shares(network, found, frequency_hz, load_ohm)))]
        inductances, closer = _closer(inductances, best[Part.COIL])
        found += of.crossings(closer, of.spread(of.along))
        places, closer = _closer(places, best[of.along])
        found += of.crossings(of.spread(Part.COIL), closer, coil_along=True)
    return found


def _closer(places: FloatArray, best: float) -> tuple[FloatArray, FloatArray]:
    """More places between the two beside the best, with those there were, and by themselves."""
    i = int(np.searchsorted(places, best))
    closer = np.linspace(places[max(i - 1, 0)], places[min(i + 1, places.size - 1)], CLOSER)
    return np.unique(np.concatenate([places, closer])), closer


def nearest_settings(network: Network, frequency_hz: float, load_ohm: complex, z0_ohm: float = 50.0) -> list[Values]:
    """For each inductance the setting that reflects least, the part at the transmitter at an end of its range where it
    would have to go beyond; the least first."""
    of = _Equation(network, frequency_hz, load_ohm, z0_ohm)
    coil = None if of.outer is None else of.knob(Part.COIL)
    rows = np.array([np.nan]) if coil is None else np.sort(value_at(coil, positions_of(coil, ALONG_THE_COIL)))
    places = of.spread(of.along)
    _, value = of.left(rows[:, None], places[None, :])
    least, most = of.ends(of.solved)
    value = np.where(np.isfinite(value) & (value > 0), np.clip(value, least, most), most)
    size = np.abs(of.gamma(rows[:, None], places[None, :], value))
    at = np.argmin(size, axis=1)
    order = np.argsort(size[np.arange(rows.size), at])
    return [of.values(rows[i], places[at[i]], value[i, at[i]]) for i in order]


def shares(network: Network, settings: Sequence[Values], frequency_hz: float, load_ohm: complex) -> FloatArray:
    """The share of the power that each setting lets through to the load."""
    values = {p: np.array([one[p] for one in settings]) for p in settings[0]}
    return stress(network.places, impedances(network, values, frequency_hz), np.full(len(settings), load_ohm)).share


class _Equation:
    """The one equation that is left for a network, a frequency and a load."""

    def __init__(self, network: Network, frequency_hz: float, load_ohm: complex, z0_ohm: float) -> None:
        self.network, self.hz, self.load, self.z0 = network, frequency_hz, load_ohm, z0_ohm
        self.solved, self.along = SCANNED[network.kind]
        self.outer = None if Part.COIL in (self.solved, self.along) else Part.COIL

    def crossings(self, inductances: FloatArray, places: FloatArray, coil_along: bool = False) -> list[Values]:
        """The matches at each inductance, looked for along the places; or at each place, along the inductances."""
        rows, columns = (places, inductances) if coil_along else (inductances, places)

        def left(row: FloatArray, column: FloatArray) -> tuple[FloatArray, FloatArray]:
            return self.left(column, row) if coil_along else self.left(row, column)

        f, _ = left(rows[:, None], columns[None, :])
        row, at = np.nonzero(np.signbit(f[:, :-1]) != np.signbit(f[:, 1:]))
        if not row.size:
            return []
        own, below, above, sign = rows[row], columns[at], columns[at + 1], np.signbit(f[row, at])
        for _ in range(HALVINGS):
            middle = (below + above) / 2
            same = np.signbit(left(own, middle)[0]) == sign
            below, above = np.where(same, middle, below), np.where(same, above, middle)
        middle = (below + above) / 2
        rest, value = left(own, middle)
        least, most = self.ends(self.solved)
        good = (np.abs(rest) < 1e-6 * self.z0) & (value >= least * (1 - 1e-9)) & (value <= most * (1 + 1e-9))
        coil, place = (middle, own) if coil_along else (own, middle)
        return [self.values(coil[n], place[n], np.clip(value[n], least, most)) for n in np.flatnonzero(good)]

    def values(self, coil: float, place: float, solved: float) -> Values:
        found = {self.along: float(place), self.solved: float(solved)}
        if self.outer is not None:
            found[Part.COIL] = float(coil)
        if self.network.kind is NetworkKind.DIFFERENTIAL_T:
            found[Part.C_OUT] = self.both() - found[Part.C_IN]
        return found

    def left(self, coil: FloatArray, place: FloatArray) -> tuple[FloatArray, FloatArray]:
        """What is left of the resistance, times the reference squared where it is a conductance, once the part at the
        transmitter takes the reactance away; and the value of that part in F or H."""
        w, q_l, q_c = 2 * math.pi * self.hz, self.network.coil_q, self.network.capacitor_q
        first = self.network.places[0]
        with np.errstate(divide="ignore", invalid="ignore"):
            z = self._behind(coil, place)
            if self.network.kind is NetworkKind.DIFFERENTIAL_T:
                b = -z.imag
                return (z.real - b / q_l) * self.z0**2, np.asarray(1 / (w * b * (1 + 1 / q_l**2)))
            if first.series and first.coil:
                return np.asarray(z.real - z.imag / q_l - self.z0), np.asarray(-z.imag / w)
            if first.series:
                return np.asarray(z.real + z.imag / q_c - self.z0), np.asarray(1 / (w * z.imag))
            y = 1 / z
            b = -y.imag
            return np.asarray((y.real + b / q_c - 1 / self.z0) * self.z0**2), np.asarray(b * (1 + 1 / q_c**2) / w)

    def _behind(self, coil: FloatArray, place: FloatArray) -> ComplexArray:
        """The impedance behind the part at the transmitter; of a differential T the admittance its coil has to have."""
        kind, load = self.network.kind, self.load
        if kind is NetworkKind.DIFFERENTIAL_T:
            beyond = load + self._z(Part.C_OUT, self.both() - place)
            return np.asarray(1 / (self.z0 - self._z(Part.C_IN, place)) - 1 / beyond)
        if kind is NetworkKind.T:
            return np.asarray(1 / (1 / (load + self._z(Part.C_OUT, place)) + 1 / self._z(Part.COIL, coil)))
        if kind is NetworkKind.PI:
            return np.asarray(_across(load, self._z(Part.C_OUT, place)) + self._z(Part.COIL, coil))
        if kind is NetworkKind.L_SERIES_FIRST:
            return _across(load, self._z(Part.C_OUT, place))
        return np.asarray(load + self._z(Part.COIL, place))

    def _z(self, part: Part, value: FloatArray) -> ComplexArray:
        place = next(p for p in self.network.places if p.part is part)
        q = self.network.coil_q if place.coil else self.network.capacitor_q
        return reactance_with_loss(place, value, self.hz, q)

    def gamma(self, coil: FloatArray, place: FloatArray, solved: FloatArray) -> ComplexArray:
        values = {self.along: place, self.solved: solved}
        if self.outer is not None:
            values[Part.COIL] = coil
        if self.network.kind is NetworkKind.DIFFERENTIAL_T:
            values[Part.C_OUT] = self.both() - place
        seen = input_impedance(self.network.places, impedances(self.network, values, self.hz), self.load)
        return np.asarray(gamma_from_impedance(seen, self.z0))

    def knob(self, part: Part) -> Knob:
        knob = self.network.knob(part)
        assert knob is not None
        return knob

    def ends(self, part: Part) -> tuple[float, float]:
        """The least and the largest value in F or H that a dial can be set to."""
        knob = self.knob(part)
        ends = np.sort(value_at(knob, [max(knob.low, knob.dial[0]), min(knob.high, knob.dial[-1])]))
        return float(ends[0]), float(ends[-1])

    def spread(self, part: Part) -> FloatArray:
        """Places along a dial, close where the value is small and where it is large."""
        low, high = self.ends(part)
        some = np.linspace(low, high, PLACES)
        return np.unique(np.concatenate([some, np.geomspace(max(low, high * 1e-4), high, PLACES)]))

    def both(self) -> float:
        half = self.knob(Part.C_IN)
        return (min(half.value) + max(half.value)) * SIZE["pF"]


def _across(load: complex, z: ComplexArray) -> ComplexArray:
    return np.asarray(1 / (1 / load + 1 / z))
