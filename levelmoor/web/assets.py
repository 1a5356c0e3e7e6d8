"""Built files, named by their content so that browsers may keep them for ever."""

from functools import lru_cache
from hashlib import sha256
from pathlib import Path

from flask import Flask, Response, request, url_for


def install(app: Flask, folder: Path) -> None:
    @lru_cache(maxsize=200)
    def digest(name: str) -> str:
        return sha256((folder / name).read_bytes()).hexdigest()[:12]

    def asset(name: str) -> str:
        return url_for("static", filename=name, v=digest(name))

    def keep(response: Response) -> Response:
        if request.endpoint == "static" and "v" in request.args and response.status_code == 200:
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    app.jinja_env.globals["asset"] = asset
    app.after_request(keep)
