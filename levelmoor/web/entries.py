"""What was sent as one entry: sent twice it is kept once, and what only looks alike is kept too."""

from hashlib import sha256
from secrets import token_hex

from flask import request

TAKEN_BEFORE = "All of it was added before; restore what was removed since from the history."


def pressed(kind: str) -> str:
    """The entry of a form: pressed twice with the same words on the same page it is one, each later one another."""
    words = sorted(f"{k}={v}" for k, v in request.form.items(multi=True) if k != "csrf_token")
    page = request.form.get("entry") or token_hex(12)  # a form that names none is never pressed twice
    return f"{kind}-{_digest(page, *words)}"


def of_table(data: bytes, *placed: object) -> str:
    """The stem of the entries of a table or file, for what it was sent: the rows follow it by number."""
    return _digest(sha256(data).hexdigest(), *map(str, placed))


def _digest(*words: str) -> str:
    return sha256("\n".join(words).encode()).hexdigest()[:24]
