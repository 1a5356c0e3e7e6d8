"""Kinds of file that analyzers, meters, spectrum analyzers, loggers and spreadsheets write: read correctly or asked about."""

import io
import zipfile

import numpy as np
import openpyxl
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance, swr_from_gamma
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.rawtext import decode
from levelmoor.formats.several_files import unpacked
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.trace_file import read_trace_file
from tests.sweeps import rlc

F = np.arange(13.91e6, 14.5e6, 20e3)
Z = rlc(F, q=12)
GAMMA = gamma_from_impedance(Z, 50)
SWR = swr_from_gamma(np.abs(GAMMA))
LOSS = -20 * np.log10(np.abs(GAMMA))
PHASE = np.degrees(np.angle(GAMMA))


def rows(*columns, sep=",", end="\r\n"):
    return end.join(sep.join(cells) for cells in zip(*columns, strict=True)) + end


def said(values, form):
    return [format(v, form) for v in values]


def comma(cells):
    return [c.replace(".", ",") for c in cells]


def thousands(mark):
    return [f"{round(f):,}".replace(",", mark) for f in F]


def book(*sheets):
    """A spreadsheet, saved; each sheet by its name and rows."""
    made = openpyxl.Workbook()
    made.remove(made.active)
    for name, lines in sheets:
        sheet = made.create_sheet(name)
        for line in lines:
            sheet.append(line)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


SHEET = [["Frequency (MHz)", "SWR"], *([round(f / 1e6, 3), round(float(s), 4)] for f, s in zip(F, SWR, strict=True))]
MHZ, S = said(F / 1e6, ".3f"), said(SWR, ".3f")
POLAR = rows(said(F / 1e9, ".6e"), said(-LOSS, ".3f"), said(PHASE, ".2f"), sep="\t")
RI = rows(said(F, ".0f"), said(GAMMA.real, ".6f"), said(GAMMA.imag, ".6f"), sep=" ")

SWEEPS = {
    "preamble of keys and values": "Device,Analyzer A\r\nSerial,0012\r\nPoints,31\r\n\r\nFreq(MHz),SWR\r\n" + rows(MHZ, S),
    "units in a row of their own": "Frequency,SWR,R,X\r\nMHz,,Ohm,Ohm\r\n" + rows(MHZ, S, said(Z.real, ".2f"), said(Z.imag, ".2f")),
    "a mark, semicolons, decimal commas": "\ufeffFrequenz [MHz];SWR\r\n" + rows(comma(MHZ), comma(S), sep=";"),
    "UTF-16 with tabs": ("\ufeffFreq kHz\tSWR\r\n" + rows(said(F / 1e3, ".1f"), S, sep="\t")).encode("utf-16-le"),
    "UTF-16 without a mark": ("Freq kHz,SWR\r\n" + rows(said(F / 1e3, ".1f"), S)).encode("utf-16-be"),
    "old line ends": "Freq (Hz),SWR\r" + rows(said(F, ".0f"), S, end="\r"),
    "points between thousands": "Frequency Hz;SWR\n" + rows(thousands("."), comma(S), sep=";"),
    "apostrophes between thousands": "Frequency Hz;SWR\n" + rows(thousands("'"), S, sep=";"),
    "narrow blanks between thousands": "Frequency Hz;SWR\n" + rows(thousands("\u202f"), comma(S), sep=";"),
    "a spreadsheet": book(("Sheet1", SHEET)),
    "a spreadsheet with a preamble": book(("Data", [["Sweep of a yard dipole"], [], ["taken", "2026-05-31"], *SHEET])),
    "a spreadsheet with an empty column and notes": book(
        ("Sweep", [[None, *line] for line in SHEET]), ("Notes", [["windy"], ["nobody near"]])
    ),
    "a spreadsheet of text": book(("S", [[str(c).replace(".", ",") for c in line] for line in SHEET])),
    "GHz with exponents, tabs, a degree sign of Windows": ("Freq (GHz)\tS11 (dB)\tPhase (°)\r\n" + POLAR).encode("cp1252"),
    "SWR before the frequency": "SWR,Frequency (MHz)\n" + rows(S, MHZ),
    "everything in quotes": '"Frequency (MHz)","SWR"\n' + "".join(f'"{f}","{s}"\n' for f, s in zip(MHZ, S, strict=True)),
    "columns of fixed width": "   FREQ       SWR\n    MHz\n" + "".join(f"{f:>9}{s:>9}\n" for f, s in zip(MHZ, S, strict=True)),
    "bars between cells": "| Frequency (MHz) | SWR |\n|---|---|\n" + "".join(f"| {f} | {s} |\n" for f, s in zip(MHZ, S, strict=True)),
    "a block between BEGIN and END": "!CSV A.01\n!Date: 2026-05-31\nBEGIN CH1_DATA\nFreq(Hz),S11(REAL),S11(IMAG)\n"
    + rows(said(F, ".0f"), said(GAMMA.real, ".6f"), said(GAMMA.imag, ".6f"))
    + "END\n",
    "a summary below": "Frequency (MHz),SWR\n" + rows(MHZ, S) + "\nMinimum SWR,1.000\nat MHz,14.200\n",
    "Touchstone under another name, small letters, remarks at the end": "! a\n# hz s ri r 50\n" + RI + "! end\r\n",
    "a logger's times before the frequency": "Time,Frequency (kHz),Forward (W),Reflected (W),SWR\n"
    + rows(
        [f"10:00:{n:02d}" for n in range(30)], said(F / 1e3, ".1f"), ["10.000"] * 30, said(10 * np.abs(GAMMA) ** 2, ".4f"), S
    ),
}  # fmt: skip


