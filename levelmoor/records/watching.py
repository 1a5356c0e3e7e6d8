"""What open pages are told of an evaluation: how far its history goes, and who has it before them.

All pages of a server are looked after together: a look asks the database as often for a hundred as for one.
"""

import threading
import time
from collections import defaultdict
from collections.abc import Collection, Mapping
from contextlib import suppress
from dataclasses import dataclass

from sqlalchemy import select, tuple_
from sqlalchemy.exc import IntegrityError, SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import tables as t
from levelmoor.records.history import latest_of_each
from levelmoor.records.presence import here_in, initials, note_here, still_here

LOOK_EVERY_S = 1.0
HERE_EVERY = 10
"""Looks after which a page is noted as open once more."""


@dataclass(frozen=True)
class Place:
    """Where a page is open: the evaluation, in which team, by which sign-in of whom."""

    team_id: int
    evaluation_id: int
    sign_in_id: int
    user_id: int


@dataclass(frozen=True)
class Stands:
    """The number of the latest entry of the history, and the names of the others who are here."""

    latest: int
    here: tuple[str, ...]

    def told(self) -> dict[str, object]:
        return {"latest": self.latest, "here": [{"name": n, "initials": initials(n)} for n in self.here]}


def look(session: Session, places: Collection[Place], note: bool) -> Mapping[Place, Stands]:
    """How it stands at places; one is missing once its sign-in has ended or its evaluation is gone. With `note` the
    pages there are noted as open, and those of people who have left the team are missing too."""
    places = _still_open(session, places)
    if note and places:
        places = _of_members(session, places)
        still_here(session, [(p.sign_in_id, p.evaluation_id) for p in places])
    ids = {p.evaluation_id for p in places}
    latest = latest_of_each(session, ids)
    people = here_in(session, ids)
    return {
        p: Stands(
            latest.get(p.evaluation_id, 0),
            tuple(who.name for who in people.get(p.evaluation_id, ()) if who.id != p.user_id),
        )
        for p in places
    }


def note_page(maker: sessionmaker[Session], place: Place) -> None:
    """Note a page as open, also the first on its device; of two that come at once the first is noted."""
    with suppress(IntegrityError), maker.begin() as session:
        evaluation, sign_in = session.get(t.Evaluation, place.evaluation_id), session.get(t.SignIn, place.sign_in_id)
        if evaluation is not None and sign_in is not None:
            note_here(session, evaluation, sign_in)


def _still_open(session: Session, places: Collection[Place]) -> list[Place]:
    if not places:
        return []
    signed_in = select(t.SignIn.id).where(t.SignIn.id.in_({p.sign_in_id for p in places}), t.SignIn.ended_at.is_(None))
    wanted = {(p.team_id, p.evaluation_id) for p in places}
    there = select(t.Evaluation.id).where(
        tuple_(t.Evaluation.team_id, t.Evaluation.id).in_(wanted), t.Evaluation.deleted_at.is_(None)
    )
    people, evaluations = set(session.scalars(signed_in)), set(session.scalars(there))
    return [p for p in places if p.sign_in_id in people and p.evaluation_id in evaluations]


def _of_members(session: Session, places: Collection[Place]) -> list[Place]:
    wanted = {(p.user_id, p.team_id) for p in places}
    key = tuple_(t.Membership.user_id, t.Membership.team_id)
    found = set(session.execute(select(t.Membership.user_id, t.Membership.team_id).where(key.in_(wanted))).tuples())
    return [p for p in places if (p.user_id, p.team_id) in found]


class Watching:
    """The open pages of this server, looked after by one thread as long as there are any."""

    def __init__(self, maker: sessionmaker[Session]) -> None:
        self._maker = maker
        self._pages: dict[Place, int] = defaultdict(int)
        self._stands: Mapping[Place, Stands] = {}
        self._changed = threading.Condition()
        self._looks = 0
        self._thread: threading.Thread | None = None

    def enter(self, place: Place) -> None:
        """Look after a page from now on, and note it as open."""
        note_page(self._maker, place)
        with self._maker() as session:
            stands = look(session, [place], note=False)
        with self._changed:
            self._pages[place] += 1
            self._stands = {**self._stands, **stands}
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._watch, name="watching", daemon=True)
                self._thread.start()

    def leave(self, place: Place) -> None:
        """Look after a page no longer; who has none left is not here any more."""
        with self._changed:
            self._pages[place] -= 1
            if self._pages[place] > 0:
                return
            del self._pages[place]
        with self._maker.begin() as session:
            still_here(session, [(place.sign_in_id, place.evaluation_id)], gone=True)

    def now(self, place: Place) -> Stands | None:
        """How it stands, None once that is nobody's to know any more."""
        return self._stands.get(place)

    def wait(self, known: Stands, place: Place, seconds: float) -> None:
        """Until it stands otherwise, at most for so long."""
        with self._changed:
            self._changed.wait_for(lambda: self._stands.get(place) != known, seconds)

    def _watch(self) -> None:
        while True:
            with self._changed:
                places = list(self._pages)
                if not places:
                    self._thread = None
                    return
            self._looks += 1
            try:
                with self._maker.begin() as session:
                    stands = look(session, places, self._looks % HERE_EVERY == 0)
            except SQLAlchemyError:  # it stands as it did, as far as is known
                stands = {}
                places = []
            with self._changed:
                others = {p: s for p, s in self._stands.items() if p in self._pages and p not in places}
                self._stands = {**others, **stands}
                self._changed.notify_all()
            time.sleep(LOOK_EVERY_S)
