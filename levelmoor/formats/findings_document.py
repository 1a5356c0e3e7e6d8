"""Findings as plain JSON data, and read again as they were published."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from levelmoor.core.emissions.emission_findings import EmissionsFinding
from levelmoor.core.evidence.findings import (
    ClaimFinding,
    Findings,
    Part,
    PieceFinding,
    UsabilityFinding,
    WindowEvidence,
)
from levelmoor.core.evidence.pieces import AdjustedQuestion
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.usability import Usability
from levelmoor.core.rf.dips import Width
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import Spot, WindowFinding
from levelmoor.formats.check import finite, window_report
from levelmoor.formats.exchange import ExchangeProblem
from levelmoor.formats.harmonics_document import harmonics_document, report_from


def _figures(finding: WindowFinding) -> dict[str, Any]:
    return {
        **window_report(finding),
        "largest_step_hz": finding.largest_step_hz,
        "step_needed_hz": finding.step_needed_hz,
        "swr_low": finding.swr_low,
        "swr_high": finite(finding.swr_high),
        "outside": finding.outside,
        "unfit": finding.unfit,
    }


def findings_document(findings: Findings) -> dict[str, Any]:
    """The findings as plain JSON data, an infinite SWR as null."""
    return {
        "claims": [
            {
                "claim_id": f.claim_id,
                "sample_id": f.sample_id,
                "verdict": f.verdict.value,
                "reason": f.reason,
                "counted": f.counted,
                "windows": [
                    {
                        "name": w.window.name,
                        "sweep_id": w.sweep_id,
                        "verdict": w.verdict.value,
                        "reason": w.reason,
                        "gates": list(w.gates),
                        "setup_id": w.setup_id,
                        "setting_id": w.setting_id,
                        "round": w.round,
                        "instrument_id": w.instrument_id,
                        "pieces": [
                            {**vars(p), "sweep_ids": list(p.sweep_ids), "worst_swr": finite(p.worst_swr)}
                            for p in w.pieces
                        ],
                        "beside": list(w.beside),
                        "curve": _curve(w.curve) if w.curve else None,
                        "figures": _figures(w.finding) if w.finding else None,
                    }
                    for w in f.windows
                ],
            }
            for f in findings.claims
        ],
        "usability": [
            {
                "sample_id": u.sample_id,
                "band": u.band,
                "low_hz": u.low_hz,
                "high_hz": u.high_hz,
                "state": u.state.value,
                "share": u.share,
                "worst_swr": finite(u.worst_swr),
                "sweep_id": u.sweep_id,
                "sentence": u.sentence,
                "curve": _curve(u.curve) if u.curve else None,
            }
            for u in findings.usability
        ],
        "warnings": list(findings.warnings),
        "emissions": [
            {
                "sample_id": e.sample_id,
                "carrier_hz": e.carrier_hz,
                "filter": e.filter_name,
                "capture_ids": list(e.capture_ids),
                "noise_dbm": finite(e.noise_dbm),
                **harmonics_document(e.rule_id, e.report),
            }
            for e in findings.emissions
        ],
        "emission_problems": [[hz, words] for hz, words in findings.emission_problems],
        "checks": [list(c) for c in findings.checks],
        "paths": [list(p) for p in findings.paths],
        "questions": [vars(q) for q in findings.questions],
    }


def findings_from(document: Mapping[str, Any], evaluation: Evaluation) -> Findings:
    """The findings as they were published, from their JSON data; a null SWR is infinite again.

    Raises
    ------
    ExchangeProblem
        Where the document does not belong to the evaluation or is not of this form.
    """
    windows = {c.id: c.windows for c in evaluation.claims}
    try:
        claims = tuple(
            ClaimFinding(
                c["claim_id"],
                c["sample_id"],
                Verdict(c["verdict"]),
                c["reason"],
                tuple(
                    WindowEvidence(
                        _window_finding(w["figures"], window) if w["figures"] else None,
                        window,
                        w["sweep_id"],
                        Verdict(w["verdict"]),
                        w["reason"],
                        tuple(w["gates"]),
                        w["setup_id"],
                        w["setting_id"],
                        w["round"],
                        w["instrument_id"],
                        tuple(_piece(p) for p in w["pieces"]),
                        tuple(w["beside"]),
                        _curve_from(w["curve"]),
                    )
                    for w, window in zip(c["windows"], windows[c["claim_id"]], strict=False)
                ),
                c["counted"],
            )
            for c in document["claims"]
        )
        use = tuple(
            UsabilityFinding(
                sample_id=u["sample_id"],
                band=u["band"],
                low_hz=u["low_hz"],
                high_hz=u["high_hz"],
                state=Usability(u["state"]),
                share=u["share"],
                worst_swr=_infinite(u["worst_swr"]),
                sweep_id=u["sweep_id"],
                sentence=u["sentence"],
                curve=_curve_from(u.get("curve")),
            )
            for u in document["usability"]
        )
        questions = tuple(AdjustedQuestion(**q) for q in document["questions"])
        emissions = tuple(
            EmissionsFinding(
                e["sample_id"], e["carrier_hz"], e["filter"], e["rules"], report_from(e), tuple(e["capture_ids"]),
                e["noise_dbm"],
            )
            for e in document["emissions"]
        )  # fmt: skip
        return Findings(
            claims,
            use,
            tuple(document["warnings"]),
            emissions,
            questions,
            tuple((hz, words) for hz, words in document["emission_problems"]),
            tuple((name, words) for name, words in document["checks"]),
            tuple((capture, words) for capture, words in document["paths"]),
        )
    except (KeyError, TypeError, ValueError) as problem:
        raise ExchangeProblem(f"findings.json: {problem!r}") from None


def _curve(sweep: Sweep) -> dict[str, Any]:
    return {
        "hz": sweep.frequency_hz.tolist(),
        "re": sweep.gamma.real.tolist(),
        "im": sweep.gamma.imag.tolist(),
        "z0_ohm": sweep.z0_ohm,
        "scalar": sweep.scalar,
    }


def _curve_from(data: Mapping[str, Any] | None) -> Sweep | None:
    if data is None:
        return None
    gamma = np.array(data["re"], dtype=np.complex128) + 1j * np.array(data["im"])
    return Sweep(np.array(data["hz"]), gamma, data["z0_ohm"], data["scalar"])


def _piece(data: Mapping[str, Any]) -> PieceFinding:
    swr = None if data["worst_swr"] is None and data["verdict"] == Verdict.NOT_SHOWN else _infinite(data["worst_swr"])
    own = {"sweep_ids": tuple(data["sweep_ids"]), "part": Part(data["part"]), "verdict": Verdict(data["verdict"])}
    return PieceFinding(**{**data, **own, "worst_swr": swr})


def _infinite(swr: float | None) -> float:
    return float("inf") if swr is None else swr


def _spot(data: Mapping[str, Any]) -> Spot | None:
    return None if data["frequency_hz"] is None else Spot(data["frequency_hz"], _infinite(data["swr"]))


def _window_finding(data: Mapping[str, Any], window: Window) -> WindowFinding:
    return WindowFinding(
        window=window,
        points_inside=data["points_inside"],
        largest_step_hz=data["largest_step_hz"],
        step_needed_hz=data["step_needed_hz"],
        best=_spot(data["best"]),
        worst=_spot(data["worst"]),
        share_within_limit=data["share_within_limit"],
        widths=tuple(Width(w["swr"], w["low_hz"], w["high_hz"], w["low_open"], w["high_open"]) for w in data["widths"]),
        limit_swr=data["limit_swr"],
        u_gamma=data["u_gamma"],
        swr_low=data["swr_low"],
        swr_high=None if data["u_gamma"] is None else _infinite(data["swr_high"]),
        verdict=Verdict(data["verdict"]),
        probability=data["probability"],
        outside=data["outside"],
        unfit=data["unfit"],
        reason=data["reason"],
    )
