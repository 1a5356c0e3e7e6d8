"""What is said, as a code with its figures; the words are rendered from them by the one catalogue of sentences.

Two findings say the same where their codes and figures are the same, however they are worded.
"""

import math
import string
from collections.abc import Callable, Mapping
from typing import Any, Self

from levelmoor.core.words.counting import counted, duration
from levelmoor.core.words.figures import (
    brief_mhz,
    brief_range,
    format_signed,
    format_step,
    format_swr,
    step_at_most,
)
from levelmoor.core.words.sentence import sentence, uncapitalized
from levelmoor.core.words.sentences import SENTENCES

Figure = Any
"""A number, a word, something said, or a tuple of them."""


class Said(str):
    """Words with the code and the figures that they were rendered from; a plain string to whoever reads them."""

    code: str
    figures: Mapping[str, Figure]
    __slots__ = ("code", "figures")

    def __new__(cls, words: str, code: str, figures: Mapping[str, Figure]) -> Self:
        made = super().__new__(cls, words)
        made.code, made.figures = code, figures
        return made

    def __getnewargs__(self) -> tuple[str, str, Mapping[str, Figure]]:  # type: ignore[override]
        return str(self), self.code, dict(self.figures)


def said(code: str, **figures: Figure) -> Said:
    """The sentence of a code with its figures in place.

    Raises
    ------
    KeyError
        Where there is no such code, or a figure that it needs is missing.
    """
    return Said(_FORMATTER.vformat(SENTENCES[code], (), figures), code, figures)


def as_sentence(what: str) -> str:
    """With a capital in front and a stop behind; what was said keeps its code and figures."""
    return Said(sentence(what), what.code, what.figures) if isinstance(what, Said) else sentence(what)


def together(*parts: str, between: str = " ") -> str:
    """Several things said one after the other, those that are empty left out; one alone is itself."""
    some = tuple(p for p in parts if p)
    if len(some) == 1:
        return some[0]
    return Said(between.join(some), "together", {"parts": some}) if some else ""


def codes_of(what: Figure) -> Any:
    """The code and figures of what was said as plain JSON data; a word without a code is itself."""
    if isinstance(what, Said):
        return {"code": what.code, "figures": {k: codes_of(v) for k, v in what.figures.items()}}
    if isinstance(what, (tuple, list)):
        return [codes_of(x) for x in what]
    if isinstance(what, float) and not math.isfinite(what):
        return None
    return what


def said_again(words: Any, codes: Any) -> Any:
    """What was said from its words and `codes_of` it, as it was worded then."""
    if isinstance(words, (list, tuple)):
        return tuple(said_again(w, c) for w, c in zip(words, codes or [None] * len(words), strict=True))
    if isinstance(words, str) and isinstance(codes, dict):
        return Said(words, str(codes["code"]), dict(codes["figures"]))
    return words


def _signed(value: float) -> str:
    return f"{'−' if value < 0 else '+'}{abs(value):g}"


_FORMATS: Mapping[str, Callable[[Any], str]] = {
    "swr": format_swr,
    "mhz": lambda hz: brief_mhz(round(hz, -3)),
    "hz": brief_mhz,
    "range": lambda ends: brief_range(*ends),
    "step": format_step,
    "down": step_at_most,
    "dbm": format_signed,
    "level": lambda dbm: format_signed(dbm, 0),
    "limit": lambda value: f"{value:.4g}",
    "percent": lambda share: f"{100 * share:.0f}",
    "signed": _signed,
    "list": "; ".join,
    "names": ", ".join,
    "sentences": " ".join,
    "low": uncapitalized,
    "cap": lambda words: words[:1].upper() + words[1:],
    "bare": lambda words: words.rstrip("."),
    "minutes": duration,
    "time": lambda at: at.replace("T", " "),
}
"""How a figure is written where a sentence names one of these behind its colon; anything else is Python's own."""


class _Formatter(string.Formatter):
    def format_field(self, value: Any, format_spec: str) -> str:
        spec, *words = format_spec.split("|")
        if spec == "count":
            return counted(value, *words)
        if spec == "verb":  # {count:verb|lies|lie}
            return words[0 if value == 1 else 1]
        if spec == "if":  # {value:if| with words}: the words where there is such a value
            return "|".join(words) if value else ""
        known = _FORMATS.get(format_spec)
        return known(value) if known else str(super().format_field(value, format_spec))


_FORMATTER = _Formatter()
