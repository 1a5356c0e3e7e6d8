"""Small pieces of SVG, escaped."""

from collections.abc import Iterable
from html import escape
from importlib.resources import files

import numpy as np
import numpy.typing as npt

from levelmoor.core.rf.reflection import FloatArray

IntArray = npt.NDArray[np.intp]


def tag(name: str, content: str = "", /, **attributes: object) -> str:
    """One element; `class_` becomes class, underscores become hyphens, content is trusted markup."""
    written = "".join(
        f' {key.rstrip("_").replace("_", "-")}="{escape(_figure(value))}"'
        for key, value in attributes.items()
        if value is not None
    )
    return f"<{name}{written}>{content}</{name}>" if content else f"<{name}{written}/>"


def _figure(value: object) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def text(x: float, y: float, words: str, **attributes: object) -> str:
    return tag("text", escape(words), x=x, y=y, **attributes)


PASSES = 5
UNSEEN_PX = 0.04
"""How far a point that is left out may lie from the line drawn in its place, in each pass."""


def telling(x: FloatArray, y: FloatArray) -> IntArray:
    """Which points tell a path: of a smooth curve few, of a jagged one all; none that is left out lies farther than
    PASSES times UNSEEN_PX from what is drawn."""
    at = np.arange(x.size)
    for _ in range(PASSES):
        if at.size < 8:
            break
        px, py = x[at], y[at]
        dx, dy = px[2::2] - px[:-2:2], py[2::2] - py[:-2:2]
        n = dx.size
        off = np.abs(dx * (py[1:-1:2][:n] - py[:-2:2]) - dy * (px[1:-1:2][:n] - px[:-2:2]))
        length = np.hypot(dx, dy)
        kept = np.ones(at.size, bool)
        kept[1 : 2 * n : 2] = (off > UNSEEN_PX * length) | (length < 1e-9)
        if kept.all():
            break
        at = at[kept]
    return at


def _path(x: FloatArray, y: FloatArray) -> str:
    return "M" + " ".join(map(str, np.round(np.column_stack((x, y)), 1).ravel().tolist()))


def path_of(x: FloatArray, y: FloatArray) -> str:
    """An open path through the points, to a tenth of a pixel."""
    x, y = np.asarray(x, float), np.asarray(y, float)
    at = telling(x, y)
    return _path(x[at], y[at])


def area_between(x: FloatArray, upper: FloatArray, lower: FloatArray) -> str:
    """A closed path between two curves over the same x."""
    x, upper, lower = (np.asarray(v, float) for v in (x, upper, lower))
    at = np.union1d(telling(x, upper), telling(x, lower))
    return _path(np.concatenate((x[at], x[at][::-1])), np.concatenate((upper[at], lower[at][::-1]))) + "Z"


def document(
    size: tuple[float, float], label: str, parts: Iterable[str], alone: bool = False, **attributes: object
) -> str:
    """The svg element with its accessible name; `alone` carries its own style for a file of its own."""
    style = ""
    if alone:
        sheet = files("levelmoor.figures").joinpath("figure.css").read_text("utf-8")
        style = f"<style>{sheet}</style>"
    return tag(
        "svg",
        tag("title", escape(label)) + style + "".join(parts),
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"0 0 {size[0]:g} {size[1]:g}",
        role="img",
        **({"width": size[0], "height": size[1]} if alone else {}),
        **attributes,
    )
