"""Parts of a page that are sent only where the page has use for them: where they are other than it has them, or opened.

A part is a template with one element that has an id. The page carries a short digest of each and says with a change
which it has; the answer then holds those that are new, each to be put in its place by its id. What stands folded is
fetched when it is opened; the page says with each request what stands open.
"""

import json
import re
from hashlib import sha256
from typing import Any

from flask import g, request, url_for
from jinja2 import pass_context
from jinja2.runtime import Context
from markupsafe import Markup

_FIRST_TAG = re.compile(r"<[a-z][\w-]*(?=[\s>])[^>]*?\bid=\"([^\"]+)\"")
HAVE = "have"
"""The field of a request that says what the page has: digests by id, as JSON."""
OPENED = "Levelmoor-Opened"
"""The header of a request that says what stands open on the page, by name, with commas between."""


def opened(name: str) -> bool:
    """Whether what can be folded stands open on the page that asks."""
    return name in request.headers.get(OPENED, "").split(",")


@pass_context
def fetched(context: Context, name: str) -> Markup:
    """The attributes of a place that is filled when it is first opened."""
    at = url_for("workbench.open_part", evaluation_id=context["row"].id, name=name)
    return Markup('data-opens="{}" data-from="{}" hx-params="none" hx-disinherit="hx-params"').format(name, at)


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
