"""Open pages are looked after together: what each is told, and how often the database is asked."""

from hashlib import sha256

import pytest
from sqlalchemy import event

from levelmoor.records import store, watching
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_user
from levelmoor.records.audit import Actor
from levelmoor.records.database import now
from levelmoor.records.history import ACTOR
from levelmoor.records.watching import Place, Stands, Watching, look, note_page


@pytest.fixture
def places(maker, member):
    """Three pages that three people have open, two of them on one evaluation."""
    with maker.begin() as session:
        team = session.get(t.Team, member.team_id)
        rows = [store.open_evaluation(session, team, f"Wire {n}") for n in range(2)]
        names = ("Ada", "Bea", "Cid")
        for name in names:
            add_member(session, team.name, f"{name}-{member.email}", name, member.password)
        people = [find_user(session, f"{name}-{member.email}") for name in names]
        signs = [
            t.SignIn(user_id=one.id, token_sha256=sha256(one.email.encode()).hexdigest(), begun_at=now(), seen_at=now())
            for one in people
        ]
        session.add_all(signs)
        session.flush()
        made = [Place(team.id, rows[n // 2].id, signs[n].id, people[n].id) for n in range(3)]
    for place in made:
        note_page(maker, place)
    return made


def renamed(maker, place):
    with maker.begin() as session:
        session.info[ACTOR] = Actor("Dot", None, "")
        session.get(t.Evaluation, place.evaluation_id).title = "Another"


def test_each_is_told_who_else_is_here_and_how_far_the_history_goes(maker, places):
    with maker.begin() as session:
        found = look(session, places, note=False)
        assert [found[p].here for p in places] == [("Bea",), ("Ada",), ()]
        latest = found[places[0]].latest
    renamed(maker, places[0])
    with maker.begin() as session:
        found = look(session, places, note=False)
    assert found[places[0]].latest > latest
    assert found[places[0]].latest == found[places[1]].latest > found[places[2]].latest


@pytest.mark.parametrize("gone", ["signed out", "removed", "left"])
def test_who_may_know_no_longer_is_told_nothing(maker, places, gone):
    with maker.begin() as session:
        if gone == "signed out":
            session.get(t.SignIn, places[2].sign_in_id).ended_at = now()
        elif gone == "removed":
            session.get(t.Evaluation, places[2].evaluation_id).deleted_at = now()
        else:
            session.delete(session.get(t.Membership, (places[2].user_id, places[2].team_id)))
    with maker.begin() as session:
        assert set(look(session, places, note=True)) == set(places[:2])


def test_a_look_at_many_pages_asks_as_often_as_at_one(maker, places):
    asked = []
    with maker.begin() as session:
        event.listen(session.connection(), "before_cursor_execute", lambda *_: asked.append(1))
        look(session, places[:1], note=True)
        one = len(asked)
        look(session, places, note=True)
    assert len(asked) == 2 * one > 0


def test_a_page_is_woken_when_it_stands_otherwise_and_not_here_once_it_is_closed(maker, places, monkeypatch):
    monkeypatch.setattr(watching, "LOOK_EVERY_S", 0.05)
    together = Watching(maker)
    for place in places[:2]:
        together.enter(place)
    before = together.now(places[0])
    renamed(maker, places[0])
    together.wait(before, places[0], 20)
    assert together.now(places[0]).latest > before.latest
    together.leave(places[1])
    together.wait(Stands(together.now(places[0]).latest, ("Bea",)), places[0], 20)
    assert together.now(places[0]).here == ()
    together.leave(places[0])
