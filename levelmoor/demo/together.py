"""Two people at work on the demo: changes with their history, comments, a review that came back and one that waits."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.relied_on import only_relied_on
from levelmoor.records import history, reviews
from levelmoor.records import tables as t
from levelmoor.records.audit import Actor
from levelmoor.records.database import now
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.reviews import content_of

CHANGED, REVIEWED = "Slidewhip 40/20/15", "Fourstay 70"
NOTES = "Swept on the lawn behind the hut; the hat was put on for one round and taken off again."


def work_together(session: Session, team: t.Team, maud: t.User, ivo: t.User) -> None:
    """Changes of both, as though they had been made on the page."""
    _changes(session, _evaluation(session, team, CHANGED), maud, ivo)
    _review(session, _evaluation(session, team, REVIEWED), maud, ivo)


def _evaluation(session: Session, team: t.Team, product: str) -> t.Evaluation:
    query = select(t.Evaluation).join(t.Product).where(t.Evaluation.team_id == team.id, t.Product.name == product)
    return session.scalars(query).one()


def _as(session: Session, user: t.User) -> None:
    session.flush()
    session.info[history.ACTOR] = Actor(user.name, user.id, "127.0.0.1")


def _changes(session: Session, row: t.Evaluation, maud: t.User, ivo: t.User) -> None:
    claim, late = row.claims[0], row.claims[3]
    meant = claim.limit
    _as(session, maud)
    claim.limit = 2.5
    row.notes = NOTES.partition(";")[0] + "."
    said = {"evaluation_id": row.id, "made_at": now()}
    session.add(
        t.Comment(
            **said, about_kind="claim", about_id=late.id, made_by_id=maud.id, to_do=True, for_user=ivo,
            words="No mark on the tube is for 17 m. Ask the maker which one the box means, then sweep it.",
        )
    )  # fmt: skip
    _as(session, ivo)
    claim.limit = meant
    row.notes = NOTES
    first = t.Comment(
        **said, about_kind="sweep", about_id=row.sweeps[0].id, made_by_id=ivo.id, to_do=True,
        words="The coil had not clicked into its mark here; sweep it again.",
    )  # fmt: skip
    session.add(first)
    session.flush()
    first.done_by, first.done_at = ivo.name, now()
    session.flush()
    session.info.pop(history.ACTOR)


def _review(session: Session, row: t.Evaluation, maud: t.User, ivo: t.User) -> None:
    content = content_of(only_relied_on(evaluation_of(row)))
    reviews.ask(session, row.id, content, ivo.id)
    session.flush()
    words = "Say on the first line of the notes that the club did not pay for it."
    reviews.answer(session, row.id, content, maud.id, False, words)
    _as(session, ivo)
    row.notes = f"{row.notes} The club did not pay for it.".strip()
    session.flush()
    session.info.pop(history.ACTOR)
    reviews.ask(session, row.id, content_of(only_relied_on(evaluation_of(row))), ivo.id)
    session.flush()
