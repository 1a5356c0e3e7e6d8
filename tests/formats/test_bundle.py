import json
import zipfile
from dataclasses import replace
from hashlib import sha256
from io import BytesIO

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.judge import judge
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import (
    EDITION,
    Calibration,
    Evaluation,
    Evidence,
    Instrument,
    Product,
    Sample,
    Setup,
)
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.windows import Window
from levelmoor.formats.bundle import MARK, BundleProblem, Publication, read_bundle, verify_bundle, write_bundle
from levelmoor.formats.coded import without_words
from levelmoor.formats.exchange import ExchangeProblem, from_document, to_document
from levelmoor.formats.findings_document import findings_document
from levelmoor.formats.sweepfile import read_sweep_file

RAW = ("# MHz S RI R 50\n" + "\n".join(f"{13.9 + i / 100:.2f} {0.1 + i / 200} 0.02" for i in range(70))).encode()
DIGEST = sha256(RAW).hexdigest()
SWEEP = read_sweep_file("../odd name.s1p", RAW).sweep
CASE = Evaluation(
    "A case",
    Product("Antenna", "Maker"),
    samples=(Sample("1", "Unit"),),
    claims=(
        Claim("1", Quantity.SWR, (Window(14e6, 14.35e6, "20m"), Window(18e6, 19e6, "far")), 1.5, seen_on="2026-01-02"),
        Claim("2", Quantity.GAIN, limit=3),
    ),
    setups=(Setup("1", "yard"),),
    instruments=(Instrument("1", "analyzer"),),
    sweeps=(Evidence("1", "sweep", "1", "1", "1", Calibration.AT_PLANE, SWEEP, "../odd name.s1p", DIGEST),),
)
BUNDLE = write_bundle(Publication("A case", "Team", 1, "first", "2026-01-03"), CASE, judge(CASE), {DIGEST: RAW})


def test_same_input_same_bytes():
    assert (
        write_bundle(Publication("A case", "Team", 1, "first", "2026-01-03"), CASE, judge(CASE), {DIGEST: RAW})
        == BUNDLE
    )


def test_published_verdicts_are_found_again():
    result = verify_bundle(BUNDLE)
    assert (result.same, result.revision) == (True, 1)
    assert "SWR at most 1.5:1 on 20m, far, Unit: Fail" in result.agrees


def test_findings_come_back_whole():
    assert findings_document(read_bundle(BUNDLE).findings) == findings_document(judge(CASE))


@settings(max_examples=200)
@given(st.integers(0, len(BUNDLE) - 1), st.integers(1, 255))
def test_no_byte_changes_unnoticed(place, change):
    altered = bytearray(BUNDLE)
    altered[place] ^= change
    with pytest.raises(BundleProblem):
        read_bundle(bytes(altered))


def rebuilt(**members):
    """The bundle with members replaced and every sum put right again: altered by someone who knows how."""
    with zipfile.ZipFile(BytesIO(BUNDLE)) as archive:
        content = {n: archive.read(n) for n in archive.namelist() if n != "SHA256SUMS"}
    content.update(members)
    content["SHA256SUMS"] = "".join(f"{sha256(d).hexdigest()}  {n}\n" for n, d in content.items()).encode()
    out = BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in content.items():
            archive.writestr(name, data)
        archive.comment = MARK + b"0" * 64
    return out.getvalue()[:-64] + sha256(out.getvalue()[:-64]).hexdigest().encode()


def test_other_verdict_than_the_evidence_gives_is_different():
    findings = findings_document(judge(CASE))
    findings["claims"][0]["verdict"] = "pass"
    result = verify_bundle(rebuilt(**{"findings.json": json.dumps(findings).encode()}))
    assert not result.same
    assert "published: SWR at most 1.5:1 on 20m, far, Unit: Pass" in result.differs[0]


@pytest.mark.parametrize(
    ("members", "words"),
    [
        ({"evaluation.json": b"{}"}, "Field required"),
        ({"evaluation.json": b"no json"}, "not a Levelmoor bundle"),
        ({"findings.json": b"{}"}, "findings.json"),
        ({"manifest.json": b'{"format": "other"}'}, "not a bundle of a version"),
    ],
)
def test_what_is_no_bundle(members, words):
    with pytest.raises(BundleProblem, match=words):
        read_bundle(rebuilt(**members))


def test_second_entry_of_one_name_is_refused():
    """Which of the two a reader takes is the reader's business; so neither is taken."""
    out = BytesIO(BUNDLE)
    with zipfile.ZipFile(out, "a") as archive, pytest.warns(UserWarning, match="Duplicate"):
        archive.writestr("findings.json", b"{}")
        archive.comment = MARK + b"0" * 64
    body = out.getvalue()[:-64]
    with pytest.raises(BundleProblem, match="two entries of one name"):
        read_bundle(body + sha256(body).hexdigest().encode())


def test_edition_of_the_rules_that_is_not_known_is_refused():
    document = to_document(CASE)
    document["edition"] = EDITION + 1
    with pytest.raises(BundleProblem, match=f"edition: {EDITION + 1} of the rules is unknown"):
        read_bundle(rebuilt(**{"evaluation.json": json.dumps(document).encode()}))


def test_who_published_what_is_under_the_digest():
    said = Publication("t", "team", 1, "First.", "2026-11-25", "Somebody", "Antenna", "Maker", "1 Fail")
    manifest = read_bundle(write_bundle(said, CASE, judge(CASE), {sha256(RAW).hexdigest(): RAW})).manifest
    assert {n: manifest[n] for n in vars(said)} == vars(said)


@pytest.mark.parametrize("data", [b"", b"PK\x03\x04 nothing", RAW, BUNDLE[:-1]])
def test_other_files_are_refused(data):
    with pytest.raises(BundleProblem, match="not a Levelmoor bundle"):
        read_bundle(data)


def test_raw_files_keep_their_bytes_and_stay_in_their_folder():
    with zipfile.ZipFile(BytesIO(BUNDLE)) as archive:
        (name,) = [n for n in archive.namelist() if n.startswith("files/")]
        assert (name, archive.read(name)) == (f"files/{DIGEST[:12]}-odd_name.s1p", RAW)


def test_exchange_form_comes_back_the_same():
    again = from_document(json.dumps(to_document(CASE)), {DIGEST: RAW})
    assert to_document(again) == to_document(CASE)
    with pytest.raises(ExchangeProblem, match="is missing"):
        from_document(json.dumps(to_document(CASE)), {})


def test_exchange_form_names_what_is_wrong():
    document = to_document(replace(CASE, sweeps=()))
    document["claims"][0]["limit"] = 0.5
    with pytest.raises(ExchangeProblem, match=r"claims\.0.*above 1"):
        from_document(json.dumps(document), {})


def test_other_words_within_a_sentence_say_the_same():
    """A bundle stays verifiable when a word within a sentence is put better; another number is another finding."""
    published = {"reason": "", "codes": {"reason": {"code": "x", "figures": {"what": "the old word", "at": 7.1}}}}
    worded = {"reason": "", "codes": {"reason": {"code": "x", "figures": {"what": "a better one", "at": 7.1}}}}
    moved = {"reason": "", "codes": {"reason": {"code": "x", "figures": {"what": "the old word", "at": 7.2}}}}
    assert without_words(published) == without_words(worded) != without_words(moved)
