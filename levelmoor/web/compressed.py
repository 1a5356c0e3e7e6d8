"""Answers go out compressed where the browser takes that; streams and what is compressed already go as they are."""

import gzip

from flask import Flask, Response, request

WORTH_BYTES = 1000
LEVEL = 5
_TEXTS = (
    "text/html",
    "text/css",
    "text/csv",
    "text/javascript",
    "application/javascript",
    "application/json",
    "image/svg+xml",
)


def install(app: Flask) -> None:
    @app.after_request
    def compress(response: Response) -> Response:
        if (
            response.mimetype not in _TEXTS
            or response.status_code in (204, 304)
            or (response.is_streamed and not response.direct_passthrough)
            or "Content-Encoding" in response.headers
            or "gzip" not in request.headers.get("Accept-Encoding", "")
        ):
            return response
        response.vary.add("Accept-Encoding")
        response.direct_passthrough = False
        data = response.get_data()
        if len(data) < WORTH_BYTES:
            return response
        response.set_data(gzip.compress(data, LEVEL, mtime=0))
        response.headers["Content-Encoding"] = "gzip"
        if etag := response.get_etag()[0]:
            response.set_etag(f"{etag}-gzip")
        return response
