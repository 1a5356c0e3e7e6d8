"""How often a narrow resonance hides between the points of a sweep that passes a wide window.

    python -m benchmarks.narrow [--trials 2000]

A truth that stays within the limit but for one parasitic resonance, of any Q up to the row's and anywhere in the
window, is swept with as few points as people take, and with as few as the gate asks for. Of the Passes the share is
printed whose truth is beyond the limit: at most 0.5 % for Q up to 100, at most 2 % up to 300.
"""

import argparse
from collections.abc import Callable

import numpy as np

from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import step_for_window
from levelmoor.core.verdict.window_verdict import judge_window

WINDOWS = [Window(a * 1e6, b * 1e6) for a, b in ((3.5, 54), (1.8, 30), (136, 174), (400, 520), (25, 1300))]
LIMIT = 2.0
FIGURES = Residuals()


def passes(random: np.random.Generator, window: Window, points: int, q_most: float) -> tuple[bool, bool]:
    """Whether a sweep of so many points passes, and whether the truth does."""
    level = float(gamma_from_swr(LIMIT))
    f = np.linspace(window.low_hz, window.high_hz, points) + 0.0
    f0, q = (
        float(random.uniform(window.low_hz, window.high_hz)),
        float(np.exp(random.uniform(np.log(10), np.log(q_most)))),
    )
    base = float(random.uniform(0.05, 0.8)) * level * np.exp(2j * np.pi * random.random())
    strength = float(random.uniform(0.1, 0.7)) * np.exp(2j * np.pi * random.random())

    def truth(at: np.ndarray) -> np.ndarray:
        return np.asarray(base + strength / (1 + 1j * q * (at / f0 - f0 / at)))

    around = f0 * (1 + np.linspace(-6, 6, 1201) / q)
    around = around[(around >= window.low_hz) & (around <= window.high_hz)]
    within = float(np.max(np.abs(truth(np.concatenate((f, around)))))) <= level
    seen = judge_window(
        analyse_sweep(Sweep(f, truth(f).astype(complex)), 50), window, LIMIT, FIGURES, DecisionRule.GUARDED
    )
    return seen.verdict is Verdict.PASS, within


def wrong_share(trials: int, points_of: Callable[[np.random.Generator, Window], int], q_most: float, seed: int) -> str:
    random, passed, wrong = np.random.default_rng(seed), 0, 0
    for n in range(trials):
        window = WINDOWS[n % len(WINDOWS)]
        told, within = passes(random, window, points_of(random, window), q_most)
        passed += told
        wrong += told and not within
    return f"{passed} of {trials} pass, {100 * wrong / max(passed, 1):.2f} % of them wrongly"


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.partition("\n")[0] if __doc__ else "")
    parser.add_argument("--trials", type=int, default=2000)
    trials = parser.parse_args().trials
    for q_most in (30, 100, 300):
        few = wrong_share(trials, lambda r, _w: int(r.integers(22, 61)), q_most, q_most)
        asked = wrong_share(
            trials, lambda _r, w: int((w.high_hz - w.low_hz) / step_for_window(w)) + 2, q_most, q_most + 1
        )
        print(f"Q up to {q_most}: with 22 to 60 points {few}; with as many as are asked for {asked}", flush=True)


if __name__ == "__main__":
    main()
