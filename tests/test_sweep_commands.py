"""compare, readings, live and instruments on the command line."""

import json
import re
import subprocess
import sys

import numpy as np
import pytest

from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.instruments.stand_ins.instruments import stand_ins
from levelmoor.instruments.stand_ins.server import running
from tests.command import levelmoor
from tests.sweeps import rlc_sweep


@pytest.fixture
def swept(tmp_path):
    """A file of a series circuit with its dip at a frequency."""

    def write(name, f0, q=25.0, r=50.0):
        path = tmp_path / name
        path.write_text(write_s1p(rlc_sweep(13.5e6, 14.9e6, 401, f0=f0, q=q, r=r)))
        return path

    return write


def test_compare_names_what_is_error_and_what_is_real(swept):
    sides = [",".join(str(swept(f"{f0}-{n}.s1p", f0 + 500 * n)) for n in range(3)) for f0 in (14.1e6, 14.103e6, 14.2e6)]
    done = levelmoor("compare", *sides, "--band", "20m", "--spot", "14.2", "--json")
    assert done.returncode == 0
    found = json.loads(done.stdout)
    (window,) = found["windows"]
    assert [d["best_hz"]["meaning"] for d in window["differences"]] == ["error", "mounting"]
    assert [s["repeats"] for s in found["sides"]] == [3, 3, 3]
    assert "spot_14200000" in window["sides"][0]["figures"]


def test_compare_speaks_and_draws(swept, tmp_path):
    out, chart = tmp_path / "over.svg", tmp_path / "smith.svg"
    done = levelmoor("compare", swept("a.s1p", 14.1e6), swept("b.s1p", 14.3e6), "--svg", out, "--smith", chart)
    assert "B against A: dip 200 kHz higher" in done.stdout
    assert out.read_text().startswith("<svg")
    assert "Z0 50" in chart.read_text()


def test_compare_units_tells_the_share_that_fails(swept):
    files = [swept(f"unit-{n}.s1p", 14.1e6, r=150) for n in range(3)]
    found = json.loads(levelmoor("compare", *files, "--question", "units", "--band", "20m", "--json").stdout)
    assert (found["units"]["failed"], found["units"]["of"]) == (3, 3)
    assert found["units"]["low"] == pytest.approx(0.368, abs=1e-3)


@pytest.mark.parametrize(
    ("arguments", "words"),
    [(("none.s1p",), "none.s1p"), (("--band", "99x"), 'no band "99x"'), (("--max-swr", "0.5"), "above 1")],
)
def test_compare_refuses_with_what_would_be_right(swept, arguments, words):
    done = levelmoor("compare", swept("a.s1p", 14.1e6), *arguments)
    assert (done.returncode, done.stdout) == (2, "")
    assert words in done.stderr


def test_readings_give_the_report_of_check_and_name_each_slip(tmp_path):
    path = tmp_path / "sheet.csv"
    path.write_text("MHz,SWR\n7.000,1.4\n7.050,1.2\n71.00,1.3\n7.150,1.4\n7.200,1.9\n")
    done = levelmoor("readings", path, "--band", "40m", "--max-swr", "2", "--json")
    assert done.returncode == 4
    found = json.loads(done.stdout)
    check = json.loads(levelmoor("check", path.with_name("none"), "--max-swr", "2").stdout or "{}")
    assert (found["format"], found["verdict"], check) == ("readings", "not_shown", {})
    assert re.search(r"line 4, frequency: .*did you mean 7.1 MHz", done.stderr)


def test_a_reading_at_a_spot_passes(tmp_path):
    path = tmp_path / "sheet.csv"
    path.write_text("MHz,Forward W,Reflected W\n7.100,50,0.85\n")
    done = levelmoor("readings", path, "--band", "7.1 MHz", "--max-swr", "2", "--watt-accuracy", "0.05", "--json")
    assert done.returncode == 0
    # 50 W at 1.3 is 0.85 W back (common practice, no source).
    assert json.loads(done.stdout)["windows"][0]["worst"]["swr"] == pytest.approx(1.3, abs=0.001)


def test_readings_refuse_a_slip_with_its_place(tmp_path):
    path = tmp_path / "sheet.csv"
    path.write_text("MHz,SWR\n7.000,1.4\n7.050,0.2\n")
    done = levelmoor("readings", path, "--band", "40m", "--max-swr", "2")
    assert (done.returncode, done.stdout) == (2, "")
    assert "line 3, column 7" in done.stderr


def test_live_sweeps_a_stand_in_and_writes_the_last_sweep(tmp_path):
    out = tmp_path / "last.s1p"
    with running(stand_ins()[0]) as server:
        done = levelmoor(
            "live", "--instrument", server.address, "--band", "140 to 152", "--count", "2", "--wanted", "145.5",
            "--json-lines", "--out", out,
        )  # fmt: skip
    lines = [json.loads(line) for line in done.stdout.splitlines()]
    assert [x["sweep"] for x in lines] == [1, 2]
    sweep = read_sweep_file("last.s1p", out.read_bytes()).sweep
    assert float(swr_from_gamma(sweep.best()[1])) == pytest.approx(lines[1]["best_swr"], rel=1e-6)
    assert np.all(np.isfinite(sweep.gamma))


@pytest.mark.parametrize(
    ("address", "code", "words"),
    [("8.8.8.8:80", 2, "neither a loopback nor a private"), ("127.0.0.1:1", 5, "nothing answers at 127.0.0.1:1")],
)
def test_live_says_what_it_does_not_reach(address, code, words):
    done = levelmoor("live", "--instrument", address, "--band", "2m", "--count", "1")
    assert (done.returncode, done.stdout) == (code, "")
    assert words in done.stderr


def test_instruments_start_and_answer():
    started = subprocess.Popen(
        [sys.executable, "-m", "levelmoor.cli", "instruments", "--first-port", "0"], stdout=subprocess.PIPE, text=True
    )
    try:
        found = re.match(r"one-port analyzer at (127\.0\.0\.1:\d+)", started.stdout.readline())
        done = levelmoor("live", "--instrument", found[1], "--band", "2m", "--count", "1")
        assert "best" in done.stdout
    finally:
        started.terminate()
        started.wait(10)
        started.stdout.close()
