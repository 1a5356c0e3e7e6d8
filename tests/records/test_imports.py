"""What comes in from outside: whole, or refused with the field's name; never an error, never half, never twice."""

import contextlib
import copy
import io
import json
import threading
import zipfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import func, select

from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import EDITION
from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.words.bounds import CLAIMS, EXPANDED_BYTES, JSON_DEPTH, ZIP_ENTRIES
from levelmoor.demo.scenario import TEAM
from levelmoor.formats.bundle import read_bundle, verify_bundle
from levelmoor.formats.exchange import ExchangeProblem, to_document
from levelmoor.formats.exchange_file import read_exchange, write_exchange
from levelmoor.formats.problem import FileProblem
from levelmoor.records import publishing, store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import find_team
from levelmoor.records.exporting import exported
from levelmoor.records.importing import imported
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.raw_files import keep_raw
from levelmoor.records.readings import Change, keep_changes, sheet_on_bench
from levelmoor.services.list_card import refresh_card

FILES = Path(__file__).parents[2] / "levelmoor/demo/files"


@pytest.fixture(scope="module")
def carrick(maker, demo_loaded):
    """The fullest case of the demo, exported: claims, sweeps, captures, calibrations, checks, rule sets."""
    with maker() as session:
        team = find_team(session, TEAM)
        rows = store.evaluations(session, team.id).rows
        row = next(r for r in rows if r.product.name == "Carrick Five")
        return write_exchange(exported(session, store.evaluation(session, team.id, row.id)))


@pytest.fixture(scope="module")
def parts(carrick):
    """Its document, and its other members."""
    with zipfile.ZipFile(io.BytesIO(carrick)) as archive:
        members = {i.filename: archive.read(i) for i in archive.infolist()}
    return json.loads(members.pop("evaluation.json")), members


def zipped(document, members, packed=zipfile.ZIP_STORED):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", packed) as archive:
        text = document if isinstance(document, (str, bytes)) else json.dumps(document)
        archive.writestr("evaluation.json", text)
        for name, data in members.items():
            archive.writestr(name, data)
    return out.getvalue()


def take(session, data):
    """Import into a team of its own and draw what its list shows; everything is taken back afterwards."""
    nested = session.begin_nested()
    try:
        team = t.Team(name="Taking in")
        session.add(team)
        session.flush()
        row, _ = imported(session, team, read_exchange(data))
        refresh_card(row)
    finally:
        nested.rollback()
        session.expunge_all()


def leaves(value, place=()):
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from leaves(inner, (*place, key))
    elif isinstance(value, list):
        for n, inner in enumerate(value[:1]):  # one row of each kind stands for all
            yield from leaves(inner, (*place, n))
    else:
        yield place, value


def changed(document, place, value):
    new = copy.deepcopy(document)
    at = new
    for key in place[:-1]:
        at = at[key]
    at[place[-1]] = value
    return new


WORDS = ["", "x" * 201, "x" * 20_000, "not a date", "2026-99-99", "9" * 400, "\x00", "../../etc", "<b>"]
FIGURES = [-1, 0, 1e308, -1e308, 1e-300, 5e11, 2**70, None, "x", True, [], {}]


def fewer(document, members):
    """The case with one row of every kind of evidence, which is read a thousand times."""
    small = {**document, **{n: document[n][:1] for n in ("sweeps", "captures", "checks", "pictures")}}
    wanted = {c["id"] for c in document["calibrations"] if c["id"] in [s["calibration_id"] for s in small["sweeps"]]}
    small["calibrations"] = [c for c in document["calibrations"] if c["id"] in wanted] or document["calibrations"][:1]
    small["checks"] = [c for c in small["checks"] if c["calibration_id"] in ("", *wanted)]
    take_from = zipped(small, members)
    assert read_exchange(take_from).evaluation.title
    return small, members


