"""Templates are read by people too."""

from pathlib import Path

import pytest

import levelmoor

FOLDER = Path(levelmoor.__file__).parent
TEMPLATES = sorted(p.relative_to(FOLDER).as_posix() for p in FOLDER.rglob("*.html"))


@pytest.mark.parametrize("name", TEMPLATES)
def test_no_line_is_longer_than_a_screen_shows(name):
    longest = max((FOLDER / name).read_text("utf-8").split("\n"), key=len)
    assert len(longest) <= 160, longest
