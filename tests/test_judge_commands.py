"""judge and claim on the command line: what they print, and how they end."""

import json
from dataclasses import replace
from hashlib import sha256

import pytest

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Instrument, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role, Setting
from levelmoor.core.rf.windows import Window
from levelmoor.formats.exchange_file import Exchange, write_exchange
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.touchstone_out import write_s1p
from tests.command import levelmoor
from tests.sweeps import flat

TWENTY, SEVENTEEN = Window(14e6, 14.35e6, "20m"), Window(18.068e6, 18.168e6, "17m")
WHIP = Evaluation(
    "Whip",
    Product("Whip"),
    samples=(Sample("s", "Unit 1"),),
    claims=(Claim("c", Quantity.SWR, (TWENTY,), 2.0),),
    setups=(Setup("plain", "Plain"), Setup("hat", "With the hat", role=Role.ADDED)),
    instruments=(Instrument("i", "Analyzer"), Instrument("j", "Second analyzer")),
)


def written(evaluation, *sweeps):
    """An exported evaluation with sweeps, each a name, a |gamma| throughout, and its state."""
    files, found = {}, []
    for name, magnitude, state in sweeps:
        data = write_s1p(flat(magnitude)).encode() + f"! {name}\n".encode()
        digest = sha256(data).hexdigest()
        files[digest] = data
        given = {"setup_id": "plain", "instrument_id": "i", **state}
        sweep = read_sweep_file("x.s1p", data).sweep
        found.append(
            Evidence(name, name, "s", calibration=Calibration.AT_PLANE, sweep=sweep, file_name=f"{name}.s1p",
                     sha256=digest, **given)
        )  # fmt: skip
    return write_exchange(Exchange(replace(evaluation, sweeps=tuple(found)), files))


@pytest.fixture
def judged(tmp_path):
    def run(*sweeps, evaluation=WHIP, json_=False):
        path = tmp_path / "case.zip"
        path.write_bytes(written(evaluation, *sweeps))
        return levelmoor("judge", path, *(("--json",) if json_ else ()))

    return run


@pytest.mark.parametrize(
    ("sweeps", "exit_code"),
    [
        ([("bare", 0.1, {})], 0),
        ([("bare", 0.6, {})], 1),
        ([("bare", 0.333, {})], 3),
        ([], 4),
    ],
    ids=["pass", "fail", "too close", "not shown"],
)
def test_the_exit_code_is_that_of_the_worst_verdict(judged, sweeps, exit_code):
    assert judged(*sweeps).returncode == exit_code


def test_what_stands_beside_is_told_and_does_not_decide(judged):
    done = judged(("bare", 0.6, {}), ("hat", 0.1, {"setup_id": "hat"}))
    assert done.returncode == 1
    assert "rests on bare (Plain, Analyzer)" in done.stdout
    assert "beside: With the hat (" in done.stdout


def test_what_contradicts_and_what_was_set_aside_are_told_with_their_figures(judged):
    two = [("one", 0.45, {}), ("two", 0.13, {"instrument_id": "j"})]
    clash = judged(*two)
    assert clash.returncode == 4
    assert "The figures contradict each other" in clash.stdout
    assert clash.stdout.count("contradicts: ") == 2
    chosen = judged(two[0], ("two", 0.13, {"instrument_id": "j", "set_aside": "its lead was loose"}))
    assert chosen.returncode == 1
    assert "two was left out of the verdict: its lead was loose; by itself it would be Pass, SWR 1.30" in chosen.stdout


def test_json_names_sample_setup_setting_round_instrument_and_sweep(judged):
    whip = replace(WHIP, settings=(Setting("m6", "mark 6", (TWENTY,)),))
    done = judged(
        ("first", 0.6, {"setting_id": "m6"}), ("again", 0.1, {"setting_id": "m6", "round": 2}),
        evaluation=whip, json_=True,
    )  # fmt: skip
    assert done.returncode == 0
    found = json.loads(done.stdout)
    (window,) = found["claims"][0]["windows"]
    keys = ("sweep_id", "setup_id", "setting_id", "round", "instrument_id", "verdict")
    assert [window[k] for k in keys] == ["again", "plain", "m6", 2, "i", "pass"]
    assert found["names"]["settings"] == {"m6": "mark 6"}


def test_a_band_without_a_setting_is_not_shown(judged):
    whip = replace(
        WHIP,
        settings=(Setting("m6", "mark 6", (TWENTY,)),),
        claims=(*WHIP.claims, Claim("d", Quantity.SWR, (SEVENTEEN,), 2.0)),
    )
    done = judged(("again", 0.1, {"setting_id": "m6"}), evaluation=whip)
    assert done.returncode == 4
    assert "No setting for 17m has been swept" in done.stdout


def test_a_control_is_shown_and_not_counted(judged):
    whip = replace(WHIP, samples=(Sample("s", "Unit 1", control=True),))
    done = judged(("bare", 0.6, {}), evaluation=whip)
    assert "1 verdict, none counted" in done.stdout
    assert "Fail: SWR at most 2" in done.stdout and "(not counted)" in done.stdout


def test_a_document_alone_is_judged_with_its_raw_files_beside(tmp_path):
    import io
    import zipfile

    with zipfile.ZipFile(io.BytesIO(written(WHIP, ("bare", 0.1, {})))) as archive:
        archive.extractall(tmp_path)
    assert levelmoor("judge", tmp_path / "evaluation.json").returncode == 0


@pytest.mark.parametrize(("content", "words"), [(b"{}", "title: Field required"), (b"PK\x03\x04 no", "damaged")])
def test_what_is_no_evaluation_is_refused(tmp_path, content, words):
    path = tmp_path / "x.zip"
    path.write_bytes(content)
    done = levelmoor("judge", path)
    assert (done.returncode, done.stdout) == (2, "")
    assert words in done.stderr


# -- claim -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "exit_code"),
    [("SWR < 1.7 on 2m, 1.9 on 70cm", 0), ("SWR below 1.7 on channel 5", 3), ("shiny", 2), (" ", 2)],
)
def test_claim_ends_by_how_far_it_was_understood(text, exit_code):
    assert levelmoor("claim", text, "--json").returncode == exit_code


def test_claim_says_each_claim_with_windows_in_hz():
    found = json.loads(levelmoor("claim", "SWR < 1.7 2m, 1.9 70cm", "--region", "1", "--json").stdout)
    told = [(c["quantity"], c["limit"], c["unit"], [w["low_hz"] for w in c["windows"]]) for c in found["claims"]]
    assert told == [("swr", 1.7, "", [144e6]), ("swr", 1.9, "", [430e6])]
    assert set(found["claims"][0]) >= {"z0_ohm", "swr_at", "power_w", "mode", "tuner", "stated"}
    assert (found["questions"], found["leftover"]) == ([], "")


def test_claim_asks_in_place():
    found = json.loads(levelmoor("claim", "SWR below 1.7 on channel 5", "--json").stdout)
    assert found["questions"] and all(q["answers"] for q in found["questions"])
