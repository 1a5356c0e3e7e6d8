"""Touchstone as instruments write it: dialects against scikit-rf and by the format's rules, and slips with their place."""

import io
from itertools import product

import numpy as np
import pytest
import skrf

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file
from tests.sweeps import rlc

F = np.linspace(13.9e6, 14.5e6, 31)
Z = rlc(F, q=20, r=60)
GAMMA = gamma_from_impedance(Z, 50)
SCALE = {"Hz": 1.0, "kHz": 1e3, "MHz": 1e6, "GHz": 1e9}


def pairs(values, notation):
    if notation == "RI":
        return values.real, values.imag
    size = 20 * np.log10(np.abs(values)) if notation == "DB" else np.abs(values)
    return size, np.degrees(np.angle(values))


def text(values, unit="MHz", parameter="S", notation="RI", reference=50.0):
    one, two = pairs(values, notation)
    rows = [f"{f / SCALE[unit]:.12g} {a:.12g} {b:.12g}" for f, a, b in zip(F, one, two, strict=True)]
    return "\n".join([f"# {unit} {parameter} {notation} R {reference:g}", *rows, ""])


def read(content, name="a.s1p", **options):
    data = content if isinstance(content, bytes) else content.encode()
    return read_sweep_file(name, data, ReadOptions(**options))


def gamma_of(content, name="a.s1p", **options):
    return read(content, name, **options).sweep.referred_to(50).gamma


@pytest.mark.parametrize(("unit", "notation", "reference"), product(SCALE, ("RI", "MA", "DB"), (50.0, 75.0)))
def test_units_notations_and_references_agree_with_scikit_rf(unit, notation, reference):
    content = text(gamma_from_impedance(Z, reference), unit, "S", notation, reference)
    source = io.StringIO(content)
    source.name = "a.s1p"
    other = skrf.Network(source)
    mine = read(content)
    np.testing.assert_allclose(mine.sweep.gamma, other.s[:, 0, 0], atol=1e-12)
    np.testing.assert_allclose(mine.sweep.frequency_hz, other.f, rtol=1e-12)
    assert mine.file_z0_ohm == reference
    np.testing.assert_allclose(mine.sweep.referred_to(50).gamma, GAMMA, atol=1e-9)


@pytest.mark.parametrize(
    ("version", "parameter", "values"),
    [
        # Touchstone 1.1: Z divided by R, Y multiplied by it; 2.0: ohms and siemens (specification, memory).
        (1, "Z", Z / 75), (1, "Y", 75 / Z), (2, "Z", Z), (2, "Y", 1 / Z),
    ],
)  # fmt: skip
@pytest.mark.parametrize("notation", ["RI", "MA", "DB"])
def test_impedance_and_admittance(version, parameter, values, notation):
    content = text(values, "MHz", parameter, notation, 75)
    if version == 2:
        option, rows = content.split("\n", 1)
        content = (
            f"[Version] 2.0\n{option}\n[Number of Ports] 1\n[Number of Frequencies] 31\n[Network Data]\n{rows}[End]\n"
        )
    np.testing.assert_allclose(gamma_of(content), GAMMA, atol=1e-9)


PLAIN = text(GAMMA)


@pytest.mark.parametrize(
    "content",
    [
        PLAIN.replace("\n", "\r\n"),
        PLAIN.replace("\n", "\r"),
        b"\xef\xbb\xbf" + PLAIN.encode(),
        PLAIN.encode("utf-16"),
        PLAIN.replace(" ", "\t"),
        PLAIN.replace(" ", "   ").replace("\n", "  \n\n"),
        PLAIN.lower(),
        PLAIN.upper(),
        "! head\n!\n" + PLAIN.replace("\n", " ! beside\n") + "! foot",
        "! Port Impedance 1 2\n! Gamma ! 3 4\n" + PLAIN,
        "! 20 \xb0C in the yard\n".encode("latin-1") + PLAIN.encode(),
        PLAIN.replace("# MHz S RI R 50", "# r 50 ri s mhz"),
        PLAIN.replace("# MHz S RI R 50", "#MHz S RI"),
        PLAIN.replace("# MHz S RI R 50", "  # MHz S RI R 50 ! and a word"),
        PLAIN + "# GHz S MA R 75\n",
        text(GAMMA, "Hz").replace("e", "D").replace("-0", "-0"),
        "\n".join(line.replace("13.9 ", "1.39D+01 ") for line in PLAIN.split("\n")),
    ],
    ids=range(17),
)
def test_dialects(content):
    np.testing.assert_allclose(gamma_of(content), GAMMA, atol=1e-9)


def test_missing_options_have_their_defaults():
    # Touchstone specification: GHz S MA R 50 where the option line is bare (memory).
    np.testing.assert_allclose(
        gamma_of(text(GAMMA, "GHz", "S", "MA").replace("# GHz S MA R 50", "#")), GAMMA, atol=1e-9
    )


def two_port(order="21_12", version=2, tail=""):
    s = np.zeros((31, 2, 2), complex)
    s[:, 0, 0], s[:, 1, 1], s[:, 1, 0], s[:, 0, 1] = 0.1, GAMMA, 0.5, 0.25
    flat = [s[:, 0, 0], s[:, 1, 0], s[:, 0, 1], s[:, 1, 1]]
    if order == "12_21":
        flat[1], flat[2] = flat[2], flat[1]
    rows = [
        f"{f / 1e6:.9g} " + " ".join(f"{v.real:.12g} {v.imag:.12g}" for v in row)
        for f, *row in zip(F, *flat, strict=True)
    ]
    head = ["# MHz S RI R 50"]
    if version == 2:
        head = ["[Version] 2.0", *head, "[Number of Ports] 2", f"[Two-Port Data Order] {order}", "[Reference]", "50 50"]
        head += ["[Begin Information]", "words that are no data", "[End Information]", "[Network Data]"]
    return "\n".join([*head, *rows, tail])


