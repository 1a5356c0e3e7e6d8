"""An answer to a report: sent, confirmed by mail, decided on, shown word for word; and a test begun from a report."""

import io
import re

import pytest
from sqlalchemy import delete, func, select

from levelmoor.formats.bundle import verify_bundle
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import answers as records
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.answers import AnswerProblem
from levelmoor.records.roles import MemberRole
from tests.conftest import PASSWORD
from tests.sweeps import rlc_sweep

YARD = write_s1p(rlc_sweep(13.8e6, 14.6e6, 401, q=5.0)).encode()
SAID = {"name": "Wire works", "speaks_for": "maker", "email": "a@maker.example", "words": "The wire was <b>short</b>."}


@pytest.fixture
def report(maker, signed_in, member):
    """A report of the member's team, published by its pages."""
    with maker.begin() as session:  # all tests come from one address
        session.execute(delete(t.Attempt).where(t.Attempt.counted_under.startswith("answering")))
    made = signed_in.post("/evaluations", data={
        "product": "Yard dipole", "claim": "SWR < 2 20m", "kind": "antenna", "calibration": "accepted",
        "files": (io.BytesIO(YARD), "yard.s1p"),
    })  # fmt: skip
    case = int(re.search(r"/e/(\d+)", made.location)[1])
    assert signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).status_code == 302
    with maker() as session:
        return case, session.scalar(select(t.Report.slug).where(t.Report.evaluation_id == case))


def link_of(maker, email):
    with maker() as session:
        words = session.scalars(
            select(t.Mail.words).where(t.Mail.to_address == email).order_by(t.Mail.id.desc())
        ).first()
        return re.search(r"/answers/\S+", words)[0]


def sent(client, maker, slug, **more):
    answer = client.post(f"/r/{slug}/answer", data={**SAID, **more})
    assert answer.status_code == 200, answer.text
    return link_of(maker, SAID["email"])


def the_answer(maker, slug):
    with maker() as session:
        return session.scalar(select(t.Answer).join(t.Report).where(t.Report.slug == slug).order_by(t.Answer.id.desc()))


def test_an_answer_is_confirmed_approved_and_stands_beside_the_report(app, signed_in, maker, report):
    case, slug = report
    stranger = app.test_client()
    link = sent(stranger, maker, slug)
    assert "Wire works" not in signed_in.get(f"/e/{case}/report").text  # not before it is confirmed
    assert stranger.get(link).status_code == 200  # a look alone confirms nothing
    assert the_answer(maker, slug).confirmed_at is None
    stranger.post(link)
    assert "Wire works" in signed_in.get(f"/e/{case}/report").text
    assert "Wire works" not in stranger.get(f"/r/{slug}").text
    signed_in.post(f"/e/{case}/report/answers/{the_answer(maker, slug).id}", data={"answer": "approve"})
    page = stranger.get(f"/r/{slug}").text
    assert "The wire was &lt;b&gt;short&lt;/b&gt;." in page


def test_a_refusal_needs_a_reason_and_is_counted_in_public(app, signed_in, maker, report):
    case, slug = report
    app.test_client().post(sent(app.test_client(), maker, slug))
    at = f"/e/{case}/report/answers/{the_answer(maker, slug).id}"
    signed_in.post(at, data={"answer": "refuse", "words": " "})
    assert the_answer(maker, slug).approved is None
    signed_in.post(at, data={"answer": "refuse", "words": "You are not that company."})
    page = app.test_client().get(f"/r/{slug}").text
    assert "The team refused 1 answer" in page
    assert "The wire was" not in page


@pytest.mark.parametrize(
    ("field", "value", "says"),
    [("name", " ", "name"), ("speaks_for", "god", "maker"), ("email", "x", "email address"), ("words", "", "answer"),
     ("words", "x" * 4001, "4000")],
)  # fmt: skip
def test_what_is_wrong_with_an_answer_is_said_and_nothing_typed_is_lost(app, maker, report, field, value, says):
    answer = app.test_client().post(f"/r/{report[1]}/answer", data={**SAID, field: value})
    assert answer.status_code == 422
    assert says in answer.text
    assert SAID["name"] in answer.text or field == "name"
    assert the_answer(maker, report[1]) is None


def test_a_file_comes_along_and_is_never_shown_as_a_page(app, signed_in, maker, report):
    case, slug = report
    link = sent(app.test_client(), maker, slug, file=(io.BytesIO(b"<script>1</script>"), "proof.html"))
    app.test_client().post(link)
    place = f"/r/{slug}/answers/{the_answer(maker, slug).id}/file"
    assert app.test_client().get(place).status_code == 404  # before it is approved
    signed_in.post(f"/e/{case}/report/answers/{the_answer(maker, slug).id}", data={"answer": "approve"})
    handed = app.test_client().get(place)
    assert handed.mimetype == "application/octet-stream"
    assert "attachment" in handed.headers["Content-Disposition"]


def test_an_old_or_mistyped_link_confirms_nothing(session):
    with pytest.raises(AnswerProblem):
        records.unconfirmed(session, "none")


