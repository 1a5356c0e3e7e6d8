"""A whole evaluation as one file: evaluation.json and its raw files in a zip, or the JSON alone."""

import io
import json
import zipfile
from collections.abc import Mapping
from hashlib import sha256

from levelmoor.core.evaluation import Evaluation
from levelmoor.formats.bundle import EPOCH, LARGEST_BYTES, member_name
from levelmoor.formats.exchange import ExchangeProblem, from_document, raw_files_of, to_document


def write_exchange(evaluation: Evaluation, files: Mapping[str, bytes]) -> bytes:
    """The zip's bytes; `files` by SHA-256. The same input gives the same bytes."""
    document = json.dumps(to_document(evaluation), ensure_ascii=False, indent=1, allow_nan=False).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("evaluation.json", EPOCH), document, zipfile.ZIP_DEFLATED)
        for digest, name in sorted(raw_files_of(evaluation).items()):
            archive.writestr(zipfile.ZipInfo(member_name(digest, name), EPOCH), files[digest], zipfile.ZIP_DEFLATED)
    return out.getvalue()


def read_exchange(data: bytes, without_files: bool = False) -> tuple[Evaluation, dict[str, bytes]]:
    """An evaluation and its raw files from a zip, or from JSON alone where it needs no raw files.

    `without_files` leaves out what rests on raw files that are not there.

    Raises
    ------
    ExchangeProblem
        Where it is not of this form or a raw file is missing.
    FileProblem
        Where a raw file cannot be read.
    """
    if not data.startswith(b"PK"):
        return from_document(data, {}, without_files), {}
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(info.file_size for info in archive.infolist()) > LARGEST_BYTES:
                raise ExchangeProblem("the file unpacks to more than 400 MB")
            document = archive.read("evaluation.json")
            raw = [archive.read(i) for i in archive.infolist() if i.filename.startswith("files/")]
    except (zipfile.BadZipFile, KeyError, RuntimeError, NotImplementedError) as problem:
        raise ExchangeProblem(f"not an exported evaluation: {problem}") from None
    files = {sha256(content).hexdigest(): content for content in raw}
    return from_document(document, files, without_files), files
