"""A band plan as a line: every band where it lies, on a scale on which each doubling takes the same room."""

import math

from levelmoor.core.rf.bandplan import BandPlan
from levelmoor.figures.svg import document, tag, text

LEFT, RIGHT, TOP, HIGH = 16.0, 16.0, 40.0, 30.0
DECADES_HZ = (1e5, 1e6, 1e7, 1e8, 1e9)
LEAST_PX = 3.0
"""A band is at least so wide; at this scale many are narrower."""


def band_line(plan: BandPlan, width: float = 720, height: float = 132) -> str:
    """The figure, names at four heights in turn so that none meets its neighbour."""
    low, high = math.log(plan.bands[0].low_hz / 1.3), math.log(plan.bands[-1].high_hz * 1.3)

    def x(hz: float) -> float:
        return LEFT + (width - LEFT - RIGHT) * (math.log(hz) - low) / (high - low)

    heights = (TOP - 6, TOP + HIGH + 15, TOP - 22, TOP + HIGH + 31)
    parts = [tag("rect", class_="sky", x=LEFT, y=TOP, width=width - LEFT - RIGHT, height=HIGH)]
    for n, band in enumerate(plan.bands):
        left = x(band.low_hz)
        parts.append(
            tag("rect", class_="water", x=left, y=TOP, width=max(x(band.high_hz) - left, LEAST_PX), height=HIGH)
        )
        parts.append(text(left, heights[n % 4], band.name, text_anchor="middle"))
    for hz in (d for d in DECADES_HZ if low < math.log(d) < high):
        parts.append(tag("line", class_="axis", x1=x(hz), x2=x(hz), y1=TOP, y2=TOP + HIGH + 40))
        parts.append(text(x(hz), height - 6, f"{hz / 1e6:g} MHz", text_anchor="middle", class_="quiet"))
    return document((width, height), f"The bands of {plan.title}", parts, class_="lm-fig")
