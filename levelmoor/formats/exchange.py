"""The exchange form of an evaluation: JSON that names its raw files by SHA-256, and the findings beside it."""

from collections.abc import Mapping
from hashlib import sha256
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from levelmoor.core.claims import Claim
from levelmoor.core.decision import Rule, Verdict
from levelmoor.core.dips import Width
from levelmoor.core.evaluation import Calibration, Evaluation, Evidence, Instrument, Product, Sample, Setup
from levelmoor.core.judge import ClaimFinding, Findings, UsabilityFinding, WindowEvidence
from levelmoor.core.usability import Profile, Usability
from levelmoor.core.window_verdict import Spot, WindowFinding
from levelmoor.core.windows import Window
from levelmoor.formats.check import finite, window_report
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file


class ExchangeProblem(ValueError):
    """What in an exchange document is not as it should be."""


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class EvidenceDocument(_Document):
    id: str
    name: str
    sample_id: str
    setup_id: str
    instrument_id: str
    calibration: Calibration
    file_name: str
    sha256: str
    taken_on: str = ""
    port: int = 1
    unit: str = ""
    kind: str = ""


class EvaluationDocument(_Document):
    format: Literal["levelmoor evaluation"] = "levelmoor evaluation"
    version: Literal[1] = 1
    title: str
    product: Product
    region: int
    rule: Rule
    profile: Profile
    samples: tuple[Sample, ...]
    claims: tuple[Claim, ...]
    setups: tuple[Setup, ...]
    instruments: tuple[Instrument, ...]
    sweeps: tuple[EvidenceDocument, ...]
    notes: str = ""


_EVIDENCE_FIELDS = tuple(EvidenceDocument.model_fields)
_SHARED_FIELDS = tuple(n for n in EvaluationDocument.model_fields if n not in ("format", "version", "sweeps"))


def to_document(evaluation: Evaluation) -> dict[str, Any]:
    """The evaluation as plain JSON data; sweeps are named by their raw files."""
    sweeps = tuple(EvidenceDocument(**{n: getattr(e, n) for n in _EVIDENCE_FIELDS}) for e in evaluation.sweeps)
    document = EvaluationDocument(sweeps=sweeps, **{n: getattr(evaluation, n) for n in _SHARED_FIELDS})
    return document.model_dump(mode="json")


def from_document(raw: str | bytes, files: Mapping[str, bytes]) -> Evaluation:
    """The evaluation from JSON text and its raw files by SHA-256.

    Raises
    ------
    ExchangeProblem
        Where the document is not of this form, or a raw file is missing.
    FileProblem
        Where a raw file cannot be read.
    """
    try:
        document = EvaluationDocument.model_validate_json(raw)
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(p) for p in first["loc"]) or "document"
        raise ExchangeProblem(f"evaluation.json: {place}: {first['msg']}") from None
    sweeps = []
    for evidence in document.sweeps:
        data = files.get(evidence.sha256)
        if data is None or sha256(data).hexdigest() != evidence.sha256:
            raise ExchangeProblem(f"the raw file {evidence.file_name} of {evidence.name} is missing")
        read = read_sweep_file(evidence.file_name, data, ReadOptions(evidence.port, evidence.unit, evidence.kind))
        sweeps.append(Evidence(sweep=read.sweep, **{n: getattr(evidence, n) for n in _EVIDENCE_FIELDS}))
    return Evaluation(sweeps=tuple(sweeps), **{n: getattr(document, n) for n in _SHARED_FIELDS})


def _figures(finding: WindowFinding) -> dict[str, Any]:
    return {
        **window_report(finding),
        "largest_step_hz": finding.largest_step_hz,
        "step_needed_hz": finding.step_needed_hz,
        "swr_low": finding.swr_low,
        "swr_high": finite(finding.swr_high),
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
                "windows": [
                    {
                        "name": w.window.name,
                        "sweep_id": w.sweep_id,
                        "verdict": w.verdict.value,
                        "reason": w.reason,
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
            }
            for u in findings.usability
        ],
        "warnings": list(findings.warnings),
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
                    )
                    for w, window in zip(c["windows"], windows[c["claim_id"]], strict=False)
                ),
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
            )
            for u in document["usability"]
        )
        return Findings(claims, use, tuple(document["warnings"]))
    except (KeyError, TypeError, ValueError) as problem:
        raise ExchangeProblem(f"findings.json: {problem!r}") from None


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
        reason=data["reason"],
    )