@pytest.mark.parametrize("part", range(4))
def test_every_one_field_change_ends_in_a_result_or_a_refusal_that_names_the_field(session, parts, part):
    """Each field of the document in turn, with one of the values that no export holds."""
    document, members = fewer(*parts)
    odd = []
    for turn, (place, value) in enumerate(leaves(document)):
        if turn % 4 != part or (place[0] == "equipment" and len(place) > 3):
            continue  # a curve's own figures; its first stands with the piece
        values = WORDS if isinstance(value, str) else FIGURES
        new = values[turn // 4 % len(values)]
        try:
            take(session, zipped(changed(document, place, new), members))
        except (ExchangeProblem, FileProblem) as problem:
            # What is refused names the field, or what it is a part of; a file that reads otherwise names the file.
            parent = ".".join(map(str, place[:-1])) or "document"
            if not any(word in str(problem) for word in (str(place[-1]), parent, ".csv", ".s1p", ".s2p", "raw file")):
                odd.append((place, new if len(str(new)) < 50 else "long", str(problem)[:120]))
    assert odd == []


HOSTILE = {
    "limit": (("claims", 0, "limit"), 1e308, "claims.0.limit"),
    "power": (("claims", 0, "power_w"), -1, "claims.0.power_w"),
    "title": (("title",), "x" * 201, "title"),
    "date": (("claims", 0, "seen_on"), "yesterday", "claims.0.seen_on"),
    "dangling sample": (("captures", 0, "sample_id"), "999", "captures.0.sample_id"),
    "dangling line": (("setups", 0, "line_id"), "999", "setups.0.line_id"),
    "edition": (("edition",), EDITION + 1, "edition"),
}


@pytest.mark.parametrize(("place", "value", "named"), HOSTILE.values(), ids=HOSTILE)
def test_what_broke_pages_is_refused_by_its_name(parts, place, value, named):
    document, members = parts
    with pytest.raises(ExchangeProblem, match=named.replace(".", r"\.")):
        read_exchange(zipped(changed(document, place, value), members))


def test_more_claims_than_are_taken_in_are_refused_by_their_number(parts):
    document, members = parts
    many = {**document, "claims": [{**document["claims"][0], "id": f"n{i}"} for i in range(CLAIMS + 1)]}
    with pytest.raises(ExchangeProblem, match="claims: at most 2.000 are allowed; there are 2.001"):
        read_exchange(zipped(many, members))


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (lambda d, m: zipped("[" * 5000 + "]" * 5000, m), f"more than {JSON_DEPTH} deep"),
        (lambda d, m: zipped("[" + "1," * 500_000 + "1]", m), "more than 400000 values"),
        (lambda d, m: zipped(d, {f"files/{i}": b"" for i in range(ZIP_ENTRIES + 1)}), "entries"),
        (lambda d, m: zipped(d, {"files/x": b"\0" * (EXPANDED_BYTES + 1)}), "unpacks to more than 100 MB"),
        (lambda d, m: zipped(d, {k: v for k, v in m.items() if not k.startswith("files/")}), "is missing"),
        (lambda d, m: zipped(json.dumps(d)[:-20], m), "evaluation.json"),
        (lambda d, m: zipped(d, m)[:-40], "damaged"),
        (lambda d, m: zipped(d, m, zipfile.ZIP_LZMA), "uses an unknown compression"),
    ],
)
def test_zip_that_is_too_much_or_too_little_is_refused_with_the_reason(parts, data, words):
    with pytest.raises(ExchangeProblem, match=words):
        read_exchange(data(*parts))


@settings(max_examples=60)
@given(st.data())
def test_damaged_zip_is_refused_and_never_an_error(carrick, data):
    """Bytes flipped anywhere, also in the headers and the compressed streams."""
    spoiled = bytearray(carrick)
    for _ in range(data.draw(st.integers(1, 4))):
        spoiled[data.draw(st.integers(0, len(spoiled) - 1))] ^= data.draw(st.integers(1, 255))
    with contextlib.suppress(ExchangeProblem, FileProblem):
        read_exchange(bytes(spoiled))


def test_import_over_the_page_is_refused_with_its_name_and_leaves_nothing(signed_in, parts, maker, member):
    document, members = parts
    data = zipped(changed(document, ("claims", 0, "limit"), 1e308), members)
    answer = signed_in.post("/evaluations/import", data={"file": (io.BytesIO(data), "λ/4 Ω.zip")})
    assert answer.status_code == 422
    assert "claims.0.limit" in answer.text
    with maker() as session:
        assert session.scalar(select(func.count()).where(t.RawFile.team_id == member.team_id)) == 0


# -- Whole ---------------------------------------------------------------------------------------------------------


