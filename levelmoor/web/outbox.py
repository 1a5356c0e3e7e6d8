"""What a browser asks before it sends what it kept: whether there is a way, and who is signed in."""

from flask import Blueprint, jsonify
from flask.typing import ResponseReturnValue
from flask_login import current_user, login_required
from flask_wtf.csrf import generate_csrf

outbox = Blueprint("outbox", __name__)


@outbox.get("/outbox")
@login_required  # type: ignore[untyped-decorator]
def ready() -> ResponseReturnValue:
    """The user, and the token that what is sent needs."""
    return jsonify(user=current_user.id, csrf=generate_csrf())
