"""Demo evaluations are published, and what their report says is what the preview said; removing equipment changes
nothing of it; sentences have codes, by which a bundle is verified."""

import io
import json
import re
import zipfile
from dataclasses import fields, is_dataclass
from hashlib import sha256

import pytest
from sqlalchemy import select

from levelmoor.core.judge import judge
from levelmoor.core.words.said import Said
from levelmoor.demo import scenario
from levelmoor.formats.bundle import MARK, verify_bundle
from levelmoor.formats.findings_document import findings_document, findings_from
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.accounts import find_team
from levelmoor.records.exporting import exported
from levelmoor.records.importing import imported
from tests.demo.told import told


@pytest.fixture
def demo(client, maker, demo_loaded):
    """The demo's first person signed in, and the ids of every second of its evaluations."""
    return client, signed_in_to_half(client, maker)


def signed_in_to_half(client, maker):
    client.post("/sign-in", data={"email": scenario.PEOPLE[0][0], "password": scenario.PASSWORD})
    with maker() as session:
        rows = store.evaluations(session, find_team(session, scenario.TEAM).id).rows
        return [r.id for r in rows[::2]]


def said_on(page):
    """What a reader sees of a report: the words from the claims on, ids and addresses apart."""
    body = page.split('<header class="report-head">', 1)[1].split("Transmit only where you are licensed, identify")[0]
    body = re.sub(r'(?s)<p class="quiet of-figure">.*?</p>', " ", body)  # addresses, which a preview has not
    body = re.sub(r"(?s)<(script|style|svg)\b.*?</\1>|<img[^>]*>", " ", body.split("<section>", 1)[1])
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", body)).strip()


def test_published_report_says_what_the_preview_says(demo, maker):
    client, ids = demo
    compared = 0
    for ident in ids:
        before = client.get(f"/e/{ident}/report").text
        if client.post(f"/e/{ident}/report", data={"reason": "Once more."}).status_code == 422:
            continue
        with maker() as session:
            slug = store.report_of(session, ident).slug
            revision = store.report_of(session, ident).revisions[-1]
            core = exported(session, store.evaluation(session, find_team(session, scenario.TEAM).id, ident)).evaluation
            assert verify_bundle(revision.bundle).same, core.title
        seen, previewed = said_on(client.get(f"/r/{slug}").text), said_on(before)
        assert seen == previewed, core.title
        for claim in judge(core).claims:
            assert re.sub(r"\s+", " ", claim.reason) in html_free(seen), (core.title, claim.reason)
        compared += 1
    assert compared >= 4


def html_free(text):
    for code, sign in (("&#39;", "'"), ("&amp;", "&"), ("&lt;", "<"), ("&gt;", ">"), ("&#34;", '"')):
        text = text.replace(code, sign)
    return text


def sentences(found, path=""):
    """Every reason and note in findings, with where it stands."""
    if is_dataclass(found):
        for field in fields(found):
            yield from sentences(getattr(found, field.name), f"{path}.{field.name}")
    elif isinstance(found, (tuple, list)):
        for one in found:
            yield from sentences(one, path)
    elif (
        isinstance(found, str)
        and found
        and path.rpartition(".")[2] in ("reason", "sentence", "beside", "warnings", "gates")
    ):
        yield path, found


def test_every_sentence_of_the_findings_has_a_code(demo_loaded, maker):
    with maker() as session:
        rows = store.evaluations(session, find_team(session, scenario.TEAM).id).rows
        for row in rows:
            bare = [s for s in sentences(judge(exported(session, row).evaluation)) if not isinstance(s[1], Said)]
            assert bare == [], row.title


def altered(bundle, change):
    """A bundle whose findings were changed, its checksums right."""
    kept = {
        i.filename: data for z in [zipfile.ZipFile(io.BytesIO(bundle))] for i in z.infolist() for data in [z.read(i)]
    }
    found = json.loads(kept["findings.json"])
    change(found)
    kept["findings.json"] = json.dumps(found, ensure_ascii=False).encode()
    sums = [line.split("  ", 1)[1] for line in kept["SHA256SUMS"].decode().splitlines()]
    kept["SHA256SUMS"] = "".join(f"{sha256(kept[n]).hexdigest()}  {n}\n" for n in sums).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        for name, data in kept.items():
            made.writestr(name, data)
        made.comment = MARK + b"0" * 64
    body = out.getvalue()[:-64]
    return body + sha256(body).hexdigest().encode()


def test_a_better_wording_verifies_and_another_code_or_figure_does_not(demo_loaded, maker):
    with maker() as session:
        team = find_team(session, scenario.TEAM)
        ident = next(r.id for r in store.evaluations(session, team.id).rows if r.product.name == "Rollaway 2/70")
        bundle = store.report_of(session, ident).revisions[-1].bundle

    def reworded(found):
        found["claims"][0]["reason"] = "In words of another year."

    def other_code(found):
        found["claims"][0]["codes"]["reason"]["code"] = "heat.found"

    def other_figure(found):
        found["claims"][0]["windows"][0]["pieces"][0]["worst_swr"] += 0.01

    assert verify_bundle(altered(bundle, reworded)).same
    assert not verify_bundle(altered(bundle, other_code)).same
    assert not verify_bundle(altered(bundle, other_figure)).same


def test_what_rests_on_removed_equipment_keeps_its_verdicts_and_goes_out_and_in_whole(untouched_demo):
    client, maker = untouched_demo, untouched_demo.application.config["SESSIONS"]
    ids = signed_in_to_half(client, maker)
    with maker() as session:
        team = find_team(session, scenario.TEAM)
        cores = [exported(session, store.evaluation(session, team.id, i)).evaluation for i in ids]
        before = {i: told(core, judge(core)) for i, core in zip(ids, cores, strict=True)}
        owned = session.execute(select(t.Owned.kind, t.Owned.id).where(t.Owned.team_id == team.id)).all()
        instruments = session.scalars(select(t.Instrument.id).where(t.Instrument.team_id == team.id)).all()
    for kind, piece in [*owned, *(("instrument", i) for i in instruments)]:
        assert client.post(f"/equipment/{kind}/{piece}/remove").status_code == 200
    for ident in ids:
        with maker() as session:
            team = find_team(session, scenario.TEAM)
            came = exported(session, store.evaluation(session, team.id, ident))
            assert told(came.evaluation, judge(came.evaluation)) == before[ident]
            if ident not in ids[::3]:
                continue
            core = exported(session, imported(session, team, came)[0]).evaluation
            again = told(core, judge(core))
            del again["checks"], before[ident]["checks"]  # the bench's log has what came in as well
            assert again == before[ident]
            session.rollback()
    for ident in ids:
        for page in ("", "/bench", "/compare", "/report"):
            assert client.get(f"/e/{ident}{page}").status_code == 200, page


def test_findings_come_back_from_a_bundle_as_they_were(demo_loaded, maker):
    with maker() as session:
        for row in store.evaluations(session, find_team(session, scenario.TEAM).id).rows:
            core = exported(session, row).evaluation
            found = judge(core)
            back = findings_from(findings_document(found), core)
            for field in fields(found):
                if field.name == "emissions":  # of a line that is drawn only what is drawn comes back
                    of = [
                        [(e.carrier_hz, e.setup_id, e.sample_id, e.noise_dbm) for e in f.emissions]
                        for f in (back, found)
                    ]
                    assert of[0] == of[1], row.title
                    continue
                assert getattr(back, field.name) == getattr(found, field.name), (row.title, field.name)
