"""Duty, heat, and levels with and without."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.heat.duty import average_w, duty_of, duty_of_times, parse_duty
from levelmoor.core.heat.heating import LONGEST_TAU_S, fit_heating, stop_words
from levelmoor.core.heat.ratings import too_weak
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Equipment, Load, Pad
from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import FieldLevel, HeatRun, LevelKind
from levelmoor.core.readings.field_levels import changes, summary


def run(power=100.0, rise=40.0, tau=600.0, last=1800, duty=1.0, limit=90.0, noise=0.3, begin=20.0):
    t = np.arange(0, last + 1, 60)
    random = np.random.default_rng(11)
    c = begin + rise * -np.expm1(-t / tau) + noise * random.standard_normal(t.size)
    return HeatRun("r", "s", "u", power, tuple(zip(t.tolist(), c.tolist(), strict=True)), duty, limit_c=limit)


@pytest.mark.parametrize(("tau", "rise", "last"), [(600, 40, 1800), (1500, 55, 2400), (200, 20, 900)])
def test_the_time_constant_and_the_hour_are_found_again(tau, rise, last):
    found = fit_heating(run(rise=rise, tau=tau, last=last))
    assert found.tau_s == pytest.approx(tau, rel=0.12)
    assert abs(found.hour_c - (20 + rise * -np.expm1(-3600 / tau))) < 2 * found.u_hour_c


def test_the_interval_of_the_hour_holds_as_often_as_it_says():
    """Of 60 runs with the thermometer's own scatter at least 9 of 10 hold the truth within twice its u."""
    held = 0
    for seed in range(60):
        random = np.random.default_rng(seed)
        t = np.arange(0, 1201, 30)
        c = 20 + 45 * -np.expm1(-t / 800) + random.standard_normal(t.size)
        found = fit_heating(HeatRun("r", "s", "u", 100, tuple(zip(t.tolist(), c.tolist(), strict=True))))
        held += abs(found.hour_c - (20 + 45 * -np.expm1(-3600 / 800))) < 2 * found.u_hour_c
    assert held >= 54


@pytest.mark.parametrize(
    "given", [run(last=9e5), run(begin=260.0), run(begin=-80.0), run(rise=3000.0)], ids=["days", "hot", "cold", "steep"]
)
def test_what_lies_beyond_any_run_is_fitted_within_bounds(given):
    assert fit_heating(given).tau_s <= LONGEST_TAU_S


@pytest.mark.parametrize("given", [run(last=120), run(rise=0.5)], ids=["too few", "nothing warms"])
def test_too_little_tells_no_end(given):
    assert fit_heating(given) is None


CONTINUOUS = Claim("c", Quantity.POWER, (), 100.0, mode="continuous")
VOICE = Claim("c", Quantity.POWER, (), 250.0, mode="voice")


@pytest.mark.parametrize(
    ("claim", "given", "expected"),
    [
        (CONTINUOUS, [run()], Verdict.PASS),
        (CONTINUOUS, [run(rise=90)], Verdict.FAIL),
        (CONTINUOUS, [run(power=50)], Verdict.NOT_SHOWN),
        (CONTINUOUS, [run(power=150, rise=90)], Verdict.NOT_SHOWN),
        (CONTINUOUS, [run(power=50, rise=90)], Verdict.FAIL),
        (CONTINUOUS, [run(limit=None)], Verdict.NOT_SHOWN),
        (CONTINUOUS, [run(tau=4000, last=600)], Verdict.NOT_SHOWN),
        (CONTINUOUS, [], Verdict.OUTSIDE),
        (VOICE, [run(power=100, duty=0.5)], Verdict.PASS),
        (VOICE, [run(power=100, duty=0.4)], Verdict.NOT_SHOWN),
        (Claim("c", Quantity.POWER, (), 100.0), [run()], Verdict.NOT_SHOWN),
        (CONTINUOUS, [run(), run(rise=90)], Verdict.FAIL),
        (CONTINUOUS, [run(rise=70.2, noise=0.0)], Verdict.TOO_CLOSE),
    ],
)
def test_power_handling_by_the_temperature_after_an_hour(claim, given, expected):
    case = Evaluation(
        "case", Product("balun"), samples=(Sample("s", "Unit"),), setups=(Setup("u", "as supplied"),), claims=(claim,),
        heats=tuple(replace(r, id=str(n)) for n, r in enumerate(given)),
    )  # fmt: skip
    (found,) = judge(case).claims
    assert found.verdict is expected, found.reason


