"""All that Levelmoor says: sentences of the demo's screens, of commands, and messages that the demo does not show."""

import ast
import json
import re
from html.parser import HTMLParser
from pathlib import Path

import levelmoor as program

FOLDER = Path(program.__file__).parent
SCRIPTS = FOLDER / "web/static"
INLINE = {"a", "abbr", "b", "code", "em", "i", "kbd", "mark", "small", "span", "strong", "sub", "sup", "time", "tspan"}
SAID_IN = ("title", "placeholder", "aria-label", "alt", "hx-confirm", "content")
SILENT = {"script", "style", "textarea"}

CHANGING = [
    (re.compile(r"\b20\d\d-\d\d-\d\d(?:[ T]\d\d:\d\d(?::\d\d)?)?(?: UTC)?"), "DATE"),
    (re.compile(r"\b[0-9a-f]{12,64}\b"), "HASH"),
    (re.compile(r"/(r|reports)/[\w-]{12}(?![\w-])"), r"/\1/CODE"),
    (re.compile(r"\b\d\d:\d\d(?::\d\d)?\b"), "TIME"),
]
NUMBER = re.compile(r"\d[\d.,]*")


class _Reader(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.found, self.links = list[str](), list[str]()
        self._text, self._silent = "", 0

    def handle_starttag(self, tag, attrs):
        here = dict(attrs)
        if tag not in INLINE:
            self._end()
        self._silent += tag in SILENT
        if tag != "meta" or here.get("name") == "description":
            self.found += [v for k, v in attrs if k in SAID_IN and v]
        self.links += [v for k, v in attrs if k in ("href", "hx-get") and v and v.startswith("/")]

    def handle_endtag(self, tag):
        if tag not in INLINE:
            self._end()
        self._silent -= tag in SILENT

    def handle_data(self, data):
        if not self._silent:
            self._text += data

    def _end(self):
        self.found.append(self._text)
        self._text = ""


def read(html: str) -> tuple[list[str], list[str]]:
    """What a page says, and where it leads."""
    reader = _Reader()
    reader.feed(html)
    reader.close()
    return [steady(s) for s in reader.found if _speaks(s)], reader.links


def steady(text: str) -> str:
    """A sentence without what differs between two days."""
    text = " ".join(text.split())
    for pattern, name in CHANGING:
        text = pattern.sub(name, text)
    return text


def _speaks(text: str) -> bool:
    return bool(re.search(r"[A-Za-z]{2}", text))


def _names(kept) -> set[str]:
    """What the demo calls its samples, sweeps, instruments and the rest."""
    if isinstance(kept, list):
        return set().union(*map(_names, kept))
    if not isinstance(kept, dict):
        return set()
    here = {v for k, v in kept.items() if k in ("name", "label", "title", "call") and isinstance(v, str) and len(v) > 3}
    return here.union(*map(_names, kept.values()))


DEMO = [json.loads(path.read_text("utf-8")) for path in sorted((FOLDER / "demo").rglob("*.json"))]
NAME = re.compile("|".join(sorted(map(re.escape, _names(DEMO)), key=len, reverse=True)))


def shape(text: str) -> str:
    """What two sentences have in common that differ in figures and names alone."""
    return NUMBER.sub("0", NAME.sub("NAME", text))


def messages():
    """The strings of the program that have words in them, by the file they are in; {} is what is put in."""
    for path in sorted(FOLDER.rglob("*.py")):
        if {"migrations", "demo"} & set(path.parts):
            continue
        tree = ast.parse(path.read_text("utf-8"))
        inner = {
            id(part) for n in ast.walk(tree) if isinstance(n, ast.JoinedStr) for v in n.values for part in ast.walk(v)
        }
        inner |= {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
        found = [
            (n.lineno, _written(n))
            for n in ast.walk(tree)
            if isinstance(n, (ast.Constant, ast.JoinedStr)) and id(n) not in inner
        ]
        yield str(path.relative_to(FOLDER)), [steady(text) for _, text in sorted(found) if _a_message(text)]
    for path in sorted(SCRIPTS.glob("*.js")):
        if "min" in path.name:
            continue
        code = re.sub(r"//[^\n]*|/\*.*?\*/", "", path.read_text("utf-8"), flags=re.DOTALL)
        found = [a or b for a, b in re.findall(r'"([^"\n]*)"|`([^`]*)`', code)]
        yield f"web/static/{path.name}", [steady(text) for text in found if _a_message(text)]


def _written(node):
    if isinstance(node, ast.Constant):
        return node.value if isinstance(node.value, str) else ""
    return "".join(v.value if isinstance(v, ast.Constant) else f"{{{ast.unparse(v.value)}}}" for v in node.values)


def _a_message(text: str) -> bool:
    bare = re.sub(r"\{.*?\}", "", text)
    code = re.search(
        r"\\[dwsb(]|\(\?|^[ ./#:\[\w-]+[{=]|</|SELECT |INSERT |\bvar\(|^[MLAC]\d|^image/|^text/|^application/", bare
    )
    return bool(re.search(r"[A-Za-z]{2,}[,;:]? [a-zA-Z]{2,}|[A-Za-z]{3,}[.:] ", bare)) and not code
