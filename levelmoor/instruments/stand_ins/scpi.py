"""The words of a simulated instrument: commands in long or short form, one or several on a line."""

import re
from collections.abc import Callable
from dataclasses import dataclass

Handler = Callable[[str], str | None]


def _pattern(words: str) -> re.Pattern[str]:
    """`SENSe:FREQuency:STARt` takes `sens1:freq:start` and every mixture; a number may end each word."""
    parts = []
    for word in words.split(":"):
        if word.startswith("*"):
            parts.append(re.escape(word))
            continue
        short = re.match(r"[A-Z0-9*]+", word)
        head = short[0] if short else word
        parts.append(rf"(?:{head}|{word.upper()})\d*")
    return re.compile("^:?" + ":".join(parts) + "$", re.IGNORECASE)


@dataclass
class Scpi:
    """Handlers by command; a handler gets what stands behind the command, and its answer if it is a query."""

    handlers: list[tuple[re.Pattern[str], bool, Handler]]
    errors: list[str]

    @classmethod
    def empty(cls) -> "Scpi":
        return cls([], [])

    def on(self, words: str, handler: Handler) -> None:
        query = words.endswith("?")
        self.handlers.append((_pattern(words.rstrip("?")), query, handler))

    def figure(self, words: str, read: Callable[[], float], write: Callable[[float], None]) -> None:
        """A number that can be set and asked for."""

        def put(text: str) -> None:
            write(float(text))

        self.on(words, put)
        self.on(words + "?", lambda _text: f"{read():.9g}")

    def answer(self, line: str) -> str | None:
        """What a line of commands answers, None where it asks for nothing; what is not understood is remembered."""
        said = [a for part in line.split(";") if part.strip() and (a := self._one(part.strip())) is not None]
        return ";".join(said) if said else None

    def _one(self, text: str) -> str | None:
        head, _, rest = text.partition(" ")
        query = head.endswith("?")
        for pattern, asks, handler in self.handlers:
            if asks == query and pattern.match(head.rstrip("?")):
                try:
                    return handler(rest.strip())
                except ValueError:
                    self.errors.append(f'-224,"Illegal parameter value; {text[:40]}"')
                    return None
        self.errors.append(f'-113,"Undefined header; {text[:40]}"')
        return None

    def error(self) -> str:
        return self.errors.pop(0) if self.errors else '0,"No error"'