@pytest.mark.parametrize(
    ("mode", "duty"), [("voice", 0.2), ("SSB/CW", 0.4), ("FM", 1.0), ("continuous", 1.0), ("psk", None)]
)
def test_usual_duty_of_a_mode(mode, duty):
    assert duty_of(mode) == duty


def test_duty_of_on_and_off_times():
    assert average_w(100.0, duty_of_times(15, 45)) == 25.0
    with pytest.raises(ValueError, match="must be above 0 s"):
        duty_of_times(0, 5)


@pytest.mark.parametrize(
    ("given", "said"),
    [(run(), "It can go on"), (run(rise=90), "Stop before 15 min"), (run(limit=None), "Enter the maximum temperature"),
     (run(last=120), "Go on, and stop at"), (run(last=120, begin=95), "is exceeded")],
)  # fmt: skip
def test_when_to_stop(given, said):
    assert said in stop_words(given, fit_heating(given))


# -- Levels ------------------------------------------------------------------------------------------------------------


def level(setup, values, kind=LevelKind.NOISE, unit="S"):
    return FieldLevel(setup, kind, "s", setup, 7.1e6, tuple(values), unit)


@pytest.mark.parametrize(
    ("unit", "kind", "first", "second", "db"),
    [
        ("S", LevelKind.NOISE, (7, 7, 7, 7, 7.5), (5, 5, 5, 5.5, 5), -12.0),
        ("dBm", LevelKind.NOISE, (-100, -101, -99, -100, -102), (-106, -105, -107, -106, -106), -6.0),
        ("mA", LevelKind.CURRENT, (30, 31, 29, 30, 30), (3, 3.1, 2.9, 3, 3), -20.0),
    ],
)
def test_a_change_in_db_that_ranks_tell_from_scatter(unit, kind, first, second, db):
    """An S unit is 6 dB; a tenth of the current is 20 dB less."""
    (change,) = changes([level("without", first, kind, unit), level("with", second, kind, unit)], kind, {"without"})
    assert change.db == pytest.approx(db, abs=0.3)
    assert change.real is True


@pytest.mark.parametrize(("second", "real"), [((7, 6.5, 7.5, 7, 7), False), ((5, 5), None)])
def test_what_scatter_explains_or_too_few_tell_nothing(second, real):
    (change,) = changes([level("a", (7, 7, 6.5, 7.5, 7)), level("b", second)], LevelKind.NOISE, {"a"})
    assert change.real is real


def test_median_and_quartiles():
    assert summary(level("a", (5, 6, 7, 8, 9))).words == "S7.0 (S6.0 to S8.0)"


def test_pieces_rated_for_less_than_the_average_are_named_the_weakest_first():
    owned = Equipment(
        loads=(Load("l", "cage load", power_w=30.0), Load("m", "unrated")), pads=(Pad("p", "forty", 40, 25),)
    )
    assert too_weak(owned, 40.0).endswith("keep them out of the path: forty (25 W), cage load (30 W).")
    assert too_weak(owned, 25.0) == ""


@pytest.mark.parametrize(
    ("typed", "mode", "duty"),
    [
        ("", "voice", 0.2), ("", "", 1.0), ("40 %", "", 0.4), ("2,5", "FM", 0.025), ("15 on 45 off", "", 0.25),
        ("15 seconds on, 45 seconds off", "", 0.25), ("15s on/45s off", "", 0.25),
        ("5 min on, 10 min off", "", 1 / 3), ("5 min on 10 off", "", 1 / 3), ("30 s on 1 min off", "", 1 / 3),
        ("key down", "voice", 1.0), ("FT8", "voice", 0.5), ("0.5 %", "", 0.005), ("50 per cent", "", 0.5),
    ],
)  # fmt: skip
def test_a_duty_as_it_is_typed(typed, mode, duty):
    assert parse_duty(typed, mode) == pytest.approx(duty)


@pytest.mark.parametrize(("typed", "said"), [("0.5", "write 0.5 %, or 50 %"), ("1", "write 1 %, or 100 %")])
def test_a_share_or_per_cent_is_asked_about(typed, said):
    with pytest.raises(ValueError, match=said):
        parse_duty(typed)


@pytest.mark.parametrize("typed", ["45 off 15 on", "120", "0 %", "on off", "nan", "15 on"])
def test_what_is_no_duty_is_said(typed):
    with pytest.raises(ValueError, match="15 on 45 off"):
        parse_duty(typed)
