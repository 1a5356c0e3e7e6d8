"""Whether the guarded verdicts of every kind of evidence keep their promise, and still decide.

    python -m benchmarks.honesty_kinds [--trials 2000]

Each row simulates measurements of a known truth. With the truth at the limit a wrong Pass and a wrong Fail are each to
be at most 2.3 %; with the truth two guard bands away at least 80 % of the verdicts are to be Pass, or Fail, as it is.
"""

import argparse
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture, HeatRun, Through
from levelmoor.core.model.trials import STOPWATCH_U_S, Outcome
from levelmoor.core.model.trials import Trial as Match
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.reflection import gamma_from_impedance, gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window

Random = np.random.Generator
TWENTY, FORTY = Window(14.0e6, 14.35e6, "20m"), Window(7.0e6, 7.2e6, "40m")
DAY, FIGURES = "2026-05-31T11:00", Residuals()
GUARDED = DecisionRule.GUARDED


@dataclass(frozen=True)
class Row:
    """`judged` is what is said of a truth that lies so many guard bands beyond the limit, kinder below zero; `at_most`
    the share of wrong Passes and Fails, in per cent."""

    judged: Callable[[Random, float], Verdict]
    at_most: float = 2.3
    decides: bool = True


def verdict(claim: Claim, *instruments: Instrument, **more: Any) -> Verdict:
    given: dict[str, Any] = {"samples": (Sample("s", "Unit"),), "setups": (Setup("u", "as supplied"),), **more}
    evaluation = Evaluation("case", Product("article"), claims=(claim,), instruments=instruments, **given)
    return judge(evaluation).claims[0].verdict


def _read(random: Random, f: np.ndarray, gamma: np.ndarray, figures: Residuals) -> np.ndarray:
    def vector() -> np.ndarray:
        turned = random.random() + random.uniform(-2, 2) * (f - f[0]) / (f[-1] - f[0])
        return np.asarray(np.exp(2j * np.pi * turned))

    d, m = 10 ** (-figures.directivity_db / 20), 10 ** (-figures.source_match_db / 20)
    return np.asarray(gamma + d * vector() + figures.tracking * gamma * vector() + m * gamma**2 * vector())


def _evidence(ident: str, f: np.ndarray, gamma: np.ndarray, instrument: str) -> Evidence:
    sweep = Sweep(f, np.asarray(gamma, dtype=np.complex128))
    return Evidence(ident, ident, "s", "u", instrument, Calibration.AT_PLANE, sweep, sha256=ident, taken_on=DAY)


def _u_flat(level: float) -> float:
    d, m = 10 ** (-FIGURES.directivity_db / 20), 10 ** (-FIGURES.source_match_db / 20)
    return float(np.hypot(np.hypot(d, FIGURES.tracking * level), m * level**2) / np.sqrt(2))


