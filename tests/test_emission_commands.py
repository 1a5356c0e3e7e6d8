"""harmonics on the command line: the contract of its JSON and exit codes, and what a stranger's file does."""

import json

import pytest

from levelmoor.core.model.rule_sets import shipped_rule_sets
from tests.command import levelmoor

FAILS = "Frequency MHz,Level dBm\n146,-3.3\n292,-28.11\n438,-53.5\n584,-80\n730,-85\n"
PASSES = "Freq;dBm\n146,0;-2,0\n292,0;-67,8\n438,0;-90\n584,0;-91\n730,0;-92\n"


@pytest.fixture
def run(tmp_path):
    def harmonics(text, *arguments, carrier="146MHz", offset="40"):
        path = tmp_path / "peaks.csv"
        path.write_text(text)
        return levelmoor("harmonics", path, "--carrier", carrier, "--offset", offset, *arguments)

    return harmonics


def test_the_radio_that_fails(run):
    done = run(FAILS, "--json")
    found = json.loads(done.stdout)
    assert done.returncode == 1
    # Common practice, no source: +36.7 dBm, second harmonic +11.89 dBm, third -13.5 dBm.
    assert (found["carrier_dbm"], found["carrier_w"]) == (pytest.approx(36.7), pytest.approx(4.68, abs=0.01))
    second, third = found["harmonics"][:2]
    assert second["dbc"] == pytest.approx(-24.81)
    assert (second["limit_dbm"], second["binding"]) == (pytest.approx(-16.02, abs=0.01), "25 µW")
    assert second["margin_db"] == pytest.approx(second["limit_dbm"] - second["level_dbm"])
    assert [h["verdict"] for h in found["harmonics"]] == ["fail", "fail", "pass", "pass"]
    assert (found["rules"], found["verdict"], third["services"]) == ("us-97.307", "fail", ["70cm"])
    keys = {
        "n",
        "frequency_hz",
        "level_dbm",
        "dbc",
        "level_w",
        "limit_dbm",
        "binding",
        "margin_db",
        "verdict",
        "reason",
    }
    assert keys <= set(second)


def test_the_radio_that_passes(run):
    done = run(PASSES, "--json")
    assert (done.returncode, json.loads(done.stdout)["verdict"]) == (0, "pass")


def test_within_the_uncertainty_it_is_too_close_and_by_simple_acceptance_it_is_not(run):
    text = FAILS.replace("-28.11", "-56.6").replace("-53.5", "-80")
    assert run(text).returncode == 3
    assert run(text, "--rule", "simple").returncode == 0
    assert run(text, "--u-db", "0.2").returncode == 0


def test_a_harmonic_the_file_does_not_cover_is_not_shown(run):
    done = run(PASSES.replace("730,0;-92\n", ""), "--json")
    found = json.loads(done.stdout)["harmonics"][-1]
    assert (done.returncode, found["verdict"], found["level_dbm"]) == (4, "not_shown", None)
    assert found["limit_dbm"] is not None
    assert run(PASSES.replace("730,0;-92\n", ""), "--up-to", "4").returncode == 0


def test_without_a_figure_limits_are_null_and_verdicts_outside(run):
    done = run("MHz,dBm\n446,-3\n892,-70\n1338,-80\n1784,-80\n2230,-80\n", "--json", carrier="446 MHz")
    found = json.loads(done.stdout)
    assert (done.returncode, found["verdict"]) == (4, "outside")
    assert {(h["limit_dbm"], h["verdict"]) for h in found["harmonics"]} == {(None, "outside")}


def test_the_other_rule_set_another_power_and_an_offset_at_a_harmonic(run):
    itu = json.loads(run(FAILS, "--rules", "itu-amateur-a", "--json").stdout)
    assert itu["harmonics"][0]["limit_dbm"] == pytest.approx(-13.0)
    low = json.loads(run(FAILS, "--power", "0.2", "--json").stdout)
    assert low["harmonics"][0]["limit_dbm"] == pytest.approx(-16.99, abs=0.01)
    more = json.loads(run(FAILS, "--offset-at", "292MHz=43", "--json").stdout)
    assert more["harmonics"][0]["level_dbm"] == pytest.approx(14.89)
    assert more["harmonics"][1]["level_dbm"] == pytest.approx(-13.5)


def test_a_rule_set_from_a_file_and_a_figure(run, tmp_path):
    rules = tmp_path / "own.json"
    section = {"name": "all", "low_hz": 0, "high_hz": 1e12, "terms": [{"kind": "absolute", "figure": 1e-3}]}
    rules.write_text(json.dumps({"id": "own", "title": "Own", "sections": [section]}))
    out = tmp_path / "out.svg"
    done = run(FAILS, "--rules", rules, "--json", "--svg", out)
    assert json.loads(done.stdout)["harmonics"][0]["limit_dbm"] == pytest.approx(0.0)
    assert "carrier" in out.read_text()


@pytest.mark.parametrize(
    ("text", "arguments", "words"),
    [
        (FAILS.replace("-28.11", "loud"), (), "line 3, column 5"),
        (FAILS, ("--rules", "moon-law"), 'no rule set "moon-law"'),
        (FAILS, ("--up-to", "1"), "--up-to 1"),
        (FAILS, ("--power", "-1"), "above 0 W"),
        (FAILS, ("--offset-at", "292MHz"), "write it like"),
        (FAILS.replace("146,-3.3\n", ""), (), "no fundamental"),
        (FAILS.replace("292", "146"), (), "a second time"),
        ("a,b,c\n1,2,3\n", (), "headings that name a frequency and a level"),
    ],
)
def test_bad_input_is_named_and_nothing_is_printed(run, text, arguments, words):
    done = run(text, *arguments)
    assert (done.returncode, done.stdout) == (2, "")
    assert words in done.stderr


def test_every_shipped_rule_set_names_its_source_and_day():
    for rules in shipped_rule_sets().values():
        assert rules.source
        assert rules.read_on
        assert "(memory)" in rules.source
