"""A comparison as JSON and as text, and the evaluation that a comparison of plain files makes."""

from collections.abc import Mapping, Sequence
from typing import Any

from levelmoor.core.comparison.comparison_model import Comparison, Question, SideWindow
from levelmoor.core.comparison.features import BEST, WORST
from levelmoor.core.metrology.agreement import Agreement
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.metrology.significance import Difference
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.rf.live_numbers import LiveNumbers
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.words.figures import format_mhz, format_swr
from levelmoor.formats.check import finite, window_report
from levelmoor.formats.sweepfile import read_sweep_file


def evaluation_of_files(
    files: Sequence[Sequence[tuple[str, bytes]]], question: Question, bench: Residuals, rule: str, region: int
) -> Evaluation:
    """Plain files as an evaluation: each side its own setup, unit or instrument; repeats of a side share it.

    Raises
    ------
    FileProblem
        Where one cannot be read.
    """
    count = range(len(files))
    names = [side[0][0].rsplit("/", 1)[-1].rsplit(".", 1)[0] for side in files]
    own = {Question.SETUPS: "setup", Question.UNITS: "sample", Question.INSTRUMENTS: "instrument"}.get(question, "")

    def ident(kind: str, i: int) -> str:
        return f"{kind}{i}" if kind == own else f"{kind}0"

    sweeps = tuple(
        Evidence(
            id=f"{i}-{n}",
            name=names[i],
            sample_id=ident("sample", i),
            setup_id=ident("setup", i),
            instrument_id=ident("instrument", i),
            calibration=Calibration.AT_PLANE,
            sweep=read_sweep_file(name, data).sweep,
            file_name=name,
            sha256=f"{i}-{n}",
            taken_on=names[i] if question is Question.TIMES else "",
        )
        for i, side in enumerate(files)
        for n, (name, data) in enumerate(side)
    )
    return Evaluation(
        "comparison of files",
        Product("files"),
        region=region,
        rule=DecisionRule(rule),
        samples=tuple(Sample(f"sample{i}", names[i]) for i in count),
        setups=tuple(Setup(f"setup{i}", names[i]) for i in count),
        instruments=tuple(Instrument(f"instrument{i}", names[i], figures=bench) for i in count),
        sweeps=sweeps,
    )


def _side(window: SideWindow) -> dict[str, Any]:
    z = window.impedance_ohm
    return {
        "figures": {
            k: {"value": m.value, "u": finite(m.u), "sd": m.sd, "n": m.n, "open": k in window.open_}
            for k, m in window.figures.items()
        },
        "r_ohm": finite(z.real) if z is not None else None,
        "x_ohm": finite(z.imag) if z is not None else None,
        "judged": window_report(window.finding),
    }


def _differences(found: Mapping[str, Difference]) -> dict[str, Any]:
    return {k: {"value": d.value, "expanded": finite(d.expanded), "meaning": d.meaning.value} for k, d in found.items()}


def compare_document(comparison: Comparison) -> dict[str, Any]:
    """Everything `levelmoor compare --json` prints. Frequencies and widths in Hz, `best` and `worst` in |gamma|."""
    return {
        "question": comparison.question.value,
        "limit_swr": comparison.limit_swr,
        "sides": [
            {"letter": s.letter, "name": s.name, "files": [e.file_name for e in s.evidence], "repeats": s.spread.count}
            for s in comparison.sides
        ],
        "windows": [
            {
                "name": w.window.name,
                "low_hz": w.window.low_hz,
                "high_hz": w.window.high_hz,
                "sides": [_side(s) for s in w.sides],
                "pairs": [[comparison.sides[i].letter, comparison.sides[j].letter] for i, j in w.pairs],
                "differences": [_differences(found) for found in w.differences],
                "agreements": [
                    {"share": a.share, "agree": a.agree, "worst_hz": a.worst_hz, "ratio": a.ratio}
                    if isinstance(a, Agreement)
                    else a and {"not_comparable": a}
                    for a in w.agreements
                ],
                "sentences": list(w.sentences),
            }
            for w in comparison.windows
        ],
        "units": (
            {"failed": u.count, "of": u.of, "low": u.low, "high": u.high, "confidence": u.confidence}
            if (u := comparison.units)
            else None
        ),
        "sentences": list(comparison.sentences),
    }


def compare_text(comparison: Comparison) -> list[str]:
    """The answer for a terminal: a line for each side of a window, then what it says."""
    lines = []
    for w in comparison.windows:
        lines.append(f"{w.window.name} ({format_mhz(w.window.low_hz)} to {format_mhz(w.window.high_hz)} MHz)")
        for side, shown in zip(comparison.sides, w.sides, strict=True):
            best, worst = shown.figures.get(BEST), shown.figures.get(WORST)
            parts = [f"  {side.letter} {side.name}:"]
            if best is not None:
                at, swr = shown.figures["best_hz"].value, format_swr(float(swr_from_gamma(best.value)))
                parts.append(f"best {swr} at {format_mhz(round(at, -3))} MHz,")
            if worst is not None:
                parts.append(f"worst {format_swr(float(swr_from_gamma(worst.value)))},")
            parts.append(shown.words)
            lines.append(" ".join(parts))
        lines += [f"  {s}" for s in w.sentences]
    return lines + list(comparison.sentences)


def live_document(number: int, n: LiveNumbers) -> dict[str, Any]:
    """One line of `levelmoor live --json-lines`."""
    z = n.wanted_ohm
    return {
        "sweep": number,
        "best_swr": finite(n.best_swr),
        "best_hz": n.best_hz,
        "wanted_hz": n.wanted_hz,
        "wanted_swr": finite(n.wanted_swr),
        "wanted_r_ohm": finite(z.real) if z is not None else None,
        "wanted_x_ohm": finite(z.imag) if z is not None else None,
        "zero_hz": n.zero_hz,
        "zero_r_ohm": finite(n.zero_ohm),
    }
