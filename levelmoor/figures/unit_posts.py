"""Units of all teams side by side: each a post of land as high as its largest |gamma|, in water up to the limit."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.words.figures import format_swr
from levelmoor.figures.scale import SWR_TICKS
from levelmoor.figures.svg import document, tag, text

HEIGHT, LEFT, TOP, BOTTOM, COLUMN = 210.0, 44.0, 24.0, 46.0, 62.0
MOST = 40
"""Units that are drawn; the table has all."""


@dataclass(frozen=True)
class Post:
    """One unit: what it is called, whose it is, and its largest |gamma| with the standard uncertainty of that."""

    name: str
    team: str
    gamma: float
    u_gamma: float
    swr: float


def unit_posts(posts: Sequence[Post], limit_swr: float | None, label: str) -> str:
    """The figure; what stands above the level fails. The height is linear in |gamma|, SWR 1 at the bottom."""
    drawn = sorted(posts[:MOST], key=lambda p: p.team)
    level = float(gamma_from_swr(limit_swr)) if limit_swr else 0.0
    top = max([*(p.gamma + 2 * p.u_gamma for p in drawn), 1.25 * level, 0.2])
    width, floor = LEFT + COLUMN * len(drawn) + 70, HEIGHT - BOTTOM
    right = width - 70

    def y(gamma: float) -> float:
        return floor - (floor - TOP) * min(gamma / top, 1.0)

    parts = [tag("rect", class_="sky", x=LEFT, y=TOP, width=right - LEFT, height=floor - TOP)]
    if level:
        parts.append(tag("rect", class_="water", x=LEFT, y=y(level), width=right - LEFT, height=floor - y(level)))
    for tick in SWR_TICKS:
        if (at := float(gamma_from_swr(tick))) <= top:
            parts.append(text(LEFT - 6, y(at) + 4, f"{tick:g}", class_="quiet", text_anchor="end"))
    for n, post in enumerate(drawn):
        parts += _post(LEFT + n * COLUMN, post, y, level, floor)
    if level and limit_swr:
        parts.append(tag("line", class_="level", x1=LEFT, x2=right, y1=y(level), y2=y(level)))
        parts.append(text(right + 6, y(level) + 4, f"{limit_swr:.3g}:1", class_="level-text"))
    for team in dict.fromkeys(p.team for p in drawn):
        members = [n for n, p in enumerate(drawn) if p.team == team]
        x1, x2 = LEFT + members[0] * COLUMN + 6, LEFT + (members[-1] + 1) * COLUMN - 6
        most = int((x2 - x1) / 7.2)
        short = team if len(team) <= most else f"{team[: most - 1].rstrip()}…"
        parts.append(tag("line", class_="axis", x1=x1, x2=x2, y1=floor + 22, y2=floor + 22))
        parts.append(text((x1 + x2) / 2, floor + 38, short, class_="quiet", text_anchor="middle"))
    return document((width, HEIGHT), label, parts, class_="lm-fig posts", width=width, height=HEIGHT)


def _post(x: float, post: Post, y: Callable[[float], float], level: float, floor: float) -> list[str]:
    left, wide = x + 14, COLUMN - 28
    high, low = y(post.gamma + 2 * post.u_gamma), y(max(post.gamma - 2 * post.u_gamma, 0.0))
    parts = [tag("rect", class_="land", x=left, y=y(post.gamma), width=wide, height=floor - y(post.gamma))]
    if level and post.gamma > level:
        parts.append(tag("rect", class_="ridge", x=left, y=y(post.gamma), width=wide, height=y(level) - y(post.gamma)))
    parts.append(tag("rect", class_="mist", x=left, y=high, width=wide, height=max(low - high, 1.0)))
    parts.append(tag("line", class_="post", x1=left, x2=left + wide, y1=y(post.gamma), y2=y(post.gamma)))
    middle = left + wide / 2
    parts.append(text(middle, high - 4, format_swr(post.swr), class_="halo", text_anchor="middle"))
    parts.append(text(middle, floor + 15, post.name, text_anchor="middle"))
    return parts
