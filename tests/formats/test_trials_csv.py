"""Trials as CSV and as typed: what goes out comes back, and what is wrong is named with its place."""

from dataclasses import replace
from types import SimpleNamespace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.matching.solutions import generic_network
from levelmoor.core.model.networks import Knob, NetworkKind, Part
from levelmoor.core.model.trials import DialPosition, Outcome, Trial
from levelmoor.formats.knob_table import KnobProblem, knob_from, read_seen, table_text
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.trials_csv import Names, TypedProblem, read_trials, trial_from, write_trials
from tests.sweeps import flat

WORDS = st.text("abc äö19, -", min_size=1, max_size=12).map(lambda s: " ".join(s.split())).filter(bool)
TRIALS = st.builds(
    Trial,
    id=st.just("1"), sample_id=st.just("s"), setup_id=st.just("u"),
    frequency_hz=st.integers(1_800, 440_000).map(lambda khz: khz * 1e3), outcome=st.sampled_from(Outcome),
    load=st.sampled_from(["", "50 Ω", "25 − j100 Ω", "open", "SWR 3", "Inverted L"]),
    power_w=st.sampled_from([None, 5.0, 10.0, 2.5]), memory=st.booleans(),
    swr_before=st.sampled_from([None, 1.5, 12.0]), swr_after=st.sampled_from([None, 1.1, 2.5]), swr_step=st.just(0.1),
    seconds=st.sampled_from([None, 0.4, 12.0]), note=st.sampled_from(["", "hunts, clicks on; arced", "he said \"no\""]),
    dials=st.lists(st.builds(DialPosition, WORDS, WORDS), max_size=3).map(tuple),
    taken_on=st.sampled_from(["", "2026-10-11", "2026-10-11T09:20"]),
)  # fmt: skip


@given(st.lists(TRIALS, min_size=1, max_size=5))
def test_what_goes_out_comes_back(trials):
    back = read_trials("t.csv", write_trials(trials).encode(), sample_id="s", setup_id="u")
    assert [replace(t, id="1", swr_step=0.1) for t in back] == trials


@pytest.mark.parametrize(
    "text",
    [
        "Frequency MHz;Load;SWR\n7.1;25 - j100;1.3\n",
        "freq_kHz,antenna,swr out\n7100,25-j100,1.3\n",
        "MHz\tLoad ohm\tAfter\n7,1\t25-j100\t1,3\n",
        "MHz;Load (Ω);SWR;;\n7.1;25-j100;1.3;;\n",
        "Frequency (Hz);R (Ω);X;SWR tuned\n7100000;25;-100;1.3\n",
        "# the pi of the hut\nFreq (MHz),Load,Tune Time (s),SWR After\n7.1,25-j100,0:04,1.3\n",
    ],
    ids=[
        "semicolons",
        "kHz and commas",
        "tabs and decimal commas",
        "empty columns at the end",
        "Hz, R and X",
        "a remark",
    ],
)
def test_tables_as_people_have_them(text):
    (trial,) = read_trials("t.csv", text.encode())
    assert (trial.frequency_hz, trial.swr_after, trial.load) == (7.1e6, 1.3, "25 − j100 Ω")


@pytest.mark.parametrize(
    ("typed", "dials"),
    [
        ("coil 7, antenna 3.5", [("coil", "7"), ("antenna", "3.5")]),
        ("coil 7,5,antenna 3,5", [("coil", "7,5"), ("antenna", "3,5")]),
        ("coil: 7, antenna: mid", [("coil", "7"), ("antenna", "mid")]),
        ("coil: two turns, then the tap", [("coil", "two turns, then the tap")]),
    ],
)
def test_dials_with_commas_between(typed, dials):
    (trial,) = read_trials("t.csv", f"Frequency MHz;Load;Outcome;Dials\n7.1;50;matched;{typed}".encode())
    assert [(d.knob, d.at) for d in trial.dials] == dials


def test_a_knob_may_have_a_column_of_its_own():
    text = "MHz;Dial coil;Dials;knob Antenna\n7.1;7;input 3;2 turns\n14.2;4;;\n"
    first, second = read_trials("t.csv", text.encode())
    assert [(d.knob, d.at) for d in first.dials] == [("input", "3"), ("coil", "7"), ("Antenna", "2 turns")]
    assert [(d.knob, d.at) for d in second.dials] == [("coil", "4")]


