"""What was sent twice is kept once; what only looks alike, or comes in the same second, is kept too."""

from io import BytesIO

import pytest
from sqlalchemy import func, select

from levelmoor.records import tables as t
from tests.web.test_preset_card import TABLE

LEVEL = {"kind": "noise", "frequency": "7.1", "values": "S7 S7 S6.5 S7 S7"}
HEAT = {"power": "100", "mode": "carrier", "duty": "", "points": "0 21\n1:00 27\n2:00 31"}
AIR = {"frequency": "7.1", "call": "", "mode": "cw", "at": "2026-05-31 14:20"}
FORMS = {"through/levels": LEVEL, "through/heat": HEAT, "air": AIR}


@pytest.fixture
def home(signed_in):
    return signed_in.post("/evaluations", data={"product": "Choke"}).location


def kept(maker, home, kind):
    with maker() as session:
        return session.scalar(select(func.count()).where(kind.evaluation_id == int(home.rsplit("/", 1)[1])))


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize(
    ("first", "second", "count"),
    [
        ({"entry": "a"}, {"entry": "a"}, 1),
        ({"entry": "a"}, {"entry": "b"}, 2),
        ({"entry": "a"}, {"entry": "a", "note": "later"}, 2),
        ({}, {}, 2),
    ],
    ids=["pressed twice", "the same words again", "other words before the answer", "the same second"],
)
def test_a_form_is_kept_as_often_as_it_was_meant(signed_in, maker, home, form, first, second, count):
    for more in (first, second):
        assert signed_in.post(f"{home}/{form}", data={**FORMS[form], **more}).status_code == 200
    assert kept(maker, home, t.FieldRecord) == count


def test_a_table_sent_again_is_kept_once_and_that_is_said(signed_in, maker, home):
    signed_in.post(f"{home}/tuner/trials", data={"table": TABLE})
    answer = signed_in.post(f"{home}/tuner/trials", data={"table": TABLE})
    assert "All of it was added before" in answer.text and answer.status_code == 422
    assert kept(maker, home, t.Trial) == 3


def test_the_same_table_of_another_setup_is_another(signed_in, maker, home):
    number = int(home.rsplit("/", 1)[1])
    signed_in.post(f"{home}/tuner/trials", data={"table": TABLE})
    with maker.begin() as session:
        session.add(other := t.Setup(evaluation_id=number, name="With a choke"))
        session.flush()
        setup = other.id
    signed_in.post(f"{home}/cell/hand/{number}/setup_id", data={"value": setup})
    assert signed_in.post(f"{home}/tuner/trials", data={"table": TABLE}).status_code == 200
    assert kept(maker, home, t.Trial) == 6


def test_contacts_sent_again_are_kept_once_and_that_is_said(signed_in, maker, home):
    for status in (200, 422):
        log = b"<CALL:4>A1BC<QSO_DATE:8>20260531<TIME_ON:4>1420<FREQ:3>7.1<MODE:2>CW<EOR>"
        answer = signed_in.post(f"{home}/air/files", data={"file": (BytesIO(log), "log.adi")})
        assert answer.status_code == status
    assert "All of it was added before" in answer.text
    assert kept(maker, home, t.FieldRecord) == 1
