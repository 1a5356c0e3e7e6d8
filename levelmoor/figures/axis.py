"""The frequency axis that the figures share."""

from levelmoor.core.words.figures import format_mhz
from levelmoor.figures.scale import Scale
from levelmoor.figures.svg import tag, text


def frequency_axis(scale: Scale) -> list[str]:
    """A line at the bottom with round frequencies under it, in MHz."""
    parts = [tag("line", class_="axis", x1=scale.left, x2=scale.right, y1=scale.bottom, y2=scale.bottom)]
    ticks, decimals = scale.frequency_ticks()
    for tick in ticks:
        x = float(scale.x(tick))
        parts.append(tag("line", class_="axis", x1=x, x2=x, y1=scale.bottom, y2=scale.bottom + 5))
        if scale.left + 20 < x < scale.right - 46:
            parts.append(text(x, scale.bottom + 18, format_mhz(tick, decimals), text_anchor="middle", class_="quiet"))
    parts.append(text(scale.right, scale.bottom + 18, "MHz", text_anchor="end", class_="quiet"))
    return parts
