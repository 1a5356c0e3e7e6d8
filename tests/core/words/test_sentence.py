import pytest

from levelmoor.core.words.sentence import sentence


@pytest.mark.parametrize(
    ("said", "whole"),
    [
        ("it is bad", "It is bad."),
        ("It is bad.", "It is bad."),
        ("is it?", "Is it?"),
        ("", ""),
        (ValueError("no"), "No."),
    ],
)
def test_what_is_said_becomes_a_sentence_once(said, whole):
    assert sentence(said) == whole