@pytest.mark.parametrize(("typed", "seconds"), [("0:04", 4), ("1:05.5", 65.5), ("2,5 s", 2.5), ("2 sec", 2)])
def test_seconds_as_people_write_them(typed, seconds):
    assert trial_from({"frequency": "7.1", "seconds": typed}).seconds == seconds


def test_a_remark_in_quotes_may_run_over_lines():
    first, second = read_trials("t.csv", b'Frequency;Note;SWR after\n7.1;"hunts\nat first";1.2\n14.1;;1.3\n')
    assert (first.note.split(), first.swr_after, second.swr_after) == (["hunts", "at", "first"], 1.2, 1.3)


def test_dials_in_the_last_column_may_go_on_over_cells():
    (trial,) = read_trials("t.csv", b"Frequency;Dials\n7.1;coil 7; antenna 3.5\n")
    assert trial.dials == (DialPosition("coil", "7"), DialPosition("antenna", "3.5"))


@pytest.mark.parametrize(
    ("text", "place", "said"),
    [
        ("Frequency;Load\n7.1;50\nseven;50\n", "line 3, column 1", "is not a frequency"),
        ("Frequency;Outcome\n7.1;perhaps\n", "line 2, column 2", "not one of matched, gave up"),
        ("Frequency;SWR\n7.1;0.9\n", "line 2, column 2", "out of range"),
        ("Frequency;Dials\n7.1;coil\n", "line 2, column 2", "has no mark"),
        ("Frequency;Dials\n7.1;coil 7, 5\n", "line 2, column 2", "has no mark"),
        ("Load;SWR\n50;1.2\n", "line 1, column 1", "no frequency among"),
        ("Frequency;Strength\n7.1;10\n", "line 1, column 2", "or leave it out"),
        ("Frequency;Load;R\n7.1;50;25\n", "line 2, column 2", "either Load, or R and X"),
        ("Frequency;R;X\n7.1;25;lots\n", "line 2, column 3", "is not a number; ohm, as in 25"),
        ("Frequency;SWR after;Load;SWR\n7.1;1.2;50;3\n", "line 1, column 4", "each column once"),
        ("Frequency;Load\n", "line 2, column 1", "nothing under the headings"),
        ("Frequency;Dials;Load\n7.1;coil 7; antenna 3.5;50\n", "line 2, column 4", "3 cells, as in the headings"),
        ('Frequency;Load\n7.1;"' + ("5" * 1000 + "\n") * 200, "line 2, column 2", "closed quotes"),
        ("Frequency;Day\n7.1;yesterday\n", "line 2, column 2", "is not a day"),
        ("Frequency;Power\n7.1;lots\n", "line 2, column 2", "not a number"),
    ],
)
def test_what_is_wrong_is_named_with_its_place(text, place, said):
    with pytest.raises(FileProblem) as problem:
        read_trials("t.csv", text.encode())
    assert place in str(problem.value)
    assert said in str(problem.value)


@pytest.mark.parametrize(
    ("typed", "step"), [("1.3", 0.1), ("1.25", 0.01), ("2", 1.0), ("1,3:1", 0.1)], ids=["one", "two", "none", "comma"]
)
def test_the_last_digit_typed_is_kept(typed, step):
    assert trial_from({"frequency": "7.1", "after": typed}).swr_step == pytest.approx(step)


def test_the_field_that_is_wrong_is_named():
    with pytest.raises(TypedProblem) as problem:
        trial_from({"frequency": "7.1", "seconds": "soon"})
    assert problem.value.field == "seconds"


# -- Dials -------------------------------------------------------------------------------------------------------------

KNOB = Knob(Part.COIL, "coil", 0.0, 10.0)


@pytest.mark.parametrize("typed", ["0 1; 5 4; 10 12", "10: 12 µH; 0: 1; 5: 4", "0 1\n5 4\n10 12"])
def test_a_table_of_a_dial_is_read_in_any_order(typed):
    assert table_text(knob_from(KNOB, "table", typed)) == "0 1; 5 4; 10 12"


