"""Ladder networks with lossy parts: input impedance, loss by part, voltages and currents.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 4 and 5, ladder networks and matching with lumped elements (memory).
.. [2] Amateur radio handbooks, losses of the T network by the Q of its parts (memory).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.model.networks import Network, Part, Place
from levelmoor.core.rf.reflection import ComplexArray, FloatArray

Values = Mapping[Part, ArrayLike]
"""The value of each part, F or H; arrays of shapes that broadcast."""


def reactance_with_loss(place: Place, value: ArrayLike, frequency_hz: ArrayLike, q: float) -> ComplexArray:
    """Impedance in ohm of a coil, w L (1/Q + j), or of a capacitor, (1/Q - j)/(w C) [1]_; no capacitance is open.

    Parameters
    ----------
    value : inductance in H or capacitance in F
    q : the part's quality, the ratio of its reactance to its series resistance
    """
    w = 2 * np.pi * np.asarray(frequency_hz, dtype=np.float64)
    v = np.asarray(value, dtype=np.float64)
    if place.coil:
        return np.asarray(w * v * (1 / q + 1j))
    with np.errstate(divide="ignore"):
        return np.asarray(np.where(v > 0, 1 / np.where(v > 0, w * v, 1), 1e12) * (1 / q - 1j))


def impedances(network: Network, values: Values, frequency_hz: ArrayLike) -> list[ComplexArray]:
    """The impedance in ohm of each place of the ladder, from the transmitter to the antenna."""
    q = {True: network.coil_q, False: network.capacitor_q}
    return [reactance_with_loss(p, values[p.part], frequency_hz, q[p.coil]) for p in network.places]


def input_impedance(places: Sequence[Place], z: Sequence[ComplexArray], load_ohm: ArrayLike) -> ComplexArray:
    """Impedance in ohm that the transmitter sees: from the load inwards, in line added, to ground in parallel [1]_."""
    seen = np.asarray(load_ohm, dtype=np.complex128)
    for place, own in zip(reversed(places), reversed(z), strict=True):
        if place.series:
            seen = np.asarray(own + seen)
        else:
            with np.errstate(divide="ignore", invalid="ignore"):
                seen = np.asarray(np.where(np.isinf(seen), own, own * seen / (own + seen)))
    return seen


@dataclass(frozen=True)
class Stress:
    """What goes on inside at a power into the network. `share` is what reaches the load, () or (n,), `watts` what each
    place turns into heat, `peak_v` the highest voltage across it and `rms_a` the current through it."""

    share: FloatArray
    watts: tuple[FloatArray, ...]
    peak_v: tuple[FloatArray, ...]
    rms_a: tuple[FloatArray, ...]
    load_peak_v: FloatArray
    load_rms_a: FloatArray

    @property
    def loss_db(self) -> FloatArray:
        with np.errstate(divide="ignore"):
            return np.asarray(-10 * np.log10(self.share) + 0.0)


def stress(places: Sequence[Place], z: Sequence[ComplexArray], load_ohm: ArrayLike, power_w: float = 1.0) -> Stress:
    """Where the power into the network goes, and what its parts stand, by Kirchhoff from the load inwards [1]_ [2]_.

    One ampere through the load gives every other current and voltage; all are scaled to the power that goes in. With an
    open load no power reaches it.
    """
    load = np.asarray(load_ohm, dtype=np.complex128)
    current = np.ones_like(load)
    voltage = load * current
    parts: list[tuple[ComplexArray, ComplexArray]] = []
    for place, own in zip(reversed(places), reversed(z), strict=True):
        if place.series:
            parts.append((own * current, current))
            voltage = voltage + own * current
        else:
            through = voltage / own
            parts.append((voltage, through))
            current = current + through
    parts.reverse()
    heat = [np.abs(i) ** 2 * own.real for (_, i), own in zip(parts, z, strict=True)]
    delivered = np.abs(np.ones_like(load)) ** 2 * load.real
    total = delivered + sum(heat)
    scale = power_w / np.where(total > 0, total, np.inf)
    root = np.sqrt(scale)
    return Stress(
        np.asarray(delivered * scale / power_w),
        tuple(np.asarray(h * scale) for h in heat),
        tuple(np.asarray(np.sqrt(2) * np.abs(v) * root) for v, _ in parts),
        tuple(np.asarray(np.abs(i) * root) for _, i in parts),
        np.asarray(np.sqrt(2) * np.abs(load) * root),
        np.asarray(root),
    )
