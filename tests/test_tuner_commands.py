"""The commands trials, match and choke."""

import json
from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.matching.solutions import generic_network
from levelmoor.core.model.evaluation import Evaluation, Product
from levelmoor.core.model.networks import NetworkKind
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.through.choking import s21_of
from levelmoor.formats.exchange import to_document
from levelmoor.formats.touchstone_out import write_s1p
from tests.command import levelmoor

TABLE = "Frequency MHz;Load;Outcome;SWR after;Seconds\n14.2;16;matched;1.20;3\n14.2;50;matched;1.02;2\n14.2;150;{}\n"
CLAIM = ("--claim", "matches 16 to 150 ohm to 1.5:1 20m")


@pytest.mark.parametrize(
    ("last", "code", "verdict"),
    [("matched;1.30;4", 0, "Pass"), ("refused;;", 4, "Not shown"), ("refused;;\n14.2;150;refused;;", 1, "Fail")],
)
def test_trials_are_judged_as_the_pages_do(tmp_path, last, code, verdict):
    path = tmp_path / "t.csv"
    path.write_text(TABLE.format(last))
    answer = levelmoor("trials", path, *CLAIM)
    assert answer.returncode == code, answer.stderr
    assert f"{verdict}: Matches 16 to 150 Ω to 1.5:1 on 20m" in answer.stdout
    assert "A match is not radiation." in answer.stdout
    told = json.loads(levelmoor("trials", path, *CLAIM, "--json").stdout)
    assert [c["load"] for c in told["cells"]] == ["16 Ω", "50 Ω", "150 Ω"]


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("--claim", "SWR < 1.5 2m"), "not a claim that trials can show"),
        (("--claim", "lovely"), "not a claim that trials can show"),
    ],
)
def test_what_trials_do_not_show_is_refused(tmp_path, arguments, said):
    path = tmp_path / "t.csv"
    path.write_text(TABLE.format("matched;1.30;4"))
    answer = levelmoor("trials", path, *arguments)
    assert answer.returncode == 2
    assert said in answer.stderr


def test_match_of_a_sweep_and_of_a_written_load_agree(tmp_path):
    f = np.linspace(7.0e6, 7.2e6, 21)
    path = tmp_path / "load.s1p"
    path.write_text(write_s1p(Sweep(f, gamma_from_impedance(np.full(21, 25 - 100j), 50.0), 50.0), ""))
    one, two = (
        json.loads(levelmoor("match", load, "--network", "T", "--at", "7.1", "--json").stdout)
        for load in (path, "25-j100")
    )
    assert one[0]["settings"][0]["values"] == pytest.approx(two[0]["settings"][0]["values"], rel=1e-3)
    assert all(s["swr"] < 1.05 for s in one[0]["settings"])
    losses = [s["loss_db"] for s in one[0]["settings"]]
    assert losses == sorted(losses)


def test_match_says_where_nothing_matches_and_ends_with_its_own_code():
    answer = levelmoor("match", "2", "--network", "pi", "--at", "1.85")
    assert answer.returncode == 6
    assert "no position of the dials matches; this comes closest" in answer.stdout


def test_match_takes_the_tables_of_an_evaluation(tmp_path):
    path = tmp_path / "case.json"
    network = replace(generic_network(NetworkKind.PI, "Hut tuner"), id="1", coil_q=88.0)
    path.write_text(json.dumps(to_document(Evaluation("Hut", Product("Hut"), networks=(network,)))))
    answer = levelmoor("match", "2000+j500", "--at", "14.2", "--of", path, "--network", "Hut tuner", "--json")
    assert (answer.returncode, json.loads(answer.stdout)[0]["network"]) == (0, "Hut tuner")
    assert "name one of its networks" not in levelmoor("match", "50", "--at", "7", "--of", path).stderr


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("50", "--at", "7", "--network", "Z"), "choose from T, L-series"),
        (("open", "--at", "7"), "neither a file nor a load"),
        (("50",), "give the frequency"),
        (("50", "--at", "x"), "frequency"),
    ],
)
def test_match_says_what_is_missing(arguments, said):
    answer = levelmoor("match", *arguments)
    assert answer.returncode == 2
    assert said in answer.stderr


@pytest.mark.parametrize(
    ("ohm", "code", "word"), [(6000, 0, "Pass"), (3000, 1, "Fail"), (5001, 3, "Too close to call")]
)
def test_choke_against_a_claim(tmp_path, ohm, code, word):
    f = np.linspace(3e6, 31e6, 401)
    for name, z in (("choke.csv", ohm), ("empty.csv", 1e7)):
        s21 = s21_of(np.full(f.size, z, dtype=complex))
        rows = [
            f"{x / 1e6:.3f};{20 * np.log10(abs(s)):.6f};{np.degrees(np.angle(s)):.6f}"
            for x, s in zip(f, s21, strict=True)
        ]
        (tmp_path / name).write_text("\n".join(("MHz;S21 dB;Phase deg", *rows)))
    files = (tmp_path / "choke.csv", "--empty", tmp_path / "empty.csv")
    answer = levelmoor("choke", *files, "--claim", "choke 5 kohm 3.5 to 30 MHz")
    assert (answer.returncode, f"{word}. The lowest" in answer.stdout) == (code, True), answer.stdout + answer.stderr
    told = json.loads(levelmoor("choke", *files, "--json").stdout)
    assert told["least_ohm"] == pytest.approx(ohm, rel=0.01)


def test_choke_refuses_another_claim(tmp_path):
    path = tmp_path / "choke.csv"
    path.write_text("MHz;S21 dB\n3;-40\n4;-40\n")
    answer = levelmoor("choke", path, "--claim", "SWR < 2 20m")
    assert answer.returncode == 2
    assert "not a claim of choking impedance" in answer.stderr
