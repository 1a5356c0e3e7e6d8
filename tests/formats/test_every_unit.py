"""Every spelling of every unit in the heading of every column of a sweep: converted where it fits, else asked about."""

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.units import UNITS, Quantity
from tests.sweeps import rlc

F = np.arange(13.91e6, 14.5e6, 20e3)
Z = rlc(F, q=12)
GAMMA = gamma_from_impedance(Z, 50)
SIZE = np.abs(GAMMA)
TURN = np.degrees(np.angle(GAMMA))
COLUMNS = {
    "frequency": (Quantity.FREQUENCY, {"Frequency ({})": F, "SWR": (1 + SIZE) / (1 - SIZE)}),
    "resistance": (Quantity.RESISTANCE, {"Frequency (Hz)": F, "R ({})": Z.real, "X ({})": Z.imag}),
    "phase": (Quantity.ANGLE, {"Frequency (Hz)": F, "|S11|": SIZE, "Phase ({})": TURN}),
    "return loss": (Quantity.DECIBEL, {"Frequency (Hz)": F, "Return loss ({})": -20 * np.log10(SIZE)}),
    "reflection": (Quantity.RATIO, {"Frequency (Hz)": F, "|S11| ({})": SIZE, "Phase (deg)": TURN}),
    "powers": (Quantity.POWER, {"Frequency (Hz)": F, "Forward ({})": np.full(F.size, 20.0), "Reflected ({})": 20 * SIZE**2}),
}  # fmt: skip


def base_of(column, unit, figures):
    """A column in the base of a unit that fits it in another way: powers as voltages into 50 Ω, ratios in dB."""
    if column == "powers" and unit.quantity is Quantity.VOLTAGE:
        return np.sqrt(50 * figures)
    if column == "reflection" and unit.quantity is Quantity.DECIBEL:
        return 20 * np.log10(figures)
    return figures


def in_unit(unit, base):
    """The figures of a quantity in a unit, by halving: what the unit makes of them is known, not what makes them."""
    low, high = np.full(base.size, -1e15), np.full(base.size, 1e15)
    if unit.name.startswith("dB") and unit.quantity is not Quantity.DECIBEL:
        low, high = np.full(base.size, -400.0), np.full(base.size, 400.0)
    for _ in range(200):
        middle = (low + high) / 2
        small = unit(middle) < base
        low, high = np.where(small, middle, low), np.where(small, high, middle)
    return middle


def file_of(columns, unit, spelling):
    lines = [",".join(heading.format(spelling) for heading in columns)]
    figures = [in_unit(unit, v) if "{}" in h else v for h, v in columns.items()]
    lines += [",".join(f"{v:.12g}" for v in row) for row in zip(*figures, strict=True)]
    return "\n".join(lines).encode()


@pytest.mark.parametrize("column", COLUMNS)
def test_a_unit_is_converted_or_asked_about(column):
    quantity, columns = COLUMNS[column]
    wrong, read = [], 0
    for spelling, unit in UNITS.items():
        of = {h: base_of(column, unit, v) if "{}" in h else v for h, v in columns.items()}
        try:
            file = read_sweep_file("sweep.csv", file_of(of, unit, spelling))
        except FileProblem:
            if unit.quantity is quantity:
                wrong.append((spelling, "rejected"))
            continue
        right = np.allclose(np.abs(file.sweep.gamma), SIZE, atol=2e-3) and np.allclose(file.sweep.frequency_hz, F)
        if not right and not file.guessed:
            wrong.append((spelling, "misread"))
        read += right
    assert wrong == []
    assert read
