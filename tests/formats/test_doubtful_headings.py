"""Headings and cells that an ordinary file has and that are easily taken for something else."""

import itertools

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file
from levelmoor.formats.trace_file import read_trace_file

F = [144.0, 145.0, 146.0]


def csv(heading, *rows):
    return "\n".join((heading, *(",".join(map(str, r)) for r in rows))).encode()


@pytest.mark.parametrize(
    ("heading", "row", "gamma"),
    [
        ("MHz,S21 Re,S21 Im,S11 Re,S11 Im", (0.9, 0.1, 0.25, 0.1), 0.25 + 0.1j),
        ("MHz,S22 (dB),S11 (dB)", (-3, -20), 0.1),
        ("MHz,SWR limit,SWR", (2, 3), 0.5),
        ("MHz,Rückflussdämpfung (dB)", (20,), 0.1),
        ("MHz,|Z| (Ohm),phase (deg)", (100, 0), 1 / 3),
        ("MHz,|gamma|,angle (deg)", (0.3, 90), 0.3j),
        ("MHz,S11 (dB),S11 phase (deg)", (-20, 180), -0.1),
    ],
)
def test_heading_is_read_as_what_it_says(heading, row, gamma):
    sweep = read_sweep_file("a.csv", csv(heading, *((f, *row) for f in F))).sweep
    np.testing.assert_allclose(sweep.gamma, gamma, atol=1e-9)


@pytest.mark.parametrize("heading", ["MHz,S21 Re,S21 Im", "MHz,Re(Y),Im(Y)", "MHz,G (mS),B (mS)"])
def test_heading_that_is_no_reflection_is_asked_about(heading):
    with pytest.raises(ColumnsProblem):
        read_sweep_file("a.csv", csv(heading, *((f, 0.1, 0.2) for f in F)))


def test_powers_of_ten_before_the_unit_count():
    sweep = read_sweep_file("a.csv", csv("Frequency (10^6 Hz),SWR", *((f, 1.5) for f in F))).sweep
    assert sweep.low_hz == 144e6


@pytest.mark.parametrize(
    ("rows", "low"),
    [
        (["0,144GHz 1,5", "0,145GHz 1,4", "0,146GHz 1,6"], 144e6),
        (["144,0 MHz 1,5", "145,0 MHz 1,4", "146,0 MHz 1,6"], 144e6),
    ],
)
def test_commas_in_cells_between_blanks_are_decimal(rows, low):
    sweep = read_sweep_file("a.csv", "\n".join(("frequency SWR", *rows)).encode()).sweep
    assert sweep.low_hz == low
    assert sweep.magnitude[0] == pytest.approx(float(gamma_from_swr(1.5)))


def test_a_number_alone_in_a_comment_makes_no_touchstone_file():
    data = b"# 101\nMHz,SWR\n144,1.5\n145,1.4\n"
    assert read_sweep_file("a.csv", data).format == "csv"


@pytest.mark.parametrize(("unit", "level"), [("dBm", -10.0), ("dBW", 20.0), ("mW", -10.0)])
def test_a_trace_is_in_the_unit_of_its_heading(unit, level):
    value = 0.1 if unit == "mW" else -10
    trace, _ = read_trace_file("a.csv", csv(f"MHz,Level ({unit})", *((f, value) for f in F)))
    np.testing.assert_allclose(trace.level_db, level)


# -- Touchstone 2: every matrix, order, notation and number of ports against figures written down --------------------

S = {"11": 0.2 + 0.1j, "21": 0.5 - 0.3j, "12": 0.5 - 0.3j, "22": -0.1 + 0.4j}
LAYOUT = {
    ("full", "21_12"): ("11", "21", "12", "22"), ("full", "12_21"): ("11", "12", "21", "22"),
    ("lower", "21_12"): ("11", "21", "22"), ("upper", "21_12"): ("11", "12", "22"),
    ("lower", "12_21"): ("11", "21", "22"), ("upper", "12_21"): ("11", "12", "22"),
}  # fmt: skip


def written(value, notation):
    """A complex figure as the notation writes it."""
    if notation == "RI":
        return f"{value.real:.12g} {value.imag:.12g}"
    size = abs(value) if notation == "MA" else 20 * np.log10(abs(value))
    return f"{size:.12g} {np.degrees(np.angle(value)):.12g}"


@pytest.mark.parametrize(("layout", "notation"), itertools.product(LAYOUT, ("RI", "MA", "DB")))
def test_every_matrix_order_and_notation_of_two_ports(layout, notation):
    matrix, order = layout
    row = " ".join(written(S[e], notation) for e in LAYOUT[layout])
    lines = (
        "[Version] 2.0", f"# MHz S {notation} R 50", "[Number of Ports] 2", f"[Two-Port Data Order] {order}",
        "[Number of Frequencies] 2", f"[Matrix Format] {matrix}", "[Network Data]", f"144 {row}", f"145 {row}", "[End]",
    )  # fmt: skip
    data = "\n".join(lines).encode()
    for port, entry in ((1, "11"), (2, "22")):
        found = read_sweep_file("a.ts", data, ReadOptions(port=port)).sweep
        np.testing.assert_allclose(found.gamma, S[entry], atol=1e-9)
    trace, _ = read_trace_file("a.ts", data)
    np.testing.assert_allclose(trace.level_db, 20 * np.log10(abs(S["21"])), atol=1e-9)
