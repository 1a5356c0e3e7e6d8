"""The bundle: a published report as one zip that anyone can check and judge again.

It holds manifest.json, evaluation.json, findings.json, the raw files as they came, and SHA256SUMS over all of
them. The zip's comment carries a digest of every byte before it, so that no byte can change unnoticed.
"""

import io
import json
import math
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from hashlib import sha256
from pathlib import PurePosixPath
from typing import Any

from levelmoor import __version__
from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.coded import CODES, without_words
from levelmoor.formats.exchange import from_document, raw_files_of, to_document
from levelmoor.formats.findings_document import findings_document, findings_from
from levelmoor.formats.json_in import JsonProblem, read_json
from levelmoor.formats.zip_in import ZipProblem, members_of

MARK = b"levelmoor sha256 "
VERSION = 6
PACKED = 4
"""How hard a bundle is packed: less than half of the time of the usual 6, for a hundredth more bytes."""
LARGEST_BYTES = 400_000_000
MOST_VALUES = 10_000_000
EPOCH = (2020, 1, 1, 0, 0, 0)
_README = """This bundle holds the evidence and the findings of a published Levelmoor report.

evaluation.json  product, samples, claims, setups, instruments, sweeps by their raw files
findings.json    the verdicts and figures as published
files/           the raw files as they came
SHA256SUMS       sha256sum -c SHA256SUMS checks all of them

levelmoor verify BUNDLE checks the hashes and judges the evidence again. That proves that the
findings follow from the files, and that nothing was changed since the bundle was made. It does not prove who made
it, nor that the files are true: compare its SHA-256 with the one on the page where it was published (--sha256), and
measure.
"""


class BundleProblem(ValueError):
    """Not a bundle, or one that was altered."""


@dataclass(frozen=True)
class Publication:
    """What a report says of itself, all of it under the bundle's digest; `published_on` is an ISO date."""

    title: str
    team: str
    revision: int
    reason: str
    published_on: str
    published_by: str = ""
    product: str = ""
    maker: str = ""
    headline: str = ""
    reviewed_by: str = ""


@dataclass(frozen=True)
class Bundle:
    manifest: dict[str, Any]
    evaluation: Evaluation
    evaluation_document: dict[str, Any]
    findings: Findings
    findings_document: dict[str, Any]
    raw_files: Mapping[str, bytes]


@dataclass(frozen=True)
class Verification:
    title: str
    revision: int
    sha256: str
    files: int
    agrees: tuple[str, ...]
    differs: tuple[str, ...]

    @property
    def same(self) -> bool:
        return not self.differs


def write_bundle(
    publication: Publication, evaluation: Evaluation, findings: Findings, raw_files: Mapping[str, bytes]
) -> bytes:
    """The bundle's bytes; the same input always gives the same bytes. `raw_files` by SHA-256."""
    manifest = {
        "format": "levelmoor bundle",
        "version": VERSION,
        "software": f"levelmoor {__version__}",
        **vars(publication),
    }
    members = {
        "manifest.json": _json(manifest),
        "evaluation.json": _json(to_document(evaluation)),
        "findings.json": _json(findings_document(findings)),
        "README.txt": _README.encode(),
    }
    for digest, file_name in raw_files_of(evaluation).items():
        members[member_name(digest, file_name)] = raw_files[digest]
    sums = "".join(f"{sha256(data).hexdigest()}  {name}\n" for name, data in sorted(members.items()))
    members["SHA256SUMS"] = sums.encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(zipfile.ZipInfo(name, EPOCH), data, zipfile.ZIP_DEFLATED, PACKED)
        archive.comment = MARK + b"0" * 64
    body = out.getvalue()[:-64]
    return body + sha256(body).hexdigest().encode()


def read_bundle(data: bytes) -> Bundle:
    """A bundle from its bytes, checksums checked.

    Raises
    ------
    BundleProblem
        If it is not a bundle, or any byte of it was changed.
    """
    body, digest = data[:-64], data[-64:]
    if not body.endswith(MARK):
        raise BundleProblem("not a Levelmoor bundle, or its end is missing")
    if sha256(body).hexdigest().encode() != digest:
        raise BundleProblem("altered: the bundle's digest does not match its bytes")
    try:
        members = _members(data)
        manifest = read_json(members["manifest.json"], LARGEST_BYTES, MOST_VALUES)
        findings_raw = read_json(members["findings.json"], LARGEST_BYTES, MOST_VALUES)
        document = read_json(members["evaluation.json"], LARGEST_BYTES, MOST_VALUES)
        raw = {sha256(d).hexdigest(): d for n, d in members.items() if n.startswith("files/")}
        evaluation = from_document(members["evaluation.json"], raw)
        findings = findings_from(findings_raw, evaluation)
    except BundleProblem:
        raise
    except (KeyError, JsonProblem) as problem:
        raise BundleProblem(f"not a Levelmoor bundle: {problem}") from None
    except ValueError as problem:
        raise BundleProblem(str(problem)) from None
    if not isinstance(manifest, dict) or not isinstance(findings_raw, dict) or not isinstance(document, dict):
        raise BundleProblem("not a Levelmoor bundle: its documents are not JSON objects")
    if manifest.get("format") != "levelmoor bundle" or manifest.get("version") != VERSION:
        raise BundleProblem("not a bundle of a version known to this program")
    return Bundle(manifest, evaluation, document, findings, findings_raw, raw)


