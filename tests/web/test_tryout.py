"""Trying a file without an account: judged as in an evaluation, bounded, and nothing of it is stored."""

import io

import pytest
from sqlalchemy import func, select

from levelmoor.demo.load import sweeps
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.web.security import LARGEST_FOR_ALL
from levelmoor.web.tryout.routes import MOST_BY_ADDRESS, SAMPLE

PART = {"HX-Request": "true"}


def tried(client, claim="SWR < 1.5 70cm", data=None, name=SAMPLE, **more):
    file = (io.BytesIO(sweeps()[SAMPLE] if data is None else data), name)
    return client.post("/try", data={"claim": claim, "file": file, "calibrated": "yes", **more}, headers=PART)


@pytest.mark.parametrize(
    ("claim", "said", "verdict"),
    [("SWR < 1.5 70cm", "yes", "Fail"), ("SWR < 1.7 70cm", "yes", "Too close to call"), ("SWR < 2 70cm", "yes", "Pass"),
     ("SWR < 2 70cm", "no", "Not shown"), ("SWR < 2 2m", "yes", "Not shown")],
)  # fmt: skip
def test_the_verdict_is_that_of_an_evaluation(client, claim, said, verdict):
    assert f"<b>{verdict}</b>" in tried(client, claim, calibrated=said).text


@pytest.mark.parametrize(
    ("claim", "name", "data", "words"),
    [("gain 3 dBi", SAMPLE, None, "a sweep alone does not show"), ("", SAMPLE, None, "is not a clear claim"),
     ("SWR < 2 70cm", "x.pdf", b"%PDF-1.4 nothing", "Rejected: x.pdf"), ("SWR < 2 70cm", "a.csv", b"a;b;c\n1;2;3\n2;3;4\n", "With an account")],
)  # fmt: skip
def test_what_cannot_be_judged_says_why(client, claim, name, data, words):
    answer = tried(client, claim, data, name)
    assert answer.status_code == 422
    assert words.lower() in answer.text.lower()


def test_nothing_is_stored(client, maker):
    def rows():
        with maker() as session:
            return [session.scalar(select(func.count()).select_from(x)) for x in (t.Evaluation, t.Sweep, t.RawFile)]

    before = rows()
    assert tried(client).status_code == 200
    assert rows() == before


def test_a_large_file_is_turned_away_before_it_is_read(client):
    said = {"CONTENT_LENGTH": str(LARGEST_FOR_ALL["tryout.judged"] + 1)}
    assert client.post("/try", environ_overrides=said).status_code == 413


def test_one_address_tries_so_many_and_no_more(client, maker):
    with maker.begin() as session:
        session.add_all(t.Attempt(counted_under="trying 127.0.0.1", at=now()) for _ in range(MOST_BY_ADDRESS))
    try:
        answer = tried(client)
        assert (answer.status_code, "Too many tries" in answer.text) == (422, True)
    finally:
        with maker.begin() as session:
            session.query(t.Attempt).filter(t.Attempt.counted_under == "trying 127.0.0.1").delete()


def test_a_claim_of_a_report_that_is_not_there_is_not_found(client):
    assert tried(client, report="nothing", number="1", part="1").status_code == 404
