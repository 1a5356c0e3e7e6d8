"""What the bench page shows: calibrations and checks, each with its result, figure, and what rests on it."""

from dataclasses import dataclass

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.bench.check_results import Result
from levelmoor.core.bench.gates import CABLE_HOLDS_H
from levelmoor.core.bench.meter_check import MeterCheck
from levelmoor.core.bench.noise_check import NoiseCheck
from levelmoor.core.bench.pad_check import PadCheck
from levelmoor.core.model.bench_records import BenchCheck, CheckKind, holds_until
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.words.figures import format_signed
from levelmoor.figures.check_figure import check_figure
from levelmoor.records import tables as t
from levelmoor.services.findings import long_work


@dataclass(frozen=True)
class CheckCard:
    """One check: its result or what it still lacks, its figure, until when it holds, what rests on it."""

    check: BenchCheck
    result: Result | None
    problem: str
    svg: str
    sound: bool | None
    holds: str
    rests: tuple[str, ...]

    @property
    def figures(self) -> list[tuple[str, str]]:
        """The figures of the result, a heading and a text each."""
        r = self.result
        if isinstance(r, CableCheck):
            top = r.loss_db.frequency_hz[-1]
            return [
                (f"Loss at {top / 1e6:.0f} MHz", f"{r.loss_db.value[-1]:.2f} ± {2 * r.u_loss_db:.2f} dB"),
                ("Typical", f"{r.table_db.value[-1]:.2f} dB"),
                ("Electrical length", f"{r.length_m:.2f} m"),
                ("Echo on the way", "none" if r.echo_m is None else f"at {r.echo_m:.1f} m"),
            ]
        if isinstance(r, PadCheck):
            return [
                (
                    "Fundamental" if p.order == 1 else f"Harmonic {p.order}",
                    f"{p.attenuation_db:.2f} ± {2 * p.u_db:.2f} dB at {p.frequency_hz / 1e6:g} MHz",
                )
                for p in r.figures
            ]
        if isinstance(r, MeterCheck) and r.directivity_db is not None:
            return [("As directivity", f"{r.directivity_db:.0f} dB"), ("u of |Γ|", f"{r.u_gamma:.3f}")]
        if isinstance(r, NoiseCheck):
            return [
                ("Noise", f"{format_signed(r.floor_dbm, 0)} dBm in {r.rbw_hz / 1e3:g} kHz"),
                ("Spurs", str(len(r.spurs))),
            ]
        return []


@dataclass(frozen=True)
class CalibrationCard:
    row: t.Calibration
    holds: str
    rests: tuple[str, ...]


def calibration_cards(rows: list[t.Calibration], evaluation: Evaluation) -> list[CalibrationCard]:
    return [
        CalibrationCard(
            row,
            holds_until(row.done_at, evaluation.age_limit_h),
            tuple(e.name for e in evaluation.sweeps if e.calibration_id == str(row.id)),
        )
        for row in sorted(rows, key=lambda r: (r.done_at, r.id), reverse=True)
    ]


def check_cards(rows: list[t.BenchCheck], evaluation: Evaluation) -> list[tuple[t.BenchCheck, CheckCard]]:
    """The latest first; a check that is not complete says what it lacks."""
    cards = long_work(evaluation, "checks", build, evaluation)
    return [(row, cards[str(row.id)]) for row in sorted(rows, key=lambda r: (r.done_at, r.id), reverse=True)]


def build(evaluation: Evaluation) -> dict[str, CheckCard]:
    """The cards of all checks, by their id."""
    book = BenchBook(evaluation)
    return {check.id: _card(check, book, evaluation) for check in evaluation.checks}


def _card(check: BenchCheck, book: BenchBook, evaluation: Evaluation) -> CheckCard:
    try:
        result: Result | None = book.result(check)
        problem = ""
    except ValueError as wrong:
        result, problem = None, str(wrong)
    svg = check_figure(check, result) if result else ""
    sound = getattr(result, "sound", None)
    return CheckCard(check, result, problem, svg, sound, _holds(check, book), _rests(check, book, evaluation))


def _holds(check: BenchCheck, book: BenchBook) -> str:
    """Residuals hold as long as their calibration; lines and pads a year; the noise as long as the setting."""
    if check.spec.calibration:
        record = book.calibrations.get(check.calibration_id)
        return holds_until(record.done_at if record else check.done_at, book.age_limit_h).replace("T", " ")
    if check.kind is CheckKind.NOISE:
        return "as long as the settings do not change"
    return holds_until(check.done_at, CABLE_HOLDS_H)[:10]


def _rests(check: BenchCheck, book: BenchBook, evaluation: Evaluation) -> tuple[str, ...]:
    """The sweeps of this evaluation whose verdicts use the check."""
    setups = {s.id: s for s in evaluation.setups}
    found = []
    for evidence in evaluation.sweeps:
        if check.spec.calibration:
            used = book.of_calibration(check.kind, evidence)
        elif check.kind is CheckKind.CABLE:
            used = book.cable(setups[evidence.setup_id])
        elif check.kind is CheckKind.METER:
            used = book.latest(CheckKind.METER, instrument_id=evidence.instrument_id)
        else:
            used = None
        if used is not None and used.id == check.id:
            found.append(evidence.name)
    return tuple(found)
