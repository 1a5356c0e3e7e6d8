"""Words as a search compares them: without accents, case and hyphens."""

import re
import unicodedata
from collections.abc import Iterable

_SIGNS = re.compile(r"[^0-9a-z]+")
_WORD = re.compile(r"\S+")
_OWN = str.maketrans({"ß": "ss", "ø": "o", "đ": "d", "ł": "l", "æ": "ae", "œ": "oe", "ð": "d", "þ": "th"})
"""Letters that no normal form takes apart."""


def folded(text: str) -> str:
    """Small letters and digits alone, words apart by one space: `Über-Whip 2/70` becomes `uber whip 2 70`."""
    apart = unicodedata.normalize("NFKD", text.casefold().translate(_OWN))
    return _SIGNS.sub(" ", "".join(c for c in apart if not unicodedata.combining(c))).strip()


def search_words(texts: Iterable[str]) -> list[str]:
    """Every word that a search may name, each once: those written with a hyphen or a slash also in one piece."""
    found: dict[str, None] = {}
    for text in texts:
        for written in _WORD.findall(text):
            parts = folded(written).split()
            found.update(dict.fromkeys(parts))
            if len(parts) > 1:
                found["".join(parts)] = None
    return list(found)


def key_of(*names: str) -> str:
    """A name as part of an address: `fellside-two`. Names that differ in case, accents or hyphens alone share it."""
    return "-".join(part for name in names for part in folded(name).split())
