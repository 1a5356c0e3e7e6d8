"""The commands trials and match."""

import json

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
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
    [(("--claim", "SWR < 1.5 2m"), "no claim that trials show"), (("--claim", "lovely"), "no claim that trials show")],
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


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("open", "--at", "7"), "neither a file nor a load"),
        (("50",), "at which frequency"),
        (("50", "--at", "x"), "frequency"),
    ],
)
def test_match_says_what_is_missing(arguments, said):
    answer = levelmoor("match", *arguments)
    assert answer.returncode == 2
    assert said in answer.stderr
