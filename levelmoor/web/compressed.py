"""Answers go out compressed where the browser takes that; streams and what is compressed already go as they are."""

import gzip
from functools import lru_cache

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


def _packed(stays: bool, data: bytes) -> bytes:
    return _packed_once(data) if stays else gzip.compress(data, LEVEL, mtime=0)


@lru_cache(64)
def _packed_once(data: bytes) -> bytes:
    """What is the same for everybody is compressed once."""
    return gzip.compress(data, LEVEL, mtime=0)


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
        response.set_data(_packed(request.endpoint == "static", data))
        response.headers["Content-Encoding"] = "gzip"
        if etag := response.get_etag()[0]:
            response.set_etag(etag, weak=True)  # the same content in other bytes
        return response
