"""The exchange form of an evaluation: JSON that names its raw files by SHA-256, and the findings beside it."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from hashlib import sha256
from typing import TYPE_CHECKING, Annotated, Any, Literal, TypeAlias, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from levelmoor.core.bench.calibration import ErrorTerms
from levelmoor.core.model.bench_records import BenchCheck, RawPart
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.evaluation import EDITION, Evaluation, Evidence
from levelmoor.core.model.reading_sheets import ReadingSheet, TypedReading
from levelmoor.core.model.through import Through
from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.words.bounds import (
    READINGS,
    ROUNDS,
)
from levelmoor.formats.admitted import NotAdmitted, check_admitted
from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.evidence_files import correction_of, filled_check, sweep_of_parts
from levelmoor.formats.from_core import Document, model_of
from levelmoor.formats.json_in import JsonProblem, check_json
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.through_file import read_through

T = TypeVar("T")
Typed = Annotated[str, Field(max_length=200)]


class ExchangeProblem(ValueError):
    """What in an exchange document is not as it should be."""


class ReadingDocument(Document):
    """A reading as it was typed, with what was asked and answered."""

    entry_id: str = Field(max_length=40)
    typed: dict[str, Typed] = Field(max_length=8)
    answers: dict[str, Typed] = Field(default_factory=dict, max_length=20)
    made_at: str = Field("", max_length=30)
    made_by: str = Field("", max_length=200)


class SheetDocument(Document):
    """Readings of one sample in one setup with one instrument; `sweep_id` is the sweep they were joined into."""

    id: str = Field("", max_length=40)
    sample_id: str
    setup_id: str
    instrument_id: str
    kind: ReadingKind
    sweep_id: str = ""
    setting_id: str = ""
    round: int = Field(1, ge=1, le=ROUNDS)
    readings: tuple[ReadingDocument, ...] = Field((), max_length=READINGS)


class FilterDocument(Document):
    """The two-port sweep of a filter that might be added."""

    file_name: str = Field(min_length=1, max_length=200)
    sha256: str


class Alongside(BaseModel):
    """What an evaluation has beside what it is judged by, and what an export leaves where it is."""

    model_config = ConfigDict(frozen=True)
    filters: tuple[FilterDocument, ...] = ()
    stays: tuple[str, ...] = ()


_NAMED: dict[str, Any] = {"file_name": (str, ...), "sha256": (str, ...)}
if TYPE_CHECKING:
    EvidenceDocument: TypeAlias = Any
    CaptureDocument: TypeAlias = Any
    CheckDocument: TypeAlias = Any
    ThroughDocument: TypeAlias = Any
    EvaluationDocument: TypeAlias = Any
else:
    EvidenceDocument = model_of("EvidenceDocument", Evidence, ("sweep",), **_NAMED)
    CaptureDocument = model_of("CaptureDocument", Capture, ("trace",), **_NAMED)
    CheckDocument = model_of("CheckDocument", BenchCheck, ("sweep", "traces"))
    ThroughDocument = model_of("ThroughDocument", Through, ("two_port",), **_NAMED)
    EvaluationDocument = model_of(
        "EvaluationDocument", Evaluation, (),
        format=(Literal["levelmoor evaluation"], "levelmoor evaluation"), version=(Literal[1], 1),
        sweeps=(tuple[EvidenceDocument, ...], ()), checks=(tuple[CheckDocument, ...], ()),
        captures=(tuple[CaptureDocument, ...], ()), throughs=(tuple[ThroughDocument, ...], ()),
        readings=(tuple[SheetDocument, ...], ()), filters=(tuple[FilterDocument, ...], ()), stays=(tuple[str, ...], ()),
    )  # fmt: skip
    """`stays` is what was left behind at the export, in sentences."""


_BESIDE = tuple(Alongside.model_fields)
_EVIDENCE_FIELDS = tuple(EvidenceDocument.model_fields)
_CHECK_FIELDS = tuple(CheckDocument.model_fields)
_CAPTURE_FIELDS = tuple(CaptureDocument.model_fields)
_THROUGH_FIELDS = tuple(ThroughDocument.model_fields)
_OWN_FIELDS = ("format", "version", "sweeps", "checks", "captures", "throughs", "readings", *_BESIDE)
_SHARED_FIELDS = tuple(n for n in EvaluationDocument.model_fields if n not in _OWN_FIELDS)


def to_document(evaluation: Evaluation, beside: Alongside | None = None) -> dict[str, Any]:
    """The evaluation as plain JSON data; sweeps are named by their raw files. What it has beside comes along where it
    is given."""
    sweeps = tuple(EvidenceDocument(**{n: getattr(e, n) for n in _EVIDENCE_FIELDS}) for e in evaluation.sweeps)
    checks = tuple(CheckDocument(**{n: getattr(c, n) for n in _CHECK_FIELDS}) for c in evaluation.checks)
    shared = {n: getattr(evaluation, n) for n in _SHARED_FIELDS}
    captures = tuple(CaptureDocument(**{n: getattr(c, n) for n in _CAPTURE_FIELDS}) for c in evaluation.captures)
    more = {n: getattr(beside, n) for n in _BESIDE} if beside else {}
    throughs = tuple(ThroughDocument(**{n: getattr(x, n) for n in _THROUGH_FIELDS}) for x in evaluation.throughs)
    readings = tuple(_sheet_document(x) for x in evaluation.readings)
    document = EvaluationDocument(
        sweeps=sweeps,
        checks=checks,
        captures=captures,
        throughs=throughs,
        readings=readings,
        **shared,
        **more,
    )
    dumped: dict[str, Any] = document.model_dump(mode="json", exclude=set() if beside else set(_BESIDE))
    return dumped


def json_schema() -> dict[str, Any]:
    """The JSON Schema of the exchange form."""
    schema: dict[str, Any] = EvaluationDocument.model_json_schema()
    return schema


def raw_files_of(evaluation: Evaluation, beside: Alongside | None = None) -> dict[str, str]:
    """Every raw file that an evaluation rests on, SHA-256 to file name."""
    found: dict[str, str] = {}
    for evidence in evaluation.sweeps:
        found[evidence.sha256] = evidence.file_name
        found |= {p.sha256: p.file_name for p in evidence.segments}
    parts = [p for c in evaluation.calibrations for p in c.parts] + [p for c in evaluation.checks for p in c.parts]
    found |= {p.sha256: p.file_name for p in parts}
    found |= {c.sha256: c.file_name for c in evaluation.captures}
    found |= {x.sha256: x.file_name for x in evaluation.throughs}
    found |= {f.sha256: f.file_name for f in beside.filters} if beside else {}
    return found | {p.sha256: p.file_name for p in evaluation.pictures}


def from_document(raw: str | bytes, files: Mapping[str, bytes], without_files: bool = False) -> Evaluation:
    """The evaluation from JSON text and its raw files by SHA-256.

    `without_files` leaves out the sweeps and checks whose raw files are not there, as planning may.

    Raises
    ------
    ExchangeProblem
        Where the document is not of this form, or a raw file is missing.
    FileProblem
        Where a raw file cannot be read.
    """
    return _evaluation(read_document(raw), files, without_files)


def read_document(raw: str | bytes) -> EvaluationDocument:
    """The document of an evaluation from JSON text; raises ExchangeProblem naming what is not of its form."""
    try:
        return EvaluationDocument.model_validate_json(check_json(raw))
    except JsonProblem as problem:
        raise ExchangeProblem(f"evaluation.json: {problem}") from None
    except ValidationError as problem:
        first = problem.errors(include_url=False, include_input=False, include_context=False)[0]
        place = ".".join(str(p)[:80] for p in first["loc"]) or "document"
        raise ExchangeProblem(f"evaluation.json: {place}: {first['msg'][:500]}") from None


def admitted(raw: str | bytes, files: Mapping[str, bytes], without_files: bool = False) -> tuple[Evaluation, Alongside]:
    """An evaluation that is to be taken in or planned from: all of it held against the bounds of what is typed.

    Raises
    ------
    ExchangeProblem
        Naming the field that is not as it should be, or the raw file that is missing.
    FileProblem
        Where a raw file cannot be read.
    """
    document = read_document(raw)
    try:
        check_admitted(document)
    except NotAdmitted as problem:
        raise ExchangeProblem(f"evaluation.json: {problem}") from None
    evaluation = _evaluation(document, files, without_files)
    for filter_ in () if without_files else document.filters:
        if filter_.sha256 not in files:
            raise ExchangeProblem(f"the raw file {filter_.file_name} of a filter is missing")
    return evaluation, Alongside(**{n: getattr(document, n) for n in _BESIDE})


def _evaluation(document: EvaluationDocument, files: Mapping[str, bytes], without_files: bool) -> Evaluation:
    if document.edition != EDITION:
        raise ExchangeProblem(
            f"evaluation.json: edition: {document.edition} of the rules is unknown; this program knows {EDITION}"
        )
    for picture in () if without_files else document.pictures:
        if picture.sha256 not in files:
            raise ExchangeProblem(f"the raw file {picture.file_name} of a picture is missing")
    sound = {k: data for k, data in files.items() if sha256(data).hexdigest() == k}
    evaluation = Evaluation(**{n: getattr(document, n) for n in _SHARED_FIELDS})
    if without_files:
        calibrations = tuple(c for c in evaluation.calibrations if all(p.sha256 in sound for p in c.parts))
        evaluation = replace(evaluation, calibrations=calibrations)
    terms = _Terms(evaluation, sound)
    sweeps, checks = [], []
    for one in document.sweeps:
        if without_files and not {one.sha256, *(p.sha256 for p in one.segments)} <= set(sound):
            continue
        sweeps.append(_evidence(one, sound, terms))
    for check in document.checks:
        if without_files and not {p.sha256 for p in check.parts} <= set(sound):
            continue
        bare = BenchCheck(**{n: getattr(check, n) for n in _CHECK_FIELDS})
        checks.append(_with_files(lambda bare=bare: filled_check(bare, sound), bare.id))  # type: ignore[misc]
    captures = tuple(
        _capture(one, sound) for one in document.captures if not (without_files and one.sha256 not in sound)
    )
    throughs = tuple(
        _through(one, sound) for one in document.throughs if not (without_files and one.sha256 not in sound)
    )
    readings = tuple(_sheet(one, n) for n, one in enumerate(document.readings))
    return replace(
        evaluation,
        sweeps=tuple(sweeps),
        checks=tuple(checks),
        captures=captures,
        throughs=throughs,
        readings=readings,
    )


def _sheet_document(sheet: ReadingSheet) -> SheetDocument:
    readings = tuple(
        ReadingDocument(**{**vars(r), "typed": dict(r.typed), "answers": dict(r.answers)}) for r in sheet.readings
    )
    return SheetDocument(**{**vars(sheet), "kind": ReadingKind(sheet.kind), "readings": readings})


def _sheet(document: SheetDocument, number: int) -> ReadingSheet:
    """A sheet of readings; one without an id of its own is told by its place."""
    kept = {n: getattr(document, n) for n in SheetDocument.model_fields if n not in ("id", "kind", "readings")}
    readings = tuple(
        TypedReading(r.entry_id, tuple(r.typed.items()), tuple(r.answers.items()), r.made_at, r.made_by)
        for r in document.readings
    )
    return ReadingSheet(document.id or str(number + 1), kind=document.kind.value, readings=readings, **kept)


def _through(document: ThroughDocument, files: Mapping[str, bytes]) -> Through:
    def read() -> TwoPort:
        data = files.get(document.sha256)
        if data is None:
            raise KeyError(document.file_name)
        return read_through(document.file_name, data, first=True)

    return Through(two_port=_with_files(read, document.name), **{n: getattr(document, n) for n in _THROUGH_FIELDS})


def _capture(document: CaptureDocument, files: Mapping[str, bytes]) -> Capture:
    def read() -> Trace:
        data = files.get(document.sha256)
        if data is None:
            raise KeyError(document.file_name)
        return read_capture_file(document.file_name, data, document.unit, document.columns, first=True).trace

    return Capture(trace=_with_files(read, document.name), **{n: getattr(document, n) for n in _CAPTURE_FIELDS})


class _Terms:
    """Error terms of the calibrations with raw standards, each found once."""

    def __init__(self, evaluation: Evaluation, files: Mapping[str, bytes]) -> None:
        self.records = {c.id: c for c in evaluation.calibrations}
        self.kits = {k.id: k for k in evaluation.equipment.kits}
        self.files = files
        self._found: dict[str, ErrorTerms] = {}

    def of(self, calibration_id: str) -> ErrorTerms:
        if calibration_id not in self._found:
            record = self.records.get(calibration_id)
            if record is None:
                raise ExchangeProblem(f"the calibration {calibration_id} needed for the correction is missing")
            self._found[calibration_id] = correction_of(record, self.kits.get(record.kit_id), self.files)
        return self._found[calibration_id]


def _evidence(document: EvidenceDocument, files: Mapping[str, bytes], terms: _Terms) -> Evidence:
    first = RawPart(
        document.file_name,
        document.sha256,
        document.port,
        document.unit,
        document.kind,
        columns=document.columns,
    )

    def read() -> Sweep:
        error_terms = terms.of(document.calibration_id) if document.raw else None
        return sweep_of_parts((first, *document.segments), files, error_terms)

    return Evidence(sweep=_with_files(read, document.name), **{n: getattr(document, n) for n in _EVIDENCE_FIELDS})


def _with_files(read: Callable[[], T], name: str) -> T:
    """What reading gives; a missing raw file or a correction that cannot be made is a problem of the document."""
    try:
        return read()
    except KeyError as missing:
        raise ExchangeProblem(f"the raw file {missing.args[0]} of {name} is missing") from None
    except (FileProblem, ExchangeProblem):
        raise
    except ValueError as problem:
        raise ExchangeProblem(f"{name}: {problem}") from None
