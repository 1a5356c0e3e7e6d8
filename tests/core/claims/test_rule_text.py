"""Emission rules as they are written, and read back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.claims.rule_text import parse_power, parse_terms, power_text, terms_text
from levelmoor.core.model.rule_sets import shipped_rule_sets


@pytest.mark.parametrize(
    ("text", "watts"),
    [("25 µW", 25e-6), ("25 uW", 25e-6), ("0,1 mW", 1e-4), ("5", 5.0), ("1.5 kW", 1500.0), ("-16.0206 dBm", 25e-6),
     ("−20 dBm", 1e-5)],
)  # fmt: skip
def test_powers_as_people_write_them(text, watts):
    assert parse_power(text) == pytest.approx(watts, rel=1e-5)


@pytest.mark.parametrize("text", ["", "much", "-5 W", "0 W", "5 V", "25 µ"])
def test_what_is_no_power_is_named(text):
    with pytest.raises(ValueError, match=f'"{text}" is'):
        parse_power(text)


@pytest.mark.parametrize(
    ("text", "kinds", "figures"),
    [
        ("25 µW; 40 dB", ["absolute", "below_carrier"], [25e-6, 40]),
        ("60 dB below the mean power of the carrier", ["below_carrier"], [60]),
        ("-43 dBc", ["below_carrier"], [43]),
        ("43 + 10 log10(P in W) dB; 70 dBc", ["attenuation", "below_carrier"], [43, 70]),
        ("-13 dBm;", ["absolute"], [5.0119e-5]),
    ],
)
def test_terms_as_people_write_them(text, kinds, figures):
    terms = parse_terms(text)
    assert [t.kind.value for t in terms] == kinds
    assert [t.figure for t in terms] == pytest.approx(figures, rel=1e-4)


@pytest.mark.parametrize("text", [" ; ", "40 dB; fair", "25 µW and 40 dB"])
def test_what_is_no_term_is_refused(text):
    with pytest.raises(ValueError, match="term"):
        parse_terms(text)


@given(st.floats(1e-12, 1e5))
def test_a_power_is_read_back_as_it_is_written(watts):
    assert parse_power(power_text(watts)) == pytest.approx(watts, rel=1e-9)


def test_the_terms_that_come_along_are_read_back():
    for rules in shipped_rule_sets().values():
        for section in rules.sections:
            back = parse_terms(terms_text(section.terms))
            assert [(t.kind, t.figure) for t in back] == [(t.kind, t.figure) for t in section.terms]
