"""How the court puts windows together, whose records it hears, and how far two figures are apart."""

from dataclasses import replace
from types import SimpleNamespace

import pytest

from levelmoor.core.evidence.findings import WindowEvidence
from levelmoor.core.evidence.kinds import Figure, uncertainties_apart
from levelmoor.core.evidence.ruling import NAMED_WINDOWS, over_windows
from levelmoor.core.metrology.decision import Verdict, format_probability
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.rf.windows import Window
from tests.core.evidence.cases import EIGHTY, TEN, UNIT, case, heat, judge

NAMES = ("80m", "40m", "20m", "15m", "10m")


def windows(*verdicts):
    pairs = zip(NAMES, verdicts, strict=False)
    return [WindowEvidence(None, Window(i + 1.0, i + 2.0, n), "e", v, f"Found {n}.") for i, (n, v) in enumerate(pairs)]


PASS, FAIL, NOT_SHOWN = Verdict.PASS, Verdict.FAIL, Verdict.NOT_SHOWN


def test_every_window_that_fails_is_named():
    verdict, reason = over_windows(windows(*[FAIL] * 5))
    assert verdict is FAIL and all(f"Found {n}." in reason for n in NAMES) and "more" not in reason


def test_of_many_windows_that_show_nothing_the_first_are_named_and_the_rest_counted():
    verdict, reason = over_windows(windows(*[NOT_SHOWN] * 5))
    assert verdict is NOT_SHOWN and [f"Found {n}." in reason for n in NAMES] == [True] * NAMED_WINDOWS + [False] * 2
    assert "2 more" in reason


def test_the_worst_window_stands_with_its_own_reason_alone():
    verdict, reason = over_windows(windows(PASS, FAIL, NOT_SHOWN))
    assert verdict is FAIL and "Found 40m." in reason and "80m" not in reason and "20m" not in reason


def test_windows_that_pass_are_all_named_and_one_tells_its_figure():
    verdict, reason = over_windows(windows(PASS, PASS))
    assert verdict is PASS and "80m, 40m" in reason and "Found 80m." in reason and "Found 40m." not in reason


def test_one_window_says_its_reason_as_it_is():
    assert over_windows(windows(PASS)) == (PASS, "Found 80m.")


@pytest.mark.parametrize(
    ("one", "other", "apart"),
    [((2.0, 0.0), (2.0, 0.0), 0.0), ((2.0, 0.0), (2.1, 0.0), float("inf")), ((2.0, 0.03), (2.3, 0.04), 3.0)],
)
def test_two_figures_are_apart_by_their_combined_expanded_uncertainty(one, other, apart):
    kind = object()
    both = [SimpleNamespace(kind=kind, figure=Figure(v, u, 0.0, "")) for v, u in (one, other)]
    assert uncertainties_apart(*both) == pytest.approx(apart)


@pytest.mark.parametrize(
    ("probability", "words"),
    [(None, "–"), (0.5, "50.0 %"), (0.001, "0.1 %"), (0.999, "99.9 %"), (0.0002, "< 0.1 %"), (0.9999, "> 99.9 %")],
)
def test_probabilities_in_words(probability, words):
    assert format_probability(probability) == words


POWER = Claim("c", Quantity.POWER, (EIGHTY,), 100.0, mode="continuous")


@pytest.mark.parametrize("order", [1, -1])
def test_records_of_one_sample_say_nothing_of_another(order):
    runs = (heat("a", 3.6, 50.0), replace(heat("b", 3.6, 90.0), sample_id="t"))[::order]
    found = judge(case(claims=(POWER,), samples=(UNIT, Sample("t", "Second unit")), heats=runs)).claims
    assert {f.sample_id: f.verdict for f in found} == {"s": PASS, "t": FAIL}


def test_a_record_that_was_set_aside_is_not_heard():
    runs = (heat("a", 3.6, 50.0), heat("b", 3.6, 90.0, set_aside="The probe had come off."))
    (found,) = judge(case(claims=(POWER,), heats=runs)).claims
    assert found.verdict is PASS


def test_an_antennas_run_with_an_added_part_is_no_evidence_of_the_antenna():
    """An accessory's own setups are as supplied; those of an antenna are what they are said to be."""
    setups = (Setup("plain", "Plain"), Setup("with", "With a fan", role=Role.ADDED))
    runs = (heat("a", 3.6, 50.0, setup_id="with"),)
    (found,) = judge(case(claims=(POWER,), setups=setups, heats=runs)).claims
    assert found.verdict is NOT_SHOWN
    choke = Claim("d", Quantity.CHOKING, (TEN,), 1000.0)
    found = judge(case(claims=(POWER, choke), setups=setups, heats=runs)).claims
    assert found[0].verdict is PASS
