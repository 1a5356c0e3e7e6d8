"""What an act did, said once where it is seen: beside the page for a part of it, else on the page that follows."""

import json
from typing import Any

from flask import Flask, Response, flash, g, request


def tell(words: str) -> None:
    """Say that something was done."""
    _telling()["told"] = words


def tell_removed(words: str, undo: str) -> None:
    """Say that something was removed, and where it is had back."""
    _telling()["removed"] = {"words": words, "undo": undo}


def redraw() -> None:
    """Let the page that asked redraw itself."""
    _telling()["redraw"] = True


def _telling() -> dict[str, Any]:
    if "telling" not in g:
        g.telling = {}
    return g.telling  # type: ignore[no-any-return]


def install(app: Flask) -> None:
    @app.after_request
    def say(response: Response) -> Response:
        telling = g.pop("telling", None)
        if not telling or response.status_code >= 400:
            return response
        if "HX-Request" in request.headers:
            response.headers["HX-Trigger"] = json.dumps(telling)
            return response
        if removed := telling.get("removed"):
            flash([removed["words"], removed["undo"]], "removed")  # type: ignore[arg-type]
        if told := telling.get("told"):
            flash(told)
        return response
