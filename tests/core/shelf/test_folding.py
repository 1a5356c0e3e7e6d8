"""Words as a search compares them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.shelf.folding import folded, key_of, search_words


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Über-Whip 2/70", "uber whip 2 70"),
        ("  FELL–Side  ", "fell side"),
        ("Crème brûlée", "creme brulee"),
        ("Straße Øre", "strasse ore"),
        ("…", ""),
    ],
)
def test_accents_case_and_hyphens_do_not_matter(text, expected):
    assert folded(text) == expected


@given(st.text())
def test_folding_twice_is_folding_once(text):
    assert folded(folded(text)) == folded(text)


def test_a_word_with_a_hyphen_is_found_in_one_piece_and_in_parts():
    assert search_words(["Roll-away 2/70"]) == ["roll", "away", "rollaway", "2", "70", "270"]


def test_names_that_are_written_otherwise_have_one_key():
    assert key_of("Thornmere", "Roll-Away 2/70") == key_of("THORNMERE", "roll away 2-70") == "thornmere-roll-away-2-70"