@pytest.mark.parametrize(
    ("name", "typed", "said"),
    [("table", "0 1; 5", "not a mark with its value"), ("table", "0 1; 5 4; 10 2", "must rise all the way"),
     ("low", "12", "lower mark first"), ("name", "", "knob's name has")],
)  # fmt: skip
def test_what_is_no_knob_is_refused(name, typed, said):
    with pytest.raises(KnobProblem, match=said):
        knob_from(KNOB, name, typed)


def test_a_switch_with_letters_has_its_positions_in_their_order():
    switch = knob_from(Knob(Part.COIL, "tap", 0, 100), "table", "A 1.2; B 3.4; D 8")
    assert (switch.dial, switch.value, switch.labels, switch.steps) == ((1, 2, 3), (1.2, 3.4, 8), ("A", "B", "D"), True)
    assert table_text(switch) == "A 1.2; B 3.4; D 8"
    assert (switch.mark_of("d"), switch.mark_words(2.0)) == (3, "B")
    with pytest.raises(ValueError, match="choose from A, B, D"):
        switch.mark_of("C")
    with pytest.raises(KnobProblem, match="a letter for each"):
        knob_from(switch, "table", "A 1.2; 2 3.4")


SWEEPS = (
    SimpleNamespace(name="tuner-3", sweep=flat(0.2)),
    SimpleNamespace(name="meter", sweep=replace(flat(0.2), scalar=True)),
)


def test_what_tables_are_learnt_from_is_read_line_by_line():
    seen = read_seen(
        "tuner-3; 50; transmitter side 7; coil: 12; antenna side 3,5", generic_network(NetworkKind.PI), SWEEPS
    )
    _, dials, load, gamma = seen[0]
    assert (list(dials.values()), load, abs(gamma)) == ([7, 12, 3.5], 50, pytest.approx(0.2))
    assert len({s[0] for s in seen}) == 7


@pytest.mark.parametrize(
    ("line", "said"),
    [("", "one line for each sweep"), ("other; 50; coil 7", "no sweep 'other'"), ("meter; 50; coil 7", "with R and X"),
     ("tuner-3; wire; coil 7", "not a load with R and X"), ("tuner-3; 50; coil 7", "mark of transmitter side is missing")],
)  # fmt: skip
def test_what_is_missing_to_learn_from_is_named(line, said):
    with pytest.raises(ValueError, match=said):
        read_seen(line, generic_network(NetworkKind.PI), SWEEPS)


NAMED = Names({"Its T": "7"}, {"wire, no tuner": "9"})


def test_a_network_and_an_antennas_sweep_are_named_and_go_out_by_their_names():
    text = "MHz;Load;SWR;Network;Antenna sweep;Remarks\n7.1;wire of 20 m;1.3;its t;wire, no tuner;\n"
    (trial,) = read_trials("t.csv", text.encode(), NAMED)
    assert (trial.network_id, trial.load_sweep_id) == ("7", "9")
    (again,) = read_trials("t.csv", write_trials([trial], NAMED).encode(), NAMED)
    assert replace(again, swr_step=trial.swr_step) == trial


def test_a_network_that_is_not_there_is_named_with_those_that_are():
    with pytest.raises(FileProblem, match="line 2, column 3.*choose from Its T"):
        read_trials("t.csv", b"MHz;SWR;Network\n7.1;1.3;the pi\n", NAMED)


@pytest.mark.parametrize(
    ("before", "after", "outcome", "figures"),
    [
        (">10", "1.4", Outcome.MATCHED, (10, 1.4)),
        ("off scale", "1.4", Outcome.MATCHED, (None, 1.4)),
        ("over 10:1", ">3", Outcome.MATCHED, (10, 3)),
        ("6", "off scale", Outcome.GAVE_UP, (6, None)),
    ],
)
def test_what_a_meter_cannot_show_is_kept_and_said(before, after, outcome, figures):
    (trial,) = read_trials("t.csv", f"MHz;SWR before;SWR after\n7.1;{before};{after}\n".encode())
    assert (trial.outcome, (trial.swr_before, trial.swr_after)) == (outcome, figures)
    assert before in trial.note or after in trial.note


def test_off_the_scale_is_no_match():
    with pytest.raises(FileProblem, match="line 2, column"):
        read_trials("t.csv", b"MHz;SWR after;Outcome\n7.1;off scale;matched\n")
