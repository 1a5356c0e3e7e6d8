"""Whether guarded verdicts keep their promise: with the truth at the limit, how often is it Pass, how often Fail.

    python -m benchmarks.honesty [--trials 2000] [--whole 2000]

Each row simulates measurements of a known truth with all that a bench leaves uncorrected: residuals as vectors of
unknown phase that turns along the window, noise, repeats, meters, lines. Wrong Passes and wrong Fails are each to be at
most 2.3 %. `--whole` adds whole evaluations of articles with settings, options, rounds, repeats and two instruments.
"""

import argparse
from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from benchmarks.whole_evaluations import whole_evaluations
from levelmoor.core.emissions.captured_lines import Spectrum, measure
from levelmoor.core.emissions.emissions import judge_emissions
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.bench_records import BenchCheck, CalibrationRecord, CheckKind
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Equipment, FeedLine, Instrument, InstrumentClass, Load
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.rule_sets import Limit
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.rf.reflection import LIGHT_M_PER_S, gamma_from_swr, refer_to
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import judge_window

TWENTY = Window(14.0e6, 14.35e6, "20m")
FIGURES = Residuals()
Random = np.random.Generator
Trial = Callable[[Random], Verdict]


def residuals(random: Random, f: np.ndarray, gamma: np.ndarray, figures: Residuals = FIGURES) -> np.ndarray:
    """What an analyzer of these figures reads of a reflection: each residual of its stated size, its phase turning."""

    def vector() -> np.ndarray:
        turns = random.uniform(-3, 3)
        return np.asarray(np.exp(2j * np.pi * (random.random() + turns * (f - f[0]) / (f[-1] - f[0]))))

    d, m = 10 ** (-figures.directivity_db / 20), 10 ** (-figures.source_match_db / 20)
    return np.asarray(gamma + d * vector() + figures.tracking * gamma * vector() + m * gamma**2 * vector())


def swept(random: Random, truth: np.ndarray, f: np.ndarray, noise: float = 0.0, figures: Residuals = FIGURES) -> Sweep:
    gamma = residuals(random, f, truth, figures)
    left = noise * (random.standard_normal(f.size) + 1j * random.standard_normal(f.size))
    return Sweep(f, np.asarray(gamma + left, dtype=np.complex128))


def flat(limit: float, noise: float = 0.0, points: int = 101) -> Trial:
    """The truth at the limit everywhere, its phase as it likes."""
    f, level = np.linspace(13.95e6, 14.4e6, points), float(gamma_from_swr(limit))

    def trial(random: Random) -> Verdict:
        truth = np.full(points, level * np.exp(2j * np.pi * random.random()))
        return judge_window(
            analyse_sweep(swept(random, truth, f, noise), 50), TWENTY, limit, FIGURES, DecisionRule.GUARDED
        ).verdict

    return trial


def sloping(random: Random) -> Verdict:
    """The truth rises to the limit at the window's upper end; limits, points and noise as they come."""
    points, limit = int(random.integers(25, 2001)), float(random.uniform(1.2, 3))
    noise, level = float(random.uniform(0, 0.004)), float(gamma_from_swr(limit))
    f = np.linspace(13.95e6, 14.35e6, points)
    truth = level * (0.5 + 0.5 * (f - f[0]) / (f[-1] - f[0])) * np.exp(2j * np.pi * random.random())
    return judge_window(
        analyse_sweep(swept(random, truth, f, noise), 50), TWENTY, limit, FIGURES, DecisionRule.GUARDED
    ).verdict


def case(*sweeps: Evidence, **more: object) -> Evaluation:
    given: dict[str, object] = {
        "samples": (Sample("s", "Unit"),),
        "setups": (Setup("u", "as supplied"),),
        "instruments": (Instrument("i", "analyzer"),),
        "claims": (Claim("c", Quantity.SWR, (TWENTY,), 2.0),),
        **more,
    }
    return Evaluation("case", Product("antenna"), sweeps=sweeps, **given)  # type: ignore[arg-type]