def test_another_team_decides_on_nothing(app, maker, report, person_elsewhere):
    app.test_client().post(sent(app.test_client(), maker, report[1]))
    number = the_answer(maker, report[1]).id
    assert (
        person_elsewhere.post(f"/e/{report[0]}/report/answers/{number}", data={"answer": "approve"}).status_code == 404
    )
    assert the_answer(maker, report[1]).approved is None


@pytest.fixture
def person_elsewhere(app, maker):
    with maker.begin() as session:
        add_member(session, "Elsewhere", "else@team.example", "Else", PASSWORD, role=MemberRole.EDITOR)
    client = app.test_client()
    client.post("/sign-in", data={"email": "else@team.example", "password": PASSWORD})
    return client


def test_a_test_begun_from_a_report_has_its_claims_and_links_both_ways(app, maker, report, person_elsewhere):
    begun = person_elsewhere.post(f"/r/{report[1]}/again")
    case = int(re.search(r"/e/(\d+)", begun.location)[1])
    page = person_elsewhere.get(f"/e/{case}").text
    assert "SWR at most 2:1 on 20m" in page
    assert "yard.s1p" not in page
    with maker.begin() as session:
        row = session.get(t.Evaluation, case)
        row.bench_calibration = "accepted"
    person_elsewhere.post(f"/e/{case}/sweeps", data={"files": (io.BytesIO(YARD), "theirs.s1p")})
    published = person_elsewhere.post(f"/e/{case}/report", data={"listed": "yes"})
    assert published.status_code == 302, re.findall('class="missing">.*?</ul>', published.text, re.DOTALL)
    with maker() as session:
        theirs = session.scalar(select(t.Report.slug).where(t.Report.evaluation_id == case))
    assert f"/r/{report[1]}" in person_elsewhere.get(f"/r/{theirs}").text
    assert f"/r/{theirs}" in app.test_client().get(f"/r/{report[1]}").text


def test_measurements_alone_are_published_and_say_so(app, signed_in, maker):
    made = signed_in.post("/evaluations", data={"product": "Bare wire", "kind": "antenna"})
    case = int(re.search(r"/e/(\d+)", made.location)[1])
    assert signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).status_code == 422  # nothing was measured
    signed_in.post(f"/e/{case}/sweeps", data={"files": (io.BytesIO(YARD), "yard.s1p")})
    assert signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).status_code == 302
    with maker() as session:
        slug = session.scalar(select(t.Report.slug).where(t.Report.evaluation_id == case))
    assert "this report says what was measured" in app.test_client().get(f"/r/{slug}").text.replace("&#39;", "'")


def test_a_comparison_goes_into_the_report_with_the_teams_words(app, signed_in, maker):
    made = signed_in.post("/evaluations", data={"product": "Two wires", "claim": "SWR < 2 20m", "kind": "antenna"})
    case = int(re.search(r"/e/(\d+)", made.location)[1])
    for name, q in (("before.s1p", 5.0), ("after.s1p", 25.0)):
        sent = (io.BytesIO(write_s1p(rlc_sweep(13.8e6, 14.6e6, 401, q=q)).encode()), name)
        signed_in.post(f"/e/{case}/sweeps", data={"files": sent})
    with maker() as session:
        ids = "-".join(str(i) for i in session.scalars(select(t.Sweep.id).where(t.Sweep.evaluation_id == case)))
    asked = {"sweeps": ids, "question": "times", "words": "The second one is <i>narrower</i>."}
    assert signed_in.post(f"/e/{case}/compare/chosen", data={**asked, "sweeps": ids.split("-")[0]}).status_code == 422
    assert signed_in.post(f"/e/{case}/compare/chosen", data=asked).status_code == 302
    assert signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).status_code == 302
    with maker() as session:
        report = session.scalar(select(t.Report).where(t.Report.evaluation_id == case))
        page, bundle = app.test_client().get(f"/r/{report.slug}").text, report.revisions[-1].bundle
    assert "The second one is &lt;i&gt;narrower&lt;/i&gt;." in page
    assert "Before and after" in page
    assert verify_bundle(bundle).same


def test_a_team_that_is_renamed_is_found_under_its_new_name(app, signed_in, maker, member, report):
    stranger = app.test_client()
    before = stranger.get("/api/v1/reports", query_string={"team": member.team}).json["count"]
    form = {"name": f"{member.team} of the fen", "region": "1", "rule": "guarded", "profile": "radio-safe",
            "profile_limit": "2", "bench_rule": "stated", "age_limit_h": "24", "rebuild_min": "20",
            "calibration_min": "6", "sweep_min": "2", "spread_hz": "5"}  # fmt: skip
    with maker.begin() as session:
        form["seen"] = str(session.scalar(select(func.max(t.AuditEntry.id))))
    assert signed_in.post("/team", data=form).status_code == 200
    after = stranger.get("/api/v1/reports", query_string={"team": form["name"]}).json
    assert after["count"] == before == 1
    assert after["reports"][0]["team"] == form["name"]
    assert stranger.get("/api/v1/reports", query_string={"words": "fen dipole"}).json["count"] == 1
