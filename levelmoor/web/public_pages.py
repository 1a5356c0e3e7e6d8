"""Public pages as any stranger sees them: the same for all, so that caches on the way may keep them for a minute [1]_,
and each server process keeps some itself, for when the database is away.

A page for a stranger holds no token of a form. What can be sent from it without one changes nothing of anybody's: the
look of the page, and a file that is judged and forgotten.

References
----------
.. [1] RFC 9111, HTTP Caching, sections 3 and 4.1.
"""

from collections import OrderedDict
from threading import Lock

from flask import Flask, Response, current_app, request, session
from flask_wtf.csrf import generate_csrf

from levelmoor.web.context import TOKEN, wants_part
from levelmoor.web.security import csrf

BLUEPRINTS, ENDPOINTS = ("shelf", "feeds"), ("reports.public", "reports.as_json", "reports.bundle")
WITHOUT_TOKEN = ("accounts.look", "tryout.judged")
FRESH_S = 60
"""For which a cache may show a report that was withdrawn meanwhile."""
MOST_BYTES = 8_000_000
LARGEST_BYTES = 2_000_000


class KeptPages:
    """Pages in memory; of too many the one that was asked for longest ago goes."""

    def __init__(self) -> None:
        self._lock, self._pages, self._bytes = Lock(), OrderedDict[str, tuple[str, bytes]](), 0

    def put(self, address: str, kind: str, body: bytes) -> None:
        with self._lock:
            self._bytes += len(body) - len(self._pages.pop(address, ("", b""))[1])
            self._pages[address] = kind, body
            while self._bytes > MOST_BYTES:
                self._bytes -= len(self._pages.popitem(last=False)[1][1])

    def get(self, address: str) -> tuple[str, bytes] | None:
        with self._lock:
            if address in self._pages:
                self._pages.move_to_end(address)
            return self._pages.get(address)


def install(app: Flask) -> None:
    app.config["KEPT_PAGES"] = KeptPages()
    app.after_request(_keep)
    app.jinja_env.globals["csrf_token"] = _token
    app.context_processor(lambda: {"csrf_token": _token})
    for endpoint in WITHOUT_TOKEN:
        csrf.exempt(app.view_functions[endpoint])


def kept_page() -> Response | None:
    """What is kept of the page that is asked for."""
    if not _is_public():
        return None
    found = current_app.config["KEPT_PAGES"].get(_address())
    if found is None:
        return None
    return Response(found[1], headers={"Content-Type": found[0], "Cache-Control": "no-store"})


def _is_public() -> bool:
    of_public = request.blueprint in BLUEPRINTS or request.endpoint in ENDPOINTS
    return request.method in ("GET", "HEAD") and of_public and not wants_part()


def _for_strangers() -> bool:
    return _is_public() and TOKEN not in session


def _token() -> str:
    """Of a form: none where a stranger's page is everybody's."""
    return "" if _for_strangers() else str(generate_csrf())


def _address() -> str:
    return f"{request.accept_mimetypes.best_match(['text/html', 'application/json'], 'text/html')} {request.full_path}"


def _keep(response: Response) -> Response:
    if not _for_strangers() or response.status_code != 200 or response.is_streamed:
        return response
    if session.modified:  # it told somebody something that is for them alone
        return response
    if len(body := response.get_data()) <= LARGEST_BYTES:
        current_app.config["KEPT_PAGES"].put(_address(), response.content_type, body)
    if "Cache-Control" not in response.headers:
        response.headers["Cache-Control"] = f"public, max-age={FRESH_S}"
        response.vary.update(("Accept", "Cookie"))
        response.add_etag()
        response.make_conditional(request)
    return response
