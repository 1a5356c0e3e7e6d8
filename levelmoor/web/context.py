"""What every request has: a database session, the signed-in user, the team in hand."""

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from flask import Flask, Response, abort, current_app, g, request, session
from flask_login import LoginManager, UserMixin, current_user, login_required
from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from levelmoor.records.tables import Evaluation, Membership, Team, User

P = ParamSpec("P")
R = TypeVar("R")
LOOKS = ("auto", "day", "night", "sun")


class Member(UserMixin):  # type: ignore[misc]
    """A signed-in user for Flask-Login."""

    def __init__(self, row: User) -> None:
        self.row = row
        self.id = row.id
        self.name = row.name
        self.memberships = row.memberships


def db() -> Session:
    """The request's database session; what it holds is committed when the request has succeeded."""
    if "db" not in g:
        g.db = current_app.config["SESSIONS"]()
    return g.db  # type: ignore[no-any-return]


def membership() -> Membership | None:
    """The user's place in the team in hand: the chosen one, else the first."""
    if not current_user.is_authenticated:
        return None
    if "membership" not in g:
        places: list[Membership] = current_user.memberships
        chosen = [m for m in places if m.team_id == session.get("team")]
        g.membership = next(iter(chosen or places), None)
    return g.membership  # type: ignore[no-any-return]


def team() -> Team:
    """The team in hand; 403 for a user who is in none."""
    place = membership()
    if place is None:
        abort(403)
    return place.team


def for_members(view: Callable[P, R]) -> Callable[P, R]:
    """Only for signed-in members of a team."""

    @wraps(view)
    def guarded(*args: P.args, **kwargs: P.kwargs) -> R:
        team()
        return view(*args, **kwargs)

    return login_required(guarded)  # type: ignore[no-any-return]


def for_editors(view: Callable[P, R]) -> Callable[P, R]:
    """Only for editors of the team's settings."""

    @wraps(view)
    def guarded(*args: P.args, **kwargs: P.kwargs) -> R:
        place = membership()
        if place is None or not place.editor:
            abort(403)
        return view(*args, **kwargs)

    return login_required(guarded)  # type: ignore[no-any-return]


def install(app: Flask) -> None:
    logins = LoginManager(app)
    logins.login_view = "accounts.sign_in"
    logins.login_message = ""

    @logins.user_loader  # type: ignore[untyped-decorator]
    def load(user_id: str) -> Member | None:
        row = db().scalar(
            select(User)
            .where(User.id == int(user_id))
            .options(joinedload(User.memberships).joinedload(Membership.team))
        )
        return Member(row) if row else None

    @app.before_request
    def one_change_after_the_other() -> None:
        """Changes of one evaluation wait for one another, so that each answer shows all that was kept before it.

        It comes before anything is read: the transaction sees what stands at its first reading.
        """
        places = request.view_args or {}
        if request.method == "POST" and "evaluation_id" in places:
            db().execute(select(Evaluation.id).where(Evaluation.id == places["evaluation_id"]).with_for_update())

    @app.after_request
    def commit(response: Response) -> Response:
        held: Session | None = g.get("db")
        if held is not None:
            if response.status_code < 400:
                held.commit()
            else:
                held.rollback()
        return response

    @app.teardown_appcontext
    def close(_error: BaseException | None) -> None:
        held: Session | None = g.pop("db", None)
        if held is not None:
            held.close()

    @app.context_processor
    def shared() -> dict[str, Any]:
        look = request.cookies.get("look", "auto")
        return {"look": look if look in LOOKS else "auto", "looks": LOOKS, "place": membership()}
