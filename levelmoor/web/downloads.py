"""Files that go out, under names in any script."""

import unicodedata
from urllib.parse import quote

from flask import Response

LONGEST_NAME = 200
FOR_GOOD = "public, max-age=31536000, immutable"
"""How long a browser keeps what is of one published revision: that never changes."""


def of_upload(name: str | None) -> str:
    """The bare name of an uploaded file: some browsers send the path with it."""
    bare = (name or "").replace("\\", "/").rsplit("/", 1)[-1][-LONGEST_NAME:]
    return "".join(c for c in bare if c.isprintable())


def for_download(title: str) -> str:
    """A title as part of a file's name."""
    return "".join(c if c.isalnum() else "-" for c in title.lower())[:60].strip("-") or "untitled"


def download(data: bytes | str, name: str, kind: str, inline: bool = False) -> Response:
    """A file by its name: plain letters for old programs, the name itself for all others.

    References
    ----------
    RFC 6266, section 4 and appendix D (both parameters), and RFC 8187, section 3.2 (the extended one).
    """
    response = Response(data, mimetype=kind)
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    plain = "".join(c if c.isalnum() or c in "-_. ()" else "-" for c in plain).strip(" .") or "file"
    value = f'{"inline" if inline else "attachment"}; filename="{plain}"'
    if plain != name:
        value += f"; filename*=UTF-8''{quote(name, safe='-_.')}"
    response.headers["Content-Disposition"] = value
    return response
