"""The commands adjust and card on an exported evaluation."""

import json

import pytest

from levelmoor.core.model.adjusting import Adjustment, Move
from levelmoor.core.model.state import Setting
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.formats.exchange import Alongside
from levelmoor.formats.exchange_file import Exchange, write_exchange
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file
from levelmoor.formats.touchstone_out import write_s1p
from tests.command import levelmoor
from tests.core.adjusting.test_round_log import case, swept


@pytest.fixture
def exported(tmp_path):
    """A whip of two rounds in one setting, as an export writes it."""
    from dataclasses import replace
    from hashlib import sha256

    files, sweeps = {}, []
    for one in (swept("one", 130e6, 1, setting_id="m1"), swept("two", 138e6, 2, setting_id="m1")):
        data = write_s1p(one.sweep, "").encode()
        digest = sha256(data).hexdigest()
        files[digest] = data
        read = read_sweep_file(f"{one.id}.s1p", data, ReadOptions()).sweep
        sweeps.append(replace(one, sweep=read, sha256=digest, file_name=f"{one.id}.s1p"))
    trip = Adjustment("a", "s1", "u1", "m1", round=2, moves=(Move("w", -3.0),))
    setting = Setting("m1", "mark 1", parse_windows("2m", 1), 1.5, "lowest ring")
    of = case(*sweeps, adjustments=(trip,), settings=(setting,))
    path = tmp_path / "case.zip"
    path.write_bytes(write_exchange(Exchange(of, files, Alongside())))
    return path


def test_adjust_says_rounds_worth_and_the_next_move(exported):
    answer = levelmoor("adjust", exported)
    out = answer.stdout
    assert answer.returncode == 0
    assert "round 2: Whip -3: 2m 138.0" in out.replace("\u202f", "")
    assert "next: Whip:" in out and "shorter" in out
    assert "2m: dip at" in out


def test_adjust_as_json_has_the_same(exported):
    answer = levelmoor("adjust", exported, "--json")
    (state,) = json.loads(answer.stdout)
    assert (answer.returncode, state["setting"], state["rounds"][1]["moved"]) == (0, "mark 1", {"Whip": -3.0})
    (foreseen,) = state["foreseen"]
    assert foreseen["low_hz"] < 145e6 < foreseen["high_hz"] * 1.02


def test_the_card_is_printed_and_written(exported, tmp_path):
    answer = levelmoor("card", exported)
    assert answer.returncode == 0 and answer.stdout.splitlines()[1].startswith("mark 1;2m;1.5;lowest ring;")
    pdf = tmp_path / "card.pdf"
    assert levelmoor("card", exported, "--pdf", pdf, "--size", "labels").returncode == 0
    assert pdf.read_bytes().startswith(b"%PDF")


def test_another_sample_is_named_with_those_there_are(exported):
    answer = levelmoor("card", exported, "--sample", "Unit 9")
    assert answer.returncode == 2
    assert "there is no such sample or setup; choose from Unit 1, yard" in answer.stderr
