"""What every request has: a database session, the signed-in user, the team in hand."""

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from flask import Flask, Response, abort, current_app, g, redirect, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import LoginManager, UserMixin, current_user, login_required
from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, sessionmaker

from levelmoor.records import history, sign_ins
from levelmoor.records.audit import Actor, record
from levelmoor.records.database import now
from levelmoor.records.kept_acts import first_time
from levelmoor.records.roles import ACT_WORDS, Act, may
from levelmoor.records.tables import Evaluation, Membership, SignIn, Team, User
from levelmoor.web import transactions
from levelmoor.web.waiting import leave_line, stand_in_line

P = ParamSpec("P")
R = TypeVar("R")
LOOKS = ("auto", "day", "night", "sun")
TOKEN = "sign_in"  # noqa: S105  a key, no secret
"""Where the browser's cookie keeps the token of its sign-in."""


class Member(UserMixin):  # type: ignore[misc]
    """A signed-in user for Flask-Login."""

    def __init__(self, row: User) -> None:
        self.row = row
        self.id = row.id
        self.name = row.name
        self.memberships = sorted(row.memberships, key=lambda m: (m.joined_at is not None, m.joined_at, m.team_id))


def maker() -> sessionmaker[Session]:
    """What makes sessions beside the request's own, for what is kept whatever becomes of the request."""
    return current_app.config["SESSIONS"]  # type: ignore[no-any-return]


def db() -> Session:
    """The request's database session; what it holds is committed when the request has succeeded."""
    if "db" not in g:
        g.db = maker()()
    return g.db  # type: ignore[no-any-return]


def address() -> str:
    """From where the request comes."""
    return request.remote_addr or ""


def actor() -> Actor:
    """Who does what is being done."""
    return Actor(current_user.name, current_user.id, address())


def note(kind: str, what: str, evaluation_id: int | None = None) -> None:
    """Add to the team's record of what was done, and to an evaluation's history."""
    record(db(), team().id, actor(), kind, what, evaluation_id)


def membership() -> Membership | None:
    """The user's place in the team in hand. The person alone chooses it; at the first it is the team joined first."""
    if not current_user.is_authenticated:
        return None
    if "membership" not in g:
        places: list[Membership] = current_user.memberships
        if "team" not in session and places:
            session["team"] = places[0].team_id
        # What was done on a page is done in the team that the page was of.
        of_page = request.headers.get("Levelmoor-Team", type=int) or request.form.get("of_team", type=int)
        of_page = of_page or session.get("team")
        g.membership = next((m for m in places if m.team_id == of_page), None)
    return g.membership  # type: ignore[no-any-return]


def team() -> Team:
    """The team in hand; 403 for a user who is in none."""
    place = membership()
    if place is None:
        abort(403)
    return place.team


def wants_part() -> bool:
    """Whether a part of a page is asked for. Who comes back to a page by its history needs all of it."""
    return "HX-Request" in request.headers and "HX-History-Restore-Request" not in request.headers


def may_do(act: Act) -> bool:
    """Whether who asks may do it in the team in hand."""
    place = membership()
    return place is not None and may(place.role, act)


def for_members(view: Callable[P, R]) -> Callable[P, R]:
    """For signed-in members of a team; what changes something only for those who may work. One who has no team in hand
    chooses first."""
    return _guarded(view, Act.WORK)


def for_act(act: Act) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """For those alone whose role lets them do it."""
    return lambda view: _guarded(view, act, strict=True)


def _guarded(view: Callable[P, R], act: Act, strict: bool = False) -> Callable[P, R]:
    @wraps(view)
    def guarded(*args: P.args, **kwargs: P.kwargs) -> Any:
        if membership() is None:
            if act is Act.LEAD:
                abort(403)
            return redirect(url_for("accounts.account"))
        wanted = act if strict or request.method == "POST" else Act.SEE
        if not may_do(wanted):
            abort(403, f"Your role in the team does not allow this: {ACT_WORDS[wanted].lower()}.")
        _one_change_after_the_other()
        return view(*args, **kwargs)

    return login_required(guarded)  # type: ignore[no-any-return]