def evidence(ident: str, sweep: Sweep, **more: object) -> Evidence:
    given: dict[str, object] = {"sha256": ident, "taken_on": "2026-05-31T11:00", **more}
    return Evidence(ident, ident, "s", "u", "i", Calibration.AT_PLANE, sweep, **given)  # type: ignore[arg-type]


def verdict(evaluation: Evaluation) -> Verdict:
    return judge(evaluation).claims[0].verdict


def repeats(count: int, spread: float = 0.01) -> Trial:
    """The mean of all that could be swept is at the limit; each sweep strays in the wind, by one figure throughout."""
    f, level = np.linspace(13.95e6, 14.4e6, 101), float(gamma_from_swr(2))

    def trial(random: Random) -> Verdict:
        quiet = Residuals(60, 0.001, 60)
        phase = np.exp(2j * np.pi * random.random())
        sweeps = [
            evidence(
                str(n),
                swept(random, np.full(f.size, (level + spread * random.standard_normal()) * phase), f, 0, quiet),
                not_adjusted=True,
            )
            for n in range(count)
        ]
        return verdict(case(*sweeps, instruments=(Instrument("i", "analyzer", figures=quiet),)))

    return trial


def loads(stated: float | None, calibrated_with: str) -> Trial:
    """A load that was swept after the calibration and read nearly nothing: unstated, or the one that calibrated."""
    f, level = np.linspace(13.95e6, 14.4e6, 101), float(gamma_from_swr(2))
    record = CalibrationRecord("k", "i", 13e6, 15e6, "2026-05-31T10:00", load_id=calibrated_with)
    owned = Equipment(loads=(Load("x", "load", return_loss_db=stated), Load("y", "other", return_loss_db=40.0)))

    def trial(random: Random) -> Verdict:
        check = BenchCheck(
            "l", CheckKind.LOAD, "2026-05-31T10:05", "i", "k", "x",
            sweep=Sweep(np.linspace(13e6, 15e6, 51), np.full(51, 1e-3 + 0j)),
        )  # fmt: skip
        truth = np.full(f.size, level * np.exp(2j * np.pi * random.random()))
        sweep = evidence("e", swept(random, truth, f), calibration_id="k")
        return verdict(case(sweep, calibrations=(record,), checks=(check,), equipment=owned))

    return trial


def meter(swrs: tuple[float, ...], stray: float = 0.03) -> Trial:
    """A meter that is off by a + b |gamma|, checked on some loads against an analyzer."""
    f, level = np.linspace(13.95e6, 14.4e6, 31), float(gamma_from_swr(2))

    def trial(random: Random) -> Verdict:
        a, b = stray * random.standard_normal(2)

        def reads(g: np.ndarray) -> np.ndarray:
            return np.asarray(np.clip(g + a + b * g, 0, 0.99))

        g = np.array([float(gamma_from_swr(s)) for s in swrs])
        pairs = tuple((s, float((1 + m) / (1 - m))) for s, m in zip(swrs, reads(g), strict=True))
        check = BenchCheck("m", CheckKind.METER, "2026-05-31T09:00", "i", pairs=pairs)
        sweep = Sweep(f, reads(np.full(f.size, level)).astype(complex), scalar=True)
        instrument = Instrument("i", "meter", figures=Residuals(20, 0.05, 30), instrument_class=InstrumentClass.METER)
        return verdict(case(evidence("e", sweep), instruments=(instrument,), checks=(check,)))

    return trial


LINE = FeedLine("w", "line", "RG-213", 20.0)


