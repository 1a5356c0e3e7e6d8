"""Long lists of a page, shown a part at a time."""

from urllib.parse import parse_qs, urlsplit

from flask import request


def parts_of(count: int, in_a_part: int) -> list[slice]:
    """The parts of so many rows; an empty one where there is none."""
    return [slice(at, min(at + in_a_part, count)) for at in range(0, count, in_a_part)] or [slice(0, 0)]


def part_at(parts: list[slice], number: int) -> slice:
    """A part by its number from 1; one beyond the last is the last."""
    return parts[min(max(number, 1), len(parts)) - 1]


def part_asked(name: str) -> int:
    """The part that is asked for by a name, or that the page has which a change comes from."""
    page = parse_qs(urlsplit(request.headers.get("HX-Current-URL", "")).query).get(name, ["1"])[0]
    asked = request.args.get(name, page)
    return int(asked) if asked.isdecimal() and len(asked) < 6 else 1
