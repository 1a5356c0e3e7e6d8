"""What people read keeps to docs/voice.md: patterns that it bans are found in messages and templates."""

import ast
import re
from pathlib import Path

import pytest

import levelmoor
from levelmoor.web.guide.glossary import OWN, TRADE

FOLDER = Path(levelmoor.__file__).parent
BANNED = {
    "is no date": r"(?<!there )(?<!There )\bis no (?!longer\b|legal\b|more\b|lower\b)\w",
    "was not taken": r"\bwas not taken\b",
    "take it in": r"\bTake (?:it|them) in\b",
    "have it back": r"\b[Hh]ave it back\b",
    "taken for granted": r"\b[Tt]aken for granted\b",
    "anew": r"\banew\b",
    "reckon": r"\breckon",
    "foreseen": r"\bis foreseen\b|, foreseen|as foreseen",
    "stands": r"\b(?:stands?|stood) \d|\bas it stands\b|\bwhat it stands\b",
    "written down": r"\b(?:not|is|are|was) written down\b|\b[Ww]rite (?:it|them) down\b",
    "set aside": r"(?<!^)\b[Ss]et aside\b|^[Ss]et aside(?=.)",
    "wanted frequency": r"\bwanted frequenc",
    "the article": r"\b[Tt]he article\b",
    "held against": r"\bheld against\b",
    "comes along": r"\b(?:comes?|came) along\b",
    "who runs": r"(?<!\w)(?<!ever )\bwho runs\b",
    "letters": r"\b(?:most|least|has) \d[\d,]* letters\b",
}


def said():
    """Every string of the program that may be read by people, with where it stands."""
    for path in sorted(FOLDER.rglob("*.py")):
        if "migrations" in path.parts:
            continue
        tree = ast.parse(path.read_text("utf-8"))
        docs = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docs:
                yield f"{path.relative_to(FOLDER)}:{node.lineno}", node.value
    for path in sorted(FOLDER.rglob("*.html")):
        bare = re.sub(r"\{#.*?#\}|\{%.*?%\}|<[^>]*>", " ", path.read_text("utf-8"), flags=re.DOTALL)
        yield str(path.relative_to(FOLDER)), " ".join(bare.split())


SAID = list(said())


def test_the_glossary_in_help_is_that_of_the_voice():
    """At most forty words, twelve of them our own, each explained in the same sentence in both places."""
    voice = (FOLDER.parent / "docs/voice.md").read_text("utf-8")
    assert len(OWN) <= 12 and len(OWN | TRADE) <= 40
    assert [word for word, means in (OWN | TRADE).items() if f"| {word} | {means} |" not in voice] == []


@pytest.mark.parametrize("pattern", BANNED.values(), ids=BANNED)
def test_nothing_says_it(pattern):
    found = [(where, match[0]) for where, text in SAID for match in re.finditer(pattern, text)]
    assert found == []
