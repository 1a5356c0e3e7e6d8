"""The exchange form of an evaluation: JSON that names its raw files by SHA-256, and the findings beside it."""

from collections.abc import Mapping
from hashlib import sha256
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from levelmoor.core.claims import Claim
from levelmoor.core.decision import Rule
from levelmoor.core.evaluation import Calibration, Evaluation, Evidence, Instrument, Product, Sample, Setup
from levelmoor.core.judge import Findings
from levelmoor.core.usability import Profile
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
                        "figures": window_report(w.finding) if w.finding else None,
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
