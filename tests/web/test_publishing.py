"""Before a report is published, and after: what a reader would ask, a second member's review, unlisting, withdrawing."""

import pytest
from sqlalchemy import create_engine, select
from sqlalchemy.orm import sessionmaker

from levelmoor.core.model.contacts import Contact
from levelmoor.core.model.report_sections import ChosenSection, ReportSection
from levelmoor.formats.bundle import read_bundle
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.field import record_row
from levelmoor.records.private_server import free_port
from levelmoor.records.roles import MemberRole
from levelmoor.records.sweeps import add_sweep
from tests.conftest import PASSWORD

RAW = b"# MHz S RI R 50\n" + b"".join(b"%.2f 0.05 0\n" % (13.5 + n * 0.01) for n in range(120))


@pytest.fixture
def case(maker, member):
    """An evaluation that is ready for its report."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip")
        window = {"low_hz": 14e6, "high_hz": 14.35e6, "name": "20m"}
        row.claims.append(t.Claim(quantity="swr", windows=[window], limit=2.0, source="box"))
        add_sweep(session, row, "a.s1p", RAW)
        return row.id


@pytest.fixture
def other(app, maker, member, signed_in):
    """Signs another member of the team in, of a role that is asked for."""

    def person(role):
        email = f"{role}-{member.email}"
        with maker.begin() as session:
            add_member(session, member.team, email, role.capitalize(), PASSWORD, role=MemberRole(role))
        client = app.test_client()
        client.post("/sign-in", data={"email": email, "password": PASSWORD})
        return client

    return person


def test_what_a_reader_would_ask_is_listed_with_the_place_that_answers_it(signed_in, case):
    page = signed_in.get(f"/e/{case}/report").text
    for words in (
        "Sample 1: its serial, its connector, how it was obtained",
        "SWR at most 2:1 on 20m: when it was seen",
        "whether the analyzer was calibrated",
        "One sample: the result is about this unit",
    ):
        assert words in page
    signed_in.post(f"/e/{case}/comments", data={"words": "Ask about the plug", "to_do": "yes"})
    assert "Ask about the plug" in signed_in.get(f"/e/{case}/report").text.split("<h2>Review")[0]


def test_a_section_is_chosen_with_words_of_the_teams_own_or_left_out_and_said_so(signed_in, case, maker):
    with maker.begin() as session:
        contact = Contact("1", "2026-05-31T11:00", 14.2e6, "SSB", "K0", sent="59", received="57")
        row = session.get(t.Evaluation, case)
        row.field_records.append(record_row("contact", contact, "1", "a contact"))
    where, contacts = f"/e/{case}/report/sections", "On the air: not evidence"
    signed_in.post(where, data={"shown": "contacts", "words-contacts": "Heard on one evening."})
    page = signed_in.get(f"/e/{case}/report").text
    assert "Heard on one evening.</p>" in page
    refused = signed_in.post(where, data={"shown": "contacts", "words-contacts": "x" * 2001})
    assert (refused.status_code, "has 2001 characters" in refused.text) == (422, True)
    signed_in.post(where, data={"words-contacts": ""})
    page = signed_in.get(f"/e/{case}/report").text
    assert f"<h2>{contacts}</h2>" not in page
    assert "Left out of this report by the team, and kept in the bundle: on the air: not evidence." in page
    signed_in.post(f"/e/{case}/report", data={"listed": "yes"})
    with maker() as session:
        bundle = read_bundle(
            session.scalar(select(t.ReportRevision.bundle).join(t.Report).filter_by(evaluation_id=case))
        )
    assert bundle.evaluation.sections == (ChosenSection(ReportSection.CONTACTS, shown=False),)
    assert len(bundle.evaluation.contacts) == 1


def test_a_revision_older_than_changes_says_so(signed_in, case, maker):
    signed_in.post(f"/e/{case}/report", data={"listed": "yes"})
    assert "is older than" not in signed_in.get(f"/e/{case}/report").text
    with maker.begin() as session:  # a second later, as people are
        row = store.evaluation(session, session.get(t.Evaluation, case).team_id, case)
        claim_id = row.claims[0].id
        entry = {"team_id": row.team_id, "evaluation_id": case, "who": "Somebody", "kind": "change", "what": "claim"}
        at = store.report_of(session, case).revisions[-1].published_at.replace(year=2090)
        session.add(t.AuditEntry(**entry, row_kind="claim", row_id=claim_id, field="limit", at=at))
    assert "Revision 1 is older than 1 change" in signed_in.get(f"/e/{case}/report").text


def test_a_team_that_asks_for_reviews_publishes_what_another_approved(signed_in, other, case, maker, member):
    with maker.begin() as session:
        session.get(t.Team, member.team_id).asks_review = True
    refused = signed_in.post(f"/e/{case}/report", data={})
    assert (refused.status_code, "ask for a review" in refused.text) == (422, True)
    signed_in.post(f"/e/{case}/report/review")
    reviewer, path = other("reviewer"), f"/e/{case}/report/review/answer"
    assert "asked for a review" in reviewer.get(f"/e/{case}/report").text
    assert reviewer.post(path, data={"answer": "return", "words": " "}).status_code == 422
    reviewer.post(path, data={"answer": "return", "words": "Name the dealer."})
    assert "Reviewer returned it: Name the dealer." in signed_in.get(f"/e/{case}/report").text
    signed_in.post(f"/e/{case}/report/review")
    reviewer.post(path, data={"answer": "approve"})
    published = signed_in.post(f"/e/{case}/report", data={"listed": "yes"}, follow_redirects=True).text
    assert ", reviewed by Reviewer." in published
    with maker() as session:
        report = store.report_of(session, case)
        assert report.revisions[0].reviewed_by == "Reviewer"


@pytest.mark.parametrize(("who", "code"), [("own", 422), ("member", 403), ("reader", 403)])
def test_who_asked_or_may_not_review_approves_nothing(signed_in, other, case, who, code):
    signed_in.post(f"/e/{case}/report/review")
    client = signed_in if who == "own" else other(who)
    assert client.post(f"/e/{case}/report/review/answer", data={"answer": "approve"}).status_code == code


def test_what_changed_since_it_was_asked_about_is_not_approved(signed_in, other, case):
    signed_in.post(f"/e/{case}/report/review")
    signed_in.post(f"/e/{case}/cell/evaluation/{case}/notes", data={"value": "Rain."})
    answer = other("reviewer").post(f"/e/{case}/report/review/answer", data={"answer": "approve"})
    assert (answer.status_code, "changed since you asked for the review" in answer.text) == (422, True)


def test_a_report_is_unlisted_at_once_and_withdrawn_for_good(signed_in, client, case, maker):
    public = signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).location
    signed_in.post(f"/e/{case}/report/listed", data={"listed": "no"})
    with maker() as session:
        assert store.report_of(session, case).listed is False
    assert client.get(public).status_code == 200
    assert signed_in.post(f"/e/{case}/report/withdraw", data={"words": " "}).status_code == 422
    signed_in.post(f"/e/{case}/report/withdraw", data={"words": "The load was broken."})
    page = client.get(public).text
    assert "Withdrawn</b>" in page and "The load was broken." in page
    assert client.get(f"{public}.json").json["withdrawn"] == "The load was broken."
    assert client.get(f"{public}/1/bundle.zip").status_code == 200
    again = signed_in.post(f"/e/{case}/report", data={"reason": "anew"})
    assert (again.status_code, "was withdrawn" in again.text) == (422, True)
    history = signed_in.get(f"/e/{case}/history").text
    assert "was withdrawn: The load was broken." in history and "is no longer listed" in history


def test_a_cache_may_keep_what_strangers_read_and_nothing_else(signed_in, case, app):
    report = signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).location
    for page in (report, "/reports"):
        stranger, another = app.test_client().get(page), app.test_client().get(page)
        assert stranger.headers["Cache-Control"] == "public, max-age=60" and "Set-Cookie" not in stranger.headers
        assert {"Cookie", "Accept"} <= set(stranger.vary)
        assert (stranger.data, stranger.headers["ETag"]) == (another.data, another.headers["ETag"])
        for coding in ("gzip", "identity"):  # by whichever tag it came, it is not sent again
            tag = app.test_client().get(page, headers={"Accept-Encoding": coding}).headers["ETag"]
            again = app.test_client().get(page, headers={"Accept-Encoding": coding, "If-None-Match": tag})
            assert (again.status_code, again.data) == (304, b"")
        assert signed_in.get(page).headers["Cache-Control"] == "no-store"
    told = app.test_client()
    with told.session_transaction() as session:
        session["_flashes"] = [("message", "For your eyes alone.")]
    answer = told.get(f"{report}/1")
    assert "For your eyes alone." in answer.text and answer.headers["Cache-Control"] == "no-store"
    assert not any(
        "eyes alone" in body.decode(errors="replace") for _, body in app.config["KEPT_PAGES"]._pages.values()
    )


def test_what_was_read_once_can_be_read_while_the_database_is_away(signed_in, case, app, monkeypatch):
    """By strangers, of what is published, and without anybody's token; all else says that the database is away."""
    report = signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).location
    public = [report, f"{report}.json", f"{report}/1/bundle.zip", "/reports", "/reports.atom"]
    stranger = app.test_client()
    before = {page: stranger.get(page).data for page in public}
    away = create_engine(f"mysql+mysqldb://a:b@127.0.0.1:{free_port()}/x")
    monkeypatch.setitem(app.config, "SESSIONS", sessionmaker(away))
    for page in public:
        answer = app.test_client().get(page)
        assert (answer.status_code, answer.data) == (200, before[page]), page
    for page in (f"{report}/1", "/reports?words=other", f"/e/{case}", f"{report}/answer"):
        assert signed_in.get(page).status_code == 503, page
