"""JSON that comes from outside: its size, its number of values and its depth are looked at before it is read."""

import json
import re
from typing import Any

from levelmoor.core.words.bounds import DOCUMENT_BYTES, JSON_DEPTH, JSON_VALUES

_SIGNS = re.compile(rb'"(?:[^"\\]++|\\.)*+(?:"|\Z)|[\[\]{}]', re.DOTALL)
"""A whole text, also one that is not closed, or a bracket: each letter is looked at once."""


class JsonProblem(ValueError):
    """Why a text is not taken as JSON."""


def check_json(text: str | bytes, most_bytes: int = DOCUMENT_BYTES, most_values: int = JSON_VALUES) -> bytes:
    """The text as bytes, if it is not too large, too full or too deep to be read.

    Raises
    ------
    JsonProblem
        Naming what there is too much of, and how much is taken.
    """
    data = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    if len(data) > most_bytes:
        raise JsonProblem(f"it has {len(data) / 1e6:.1f} MB; at most {most_bytes / 1e6:g} MB are allowed")
    if data.count(b",") + data.count(b"[") + data.count(b"{") > most_values:
        raise JsonProblem(f"it holds more than {most_values} values")
    depth = 0
    for match in _SIGNS.finditer(data):
        sign = match[0][:1]
        if sign in b"[{":
            depth += 1
            if depth > JSON_DEPTH:
                raise JsonProblem(f"its values are nested more than {JSON_DEPTH} deep")
        elif sign in b"]}":
            depth -= 1
    return data


def read_json(text: str | bytes, most_bytes: int = DOCUMENT_BYTES, most_values: int = JSON_VALUES) -> Any:
    """The value of a JSON text; infinite figures and figures that are none are refused.

    Raises
    ------
    JsonProblem
        Naming line and column of what is not JSON, or what there is too much of.
    """
    data = check_json(text, most_bytes, most_values)
    try:
        return json.loads(data, parse_constant=_no_figure)
    except json.JSONDecodeError as problem:
        raise JsonProblem(f"line {problem.lineno}, column {problem.colno}: {problem.msg}") from None
    except JsonProblem:
        raise
    except ValueError:  # Python's own bound on the digits of a whole number
        raise JsonProblem("a whole number in it has too many digits") from None
    except UnicodeDecodeError as problem:
        raise JsonProblem(f"byte {problem.start + 1} is not UTF-8") from None


def _no_figure(word: str) -> Any:
    raise JsonProblem(f"{word} is not a number in JSON")