def line(impedance: Callable[[Random], float], type_name: str = "RG-213", limit: float = 2.0) -> Trial:
    """The antenna is flat at the limit at the far end of a line and read at its shack end; the line was swept open."""
    kind, level = find_line_type(type_name), float(gamma_from_swr(limit))
    f, wide = np.linspace(13.95e6, 14.4e6, 101), np.linspace(1e6, 60e6, 401)
    owned = Equipment(lines=(replace(LINE, type=type_name),))

    def at_shack(z0: float, f: np.ndarray, far: np.ndarray) -> np.ndarray:
        delay = LINE.length_m / (LIGHT_M_PER_S * kind.velocity)
        inside = refer_to(far, 50.0, z0) if np.any(np.abs(far) < 0.999) else far
        near = inside * 10 ** (-kind.loss_db(f, LINE.length_m) / 10) * np.exp(-4j * np.pi * f * delay)
        return refer_to(near, z0, 50.0)

    def trial(random: Random) -> Verdict:
        z0 = impedance(random)
        open_end = at_shack(z0, wide, np.ones(wide.size, dtype=complex))
        check = BenchCheck(
            "w", CheckKind.CABLE, "2026-05-30", "i", item_id="w", sweep=swept(random, open_end, wide, 3e-4)
        )
        far = np.full(f.size, level * np.exp(2j * np.pi * random.random()))
        sweep = evidence("e", swept(random, at_shack(z0, f, far), f))
        setup = Setup("u", "mast", plane=Plane.SHACK, line_id="w")
        claim = Claim("c", Quantity.SWR, (TWENTY,), limit)
        return verdict(case(sweep, setups=(setup,), checks=(check,), equipment=owned, claims=(claim,)))

    return trial


def harmonic(random: Random) -> Verdict:
    """The second harmonic is exactly so far under the carrier as the limit; both levels err by themselves."""
    u = 0.5
    f = np.array([145e6, 290e6])
    level = np.array([37.0, -23.0]) + u * random.standard_normal(2)
    spectrum = Spectrum("s", Trace(f, level), lambda _f: (0.0, 0.0), 0.0, u)
    measured = measure(spectrum, 145e6, 2)
    assert measured.carrier.level_dbm is not None
    limit = Limit(measured.carrier.level_dbm - 60.0, "60 dB below the carrier", "claim", ())
    return judge_emissions([measured], limit, DecisionRule.GUARDED, every=False, relative=True).verdict


ROWS: dict[str, Trial] = {
    "flat at 3:1, no noise": flat(3.0),
    "flat at 2:1, noise 0.001, 101 points": flat(2.0, 0.001, 101),
    "flat at 2:1, noise 0.001, 401 points": flat(2.0, 0.001, 401),
    "flat at 2:1, noise 0.002, 401 points": flat(2.0, 0.002, 401),
    "flat at 2:1, noise 0.004, 401 points": flat(2.0, 0.004, 401),
    "sloping, 25 to 2,000 points, noise to 0.004, limits 1.2 to 3": sloping,
    "3 repeats": repeats(3),
    "4 repeats": repeats(4),
    "6 repeats": repeats(6),
    "10 repeats": repeats(10),
    "known load, return loss not stated": loads(None, "y"),
    "known load, the one that calibrated": loads(60.0, "x"),
    "meter checked on three loads": meter((1.2, 2.0, 3.0)),
    "meter checked on loads beside the limit": meter((1.0, 1.1, 1.2)),
    "through a line of 50 ± 2 Ω": line(lambda r: float(r.uniform(48, 52))),
    "through a line of 75 Ω": line(lambda _r: 75.0, "RG-59"),
    "harmonic in dB under the carrier": harmonic,
}


def shares(trial: Trial, trials: int, seed: int) -> tuple[float, float]:
    """The shares of wrong Passes and wrong Fails, the truth exactly at the limit."""
    random = np.random.default_rng(seed)
    found = [trial(random) for _ in range(trials)]
    return found.count(Verdict.PASS) / trials, found.count(Verdict.FAIL) / trials


def rows(trials: int) -> Iterator[tuple[str, float, float]]:
    """Each row's shares; with ten times the trials where they are quick and the guard is exact, since chance counts."""
    for number, (name, trial) in enumerate(ROWS.items()):
        yield name, *shares(trial, 10 * trials if trial is harmonic else trials, 1000 + number)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.partition("\n")[0] if __doc__ else "")
    parser.add_argument("--trials", type=int, default=2000)
    parser.add_argument("--whole", type=int, default=0)
    options = parser.parse_args()
    print("| row | wrong Pass | wrong Fail |\n| --- | --- | --- |")
    for name, passed, failed in rows(options.trials):
        print(f"| {name} | {100 * passed:.1f} % | {100 * failed:.1f} % |", flush=True)
    if options.whole:
        print(whole_evaluations(options.whole).words)


if __name__ == "__main__":
    main()
