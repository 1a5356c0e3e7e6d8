"""The command line as scripts use it: run as a program, judged by its streams and exit code."""

import json
from xml.etree import ElementTree

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from tests.command import as_process
from tests.command import levelmoor as run
from tests.sweeps import rlc


@pytest.fixture
def file(tmp_path):
    """A series RLC at 14.2 MHz, Q 18, 50 ohm: SWR 1.66 at 14.0 and 1.45 at 14.35 MHz."""
    f = np.linspace(13.2e6, 15.2e6, 2001)
    g = gamma_from_impedance(rlc(f, q=18), 50)
    path = tmp_path / "a.s1p"
    path.write_text(
        "# Hz S RI R 50\n" + "\n".join(f"{x:.0f} {y.real:.12g} {y.imag:.12g}" for x, y in zip(f, g, strict=True))
    )
    return path


def check(file, *arguments):
    done = run("check", file, *arguments, "--json")
    return done, json.loads(done.stdout) if done.stdout else None


FIELDS = {
    "": {"file", "format", "points", "file_z0_ohm", "z0_ohm", "low_hz", "high_hz", "largest_step_hz", "dips", "resonances", "windows", "verdict"},
    "dips": {"frequency_hz", "swr", "return_loss_db", "r_ohm", "x_ohm", "at_edge"},
    "resonances": {"frequency_hz", "kind", "r_ohm", "swr"},
    "windows": {"name", "low_hz", "high_hz", "points_inside", "best", "worst", "share_within_limit", "widths", "limit_swr", "u_gamma", "verdict", "probability", "reason"},
}  # fmt: skip


def test_json_has_the_fields_of_the_contract(file):
    _, report = check(file, "--max-swr", "2")
    assert set(report) == FIELDS[""]
    assert all(set(report[name][0]) == fields for name, fields in FIELDS.items() if name)
    assert set(report["windows"][0]["best"]) == set(report["windows"][0]["worst"]) == {"frequency_hz", "swr"}
    assert set(report["windows"][0]["widths"][0]) == {"swr", "low_hz", "high_hz", "width_hz", "low_open", "high_open"}


def test_figures_of_a_series_rlc(file):
    # Worked out from x = Q (f/f0 - f0/f) and |gamma| = |jx/(2 + jx)|; the width from f0/Q (s-1)/sqrt(s).
    _, report = check(file, "--max-swr", "2", "--band", "20m")
    window = report["windows"][0]
    worst = max(abs(1j * x / (2 + 1j * x)) for x in (18 * (f / 14.2 - 14.2 / f) for f in (14.0, 14.35)))
    assert window["worst"]["swr"] == pytest.approx((1 + worst) / (1 - worst), rel=1e-9)
    assert window["best"] == {"frequency_hz": 14.2e6, "swr": pytest.approx(1, abs=1e-9)}
    assert window["widths"][1]["width_hz"] == pytest.approx(14.2e6 / 18 / 2**0.5, rel=1e-5)
    assert window["u_gamma"] == pytest.approx(
        ((0.01**2 + (0.01 * worst) ** 2 + (10 ** (-35 / 20) * worst**2) ** 2) / 2) ** 0.5
    )
    assert (report["dips"][0]["r_ohm"], report["resonances"][0]["kind"]) == (pytest.approx(50), "series")


@pytest.mark.parametrize(
    ("arguments", "code", "verdict"),
    [
        (("--max-swr", "2"), 0, "pass"),
        (("--max-swr", "1.3"), 1, "fail"),
        (("--max-swr", "1.66"), 3, "too_close"),
        (("--max-swr", "2", "--from", "13", "--to", "14"), 1, "fail"),
        (("--max-swr", "9", "--from", "13", "--to", "14"), 4, "not_shown"),
        (("--max-swr", "2", "--from", "18", "--to", "19"), 4, "not_shown"),
        (("--max-swr", "2", "--band", "20m", "--from", "13", "--to", "14"), 1, "fail"),
        (("--max-swr", "1.3", "--band", "20m", "--from", "13", "--to", "14"), 1, "fail"),
        (("--max-swr", "1.67", "--rule", "simple"), 0, "pass"),
        (("--max-swr", "2", "--directivity-db", "15"), 3, "too_close"),
        (("--max-swr", "2", "--repeat-u", "0.05"), 3, "too_close"),
        (("--max-swr", "1.65", "--z0", "75"), 1, "fail"),
        (("--max-swr", "2", "--band", "40m"), 4, "not_shown"),
    ],
)
def test_exit_code_and_verdict(file, arguments, code, verdict):
    done, report = check(file, *arguments)
    assert (done.returncode, report["verdict"]) == (code, verdict), report["windows"]


def test_several_bands_before_or_after_the_file(file):
    for order in ((file, "--band", "20m", "17m"), ("--band", "20m", "17m", file)):
        done = run("check", *order, "--max-swr", "2", "--json")
        assert [w["name"] for w in json.loads(done.stdout)["windows"]] == ["20m", "17m"]


