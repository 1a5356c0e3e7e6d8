"""Findings as plain JSON data, and read again as they were published."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from levelmoor.core.emissions.emission_findings import EmissionsFinding
from levelmoor.core.evidence.findings import (
    ClaimFinding,
    Findings,
    Part,
    PieceFinding,
    ProfileUse,
    UsabilityFinding,
    WindowEvidence,
)
from levelmoor.core.evidence.pieces import AdjustedQuestion
from levelmoor.core.evidence.radio_use import RadioUse, Use
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.usability import Usability
from levelmoor.core.rf.bandplan import in_region
from levelmoor.core.rf.dips import Width
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import Spot, WindowFinding
from levelmoor.formats.check import finite, window_report
from levelmoor.formats.coded import with_codes, without_codes
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
    """The findings as plain JSON data, an infinite SWR as null; beside all that is said its code and figures."""
    plain = {
        "claims": [_claim(f) for f in findings.claims],
        "usability": [_usability(u) for u in findings.usability],
        "warnings": list(findings.warnings),
        "emissions": [_emissions(e) for e in findings.emissions],
        "emission_problems": [list(p) for p in findings.emission_problems],
        "checks": [list(c) for c in findings.checks],
        "paths": [list(p) for p in findings.paths],
        "questions": [vars(q) for q in findings.questions],
        "profiles": [{**vars(p), "state": p.state.value} for p in findings.profiles],
        "radios": [_radio(r) for r in findings.radios],
    }
    coded: dict[str, Any] = with_codes(plain)
    return coded


def findings_from(document: Mapping[str, Any], evaluation: Evaluation) -> Findings:
    """The findings as they were published, from their JSON data; a null SWR is infinite again.

    Raises
    ------
    ExchangeProblem
        Where the document does not belong to the evaluation or is not of this form.
    """
    of = evaluation
    windows = {c.id: in_region(c.windows, of.region, of.own_bands) or (None,) for c in of.claims}
    document = without_codes(document)
    try:
        return Findings(
            claims=tuple(_claim_from(c, windows[c["claim_id"]]) for c in document["claims"]),
            usability=tuple(_usability_from(u) for u in document["usability"]),
            warnings=tuple(document["warnings"]),
            emissions=tuple(_emissions_from(e) for e in document["emissions"]),
            questions=tuple(AdjustedQuestion(**q) for q in document["questions"]),
            emission_problems=tuple((hz, words) for hz, words in document["emission_problems"]),
            checks=tuple((name, words) for name, words in document["checks"]),
            paths=tuple((capture, words) for capture, words in document["paths"]),
            profiles=tuple(ProfileUse(**{**p, "state": Usability(p["state"])}) for p in document.get("profiles", ())),
            radios=tuple(_radio_from(r) for r in document.get("radios", ())),
        )
    except (KeyError, TypeError, ValueError) as problem:
        raise ExchangeProblem(f"findings.json: {problem!r}") from None


def _claim(found: ClaimFinding) -> dict[str, Any]:
    own = {"verdict": found.verdict.value, "windows": [_window(w) for w in found.windows]}
    return {**vars(found), **own}


def _claim_from(data: Mapping[str, Any], windows: Sequence[Window | None]) -> ClaimFinding:
    shown = tuple(_window_from(w, window) for w, window in zip(data["windows"], windows, strict=False))
    return ClaimFinding(**{**data, "verdict": Verdict(data["verdict"]), "windows": shown})


def _window(shown: WindowEvidence) -> dict[str, Any]:
    data = {n: v for n, v in vars(shown).items() if n not in ("finding", "window")}
    return data | {
        "name": shown.name,
        "verdict": shown.verdict.value,
        "gates": list(shown.gates),
        "beside": list(shown.beside),
        "pieces": [_piece(p) for p in shown.pieces],
        "curve": _curve(shown.curve) if shown.curve else None,
        "figures": _figures(shown.finding) if shown.finding else None,
    }


def _window_from(data: Mapping[str, Any], window: Window | None) -> WindowEvidence:
    kept = {n: v for n, v in data.items() if n not in ("name", "figures")}
    own = {
        "finding": _window_finding(data["figures"], window) if data["figures"] and window else None,
        "window": window,
        "verdict": Verdict(data["verdict"]),
        "gates": tuple(data["gates"]),
        "beside": tuple(data["beside"]),
        "pieces": tuple(_piece_from(p) for p in data["pieces"]),
        "curve": _curve_from(data["curve"]),
    }
    return WindowEvidence(**{**kept, **own})


def _radio(found: RadioUse) -> dict[str, Any]:
    return {**vars(found), "use": found.use.value, "worst_swr": finite(found.worst_swr)}


def _radio_from(data: Mapping[str, Any]) -> RadioUse:
    return RadioUse(**{**data, "use": Use(data["use"]), "worst_swr": _infinite(data["worst_swr"])})


def _usability(found: UsabilityFinding) -> dict[str, Any]:
    own = {"state": found.state.value, "worst_swr": finite(found.worst_swr)}
    return {**vars(found), **own, "curve": _curve(found.curve) if found.curve else None}


def _usability_from(data: Mapping[str, Any]) -> UsabilityFinding:
    own = {"state": Usability(data["state"]), "worst_swr": _infinite(data["worst_swr"])}
    return UsabilityFinding(**{**data, **own, "curve": _curve_from(data.get("curve"))})


def _emissions(found: EmissionsFinding) -> dict[str, Any]:
    return {
        "sample_id": found.sample_id,
        "stated_hz": found.carrier_hz,
        "setup_id": found.setup_id,
        "filter": found.filter_name,
        "capture_ids": list(found.capture_ids),
        "noise_dbm": finite(found.noise_dbm),
        **harmonics_document(found.rule_id, found.report),
    }


def _emissions_from(e: Mapping[str, Any]) -> EmissionsFinding:
    captures, stated = tuple(e["capture_ids"]), e.get("stated_hz", e["carrier_hz"])
    own = report_from(e), captures, e.get("setup_id", ""), e["noise_dbm"]
    return EmissionsFinding(e["sample_id"], stated, e["filter"], e["rules"], *own)


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


def _piece(found: PieceFinding) -> dict[str, Any]:
    open_ended = {"open_ended": True} if found.worst_swr == float("inf") else {}
    return {**vars(found), "sweep_ids": list(found.sweep_ids), "worst_swr": finite(found.worst_swr), **open_ended}


def _piece_from(data: Mapping[str, Any]) -> PieceFinding:
    kept = {n: v for n, v in data.items() if n != "open_ended"}
    swr = float("inf") if data.get("open_ended") else data["worst_swr"]
    own = {"sweep_ids": tuple(data["sweep_ids"]), "part": Part(data["part"]), "verdict": Verdict(data["verdict"])}
    return PieceFinding(**{**kept, **own, "worst_swr": swr})


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
