"""Public pages as a stranger saw them last, for when the database is away: what is published can be read meanwhile."""

from collections import OrderedDict
from threading import Lock

from flask import Flask, Response, current_app, request, session
from flask_wtf.csrf import generate_csrf

from levelmoor.web.context import TOKEN, wants_part

BLUEPRINTS, ENDPOINTS = ("shelf", "feeds"), ("reports.public", "reports.as_json", "reports.bundle")
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
    return request.method == "GET" and of_public and not wants_part()


def _address() -> str:
    return f"{request.accept_mimetypes.best_match(['text/html', 'application/json'], 'text/html')} {request.full_path}"


def _keep(response: Response) -> Response:
    if not _is_public() or TOKEN in session or response.status_code != 200 or response.is_streamed:
        return response
    body = response.get_data()
    if len(body) <= LARGEST_BYTES:
        # A form's token is the visitor's own.
        if b"csrf" in body:
            body = body.replace(generate_csrf().encode(), b"")
        current_app.config["KEPT_PAGES"].put(_address(), response.content_type, body)
    return response
