"""What the cells take and what they say of what they do not take."""

from datetime import date
from types import SimpleNamespace

import pytest

from levelmoor.records import tables as t
from levelmoor.web.cell_values import CellProblem, number, profile_cell
from levelmoor.web.cells import CELLS, set_cell, understood

EVALUATION = t.Evaluation(region=1, samples=[], setups=[])


@pytest.mark.parametrize(
    ("typed", "value"), [("1.5", 1.5), ("1,5", 1.5), ("< 1.5", 1.5), ("2:1", 2.0), (" 1.35:1 ", 1.35), ("≤2", 2.0)]
)
def test_limits_as_people_write_them(typed, value):
    assert number(typed, "an SWR", 1, 100) == value


@pytest.mark.parametrize("typed", ["", "two", "1.5.2", "nan", "inf", "1e9", "0.5"])
def test_what_is_no_limit(typed):
    with pytest.raises(CellProblem, match="an SWR"):
        number(typed, "an SWR", 1, 100)


@pytest.mark.parametrize(
    ("kind", "name", "typed", "value"),
    [
        ("claim", "seen_on", "2026-05-31", date(2026, 5, 31)),
        ("claim", "seen_on", "", None),
        ("claim", "limit", "", None),
        ("claim", "quantity", "gain", "gain"),
        ("claim", "tuner", "with", "with"),
        ("setup", "tuner_in_line", "yes", True),
        ("setup", "plane", "shack", "shack"),
        ("sample", "obtained", "won", "won"),
        ("sample", "label", "  Unit \t A ", "Unit A"),
        ("sweep", "taken_on", "2026-05-31 14:20", "2026-05-31T14:20"),
        ("sample", "connector", "so239", "UHF female"),
        ("claim", "duty", "25", 0.25),
        ("evaluation", "region", "3", 3),
        ("evaluation", "rule", "simple", "simple"),
    ],
)
def test_understood(kind, name, typed, value):
    assert CELLS[kind][name](typed, EVALUATION) == value


@pytest.mark.parametrize(
    ("kind", "name", "typed", "words"),
    [
        ("claim", "seen_on", "31.5.2026", "write it like 2026-05-31"),
        ("claim", "quantity", "luck", "is not one of"),
        ("claim", "z0_ohm", "0", "nominal impedance"),
        ("setup", "tuner_in_line", "perhaps", "Choose yes or no"),
        ("sample", "label", " ", "needs a name"),
        ("product", "name", "x" * 201, "At most 200"),
        ("sample", "connector", "BNC", "does not say its gender"),
        ("sweep", "taken_on", "noon", "not a day or time"),
        ("evaluation", "region", "4", "choose 1, 2 or 3"),
        ("hand", "sample_id", "7", "no such sample"),
        ("sweep", "setup_id", "7", "no such setup"),
    ],
)
def test_refused_with_what_would_be_right(kind, name, typed, words):
    with pytest.raises(CellProblem, match=words):
        CELLS[kind][name](typed, EVALUATION)


def test_profile_of_ones_own_has_a_limit():
    assert profile_cell("strict", "") == ("strict", 1.5)
    assert profile_cell("own", "2,5") == ("own", 2.5)
    with pytest.raises(CellProblem, match="above 1"):
        profile_cell("own", "1")
    with pytest.raises(CellProblem, match="not a profile"):
        profile_cell("best", "")


def claim(**values):
    return t.Claim(
        **{
            "id": 1,
            "quantity": "swr",
            "windows": [],
            "limit": 2.0,
            "z0_ohm": 50.0,
            "tuner": "without",
            "condition": "",
            "source": "",
            **values,
        }
    )


def test_cell_is_checked_with_the_rest_of_its_row():
    with pytest.raises(CellProblem, match="An SWR limit must be above 1"):
        set_cell("claim", claim(), "limit", "0.9", EVALUATION)
    with pytest.raises(CellProblem, match="An SWR limit must be above 1"):
        set_cell("claim", claim(quantity="gain", limit=-2.0), "quantity", "swr", EVALUATION)


def test_windows_are_said_as_they_were_understood():
    row = claim()
    set_cell("claim", row, "windows", "2m, 7 to 7.1", EVALUATION)
    assert understood("claim", "windows", row) == "2m 144–146 MHz; 7.000–7.100 MHz 7–7.1 MHz"
    assert understood("claim", "limit", row) == ""


def test_unknown_cell_is_an_error_of_ours():
    with pytest.raises(KeyError):
        set_cell("claim", SimpleNamespace(), "password_hash", "x", EVALUATION)
