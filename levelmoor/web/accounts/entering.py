"""Letting somebody in: the password, where it is wanted a code, then a sign-in of the browser's own."""

import time

from flask import after_this_request, request, session
from flask_login import login_user

from levelmoor.records import second_step, sign_ins
from levelmoor.records import tables as t
from levelmoor.records.audit import Actor, record_of
from levelmoor.records.tries import TooManyTries, give_back, take_try
from levelmoor.web.context import TOKEN, Member, address, db, maker
from levelmoor.web.known_device import remember
from levelmoor.web.security import is_own

HALF = "half"
"""Where the browser's cookie keeps who has typed the right password, and when."""
HALF_S = 300.0
WRONG_CODE = "That code is wrong, or was used already. Wait for the next one."


def enter(user: t.User) -> None:
    """Sign the browser in with a sign-in of its own."""
    session.clear()
    session[TOKEN] = sign_ins.begin(db(), user, address(), request.user_agent.string)
    login_user(Member(user))
    email = user.email
    after_this_request(lambda response: remember(response, email))
    record_of(db(), user, Actor(user.name, user.id, address()), "sign-in", "signed in")


def half_way(user: t.User) -> None:
    """Remember for a few minutes that the password was right."""
    session.clear()
    session[HALF] = [user.id, time.time()]


def who_is_half_way() -> t.User | None:
    """Whose password was right a few minutes ago at most."""
    user_id, since = session.get(HALF, (0, 0.0))
    return db().get(t.User, user_id) if time.time() - since < HALF_S else None


def code_problem(user: t.User, code: str) -> str:
    """What is wrong with a code; wrong ones are counted like passwords. A right one is used up."""
    if not code.strip():
        return "Type the code that your app shows."
    try:
        taken = take_try(maker(), f"code {user.email}", address())
    except TooManyTries as problem:
        return str(problem)
    with maker().begin() as beside:  # used up, whatever becomes of the request
        if not second_step.passes(beside, user.id, code):
            return WRONG_CODE
    give_back(maker(), taken)
    return ""


def onward() -> str:
    """The page of ours that somebody wanted to see, empty for none."""
    target = request.args.get("next", "")
    return target if is_own(target) else ""
