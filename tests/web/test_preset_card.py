"""The preset card of a tuner: on the page, on paper, as CSV."""

import csv
import io

import pytest

TABLE = """Frequency MHz;Load;Outcome;SWR after;Dials
7.05;inverted L;matched;1.3;coil 7, antenna 3.5
7.05;inverted L;gave up;;coil 2, antenna 1
14.1;loop;matched;1.1;coil 4, antenna 5"""


@pytest.fixture
def card(signed_in):
    at = signed_in.post("/evaluations", data={"product": "Tuner"}).location
    assert signed_in.post(f"{at}/tuner/trials", data={"table": TABLE}).status_code == 200
    return f"{at}/tuner/card"


def test_each_antenna_has_its_own_lines_of_what_matched(signed_in, card):
    text = signed_in.get(f"{card}/card.csv").text
    lines = list(csv.DictReader(io.StringIO(text), delimiter=";"))
    found = [(x["Antenna"], x["MHz"], x["coil"], x["antenna"], x["SWR"]) for x in lines]
    assert found == [("inverted L", "7.050", "7", "3.5", "1.3"), ("loop", "14.100", "4", "5", "1.1")]


@pytest.mark.parametrize("size", ["a6", "a5", "labels"])
def test_it_prints_in_the_sizes_of_the_settings_card(signed_in, card, size):
    answer = signed_in.get(f"{card}/card.pdf?size={size}")
    assert answer.data.startswith(b"%PDF") and size in answer.headers["Content-Disposition"]


@pytest.mark.parametrize("address", ["{card}/card.pdf?size=a0", "{card}?sample=none", "{other}/tuner/card/card.pdf"])
def test_what_is_not_there_is_not_printed(signed_in, card, address):
    other = signed_in.post("/evaluations", data={"product": "Another"}).location
    assert signed_in.get(address.format(card=card, other=other)).status_code == 404


def test_a_card_of_nothing_says_what_becomes_a_line(signed_in):
    other = signed_in.post("/evaluations", data={"product": "Another"}).location
    assert "No preset yet" in signed_in.get(f"{other}/tuner/card").text
