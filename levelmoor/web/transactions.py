"""Each request is one transaction: kept whole when it has succeeded, else nothing of it; tried again where the database
asks for that."""

from typing import Any

from flask import Flask, Response, g, request
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from levelmoor.records.database import TRIES, asks_again, lost_connection, pause_before


class TransactionalFlask(Flask):
    """Flask whose views run in one transaction, which ends before their answer goes out."""

    def dispatch_request(self) -> Any:
        for attempt in range(TRIES):
            settling = False
            try:
                response = self.make_response(super().dispatch_request())
                settling = True
                _settle(response)
                return response
            except OperationalError as problem:
                # Whether a commit came through that was cut off, nobody knows: it is not made again unasked.
                again = asks_again(problem) or (lost_connection(problem) and not settling)
                if not again or attempt + 1 == TRIES:
                    raise
                _begin_anew()
                pause_before(attempt)
        raise AssertionError("unreachable")


def _settle(response: Response) -> None:
    held: Session | None = g.get("db")
    if held is None:
        return
    # What is only read changes nothing.
    if response.status_code < 400 and request.method not in ("GET", "HEAD", "OPTIONS"):
        held.flush()
        if tell := g.pop("before_commit", None):
            tell(response)
        held.commit()
        for act in g.pop("after_commit", ()):
            act()
    else:
        held.rollback()


def _begin_anew() -> None:
    """Nothing that was read or begun before is left, and files are read from their start."""
    close()
    for kept in ("membership", "_login_user", "sign_in", "before_commit", "after_commit"):
        g.pop(kept, None)
    for file in (f for files in request.files.listvalues() for f in files):
        file.stream.seek(0)


def close() -> None:
    """Let the request's session go; what it did not commit is taken back."""
    held: Session | None = g.pop("db", None)
    if held is not None:
        held.close()
