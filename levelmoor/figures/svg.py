"""Small pieces of SVG, escaped."""

from collections.abc import Iterable
from html import escape
from importlib.resources import files

import numpy as np

from levelmoor.core.rf.reflection import FloatArray


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


def path_of(x: FloatArray, y: FloatArray) -> str:
    """An open path through the points, to a tenth of a pixel."""
    return "M" + " ".join(map(str, np.round(np.column_stack((x, y)), 1).ravel().tolist()))


def area_between(x: FloatArray, upper: FloatArray, lower: FloatArray) -> str:
    """A closed path between two curves over the same x."""
    return path_of(np.concatenate((x, x[::-1])), np.concatenate((upper, lower[::-1]))) + "Z"


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