def _members(data: bytes) -> dict[str, bytes]:
    try:
        members = members_of(data, LARGEST_BYTES)
    except ZipProblem as problem:
        raise BundleProblem(f"not a valid bundle: {problem}") from None
    sums = [line.split("  ", 1) for line in members["SHA256SUMS"].decode().splitlines()]
    stated: dict[str, str] = {name: digest for digest, name in sums}
    for name, content in members.items():
        if name != "SHA256SUMS" and stated.get(name) != sha256(content).hexdigest():
            raise BundleProblem(f"altered: {name} does not match its checksum")
    if missing := set(stated) - set(members):
        raise BundleProblem(f"altered: {', '.join(sorted(missing))} is missing")
    return members


def verify_bundle(data: bytes) -> Verification:
    """Judge a bundle's evidence again and compare with what was published, by codes and figures: a sentence may have
    been worded better since."""
    bundle = read_bundle(data)
    manifest = bundle.manifest
    said = str(manifest.get("title", "")), int(manifest.get("revision", 0)), sha256(data).hexdigest()
    again = findings_document(judge(bundle.evaluation))
    claims = {c.id: c for c in bundle.evaluation.claims}
    samples = {s.id: s.label for s in bundle.evaluation.samples}
    agrees, differs = [], []
    for key in ("claims", "usability", "warnings", "emissions"):
        published, judged = _entries(bundle.findings_document, key), _entries(again, key)
        if len(published) != len(judged):
            differs.append(f"{key}: {len(published)} published, {len(judged)} judged again")
            continue
        for one, two in zip(published, judged, strict=True):
            line = _line(key, two, claims, samples)
            if _alike(one, two):
                agrees.append(line)
            else:
                differs.append(f"{line} (published: {_line(key, one, claims, samples)})")
    return Verification(*said, len(bundle.raw_files) + 4, tuple(agrees), tuple(differs))


def _entries(document: Mapping[str, Any], key: str) -> list[Any]:
    """The entries of a kind; a warning with its code."""
    codes = document.get(CODES, {}).get(key)
    if codes is None:
        return list(document[key])
    return [{"words": w, CODES: {"words": c}} for w, c in zip(document[key], codes, strict=True)]


def _line(key: str, entry: Any, claims: Mapping[str, Claim], samples: Mapping[str, str]) -> str:
    if key == "warnings":
        return str(entry["words"] if isinstance(entry, dict) else entry)
    sample = samples.get(entry["sample_id"], "?")
    if key == "emissions":
        carrier = entry.get("stated_hz", entry["carrier_hz"]) / 1e6
        return f"{entry['rules']}, {sample}, {carrier:.6g} MHz: {entry['verdict']}"
    if key == "usability":
        return f"{entry['band']}, {sample}: {entry['sentence']}"
    claim = claims.get(entry["claim_id"])
    verdict = (
        VERDICT_WORDS.get(entry["verdict"], entry["verdict"]) if entry["verdict"] in list(Verdict) else entry["verdict"]
    )
    return f"{claim.wording if claim else entry['claim_id']}, {sample}: {verdict}"


def _alike(published: Any, again: Any) -> bool:
    """The same codes and figures; where none were published, the same words."""
    plain = CODES not in json.dumps(published)
    return _equal(published if plain else without_words(published), _plain(again) if plain else without_words(again))


def _plain(data: Any) -> Any:
    """The data without codes, its words left."""
    if isinstance(data, dict):
        return {k: _plain(v) for k, v in data.items() if k != CODES}
    return [_plain(v) for v in data] if isinstance(data, list) else data


def _equal(one: Any, two: Any) -> bool:
    """Equal, figures to 1 part in 10^9: another processor may round the last bit otherwise."""
    if isinstance(one, dict) and isinstance(two, dict):
        return one.keys() == two.keys() and all(_equal(one[k], two[k]) for k in one)
    if isinstance(one, list) and isinstance(two, list):
        return len(one) == len(two) and all(_equal(a, b) for a, b in zip(one, two, strict=True))
    if isinstance(one, float) or isinstance(two, float):
        numbers = isinstance(one, (int, float)) and isinstance(two, (int, float))
        return numbers and math.isclose(one, two, rel_tol=1e-9, abs_tol=1e-12)
    return bool(one == two)


def _json(data: Any) -> bytes:
    return json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False).encode() + b"\n"


def member_name(digest: str, file_name: str) -> str:
    """A name that cannot leave its folder, and is unlike any other's."""
    safe = "".join(c if c.isalnum() or c in "-_." else "_" for c in PurePosixPath(file_name.replace("\\", "/")).name)
    return f"files/{digest[:12]}-{safe or 'sweep'}"