@pytest.mark.parametrize(
    "content",
    [two_port(version=1), two_port(), two_port("12_21"), two_port(version=1, tail="2 1 0.5 30 0.2\n3 1 0.5 30 0.2\n")],
)
def test_either_port_of_two(content):
    np.testing.assert_allclose(gamma_of(content, "a.s2p", port=2), GAMMA, atol=1e-9)
    np.testing.assert_allclose(gamma_of(content, "a.s2p"), 0.1, atol=1e-12)


def test_two_port_z_agrees_with_scikit_rf():
    s = np.array([[[0.1 + 0.2j, 0.3], [0.4j, -0.2]]])
    z = skrf.network.s2z(s, 50)[0]
    row = " ".join(f"{v.real:.15g} {v.imag:.15g}" for v in (z[0, 0], z[0, 1], z[1, 0], z[1, 1]))
    head = "[Version] 2.0\n# MHz Z RI R 50\n[Number of Ports] 2\n[Two-Port Data Order] 12_21\n[Network Data]\n"
    content = f"{head}1 {row}\n2 {row}\n[End]"
    assert gamma_of(content, "a.s2p")[0] == pytest.approx(0.1 + 0.2j)
    assert gamma_of(content, "a.s2p", port=2)[0] == pytest.approx(-0.2)


HEAD = "! two lines\n# MHz S RI R 50\n"


@pytest.mark.parametrize(
    ("content", "line", "column", "found", "expected"),
    [
        (HEAD + "14 0.1 0\n14.1 0.1\n14.2 0.1 0\n", 4, 9, "2 figures", "3 in each line"),
        (HEAD + "14 0.1 0\n14.1 0.1 0 0\n", 4, 12, "4 figures", "3 in each line"),
        (HEAD + "14 0.1 0\n14.1 NaN 0\n", 4, 6, '"NaN"', "finite"),
        (HEAD + "14 0.1 0\n14.1 inf 0\n", 4, 6, '"inf"', "finite"),
        (HEAD + "14 0.1 0\n14.1 1e308 0\n", 4, 6, '"1e308"', "exponent"),
        (HEAD + "14 0.1 0\n14.1 none 0\n", 4, 6, '"none"', "a number such as"),
        (HEAD + "14 0.1 0\n14.1 0,1 0\n", 4, 6, '"0,1"', "decimal point"),
        (HEAD + "14 0.1 0\n14.1 0_1 0\n", 4, 6, '"0_1"', "a number such as"),
        (HEAD + "14.2 0.1 0\n14.1 0.1 0\n", 4, 1, "goes back", "rising frequencies"),
        (HEAD + "14 0.1 0\n  14 0.1 0\n", 4, 3, "repeats", "rising frequencies"),
        (HEAD + "-14 0.1 0\n", 3, 1, "-14", "at least 0"),
        (HEAD, 3, 1, "without a line of data", "at least one point"),
        ("14 0.1 0\n", 1, 1, "without an option line", "# MHz S RI R 50"),
        ("# MHz S RI R fifty\n14 0 0\n", 1, 12, "R without a figure", "R 50"),
        ("# MHz S RI R -50\n14 0 0\n", 1, 14, '"-50"', "above 0 ohm"),
        ("# MHz S XY R 50\n14 0 0\n", 1, 9, '"XY"', "RI, MA or DB"),
        ("# MHz H RI R 50\n14 0 0\n", 1, 7, '"H"', "S, Y or Z"),
        ("[Version] 3.0\n# MHz S RI R 50\n14 0 0\n", 1, 11, '"3.0"', "1.0 to 2.1"),
        ("[Version] 2.0\n# MHz S RI R 50\n[Number of Ports] 1\n[Number of Frequencies] 3\n[Network Data]\n14 0 0\n", 6, 1, "end after 1", "says 3"),
        ("", 1, 1, "empty", "Touchstone"),
        (b" \r\n\xef\xbb\xbf", 1, 1, "empty", "Touchstone"),
        (b"\x89PNG\r\n\x1a\n\x00\x00", 1, 1, "a picture (PNG)", "text file"),
        (b"# MHz S RI R 50\n14 0 0\x00\n", 2, 7, "zero byte", "text file"),
        (HEAD + "\n".join(f"{i} 0.1 0" for i in range(200_001)), 200_003, 1, "200\u202f001 points", "at most 200\u202f000"),
        (b"!" * 20_000_001, 1, 1, "20.0 MB", "at most 20 MB"),
    ],
    ids=range(25),
)  # fmt: skip
def test_slips_are_named_with_their_place(content, line, column, found, expected):
    with pytest.raises(FileProblem) as caught:
        read(content)
    problem = caught.value
    assert (problem.file, problem.line, problem.column) == ("a.s1p", line, column), str(problem)
    assert found in problem.found
    assert expected in problem.expected


def test_port_that_is_not_there():
    with pytest.raises(FileProblem, match="port 1, the only one"):
        read(PLAIN, port=2)


def test_more_than_two_ports():
    with pytest.raises(FileProblem, match="a file of 4 ports"):
        read(PLAIN, "a.s4p")


def test_name_without_ending_is_known_by_its_option_line():
    assert read(PLAIN, "reading.txt").format == "touchstone 1.1"


@pytest.mark.parametrize("bad", ["14.1  0.1", "14.1 0.1 ", " 14.1 0.1", "14.1\t0.1"])
def test_a_blank_too_many_does_not_hide_a_missing_figure(bad):
    with pytest.raises(FileProblem, match="2 figures in this line"):
        read(HEAD + f"14 0.1 0\n{bad}\n14.2 0.1 0\n")
