"""The `check` report of one file as a plain object for JSON: a contract that scripts rely on."""

import math
from typing import Any

from levelmoor.core.metrology.decision import Verdict, worst_verdict
from levelmoor.core.rf.reflection import impedance_from_gamma, return_loss_db, swr_from_gamma
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.verdict.window_verdict import Spot, WindowFinding
from levelmoor.formats.sweepfile import SweepFile


def finite(value: float | None) -> float | None:
    """JSON has no infinity: an infinite or undefined figure is null."""
    return None if value is None or not math.isfinite(value) else float(value)


def _impedance(analysis: SweepAnalysis, gamma: complex) -> complex | None:
    if analysis.sweep.scalar:
        return None
    return complex(impedance_from_gamma(gamma, analysis.sweep.z0_ohm))


def _spot(spot: Spot | None) -> dict[str, float | None]:
    return {"frequency_hz": spot.frequency_hz if spot else None, "swr": finite(spot.swr) if spot else None}


def window_report(finding: WindowFinding) -> dict[str, Any]:
    return {
        "name": finding.window.name,
        "low_hz": finding.window.low_hz,
        "high_hz": finding.window.high_hz,
        "points_inside": finding.points_inside,
        "best": _spot(finding.best),
        "worst": _spot(finding.worst),
        "share_within_limit": finding.share_within_limit,
        "widths": [
            {
                "swr": w.swr,
                "low_hz": w.low_hz,
                "high_hz": w.high_hz,
                "width_hz": w.width_hz,
                "low_open": w.low_open,
                "high_open": w.high_open,
            }
            for w in finding.widths
        ],
        "limit_swr": finding.limit_swr,
        "u_gamma": finding.u_gamma,
        "verdict": finding.verdict.value,
        "probability": finding.probability,
        "reason": finding.reason,
    }


def check_report(
    name: str, file: SweepFile, analysis: SweepAnalysis, z0_ohm: float, findings: list[WindowFinding]
) -> dict[str, Any]:
    """Everything `levelmoor check --json` prints."""
    sweep = analysis.sweep
    dips = []
    for dip in analysis.dips:
        z = _impedance(analysis, dip.gamma)
        dips.append(
            {
                "frequency_hz": dip.frequency_hz,
                "swr": finite(float(swr_from_gamma(dip.gamma))),
                "return_loss_db": finite(float(return_loss_db(dip.gamma))),
                "r_ohm": finite(z.real) if z is not None else None,
                "x_ohm": finite(z.imag) if z is not None else None,
                "at_edge": dip.at_edge,
            }
        )
    resonances = []
    for resonance in analysis.resonances:
        z = _impedance(analysis, resonance.gamma)
        resonances.append(
            {
                "frequency_hz": resonance.frequency_hz,
                "kind": resonance.kind,
                "r_ohm": finite(z.real) if z is not None else None,
                "swr": finite(float(swr_from_gamma(resonance.gamma))),
            }
        )
    return {
        "file": name,
        "format": file.format,
        "points": sweep.points,
        "file_z0_ohm": file.file_z0_ohm,
        "z0_ohm": z0_ohm,
        "low_hz": sweep.low_hz,
        "high_hz": sweep.high_hz,
        "largest_step_hz": sweep.largest_step_hz,
        "dips": dips,
        "resonances": resonances,
        "windows": [window_report(f) for f in findings],
        "verdict": overall(findings).value,
    }


def overall(findings: list[WindowFinding]) -> Verdict:
    """The worst of the windows; no window at all is Not shown."""
    return worst_verdict(f.verdict for f in findings)
