"""The shape of each verdict: full pool, bare ridge, half pool, empty outline, crossed-out outline."""

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.usability import Usability
from levelmoor.figures.svg import tag

_BASIN = "M2 5.5C4 5.5 4.6 15 10 15S16 5.5 18 5.5"
_POOL = "M3.6 7.5C5 9 5.4 15 10 15S15 9 16.4 7.5Z"
_HALF = "M5.4 11.2C6.3 13.2 7.2 15 10 15S13.7 13.2 14.6 11.2Z"
_RIDGE = "M1.5 15.5L7.4 4.2L10.6 9.4L13 6.4L18.5 15.5Z"


def _pool(fill: str) -> str:
    return (tag("path", class_="pool", d=fill) if fill else "") + tag("path", class_="outline", d=_BASIN)


_SHAPES = {
    Verdict.PASS: _pool(_POOL),
    Verdict.FAIL: tag("path", class_="bare", d=_RIDGE),
    Verdict.TOO_CLOSE: _pool(_HALF),
    Verdict.NOT_SHOWN: tag("path", class_="outline dashed", d=_BASIN),
    Verdict.OUTSIDE: tag("path", class_="outline", d=_BASIN) + tag("path", class_="outline", d="M3.5 17L16.5 2.5"),
}
_OF_USABILITY = {
    Usability.ALL: Verdict.PASS,
    Usability.PART: Verdict.TOO_CLOSE,
    Usability.NONE: Verdict.FAIL,
    Usability.NOT_SHOWN: Verdict.NOT_SHOWN,
}


def verdict_shape(verdict: str, size: int = 20) -> str:
    """The shape of a verdict or of a usability, hidden from readers of the text: the word always stands beside it."""
    key = _OF_USABILITY[verdict] if isinstance(verdict, Usability) else Verdict(verdict)
    return tag("svg", _SHAPES[key], class_="lm-shape", viewBox="0 0 20 20", width=size, height=size, aria_hidden="true")