def test_readings_and_filters_come_along_and_what_stays_is_said(session, member):
    team = session.get(t.Team, member.team_id)
    row = store.open_evaluation(session, team, "Whole")
    row.bench_calibration = "at_plane"
    row.claims.append(t.Claim(quantity="swr", windows=[{"low_hz": 14e6, "high_hz": 14.1e6, "name": "x"}], limit=2.0))
    sweep = sweeps.add_sweep(session, row, "a.s1p", b"# MHz S RI R 50\n14 0.1 0\n14.1 0.1 0\n")
    sheet = sheet_on_bench(session, row, ReadingKind.SWR)
    keep_changes(session, sheet, [Change("add", "one", {"frequency": "14.05", "swr": "1.3"})], "Somebody")
    sheet.sweep_id = sweep.id
    raw = keep_raw(session, team.id, (FILES / "low-pass-2m.s2p").read_bytes())
    session.add(t.Filter(evaluation_id=row.id, raw_file=raw, file_name="low-pass.s2p"))
    session.flush()
    publishing.publish(session, row, team, "Somebody", "", listed=True)
    row.wishes = {"dropped": ["s1-u1-survey"]}
    session.flush()
    session.expire_all()

    other = t.Team(name=f"Elsewhere of {member.team}")
    session.add(other)
    session.flush()
    taken, stays = imported(session, other, read_exchange(write_exchange(exported(session, row))))
    again = session.scalars(select(t.ReadingSheet).where(t.ReadingSheet.evaluation_id == taken.id)).one()
    assert [(r.typed, r.made_by) for r in again.readings] == [({"frequency": "14.05", "swr": "1.3"}, "Somebody")]
    assert again.sweep_id in [s.id for s in taken.sweeps]
    assert [f.file_name for f in taken.filters] == ["low-pass.s2p"]
    assert any("Published revisions are not included" in s for s in stays)
    assert any("to the plan are not included" in s for s in stays)


@pytest.mark.parametrize("product", ["Beckstone Pi", "Tarnhouse Auto", "Ringstone Choke", "Linkline 60/40/30"])
def test_tuners_accessories_and_contacts_come_along_and_are_judged_the_same(session, member, carrick, product):
    team = find_team(session, TEAM)
    (row,) = [r for r in store.evaluations(session, team.id).rows if r.product.name == product]
    came = read_exchange(write_exchange(exported(session, store.evaluation(session, team.id, row.id))))
    taken, _ = imported(session, session.get(t.Team, member.team_id), came)
    back = evaluation_of(store.evaluation(session, member.team_id, taken.id))
    for kind in ("networks", "trials", "throughs", "levels", "heats", "contacts"):
        assert len(getattr(back, kind)) == len(getattr(came.evaluation, kind)), kind
    one, two = (judge(e) for e in (came.evaluation, back))
    assert [(f.verdict, f.reason) for f in two.claims] == [(f.verdict, f.reason) for f in one.claims]
    publishing.publish(session, taken, session.get(t.Team, member.team_id), "Somebody", "", listed=True)
    session.flush()
    bundle = store.report_of(session, taken.id).revisions[-1].bundle
    assert verify_bundle(bundle).same
    assert "Ivo Tarnley" not in json.dumps(read_bundle(bundle).evaluation_document)


def test_document_of_a_bundle_stays_as_it_was(parts):
    """What an evaluation has beside is written for an exchange alone."""
    came = read_exchange(zipped(*parts))
    assert {"filters", "stays"}.isdisjoint(to_document(came.evaluation))


# -- Twice at once -------------------------------------------------------------------------------------------------


def test_the_same_import_sent_twice_at_once_is_one_evaluation(app, member, carrick, monkeypatch, maker):
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    client = app.test_client()
    client.post("/sign-in", data={"email": member.email, "password": member.password})
    cookie, codes = client.get_cookie("levelmoor").value, []

    def send():
        other = app.test_client()
        other.set_cookie("levelmoor", cookie)
        answer = other.post("/evaluations/import", data={"file": (io.BytesIO(carrick), "case.zip")})
        codes.append((answer.status_code, answer.location))

    threads = [threading.Thread(target=send) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(set(codes)) == 1
    assert codes[0][0] == 302
    with maker() as session:
        query = select(func.count()).where(t.Evaluation.team_id == member.team_id)
        assert session.scalar(query) == 1
        assert session.scalar(select(func.count()).where(t.Owned.team_id == member.team_id, t.Owned.kind == "pad")) > 0
