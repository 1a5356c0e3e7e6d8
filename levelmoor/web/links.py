"""Addresses that leave the page, in letters: of this server as it is set up, whatever a request calls it."""

from typing import Any

from flask import current_app, request, url_for


def outward(endpoint: str, **values: Any) -> str:
    """The whole address of a page. A host that a request names counts only where the installation lists its hosts."""
    host = request.host if current_app.config["TRUSTED_HOSTS"] else current_app.config["SERVED_AT"]
    return f"{request.scheme}://{host}{url_for(endpoint, **values)}"
