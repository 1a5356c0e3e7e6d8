"""From the mark on a dial to pF or µH and back."""

from collections.abc import Mapping

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.matching.ladder import impedances, input_impedance
from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, gamma_from_impedance

SIZE: Mapping[str, float] = {"pF": 1e-12, "µH": 1e-6}
POSITIONS = 200
"""So many places a dial that turns freely is looked at."""


def value_at(knob: Knob, dial: ArrayLike) -> FloatArray:
    """Farad or henry at a mark; beyond the table the end value."""
    return np.asarray(np.interp(np.asarray(dial, dtype=np.float64), knob.dial, knob.value) * SIZE[knob.unit])


def positions_of(knob: Knob, count: int = POSITIONS) -> FloatArray:
    """The marks that are looked at: of a switch its own, of a capacitor that turns freely evenly spread ones, of a coil
    those whose inductances are spread by equal ratios: the least loss lies where there is little of it."""
    if knob.steps:
        return np.asarray(knob.dial, dtype=np.float64)
    low, high = max(knob.low, knob.dial[0]), min(knob.high, knob.dial[-1])
    if knob.part is not Part.COIL:
        return np.linspace(low, high, count)
    ends = np.sort(np.interp([low, high], knob.dial, knob.value))
    dials, values = (knob.dial, knob.value) if not knob.inverted else (knob.dial[::-1], knob.value[::-1])
    return np.interp(np.geomspace(max(ends[0], ends[1] * 1e-3), ends[1], count), values, dials)


def marks_of(network: Network, values: Mapping[Part, float]) -> dict[Part, float]:
    """The marks at which the knobs give these values in F or H."""
    marks = {}
    for part in network.parts:
        knob = network.knob(part)
        assert knob is not None
        dials, table = (knob.dial, knob.value) if not knob.inverted else (knob.dial[::-1], knob.value[::-1])
        marks[part] = float(np.interp(values[part] / SIZE[knob.unit], table, dials))
    return marks


def values_at(network: Network, dials: Mapping[Part, ArrayLike]) -> dict[Part, FloatArray]:
    """Farad and henry of every part with its knobs at these marks; a double capacitor's other half is what is left.

    Raises
    ------
    ValueError
        Where the table of a knob is not written down.
    """
    if network.missing:
        raise ValueError(f"{network.name}: the table of the {network.missing[0].value} dial is empty")
    found = {p: value_at(k, dials[p]) for p in network.parts if (k := network.knob(p)) is not None}
    if network.kind is NetworkKind.DIFFERENTIAL_T:
        half = network.knob(Part.C_IN)
        assert half is not None
        both = (min(half.value) + max(half.value)) * SIZE["pF"]
        found[Part.C_OUT] = np.asarray(both - found[Part.C_IN])
    return found


def foreseen_gamma(
    network: Network,
    dials: Mapping[Part, ArrayLike],
    frequency_hz: ArrayLike,
    load_ohm: ArrayLike,
    z0_ohm: float = 50.0,
) -> ComplexArray:
    """The complex reflection that the transmitter will see with the knobs at these marks."""
    z = impedances(network, values_at(network, dials), frequency_hz)
    return np.asarray(gamma_from_impedance(input_impedance(network.places, z, load_ohm), z0_ohm))
