import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance, swr_from_gamma
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file

ROWS = [(14.0, 2.0), (14.1, 1.5), (14.2, 1.25), (14.3, 1.75)]


def read(content, **options):
    data = content if isinstance(content, bytes) else content.encode()
    return read_sweep_file("a.csv", data, ReadOptions(**options))


def table(head, rows, sep=",", comma=False):
    lines = [sep.join(str(x) for x in row) for row in rows]
    if comma:
        lines = [line.replace(".", ",") for line in lines]
    return "\n".join([head, *lines] if head else lines)


@pytest.mark.parametrize(
    "content",
    [
        table("Frequency (MHz),SWR", ROWS),
        table("freq_mhz,vswr", ROWS),
        table("f [MHz];S.W.R.;swr".replace("S.W.R.;swr", "SWR"), ROWS, ";"),
        table("MHz\tSWR", ROWS, "\t", comma=True),
        table("Frequency MHz;SWR", ROWS, ";", comma=True),
        table("MHz SWR", ROWS, " "),
        table('"Frequency, MHz","SWR"', ROWS),
        table("Frequency (Hz),Phase,SWR,|Z|", [(f * 1e6, 1, s, 50) for f, s in ROWS]),
        table("kHz,SWR", [(f * 1e3, s) for f, s in ROWS]),
        table("GHz,SWR", [(f / 1e3, s) for f, s in ROWS]),
        "# made in the yard\nSite,moor\nFrequency (MHz),SWR\n" + table("", ROWS) + "\n\n",
        table("Frequency (MHz),SWR", [(f, f"{s}:1") for f, s in ROWS]),
        table("Frequency (MHz),SWR", ROWS) + "\nEnd of sweep\n",
        table("Frequency (MHz),SWR,", [(f, s, "") for f, s in ROWS]),
        table("Frequency,SWR\nMHz,ratio", ROWS),
        table("Frequency,SWR", [(f"{f} MHz", s) for f, s in ROWS]),
        table("Frequency;SWR", [(f"{f * 1e3:.0f} kHz", s) for f, s in ROWS], ";", comma=True),
        table("Frequency (Hz),SWR", [(f"{f}MHz", s) for f, s in ROWS]),
        table("Frequency (MHz),SWR", ROWS) + "\n\x1a",
        b"\xef\xbb\xbf" + table("Frequency (MHz),SWR", ROWS).replace("\n", "\r\n").encode(),
    ],
    ids=range(20),
)
def test_dialects_of_frequency_and_swr(content):
    got = read(content)
    assert got.sweep.scalar
    assert got.guessed == ()
    np.testing.assert_allclose(got.sweep.frequency_hz, [14e6, 14.1e6, 14.2e6, 14.3e6])
    np.testing.assert_allclose(swr_from_gamma(got.sweep.gamma), [2, 1.5, 1.25, 1.75])


def test_a_unit_in_another_column_is_not_that_of_the_frequencies():
    rows = "\n".join(f"{f * 1e6:.0f};{s};near {f} MHz" for f, s in ROWS)
    assert read(f"Frequency (Hz);SWR;Note\n{rows}\n").sweep.low_hz == 14e6


Z = np.array([25 - 10j, 50 + 0j, 75 + 20j])
F = (14.0, 14.1, 14.2)


@pytest.mark.parametrize(
    ("head", "rows"),
    [
        ("MHz,R,X", [(f, z.real, z.imag) for f, z in zip(F, Z, strict=True)]),
        (
            "Frequency MHz,R (ohm),X (ohm),SWR",
            [(f, z.real, z.imag, swr_from_gamma(abs(gamma_from_impedance(z, 50)))) for f, z in zip(F, Z, strict=True)],
        ),
        ("freq MHz,Re(Z),Im(Z)", [(f, z.real, z.imag) for f, z in zip(F, Z, strict=True)]),
        ("MHz,Rs [Ω],Xs [Ω]", [(f, z.real, z.imag) for f, z in zip(F, Z, strict=True)]),
        ("MHz,s11_re,s11_im", [(f, g.real, g.imag) for f, g in zip(F, gamma_from_impedance(Z, 50), strict=True)]),
        ("MHz,Real,Imaginary", [(f, g.real, g.imag) for f, g in zip(F, gamma_from_impedance(Z, 50), strict=True)]),
    ],
)
def test_complex_columns(head, rows):
    got = read(table(head, rows))
    assert not got.sweep.scalar
    np.testing.assert_allclose(got.sweep.gamma, gamma_from_impedance(Z, 50), atol=1e-9)