def test_covered_bands_of_the_region_are_the_default(file):
    _, report = check(file, "--max-swr", "2")
    assert [w["name"] for w in report["windows"]] == ["20m"]


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("--max-swr", "1"), "above 1"),
        (("--max-swr", "nan"), "above 1"),
        (("--max-swr", "2", "--band", "99m"), 'no band "99m"'),
        (("--max-swr", "2", "--from", "14"), "both --from and --to"),
        (("--max-swr", "2", "--from", "14.3", "--to", "14"), "not below"),
        (("--max-swr", "2", "--from", "7.129,5", "--to", "8"), "is unclear"),
        (("--max-swr", "2", "--z0", "0"), "above 0 ohm"),
        (("--max-swr", "2", "--tracking", "-1"), "tracking"),
        (("--max-swr", "2", "--port", "2"), "port 1, the only one"),
        ((), "--max-swr"),
    ],
)
def test_bad_input_says_so_on_standard_error_alone(file, arguments, words):
    done = run("check", file, *arguments)
    assert (done.returncode, done.stdout) == (2, "")
    assert words in done.stderr


def test_bad_file_names_its_place(tmp_path):
    path = tmp_path / "bad.s1p"
    path.write_text("# MHz S RI R 50\n14 0.1 0\n14.1 oops 0\n")
    done = run("check", path, "--max-swr", "2", "--json")
    assert (done.returncode, done.stdout) == (2, "")
    assert 'bad.s1p: line 3, column 6: "oops", which is not a number' in done.stderr


def test_missing_file_and_unknown_command():
    assert run("check", "/nowhere.s1p", "--max-swr", "2").returncode == 2
    assert as_process("conjure").returncode == 2


def test_infinite_swr_is_null_and_scalar_has_no_impedance(tmp_path):
    path = tmp_path / "open.csv"
    path.write_text("MHz,SWR\n" + "\n".join(f"{14 + i / 100:.2f},{'inf' if i < 10 else 3.0}" for i in range(40)))
    done, report = check(path, "--from", "14", "--to", "14.3", "--max-swr", "2")
    assert (report["windows"][0]["worst"]["swr"], report["file_z0_ohm"]) == (None, None)
    assert report["dips"][0]["r_ohm"] is None
    assert done.returncode == 1


def test_rounding_of_a_swr_file_widens_the_doubt(tmp_path):
    for digits, code in ((2, 1), (1, 3)):
        path = tmp_path / f"{digits}.csv"
        path.write_text("MHz,SWR\n" + "\n".join(f"{14 + i / 100:.2f},{1.6:.{digits}f}" for i in range(40)))
        done, _ = check(
            path, "--from", "14", "--to", "14.3", "--max-swr", "1.55", "--directivity-db", "60", "--tracking", "0"
        )
        assert done.returncode == code


def test_guess_is_said(tmp_path):
    path = tmp_path / "bare.csv"
    path.write_text("\n".join(f"{14 + i / 100:.2f},1.2" for i in range(40)))
    done, report = check(path, "--from", "14", "--to", "14.3", "--max-swr", "2")
    assert report["verdict"] == "pass"
    assert "frequencies in MHz" in done.stderr


def test_text_and_figure(file, tmp_path):
    done = run("check", file, "--max-swr", "2", "--svg", tmp_path / "out.svg")
    assert "Verdict: Pass" in done.stdout
    assert ElementTree.parse(tmp_path / "out.svg").getroot().tag.endswith("svg")


def test_fault_of_the_program_is_no_verdict(file, monkeypatch, capsys):
    from levelmoor import cli

    monkeypatch.setattr("levelmoor.formats.sweepfile.read_sweep_file", lambda *_: {}["a fault"])
    assert cli.main(["check", str(file), "--max-swr", "2"]) == 2
    assert "this is not a verdict" in capsys.readouterr().err


def test_field_over_the_librarys_limit_is_bad_input(tmp_path):
    path = tmp_path / "a.csv"
    path.write_text('Frequency MHz,SWR\n14,"' + "1" * 200_000 + "\n")
    done = run("check", path, "--max-swr", "2", "--from", "14", "--to", "15")
    assert done.returncode == 2
    assert "Traceback" not in done.stderr


def test_verify_says_what_it_proves_and_compares_the_digest(tmp_path):
    from hashlib import sha256

    from tests.formats.test_bundle import BUNDLE

    path = tmp_path / "b.zip"
    path.write_bytes(BUNDLE)
    digest = sha256(BUNDLE).hexdigest()
    done = run("verify", path, "--sha256", digest.upper())
    assert done.returncode == 0
    assert f"SHA-256 {digest}" in done.stdout
    assert "does not prove who published it" in done.stdout
    other = run("verify", path, "--sha256", "0" * 64)
    assert other.returncode == 2
    assert "not the one given" in other.stderr
