"""Parts of a page that are sent only where they are other than the page has them.

A part is a template with one element that has an id. The page carries a short digest of each and says with a change
which it has; the answer then holds those that are new, each to be put in its place by its id.
"""

import json
import re
from hashlib import sha256
from typing import Any

from flask import g, request
from jinja2 import pass_context
from jinja2.runtime import Context
from markupsafe import Markup

_FIRST_TAG = re.compile(r"<[a-z][\w-]*(?=[\s>])[^>]*?\bid=\"([^\"]+)\"")
HAVE = "have"
"""The field of a request that says what the page has: digests by id, as JSON."""


@pass_context
def part(context: Context, name: str, changed: bool = False, **more: Any) -> Markup:
    """A part of the page for a template; where `changed`, only if the page that asks has another."""
    html = context.environment.get_template(name).render({**context.get_all(), **more}).strip()
    found = _FIRST_TAG.match(html)
    if found is None:
        raise ValueError(f"{name} does not begin with an element that has an id")
    digest = sha256(html.encode()).hexdigest()[:10]
    if changed and _have().get(found[1]) == digest:
        return Markup("")
    oob = ' hx-swap-oob="true"' if changed else ""
    return Markup(f'{found[0]} data-part="{digest}"{oob}{html[found.end() :]}')  # noqa: S704  drawn by our templates


def _have() -> dict[str, str]:
    if "parts_had" not in g:
        try:
            told = json.loads(request.form.get(HAVE, "{}"))
        except ValueError:
            told = {}
        g.parts_had = told if isinstance(told, dict) else {}
    return g.parts_had  # type: ignore[no-any-return]
