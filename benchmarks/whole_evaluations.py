"""Whole evaluations of articles whose truth is known, judged and held against it.

Each is an article with one position or a sliding coil of three, an added part, a comparison in another place, rounds of
adjusting, repeats in a light wind, two analyzers, holes and coarse sweeps, on a stated or a proven bench. What then
happens to evaluations happens to it at random: sweeps are set aside, parts of the band are swept again, a sweep was
taken at the shack end of a line that nobody noted, a round is opened that nobody swept, an analyzer is sold, a file
comes in twice, and all is listed in another order.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import TypeVar

import numpy as np

from levelmoor.core.evidence.findings import ClaimFinding
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.bench_records import BenchCheck, BenchRule, CalibrationRecord, CheckKind
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Equipment, Instrument, Load
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import OpenedRound, Role, Setting
from levelmoor.core.rf.reflection import gamma_from_impedance, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

BANDS = (Window(7.0e6, 7.2e6, "40m"), Window(14.0e6, 14.35e6, "20m"), Window(21.0e6, 21.45e6, "15m"))
T = TypeVar("T")
WIND = 3e-4
"""Standard deviation of the resonance in a light wind, as a share."""
FIGURES = {"a": Residuals(), "b": Residuals(30.0, 0.02, 28.0)}
SETUPS = (
    Setup("plain", "as supplied"),
    Setup("hat", "with the hat", role=Role.ADDED),
    Setup("garage", "in the garage", role=Role.COMPARISON),
)
SHACK = Setup("shack", "at the shack end", plane=Plane.SHACK)


CALIBRATION = CalibrationRecord("", "", 1e6, 60e6, "2026-05-31T08:00", load_id="own")
OWNED = Equipment(loads=(Load("x", "load", return_loss_db=46.0), Load("own", "of the kit", return_loss_db=40.0)))


@dataclass(frozen=True)
class Tally:
    """How guarded verdicts compare with the truth, and how many Passes rest on another setup.

    A truth within one guard band of its limit is `near` it: there 2.3 % of wrong verdicts are what the rule promises,
    and they are counted apart in `wrong_near`. Where it lies farther away none may be `wrong`.
    """

    evaluations: int
    verdicts: Counter[Verdict] = field(default_factory=Counter)
    wrong: Counter[Verdict] = field(default_factory=Counter)
    near: int = 0
    wrong_near: Counter[Verdict] = field(default_factory=Counter)
    foreign: int = 0

    @property
    def words(self) -> str:
        said = ", ".join(f"{v.value} {n}" for v, n in sorted(self.verdicts.items()))
        return (
            f"{self.evaluations} evaluations: {said}; wrong: {_passes_and_fails(self.wrong)}; of {self.near} whose "
            f"truth lies within a guard band of the limit: {_passes_and_fails(self.wrong_near)}; "
            f"{self.foreign} Passes from an added or foreign setup"
        )


def _passes_and_fails(counts: Counter[Verdict]) -> str:
    return f"{counts[Verdict.PASS]} Pass and {counts[Verdict.FAIL]} Fail"


@dataclass(frozen=True)
class _State:
    """One state of the article on one band: a series resonance."""

    f0: float
    q: float
    r: float

    def gamma(self, f: np.ndarray, stray: float = 0.0) -> np.ndarray:
        f0 = self.f0 * (1 + stray)
        return np.asarray(gamma_from_impedance(self.r * (1 + 1j * self.q * (f / f0 - f0 / f)), 50.0))


def whole_evaluations(count: int, seed: int = 7) -> Tally:
    """Simulate so many evaluations and judge each."""
    random = np.random.default_rng(seed)
    tally = Tally(count)
    for _ in range(count):
        evaluation, truths = _evaluation(random)
        limits = {c.id: float(c.limit or 0) for c in evaluation.claims}
        for found in judge(evaluation).claims:
            tally = _counted(tally, found, truths[found.claim_id], limits[found.claim_id])
    return tally


def _counted(tally: Tally, found: ClaimFinding, truth: float, limit: float) -> Tally:
    """The tally with one more verdict; the truth is nan where the article was adjusted since, and nobody knows it."""
    tally.verdicts[found.verdict] += 1
    decided = found.windows[0].finding
    half = 0.0 if decided is None else ((decided.swr_high or 0.0) - (decided.swr_low or 0.0)) / 2
    near = abs(truth - limit) <= half
    right = {Verdict.PASS: truth <= limit, Verdict.FAIL: truth > limit}
    if not right.get(found.verdict, True):
        (tally.wrong_near if near else tally.wrong)[found.verdict] += 1
    foreign = found.verdict is Verdict.PASS and found.windows[0].setup_id != "plain"
    return replace(tally, near=tally.near + near, foreign=tally.foreign + foreign)


def _evaluation(random: np.random.Generator) -> tuple[Evaluation, dict[str, float]]:
    """An evaluation, and the true worst SWR of each claim as supplied, in its setting, after the last adjustment."""
    adjustable = bool(random.random() < 0.5)
    rounds = int(random.integers(1, 4))
    settings = tuple(Setting(f"m{i}", f"mark {i}", (w,)) for i, w in enumerate(BANDS)) if adjustable else ()
    sweeps: list[Evidence] = []
    truths: dict[str, float] = {}
    claims = []
    for i, window in enumerate(BANDS):
        middle = (window.low_hz + window.high_hz) / 2
        q, r = float(random.uniform(6, 25)), float(random.uniform(38, 75))
        for number in range(1, rounds + 1):
            state = _State(middle * (1 + random.normal(0, 0.01)), q, r)
            for setup in SETUPS:
                if setup.id != "plain" and random.random() < 0.5:
                    continue
                here = state if setup.id == "plain" else _State(middle * (1 + random.normal(0, 0.003)), q, r)
                setting = settings[i].id if adjustable else ""
                sweeps += _swept(
                    random, here, window, setup.id, setting, number if setup.id == "plain" else 1, len(sweeps)
                )
        f = np.linspace(window.low_hz, window.high_hz, 2001)
        truths[str(i)] = float(swr_from_gamma(np.max(np.abs(state.gamma(f)))))
        limit = max(1.05, truths[str(i)] * float(random.uniform(0.75, 1.3)))
        claims.append(Claim(str(i), Quantity.SWR, (window,), round(limit, 2)))
    proven = bool(random.random() < 0.5)
    happened = _happened(random, sweeps, settings)
    case = Evaluation(
        "case",
        Product("antenna"),
        samples=(Sample("s", "Unit"),),
        claims=tuple(claims),
        setups=_shuffled(random, (*SETUPS, SHACK)),
        instruments=_shuffled(
            random, tuple(Instrument(n, n, figures=f, retired=n == happened.sold) for n, f in FIGURES.items())
        ),
        sweeps=_shuffled(random, happened.sweeps),
        opened=happened.opened,
        bench_rule=BenchRule.PROVEN if proven else BenchRule.STATED,
        settings=settings,
        calibrations=tuple(replace(CALIBRATION, id=f"k{n}", instrument_id=n) for n in FIGURES),
        checks=tuple(_load(random, n, f) for n, f in FIGURES.items()),
        equipment=OWNED,
    )
    for round_ in happened.opened:
        for i in range(len(BANDS)):
            mine = not adjustable or round_.setting_id == settings[i].id
            if mine and round_.round > rounds:
                truths[str(i)] = float("nan")
    return case, truths


@dataclass(frozen=True)
class _Happened:
    sweeps: tuple[Evidence, ...]
    opened: tuple[OpenedRound, ...] = ()
    sold: str = ""


def _shuffled(random: np.random.Generator, items: Sequence[T]) -> tuple[T, ...]:
    return tuple(items[int(i)] for i in random.permutation(len(items)))


def _happened(random: np.random.Generator, sweeps: Sequence[Evidence], settings: Sequence[Setting]) -> _Happened:
    """What happens to sweeps by some steps at random; none of it changes what is true."""
    now, opened, sold = list(sweeps), [], ""
    for step in range(int(random.integers(0, 5))):
        n = int(random.integers(0, len(now)))
        one = now[n]
        match int(random.integers(0, 6)):
            case 0:
                now[n] = replace(one, set_aside="the plug was loose")
            case 1:
                now.append(_part_of(random, one, f"part-{step}"))
            case 2:
                # Looking through a lossy line every antenna is better than it is.
                gamma = one.sweep.gamma * 10 ** (-2 * random.uniform(0.5, 3) / 20)
                worn = replace(one.sweep, gamma=gamma)
                now.append(replace(one, id=f"shack-{step}", sha256=f"shack-{step}", setup_id="shack", sweep=worn))
            case 3 if one.setup_id == "plain":
                opened.append(OpenedRound("s", "plain", one.setting_id, one.round + 1))
            case 4:
                sold = one.instrument_id
            case 5:
                again = replace(one, id=f"again-{step}", name=f"again-{step}")  # the same file once more
                now.append(again)
            case _:
                pass
    return _Happened(tuple(now), tuple(opened), sold)


def _part_of(random: np.random.Generator, one: Evidence, ident: str) -> Evidence:
    """A sweep of a part of what another swept, in the same state."""
    f = one.sweep.frequency_hz
    first = int(random.integers(0, f.size // 2))
    part = slice(first, first + max(f.size // 3, 5))
    swept = replace(one.sweep, frequency_hz=f[part], gamma=one.sweep.gamma[part])
    return replace(one, id=ident, name=ident, sha256=ident, sweep=swept)


def _load(random: np.random.Generator, instrument: str, figures: Residuals) -> BenchCheck:
    """A known load read with what the analyzer leaves uncorrected."""
    f = np.linspace(1e6, 60e6, 201)
    d = 10 ** (-figures.directivity_db / 20) * np.exp(2j * np.pi * (random.random() + f / 20e6))
    own = 10 ** (-46 / 20) * np.exp(2j * np.pi * random.random())
    sweep = Sweep(f, d + own)
    return BenchCheck(
        f"l{instrument}", CheckKind.LOAD, "2026-05-31T08:10", instrument, f"k{instrument}", "x", sweep=sweep
    )


def _swept(
    random: np.random.Generator, state: _State, window: Window, setup: str, setting: str, number: int, place: int
) -> list[Evidence]:
    """One state swept: by one analyzer or both, once or three times, now and then too coarsely or with a hole."""
    found = []
    wide = window.high_hz - window.low_hz
    for instrument, figures in FIGURES.items():
        if instrument == "b" and random.random() < 0.6:
            continue
        points = int(random.choice([15, 61, 101, 201], p=[0.1, 0.3, 0.4, 0.2]))
        hole = random.random() < 0.1
        for again in range(int(random.choice([1, 3], p=[0.6, 0.4]))):
            f = np.linspace(window.low_hz - 0.1 * wide, window.high_hz + 0.1 * wide, points)
            if hole:
                f = f[(f < window.low_hz + 0.3 * wide) | (f > window.low_hz + 0.7 * wide)]
            gamma = _read(random, state.gamma(f, WIND * random.standard_normal()), f, figures)
            ident = f"{place}-{instrument}-{again}"
            found.append(
                Evidence(
                    ident,
                    ident,
                    "s",
                    setup,
                    instrument,
                    Calibration.AT_PLANE,
                    Sweep(f, gamma),
                    sha256=ident,
                    taken_on="2026-05-31T11:00",
                    calibration_id=f"k{instrument}",
                    setting_id=setting,
                    round=number,
                )
            )
    return found


def _read(random: np.random.Generator, gamma: np.ndarray, f: np.ndarray, figures: Residuals) -> np.ndarray:
    """What an analyzer reads: residuals of its stated size, whose phase turns, and a little noise."""

    def vector() -> np.ndarray:
        return np.asarray(np.exp(2j * np.pi * (random.random() + random.uniform(-2, 2) * (f - f[0]) / (f[-1] - f[0]))))

    d, m = 10 ** (-figures.directivity_db / 20), 10 ** (-figures.source_match_db / 20)
    noise = 3e-4 * (random.standard_normal(f.size) + 1j * random.standard_normal(f.size))
    return np.asarray(gamma + d * vector() + figures.tracking * gamma * vector() + m * gamma**2 * vector() + noise)
