"""What a public function of the heart raises stands in its docstring."""

import ast
from pathlib import Path

import pytest

from levelmoor import core

FOLDER = Path(core.__file__).parent
NO_CALLERS_BUSINESS = {"NotImplementedError", "AssertionError"}


def raises_itself(function):
    """What a function raises in its own lines, by name."""
    inner = [f for f in ast.walk(function) if isinstance(f, ast.FunctionDef) and f is not function]
    theirs = {one for f in inner for one in ast.walk(f)}
    own = (one for one in ast.walk(function) if isinstance(one, ast.Raise) and one.exc and one not in theirs)
    return {ast.unparse(one.exc).partition("(")[0] for one in own} - NO_CALLERS_BUSINESS


FUNCTIONS = [
    (f"{path.relative_to(FOLDER)}:{f.name}", f)
    for path in sorted(FOLDER.rglob("*.py"))
    for f in ast.walk(ast.parse(path.read_text("utf-8")))
    if isinstance(f, ast.FunctionDef) and not f.name.startswith("_") and raises_itself(f)
]


@pytest.mark.parametrize(("name", "function"), FUNCTIONS, ids=[name for name, _ in FUNCTIONS])
def test_says_what_it_raises(name, function):
    assert "aise" in (ast.get_docstring(function) or "")
