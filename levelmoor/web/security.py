"""Headers, tokens, hosts, and how large a request may be."""

from urllib.parse import urlsplit

from flask import Flask, Response, request, session
from flask_wtf.csrf import CSRFProtect
from werkzeug.exceptions import RequestEntityTooLarge

from levelmoor.web.context import TOKEN

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
LARGEST_REQUEST = 110_000_000
"""Twenty files of usual size, or an exported evaluation."""
LARGEST_BEFORE_SIGN_IN = 20_000
LARGEST_FOR_ALL = {"tryout.judged": 2_000_000, "answers.send_in": 5_000_000}
"""What somebody without an account may send all the same: a file to try, a file with an answer, which is told by
its form that it is too large."""
YEAR_S = 31_536_000
csrf = CSRFProtect()


def is_own(target: str) -> bool:
    """Whether an address to go on to is a path here and nothing else."""
    if not target.startswith("/") or target.startswith(("//", "/\\")) or not target.isprintable():
        return False
    try:
        parts = urlsplit(target)
    except ValueError:
        return False
    return not parts.netloc and not parts.scheme


def install(app: Flask, behind_tls: bool = False) -> None:
    @app.before_request
    def small_before_sign_in() -> None:
        """Before anything is read: who is not signed in sends nothing large."""
        most = LARGEST_FOR_ALL.get(request.endpoint or "", LARGEST_BEFORE_SIGN_IN)
        if TOKEN not in session and (request.content_length or 0) > most:
            raise RequestEntityTooLarge

    csrf.init_app(app)

    @app.after_request
    def headers(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
        if behind_tls:
            response.headers.setdefault("Strict-Transport-Security", f"max-age={YEAR_S}; includeSubDomains")
        if request.endpoint != "static" and (response.mimetype == "text/html" or TOKEN in session):
            # What is a team's is kept nowhere on the way; what is published says itself how long it holds.
            response.headers.setdefault("Cache-Control", "no-store")
        response.vary.update(("HX-Request", "HX-History-Restore-Request"))
        return response
