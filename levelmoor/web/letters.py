"""Letters that a request writes: kept with its change, and sent once that is kept."""

from functools import partial

from flask import current_app, g

from levelmoor.services.mail import Post, may_write, send, write
from levelmoor.web.context import db, maker, team


def post() -> Post:
    """How letters go out of this installation."""
    return current_app.config["POST"]  # type: ignore[no-any-return]


def write_letter(to: str, subject: str, words: str, of_team: int | None = None) -> str:
    """Write to a person, for the team in hand or for another; it goes out once the change that asks for it is kept.
    What is to be said of that, if anything goes out at all."""
    way, team_id = post(), of_team or team().id
    if way.goes and not may_write(db(), team_id, to):
        return "Too many emails were sent today; use another way."
    letter = write(db(), way, team_id, to, subject, words)
    if letter is None:
        return ""
    if not way.server:
        return "The email is in the outbox of this machine."
    g.setdefault("after_commit", []).append(partial(send, maker(), way, letter.id))
    return "An email is on its way; Emails sent shows whether it went out."