@pytest.mark.parametrize("head", ["MHz,Return loss (dB)", "MHz,RL_dB", "MHz,S11 (dB)", "MHz,LogMag dB"])
@pytest.mark.parametrize("sign", [1, -1])
def test_return_loss_as_loss_or_as_level(head, sign):
    got = read(table(head, [(14.0, 9.54 * sign), (14.1, 20.0 * sign)]))
    np.testing.assert_allclose(np.abs(got.sweep.gamma), [1 / 3, 0.1], atol=1e-4)


@pytest.mark.parametrize(
    ("rows", "guessed"),
    [
        (ROWS, ("frequencies in MHz", "the other figures are SWR")),
        ([(7000, 2.0), (7100, 1.2)], ("frequencies in kHz", "the other figures are SWR")),
        ([(144e6, 2.0), (145e6, 1.2)], ("frequencies in Hz", "the other figures are SWR")),
        ([(14.0, -12.0), (14.1, -0.5)], ("frequencies in MHz", "the other figures are return loss in dB")),
        ([(14.0, 43.0, -12.0), (14.1, 50, 3)], ("frequencies in MHz", "the other figures are R and X in Ω")),
        (
            [(14.0, 0.5, -0.2), (14.1, 0.1, 0)],
            ("frequencies in MHz", "the other figures are real and imaginary part of Γ"),
        ),
    ],
)
def test_what_the_file_does_not_say_is_guessed_and_said(rows, guessed):
    assert read(table("", rows)).guessed == guessed


def test_confirmed_choice_replaces_the_guess():
    got = read(table("", [(7000, 2.0), (7100, 1.2)]), unit="MHz", kind="return_loss")
    assert (got.guessed, got.sweep.high_hz) == ((), 7100e6)
    np.testing.assert_allclose(np.abs(got.sweep.gamma[0]), 10 ** (-2 / 20))


def test_rounding_follows_the_digits_shown():
    one = read(table("MHz,SWR", [(14, "1.5"), (15, "2.0")])).sweep.half_step_gamma
    two = read(table("MHz,SWR", [(14, "1.50"), (15, "2.00")])).sweep.half_step_gamma
    np.testing.assert_allclose(one / two, 10, rtol=0.01)
    assert one[0] == pytest.approx((0.55 / 2.55 - 0.45 / 2.45) / 2)


def test_infinite_swr_is_full_reflection():
    np.testing.assert_allclose(np.abs(read(table("MHz,SWR", [(14, "inf"), (15, "∞")])).sweep.gamma), 1)


@pytest.mark.parametrize(
    ("content", "line", "column", "found", "expected"),
    [
        ("MHz,SWR\n14,1.5\n14.1,0.9\n", 3, 6, 'SWR of "0.9"', "at least 1"),
        ("MHz,R,X\n14,1.5,1e400\n14.1,1,1\n", 2, 8, '"1e400"', "exponent"),
        ("MHz,SWR\n14,1.5\n14.1,high\n", 3, 6, '"high"', "a number such as"),
        ("MHz,SWR\n14,1.5\n14.1,NaN\n", 3, 6, '"NaN"', "finite"),
        ("MHz,SWR\n14,1.5\n14.1,\n", 3, 6, "an empty cell", "every row"),
        ("MHz,SWR\nabc,1.5\n14.1,1.2\n", 2, 1, '"abc"', "a number such as"),
        ("MHz,SWR\n14,1.5\n14.1\n", 3, 5, "1 field in", "2 fields"),
        ("MHz,SWR\n14,1,1,5\n14,2,1,5\n", 2, 6, "4 fields", "decimal comma"),
        ("MHz,SWR\n14,1.5\n14,1.4\n", 3, 1, "repeats", "rising"),
        ("MHz,SWR\n14,1.5\n 13,1.4\n", 3, 2, "goes back", "rising"),
        ("MHz;SWR\n14,0;1,5\n14,1;1.45\n", 3, 6, '"1.45" with a different', "one decimal sign"),
        ("MHz,gain\n14,1.5\n", 1, 1, "do not name a reflection or impedance", "headings name"),
        ("band,SWR\n20,1.5\n", 1, 1, "without a frequency", "headings name"),
        ("just words\nand more\n", 2, 1, "not a row of figures", "a CSV with"),
        ("# nothing but this\n", 1, 1, "no rows", "a CSV with"),
        ("14,1,2,3\n15,1,2,3\n", 1, 8, "4 columns without headings", "headings in the first line"),
    ],
)  # fmt: skip
def test_slips_are_named_with_their_place(content, line, column, found, expected):
    with pytest.raises(FileProblem) as caught:
        read(content)
    problem = caught.value
    assert (problem.line, problem.column) == (line, column), str(problem)
    assert found in problem.found
    assert expected in problem.expected
