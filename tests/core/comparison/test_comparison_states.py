"""Comparisons by state, what two sweeps have in common, and how often an answer errs."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.comparison.comparison import DRIFT, compare, in_common, letter_of, pairs_of, sides_of
from levelmoor.core.comparison.comparison_model import Base, Question
from levelmoor.core.comparison.features import BEST_HZ
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.agreement import agreement
from levelmoor.core.metrology.repeats import repeats_needed
from levelmoor.core.metrology.significance import MEANING_WORDS, Estimate, Meaning, differ
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.bench_records import BenchCheck, CalibrationRecord, CheckKind
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Plane, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from tests.core.comparison.test_comparison import ANALYZER, FORTY, ask, case, dipole, evidence
from tests.sweeps import rlc_sweep

TWENTY = Window(14e6, 14.35e6, "20m")
STATED = Residuals(40, 0.01, 35)


def read_by(true, random, figures=STATED):
    """What an instrument reads that is exactly as bad as stated: each residual of its full size, at a phase of its own
    that turns along the sweep as a short lead makes it turn.
    """
    g, place = true.gamma, np.linspace(0, 1, true.points)

    def residual(size):
        return size * np.exp(2j * np.pi * (random.random() + random.uniform(-1, 1) * place))

    d, m = (residual(10 ** (-db / 20)) for db in (figures.directivity_db, figures.source_match_db))
    return replace(true, gamma=g + d + residual(figures.tracking) * g + m * g**2)


def calibrated(*sweeps, record="cal", **more):
    found = case(*sweeps, **more)
    made = CalibrationRecord(record, "analyzer", 6e6, 8e6, "2026-09-01T09:00")
    return replace(found, calibrations=(made,))


# -- States ----------------------------------------------------------------------------------------------------------


def test_all_bands_of_a_setup_are_one_side():
    def bands(setup):
        return (
            evidence(f"{setup}-40", dipole(), setup),
            evidence(f"{setup}-20", rlc_sweep(13.5e6, 14.9e6, 441, f0=14.2e6), setup),
        )

    found = ask(case(*bands("plain"), *bands("choke")), windows=(FORTY, TWENTY))
    assert [[e.id for e in s.evidence] for s in found.sides] == [["plain-40", "plain-20"], ["choke-40", "choke-20"]]
    assert [w.window.name for w in found.windows] == ["40m", "20m"]
    assert all(w.differences[0] for w in found.windows)


def test_rounds_of_a_setting_are_sides_of_their_own():
    sweeps = [replace(evidence(f"r{n}", dipole(7.1e6 + 2e4 * n)), round=n) for n in (1, 2, 3)]
    assert [len(s) for s in sides_of(case(*sweeps), ["r1", "r2", "r3"])] == [1, 1, 1]


@pytest.mark.parametrize(
    ("base", "pairs"),
    [
        (Base.FIRST, ((0, 1), (0, 2))),
        (Base.PREVIOUS, ((0, 1), (1, 2))),
        (Base.EACH, ((0, 1), (0, 2), (1, 2))),
    ],
)
def test_sides_are_held_against_the_first_the_one_before_or_each_other(base, pairs):
    sweeps = [replace(evidence(f"r{n}", dipole(7.1e6 + 2e4 * n)), round=n) for n in (1, 2, 3)]
    found = ask(case(*sweeps), base=base)
    assert found.windows[0].pairs == pairs == pairs_of(3, base)
    shifts = [round(d[BEST_HZ].value, -4) for d in found.windows[0].differences]
    assert shifts == [2e4 * (b - a) for a, b in pairs]


def test_a_dozen_sides_are_compared_and_named():
    sweeps = [replace(evidence(f"r{n}", dipole(7.1e6 + 1e4 * n)), round=n) for n in range(1, 13)]
    found = ask(case(*sweeps))
    assert [s.letter for s in found.sides] == [letter_of(i) for i in range(12)]
    assert len(found.windows[0].differences) == 11


def test_what_was_added_is_judged_by_itself_and_does_not_count_for_units():
    hat = Setup("hat", "With hat", role=Role.ADDED)
    asked = case(evidence("a", dipole(r=140)), evidence("b", dipole(), setup="hat"))
    asked = replace(asked, setups=(*asked.setups, hat))
    claim = Claim("c", Quantity.SWR, (FORTY,), 2.0)
    found = compare(asked, sides_of(asked, ["a", "b"]), Question.SETUPS, (FORTY,), 2.0, claim)
    assert "Against the limit of 2: A Fail, B Pass by itself." in found.windows[0].sentences
    of_units = compare(asked, sides_of(asked, ["b"]), Question.UNITS, (FORTY,), 2.0, claim)
    assert of_units.units.of == 0


# -- What cancels ----------------------------------------------------------------------------------------------------


def pair(minutes=5, shift=9e3, same=True):
    """Two setups swept so far apart, with one calibration or with two; three repeats each."""
    sweeps = []
    for setup, start, f0 in (("plain", 0, 7.15e6), ("choke", minutes, 7.15e6 + shift)):
        for n in range(3):
            at = f"2026-09-01T{10 + (start + n) // 60:02d}:{(start + n) % 60:02d}"
            one = evidence(f"{setup}{n}", dipole(f0 + 100 * n), setup, at=at)
            sweeps.append(replace(one, calibration_id="cal" if same or setup == "plain" else "other"))
    found = calibrated(*sweeps)
    both = (*found.calibrations, replace(found.calibrations[0], id="other"))
    return found if same else replace(found, calibrations=both)


def test_with_one_calibration_minutes_apart_a_small_shift_means_something():
    same, different = (ask(pair(same=s)).windows[0].differences[0][BEST_HZ] for s in (True, False))
    assert (same.meaning, different.meaning) == (Meaning.MOUNTING, Meaning.ERROR)
    assert same.expanded < different.expanded / 2


@pytest.mark.parametrize(("minutes", "share"), [(10, DRIFT), (130, 1.0)])
def test_the_systematic_part_cancels_only_within_the_hour(minutes, share):
    found = pair(minutes)
    window = ask(found).windows[0]
    assert in_common(Dossier(found), *window.sides) == share


def test_the_drift_seen_on_a_load_that_was_read_again_is_what_does_not_cancel():
    found = pair()
    size = 10 ** (-ANALYZER.directivity_db / 20)

    def load(ident, gamma):
        seen = Sweep(np.linspace(6e6, 8e6, 101), np.full(101, gamma, dtype=complex), 50.0)
        return BenchCheck(ident, CheckKind.LOAD, "2026-09-01T09:30", "analyzer", calibration_id="cal", sweep=seen)

    checks = (load("first", 0.001), load("again", 0.001 + 0.5 * size))
    found = replace(found, checks=checks)
    assert in_common(Dossier(found), *ask(found).windows[0].sides) == pytest.approx(0.5)


# -- How often an answer errs ----------------------------------------------------------------------------------------


def test_identical_articles_are_seldom_called_a_real_change():
    """At most one answer in twenty, all its figures counted together; each side calibrated by itself."""
    random = np.random.default_rng(12)
    trials, erred = 20, 0
    for _ in range(trials):
        sweeps = []
        for sample in ("one", "two"):
            offset = 1 + 2e-4 * random.standard_normal(4)
            made = [read_by(dipole(7.15e6 * float(o)), np.random.default_rng(random.integers(2**32))) for o in offset]
            sweeps += [evidence(f"{sample}{i}", s, sample=sample) for i, s in enumerate(made)]
        found = ask(replace(case(*sweeps), instruments=(replace(case().instruments[0], figures=STATED),)))
        erred += any(d.meaning is Meaning.REAL for w in found.windows for x in w.differences for d in x.values())
    assert erred <= 0.05 * trials


def test_two_instruments_exactly_as_bad_as_stated_agree():
    random = np.random.default_rng(3)
    trials = 400
    denied = sum(
        not agreement(read_by(t, random), STATED, read_by(t, random), STATED, FORTY).agree
        for t in (
            dipole(q=q, r=r)
            for q, r in zip(random.uniform(8, 40, trials), random.uniform(30, 150, trials), strict=True)
        )
    )
    assert denied <= 0.05 * trials


def test_an_uncertainty_that_is_not_known_is_not_called_measurement_error():
    found = differ(Estimate(1.0, float("inf")), Estimate(1.5, 0.01))
    assert MEANING_WORDS[found.meaning] == "not known"


def test_repeats_count_what_no_repeat_reduces():
    alone, with_instrument = repeats_needed(6e3, 3e3), repeats_needed(6e3, 3e3, u_instrument_hz=1.5e3)
    assert with_instrument > alone
    assert repeats_needed(6e3, 0.0, u_instrument_hz=3e3) is None


# -- Planes ----------------------------------------------------------------------------------------------------------


def test_a_meter_at_the_end_of_a_line_that_was_not_swept_is_not_compared():
    shack = Setup("shack", "Hut", plane=Plane.SHACK)
    true = dipole()
    meter = Sweep(true.frequency_hz, true.magnitude.astype(complex), 50.0, True)
    asked = case(evidence("a", true), evidence("r", meter, setup="shack", instrument="radio"))
    asked = replace(asked, setups=(*asked.setups, shack))
    found = compare(asked, sides_of(asked, ["a", "r"]), Question.INSTRUMENTS, (FORTY,), 2.0)
    (said,) = found.windows[0].agreements
    assert "not comparable" in said and "sweep it with its far end open or shorted" in said