for_editors = for_act(Act.LEAD)


def _one_change_after_the_other() -> None:
    """Changes of one evaluation wait for one another, so that each answer shows all that was kept before it; changes
    of what a team owns likewise. Only who may change it is let wait, and only for the own team's.

    The transaction sees what stands at its first reading: so one begins here. The answer tells the page up to where
    the history went before the change and after it.
    """
    if request.method != "POST":
        return
    db().commit()
    evaluation_id = (request.view_args or {}).get("evaluation_id")
    stand_in_line((team().id, evaluation_id))
    if evaluation_id is None:
        db().execute(select(Team.id).where(Team.id == team().id).with_for_update())
    else:
        wanted = (Evaluation.id == evaluation_id, Evaluation.team_id == team().id)
        db().execute(select(Evaluation.id).where(*wanted).with_for_update())
    scope = (team().id, evaluation_id)
    _once(request.headers.get("Levelmoor-Act", ""))
    before = history.latest(db(), *scope)

    def tell(response: Response) -> None:
        response.headers["Levelmoor-Before"] = str(before)
        response.headers["Levelmoor-Seen"] = str(history.latest(db(), *scope))

    g.before_commit = tell


def _once(act: str) -> None:
    """What a browser sends once more, because no answer reached it, was done already."""
    if act and not first_time(db(), act[:40], current_user.id):
        abort(Response("", 200, {"HX-Reswap": "none", "Levelmoor-Known": "1"}))


def install(app: Flask) -> None:
    logins = LoginManager(app)
    logins.login_view = "accounts.sign_in"
    logins.login_message = ""

    @logins.unauthorized_handler  # type: ignore[untyped-decorator]
    def signed_out() -> ResponseReturnValue:
        """A part of a page is told so, and what was typed in it stays; a whole page goes to sign in."""
        if "HX-Request" in request.headers or request.is_json:
            return "", 401, {"HX-Reswap": "none"}
        return redirect(
            url_for("accounts.sign_in", next=request.full_path.rstrip("?") if request.method == "GET" else None)
        )

    @logins.user_loader  # type: ignore[untyped-decorator]
    def load(user_id: str) -> Member | None:
        sign_in = sign_ins.standing(db(), str(session.get(TOKEN, "")))
        if sign_in is None or str(sign_in.user_id) != user_id:
            return None
        g.sign_in = sign_in
        _seen(sign_in)
        query = select(User).where(User.id == sign_in.user_id)
        row = db().scalar(query.options(joinedload(User.memberships).joinedload(Membership.team)))
        if row is not None:
            db().info[history.ACTOR] = Actor(row.name, row.id, address())
        return Member(row) if row else None

    @app.teardown_appcontext
    def close(_error: BaseException | None) -> None:
        transactions.close()
        leave_line()

    @app.context_processor
    def shared() -> dict[str, Any]:
        look = request.cookies.get("look", "auto")
        alone = bool(g.get("alone"))
        place = None if alone else membership()
        allowed = {act.value: place is not None and may(place.role, act) for act in Act}
        looks = {"look": look if look in LOOKS else "auto", "looks": LOOKS}
        return {**looks, "place": place, "alone": alone, "may": allowed, "seen": _seen_by(place)}


def _seen_by(place: Membership | None) -> int:
    """Up to where the page that is drawn has seen the history."""
    if place is None or request.endpoint is None:
        return 0
    return history.latest(db(), place.team_id, (request.view_args or {}).get("evaluation_id"))


def _seen(sign_in: SignIn) -> None:
    """Keep now and then that the browser was there; beside the request, which may be one that only reads."""
    if now() - sign_in.seen_at > sign_ins.SEEN_EVERY:
        with maker().begin() as beside:
            row = beside.get(SignIn, sign_in.id)
            if row is not None:
                row.seen_at = now()