def noisy(noise: float, over: int = 1, points: int = 401) -> Row:
    """A flat sweep whose noise was smoothed over some points, as analyzers do it."""
    f, level = np.linspace(13.95e6, 14.4e6, points), float(gamma_from_swr(2.0))
    left = noise / np.sqrt(over)
    guard = 2 * _u_flat(level) + guard_band(left, GUARDED, points // over)

    def judged(random: Random, away: float) -> Verdict:
        truth = np.full(points, (level + away * guard) * np.exp(2j * np.pi * random.random()))
        raw = noise * (random.standard_normal(points + over) + 1j * random.standard_normal(points + over))
        smooth = np.convolve(raw, np.full(over, 1 / over), "same")[:points]
        gamma = _read(random, f, truth, FIGURES) + smooth
        claim = Claim("c", Quantity.SWR, (TWENTY,), 2.0)
        return verdict(claim, Instrument("i", "analyzer"), sweeps=(_evidence("e", f, gamma, "i"),))

    return Row(judged)


def several_instruments(count: int) -> Row:
    """The best stated of some instruments is really four times worse than its figures say."""
    f, level = np.linspace(13.95e6, 14.4e6, 101), float(gamma_from_swr(2.0))
    best, other = Residuals(46.0, 0.005, 40.0), Residuals(34.0, 0.02, 30.0)

    def worse(r: Residuals) -> Residuals:
        return Residuals(r.directivity_db - 12.04, 4 * r.tracking, r.source_match_db - 12.04)

    def judged(random: Random, away: float) -> Verdict:
        truth = np.full(f.size, (level + away * 0.05) * np.exp(2j * np.pi * random.random()))
        stated = [best, *([other] * (count - 1))]
        sweeps = tuple(
            _evidence(f"e{n}", f, _read(random, f, truth, worse(s) if n == 0 else s), f"i{n}")
            for n, s in enumerate(stated)
        )
        owned = tuple(Instrument(f"i{n}", f"analyzer {n}", figures=s) for n, s in enumerate(stated))
        return verdict(Claim("c", Quantity.SWR, (TWENTY,), 2.0), *owned, sweeps=sweeps)

    return Row(judged, at_most=5.0, decides=False)


def through(quantity: Quantity, noise_db: float = -60.0, points: int = 101) -> Row:
    """A filter's attenuation, a line's loss or a choke's impedance exactly at its limit, through a noisy path."""
    f, noise = np.linspace(6.9e6, 7.3e6, points), 10 ** (noise_db / 20)
    fixture = Fixture.SERIES if quantity is Quantity.CHOKING else Fixture.THROUGH
    limit = {Quantity.ATTENUATION: 40.0, Quantity.INSERTION_LOSS: 1.0, Quantity.CHOKING: 1000.0}[quantity]
    clean = 100 / (100 + limit) if fixture is Fixture.SERIES else 10 ** (-limit / 20)
    inside = points // 2
    guard_db = guard_band(8.686 * noise / clean, GUARDED, inside) + 0.2
    sign = 1.0 if quantity is Quantity.INSERTION_LOSS else -1.0

    def judged(random: Random, away: float) -> Verdict:
        db = 20 * np.log10(clean) - sign * away * guard_db
        truth = 10 ** (db / 20) * np.exp(2j * np.pi * random.random() * (fixture is Fixture.THROUGH))
        s21 = truth + noise * (random.standard_normal(points) + 1j * random.standard_normal(points))
        swept = Through("t", "t", "s", setup_id="u", instrument_id="i", two_port=TwoPort(f, s21), fixture=fixture,
                        taken_on=DAY, sha256="t")  # fmt: skip
        return verdict(Claim("c", quantity, (FORTY,), limit), Instrument("i", "analyzer"), throughs=(swept,))

    return Row(judged)


def times(count: int) -> Row:
    """So many matches, each of which takes as long as is claimed, timed by hand."""

    def judged(random: Random, away: float) -> Verdict:
        took = 5.0 + away * guard_band(STOPWATCH_U_S, GUARDED, count) + STOPWATCH_U_S * random.standard_normal(count)
        matches = tuple(
            Match(str(n), "s", "u", 7.1e6, Outcome.MATCHED, "50", swr_after=1.1, instrument_id="i", seconds=float(t))
            for n, t in enumerate(took)
        )
        claim = Claim("c", Quantity.TUNER_TIME, (FORTY,), 5.0)
        return verdict(claim, Instrument("i", "meter"), trials=matches)

    return Row(judged)


ANALYZER = Instrument("x", "spectrum", instrument_class=InstrumentClass.SPECTRUM, second_intercept_dbm=90.0,
                      third_intercept_dbm=90.0)  # fmt: skip
U_DB = float(np.hypot(0.5, 0.3))
"""The analyzer's level, and an offset that was written down."""


def _captured(random: Random, ident: str, carrier_hz: float, levels: np.ndarray) -> Capture:
    f = carrier_hz * np.arange(1, levels.size + 1)
    seen = levels - 40.0 + 0.5 * random.standard_normal(levels.size) + 0.3 * random.standard_normal()
    trace = Trace(np.asarray(f, dtype=np.float64), np.asarray(seen, dtype=np.float64))
    return Capture(ident, ident, "s", "u", "x", carrier_hz=carrier_hz, trace=trace, taken_on=DAY,
                   file_name=f"{ident}.csv", sha256=ident, offset=Curve((1e6, 1e10), (40.0, 40.0)))  # fmt: skip


def harmonics(carriers: int) -> Row:
    """Four harmonics on each of some carriers, every one exactly as far down as is claimed."""
    two = Window(144e6, 146e6, "2m")

    def judged(random: Random, away: float) -> Verdict:
        guard = guard_band(0.5 * np.sqrt(2), GUARDED, 4 * carriers)
        levels = np.array([37.0, *([-23.0 + away * guard] * 4)])
        each = tuple(_captured(random, f"k{n}", (144.2 + 0.3 * n) * 1e6, levels) for n in range(carriers))
        return verdict(Claim("c", Quantity.EMISSIONS, (two,), 60.0), ANALYZER, captures=each)

    return Row(judged)


def power(random: Random, away: float) -> Verdict:
    levels = np.array([37.0 - away * 2 * U_DB, *([-60.0] * 4)])
    claim = Claim("c", Quantity.OUTPUT_POWER, (), 10**0.7)
    return verdict(claim, ANALYZER, captures=(_captured(random, "k", 145e6, levels),))


def heat(random: Random, away: float) -> Verdict:
    """A run of 40 minutes that comes to its limit after an hour; its thermometer is off, and read with noise."""
    t = np.arange(0, 2401, 120)
    rise = (50.0 + away * 4.0) / -np.expm1(-3600 / 900)
    c = 20 + rise * -np.expm1(-t / 900) + random.standard_normal() + random.standard_normal(t.size)
    run = HeatRun("h", "s", "u", power_w=100.0, limit_c=70.0, frequency_hz=7.1e6, taken_on=DAY,
                  points=tuple((float(s), float(v)) for s, v in zip(t, c, strict=True)))  # fmt: skip
    return verdict(Claim("c", Quantity.POWER, (FORTY,), 100.0, mode="FM"), heats=(run,))


def widths(random: Random, away: float) -> Verdict:
    """Both edges of a resonance read off an analyzer of the usual figures, to 0.1 kHz."""
    claimed, middle, f = 100e3, 7.1e6, np.linspace(6.9e6, 7.3e6, 8001)
    q = middle / (claimed * (1 - away * 0.12)) * 0.7071
    gamma = gamma_from_impedance(50 * (1 + 1j * q * (f / middle - middle / f)), 50.0)
    beyond = np.abs(_read(random, f, gamma, FIGURES)) > gamma_from_swr(2.0)
    inside = np.flatnonzero(~beyond)
    low, high = (round(float(f[i]), -2) for i in (inside[0], inside[-1]))
    typed = WidthReading("w", "s", "u", "i", "40m", low, high, 2.0, middle, 1.0, 1e2, taken_on=DAY)
    claim = Claim("c", Quantity.BANDWIDTH, (FORTY,), claimed / 1e3)
    return verdict(claim, Instrument("i", "analyzer"), widths=(typed,))


ROWS: dict[str, Row] = {
    "flat, noise 0.03": noisy(0.03),
    "flat, noise 0.01 smoothed over 5 points": noisy(0.01, 5),
    "flat, noise 0.02 smoothed over 9 points": noisy(0.02, 9),
    "best stated of two instruments four times worse": several_instruments(2),
    "best stated of three instruments four times worse": several_instruments(3),
    "attenuation through noise": through(Quantity.ATTENUATION, -70.0),
    "attenuation through noise 20 dB below": replace(through(Quantity.ATTENUATION), decides=False),
    "loss through noise": through(Quantity.INSERTION_LOSS, -45.0),
    "choking through noise": through(Quantity.CHOKING, -55.0),
    "10 match times": times(10),
    "20 match times": times(20),
    "40 match times": times(40),
    "4 harmonics on 1 carrier": harmonics(1),
    "4 harmonics on 5 carriers": harmonics(5),
    "output power": Row(power),
    "heat": Row(heat),
    "widths in a notebook": Row(widths),
}


def shares(row: Row, trials: int, seed: int, away: float = 0.0) -> dict[Verdict, float]:
    random = np.random.default_rng(seed)
    found = [row.judged(random, away) for _ in range(trials)]
    return {v: found.count(v) / trials for v in Verdict}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.partition("\n")[0] if __doc__ else "")
    parser.add_argument("--trials", type=int, default=2000)
    parser.add_argument("--row", default="")
    options = parser.parse_args()
    print("| row | wrong Pass | wrong Fail | Pass two guard bands within | Fail two guard bands beyond |")
    print("| --- | --- | --- | --- | --- |")
    for number, (name, row) in enumerate(ROWS.items()):
        if options.row in name:
            at, far = shares(row, options.trials, number), options.trials // 10
            within = shares(row, far, number, -2.0)[Verdict.PASS] if row.decides else float("nan")
            beyond = shares(row, far, number, 2.0)[Verdict.FAIL] if row.decides else float("nan")
            told = (at[Verdict.PASS], at[Verdict.FAIL], within, beyond)
            print(f"| {name} | " + " | ".join(f"{100 * v:.1f} %" for v in told) + " |", flush=True)


if __name__ == "__main__":
    main()