@pytest.mark.parametrize("kind", SWEEPS)
def test_a_sweep_is_read_correctly_or_asked_about(kind):
    content = SWEEPS[kind]
    data = content if isinstance(content, bytes) else content.encode()
    file = read_sweep_file("sweep.txt", data)
    assert file.sweep.frequency_hz == pytest.approx(F, rel=1e-6)
    assert np.abs(file.sweep.gamma) == pytest.approx(np.abs(GAMMA), abs=0.003)
    assert bool(file.guessed) is (kind == "columns of fixed width")  # a unit under one of two headings is asked about


ASKED = {
    "two tables in a spreadsheet": (book(("Before", SHEET), ("After", SHEET)), "Before, After"),
    "an old spreadsheet": (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(600), ".xlsx"),
    "a page saved as a spreadsheet": (b"<html><table><tr><td>14.0</td><td>1.5</td></tr></table></html>", "CSV"),
    "an open document": ("ods", ".xlsx"),
    "levels alone, without frequencies": (b"Amplitude (dBm)\n-40.1\n-41.2\n-39.9\n", "row of figures"),
}


@pytest.mark.parametrize("kind", ASKED)
def test_what_cannot_be_read_says_what_would_be(kind):
    content, word = ASKED[kind]
    if content == "ods":
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
            archive.writestr("content.xml", "<x/>")
        content = packed.getvalue()
    with pytest.raises((FileProblem, ColumnsProblem), match=word.replace(".", r"\.")):
        read_sweep_file("sweep.xls", content)


TRACES = {
    "a spectrum with a preamble": "Model,SA\nCenter Freq,145.5E6\nRBW,30E3\nDATA\nFrequency (Hz),Trace 1 (dBm)\n",
    "a spectrum with units below": "Freq;Level\nMHz;dBm\n",
}


@pytest.mark.parametrize("kind", TRACES)
def test_a_spectrum_is_read_correctly(kind):
    f = np.linspace(100e6, 200e6, 51)
    level = -80 + 60 * np.exp(-(((f - 145e6) / 3e6) ** 2))
    in_mhz = "MHz" in TRACES[kind]
    table = rows(said(f / 1e6 if in_mhz else f, ".3f"), said(level, ".2f"), sep=";" if in_mhz else ",")
    trace = read_trace_file("spectrum.csv", (TRACES[kind] + table).encode())[0]
    assert trace.frequency_hz == pytest.approx(f, rel=1e-6)
    assert trace.level_db == pytest.approx(level, abs=0.01)


def test_a_zipped_folder_is_its_files_without_what_systems_put_beside():
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr("sweeps/a.s1p", "# Hz S RI R 50\n" + RI)
        archive.writestr("sweeps/b.csv", "MHz,SWR\n14.1,1.5\n")
        archive.writestr("__MACOSX/sweeps/._a.s1p", b"\x00\x05")
        archive.writestr("sweeps/.DS_Store", b"\x00")
    assert [name for name, _ in unpacked("sweeps.zip", packed.getvalue())] == ["a.s1p", "b.csv"]
    sheet = SWEEPS["a spreadsheet"]
    assert unpacked("one.xlsx", sheet) == [("one.xlsx", sheet)]


def test_a_spreadsheet_that_unpacks_to_too_much_is_rejected():
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", b"<x/>")
        archive.writestr("xl/worksheets/sheet1.xml", b" " * 150_000_000)
    with pytest.raises(FileProblem, match="MB"):
        decode("large.xlsx", packed.getvalue())
