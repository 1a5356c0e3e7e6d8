"""What others write is read as they meant it: scikit-rf's Touchstone, and tables in every dialect."""

import io

import numpy as np
import pytest
import skrf
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from levelmoor.core.rf.reflection import gamma_from_impedance, swr_from_gamma
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file

parts = st.floats(-0.99, 0.99, allow_subnormal=False).map(lambda x: round(x, 6))


@st.composite
def networks(draw):
    ports, points = draw(st.sampled_from([1, 2])), draw(st.integers(2, 8))
    start, steps = (
        draw(st.integers(100_000, 500_000_000)),
        draw(hnp.arrays(int, points, elements=st.integers(1000, 10_000_000))),
    )
    values = draw(hnp.arrays(float, (2, points, ports, ports), elements=parts))
    frequency = skrf.Frequency.from_f((start + np.cumsum(steps)).astype(float), unit="hz")
    return skrf.Network(frequency=frequency, s=values[0] + 1j * values[1], z0=draw(st.sampled_from([50, 75])), name="n")


@settings(max_examples=60)
@given(networks(), st.sampled_from(["ri", "ma", "db"]))
def test_files_of_scikit_rf(network, form):
    network.s = np.where(network.s == 0, 1e-3, network.s / max(1.0, np.abs(network.s).max()))  # no dB of zero; passive
    written = network.write_touchstone(return_string=True, form=form, format_spec_A="{:.12g}", format_spec_B="{:.12g}")
    for port in range(1, network.nports + 1):
        read = read_sweep_file(f"n.s{network.nports}p", written.encode(), ReadOptions(port=port))
        np.testing.assert_allclose(read.sweep.gamma, network.s[:, port - 1, port - 1], atol=1e-9)
        np.testing.assert_allclose(read.sweep.frequency_hz, network.f, rtol=1e-9)
        assert read.file_z0_ohm == pytest.approx(float(network.z0[0, 0].real))


@given(
    hnp.arrays(float, st.integers(2, 20), elements=st.floats(1, 50).map(lambda x: round(x, 3))),
    st.sampled_from([",", ";", "\t"]),
    st.booleans(),
    st.sampled_from([("Hz", 1e6), ("kHz", 1e3), ("MHz", 1.0), ("GHz", 1e-3)]),
    st.sampled_from(["\n", "\r\n", "\r"]),
)
def test_tables_of_swr(swr, separator, comma, unit, end):
    frequency = 144 + 0.05 * np.arange(swr.size)
    rows = [separator.join((f"{f * unit[1]:.9g}", f"{s:.3f}")) for f, s in zip(frequency, swr, strict=True)]
    if comma and separator != ",":
        rows = [row.replace(".", ",") for row in rows]
    text = end.join([separator.join((f"Frequency [{unit[0]}]", "SWR")), *rows, ""])
    read = read_sweep_file("a.csv", text.encode())
    np.testing.assert_allclose(swr_from_gamma(read.sweep.gamma), swr, atol=1e-9)
    np.testing.assert_allclose(read.sweep.frequency_hz, frequency * 1e6, rtol=1e-8)


@given(hnp.arrays(float, (2, 5), elements=st.floats(0.1, 900).map(lambda x: round(x, 2))))
def test_tables_of_r_and_x(values):
    text = io.StringIO()
    text.write("Point,MHz,Resistance,Reactance\n")
    for i in range(5):
        text.write(f"{i},{7 + i / 100:.2f},{values[0, i]},{-values[1, i]}\n")
    read = read_sweep_file("a.csv", text.getvalue().encode())
    np.testing.assert_allclose(read.sweep.gamma, gamma_from_impedance(values[0] - 1j * values[1], 50), atol=1e-12)
