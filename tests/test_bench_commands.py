"""plan, export, import, cable, pad and correct on the command line."""

import json
import os
from importlib.resources import files

import numpy as np
import pytest
import skrf

from levelmoor.core.bench.calibration import standard_reflections
from levelmoor.core.model.equipment import Kit
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import tables as t
from tests.command import levelmoor
from tests.sweeps import rlc_sweep

DEMO = files("levelmoor.demo").joinpath("files")


def test_sound_and_bad_cable():
    sound = levelmoor("cable", DEMO / "yard-line-open.s1p", "--type", "RG-8X", "--length", "24m", "--json")
    assert sound.returncode == 0
    found = json.loads(sound.stdout)
    assert (found["sound"], found["length_m"]) == (True, 24.0)
    assert found["electrical_length_m"] == pytest.approx(24.0, abs=0.2)
    bad = levelmoor("cable", DEMO / "race-day-line-open.s1p", "--type", "rg58", "--length", "2000cm")
    assert bad.returncode == 1
    assert "echo at 8.2 m" in bad.stdout


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("--type", "RG-99", "--length", "2"), "RG-58"),
        (("--type", "RG-58", "--length", "long"), "write it like 20m"),
    ],
)
def test_cable_refuses_with_what_would_be_right(arguments, words):
    done = levelmoor("cable", DEMO / "yard-line-open.s1p", *arguments)
    assert (done.returncode, done.stdout) == (2, "")
    assert words in done.stderr


def test_pad_that_is_not_what_its_label_says():
    done = levelmoor(
        "pad", "--reference", DEMO / "tap-without.csv", "--through", DEMO / "tap-with.csv", "--at", "146MHz",
        "--harmonics", "5", "--label", "40", "--json",
    )  # fmt: skip
    figures = json.loads(done.stdout)["figures"]
    # The model: 39.1 dB and 1.2 dB (f/500 MHz)^1.2.
    truth = [39.1 + 1.2 * (n * 146 / 500) ** 1.2 for n in range(1, 6)]
    assert [f["attenuation_db"] for f in figures] == pytest.approx(truth, abs=0.15)
    assert [f["frequency_hz"] for f in figures] == [n * 146e6 for n in range(1, 6)]


def test_pad_from_a_two_port_sweep(tmp_path):
    path = tmp_path / "pad.s2p"
    path.write_text("# MHz S RI R 50\n100 0 0 0.01 0 0.01 0 0 0\n800 0 0 0.01 0 0.01 0 0 0\n")
    assert "40.00" in levelmoor("pad", "--s21", path, "--at", "146MHz").stdout
    assert levelmoor("pad", "--s21", path, "--reference", path).returncode == 2


def test_pad_that_was_swept_in_75_ohm(tmp_path):
    (s,) = skrf.network.renormalize_s(np.array([[[0, 0.1], [0.1, 0]]]), 50, 75, s_def="traveling")
    figures = " ".join(f"{v.real:.9g} {v.imag:.9g}" for v in (s[0, 0], s[1, 0], s[0, 1], s[1, 1]))
    path = tmp_path / "pad.s2p"
    path.write_text(f"# MHz S RI R 75\n100 {figures}\n800 {figures}\n")
    assert "20.00" in levelmoor("pad", "--s21", path, "--at", "146MHz").stdout


def test_correct_gives_back_what_was_there(tmp_path):
    truth = rlc_sweep(14e6, 14.4e6, 101)
    kit = Kit("", "", open_c=(50e-15, 0, 0, 0), open_delay_s=10e-12)
    standards = standard_reflections(kit, truth.frequency_hz)
    for name, gamma in zip(("open", "short", "load", "raw"), (*standards, truth.gamma), strict=True):
        measured = 0.05 + 0.9j * gamma / (1 - 0.1 * gamma)
        text = write_s1p(type(truth)(truth.frequency_hz, np.asarray(measured)))
        (tmp_path / f"{name}.s1p").write_text(text)
    args = [x for n in ("open", "short", "load") for x in (f"--{n}", tmp_path / f"{n}.s1p")]
    out = tmp_path / "out.s1p"
    done = levelmoor(
        "correct", tmp_path / "raw.s1p", *args, "--out", out, "--open-c", "50", "--open-delay-ps", "10"
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert read_sweep_file("out.s1p", out.read_bytes()).sweep.gamma == pytest.approx(truth.gamma, abs=1e-9)
    mixed = levelmoor("correct", tmp_path / "raw.s1p", *args[:-1], tmp_path / "short.s1p", "--out", out)
    assert mixed.returncode == 2
    assert "mixed up" in mixed.stderr


@pytest.fixture(scope="module")
def exported(database_url, maker, demo_loaded, tmp_path_factory):
    """The demo's case of two samples, exported."""
    with maker() as session:
        row = session.query(t.Evaluation).join(t.Product).filter(t.Product.name == "Rollaway 2/70").first()
        number = row.id
    out = tmp_path_factory.mktemp("out") / "case.zip"
    done = levelmoor("export", str(number), out, env={**os.environ, "LEVELMOOR_DATABASE_URL": database_url})
    assert done.returncode == 0, done.stderr
    return out


def test_plan_in_words_and_as_json(exported):
    words = levelmoor("plan", exported)
    assert words.returncode == 0, words.stderr
    assert "Rollaway 2/70: 12 runs, 3 rebuilds" in words.stdout
    plan = json.loads(levelmoor("plan", exported, "--json").stdout)
    assert plan["rebuilds"] == 3  # what unit A shows from the branch is in
    assert {r["name"] for r in plan["runs"]} >= {"Survey", "70cm"}
    assert plan["uncovered"] == []


def test_plan_as_a4_pdf(exported, tmp_path):
    out = tmp_path / "sheet.pdf"
    done = levelmoor("plan", exported, "--pdf", out, "--address", "http://127.0.0.1/e/4/plan/sheet")
    assert done.returncode == 0, done.stderr
    assert out.read_bytes().startswith(b"%PDF")


def test_plan_from_the_json_alone(exported, tmp_path):
    import zipfile

    path = tmp_path / "evaluation.json"
    path.write_bytes(zipfile.ZipFile(exported).read("evaluation.json"))
    assert "4 rebuilds" in levelmoor("plan", path).stdout  # without its raw files nothing is in
    path.write_text(path.read_text().replace('"region": 1', '"region": "one"'))
    done = levelmoor("plan", path)
    assert done.returncode == 2
    assert "region" in done.stderr


def test_import_into_a_team(exported, database_url, member):
    environment = {**os.environ, "LEVELMOOR_DATABASE_URL": database_url}
    done = levelmoor("import", exported, "--team", member.team, env=environment)
    assert done.returncode == 0, done.stderr
    assert f"of {member.team}" in done.stdout
    assert levelmoor("import", exported, "--team", "nobody", env=environment).returncode == 2
