"""A whole evaluation as one file: evaluation.json and its raw files in a zip, or the JSON alone."""

import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from hashlib import sha256

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.words.bounds import EXPANDED_BYTES
from levelmoor.formats.bundle import EPOCH, PACKED, member_name
from levelmoor.formats.exchange import Alongside, ExchangeProblem, admitted, raw_files_of, to_document
from levelmoor.formats.zip_in import ZipProblem, members_of


@dataclass(frozen=True)
class Exchange:
    """An evaluation as it came, its raw files by SHA-256, and what it has beside."""

    evaluation: Evaluation
    files: Mapping[str, bytes]
    beside: Alongside = field(default_factory=Alongside)


def write_exchange(of: Exchange) -> bytes:
    """The zip's bytes. The same input gives the same bytes."""
    evaluation, files, beside = of.evaluation, of.files, of.beside
    document = json.dumps(to_document(evaluation, beside), ensure_ascii=False, indent=1, allow_nan=False).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("evaluation.json", EPOCH), document, zipfile.ZIP_DEFLATED, PACKED)
        for digest, name in sorted(raw_files_of(evaluation, beside).items()):
            archive.writestr(
                zipfile.ZipInfo(member_name(digest, name), EPOCH), files[digest], zipfile.ZIP_DEFLATED, PACKED
            )
        if beside.stays:
            archive.writestr(zipfile.ZipInfo("STAYS-BEHIND.txt", EPOCH), "\n".join((*beside.stays, "")))
    return out.getvalue()


def read_exchange(
    data: bytes,
    without_files: bool = False,
    most_bytes: int = EXPANDED_BYTES,
    files: Mapping[str, bytes] | None = None,
) -> Exchange:
    """An evaluation from a zip, or from JSON alone with the raw files it needs by SHA-256, if any.

    `without_files` leaves out what rests on raw files that are not there; `most_bytes` is what it may unpack to.

    Raises
    ------
    ExchangeProblem
        Where it is not of this form, or a raw file is missing; names the field.
    FileProblem
        Where a raw file cannot be read.
    """
    if not data.startswith(b"PK"):
        given = files or {}
        return Exchange(*_apart(admitted(data, given, without_files), given))
    try:
        members = members_of(data, most_bytes)
    except ZipProblem as problem:
        raise ExchangeProblem(f"{problem}; download the file again, or export the evaluation again") from None
    if "evaluation.json" not in members:
        raise ExchangeProblem("not an exported evaluation: the zip has no evaluation.json")
    document = members["evaluation.json"]
    raw = [content for name, content in members.items() if name.startswith("files/")]
    found = {sha256(content).hexdigest(): content for content in raw}
    return Exchange(*_apart(admitted(document, found, without_files), found))


def _apart(
    found: tuple[Evaluation, Alongside], files: Mapping[str, bytes]
) -> tuple[Evaluation, Mapping[str, bytes], Alongside]:
    return found[0], files, found[1]
