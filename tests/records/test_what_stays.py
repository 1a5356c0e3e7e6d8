"""What is evidence or was decided stays as it was, whichever account writes."""

import pytest
from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.raw_files import keep_raw


@pytest.fixture
def owner(owner_url):
    engine = create_engine(owner_url)
    with engine.connect() as connection:
        yield connection
    engine.dispose()


@pytest.fixture
def decided(maker, member):
    """A raw file, an answered review and a withdrawn report, by id."""
    with maker.begin() as session:
        team = session.get(t.Team, member.team_id)
        row = store.open_evaluation(session, team, "Whip")
        raw = keep_raw(session, team.id, b"what was measured")
        user = session.query(t.User).first()
        review = t.Review(evaluation_id=row.id, asked_by_id=user.id, asked_at=now(), content_sha256="0" * 64, words="")
        report = t.Report(team_id=team.id, evaluation_id=row.id, slug=f"whip-{row.id}", listed=False)
        session.add_all((review, report))
        session.flush()
        review.approved, review.answered_by_id, review.answered_at = False, user.id, now()
        report.withdrawn_at, report.withdrawn_by, report.withdrawn_reason = now(), "Ann", "A slip."
        return {"raw": raw.id, "review": review.id, "report": report.id}


CHANGES = {
    "raw file changed": ("UPDATE raw_file SET data = 'x' WHERE id = :raw", "never changed"),
    "raw file removed": ("DELETE FROM raw_file WHERE id = :raw", "never changed"),
    "answer changed": ("UPDATE review SET approved = 1 WHERE id = :review", "stays as it was"),
    "answer removed": ("DELETE FROM review WHERE id = :review", "stays as it was"),
    "withdrawal taken back": ("UPDATE report SET withdrawn_at = NULL WHERE id = :report", "stays as it was"),
    "withdrawal reworded": ("UPDATE report SET withdrawn_reason = 'x' WHERE id = :report", "stays as it was"),
}


@pytest.mark.parametrize("change", CHANGES)
def test_not_even_the_owner_changes_it(owner, decided, change):
    statement, said = CHANGES[change]
    with pytest.raises(DBAPIError, match=said):
        owner.execute(text(statement), decided)


def test_a_withdrawn_report_may_still_be_listed_or_not(owner, decided):
    owner.execute(text("UPDATE report SET listed = 1 WHERE id = :report"), decided)
