"""The page of a product: what all teams found, question by question, unit by unit."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby
from operator import attrgetter

from levelmoor.core.metrology.decision import Verdict, worst_verdict
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.shelf.units import TestedUnit, UnitPool, unit_pool
from levelmoor.figures.unit_posts import Post, unit_posts
from levelmoor.records import tables as t


@dataclass(frozen=True)
class Question:
    """One claim in one window, as all reports answer it."""

    words: str
    pool: UnitPool
    verdict: Verdict
    figure: str


@dataclass(frozen=True)
class ProductPage:
    """A product with its reports, the latest first, and what they say together. `slugs` lead to the reports."""

    product: str
    maker: str
    maker_key: str
    reports: Sequence[t.ShelfReport]
    questions: Sequence[Question]
    untested: Sequence[str]
    slugs: Mapping[str, str]

    @property
    def teams(self) -> list[str]:
        return list(dict.fromkeys(r.team for r in self.reports))


def product_page(rows: Sequence[t.ShelfReport], lines: Sequence[t.ShelfLine]) -> ProductPage:
    """The page of a product from its reports on the shelf and their verdicts."""
    of = {r.report_id: r for r in rows}

    questions, untested = [], []
    for words, same in groupby(sorted(lines, key=attrgetter("question")), key=attrgetter("question")):
        group = list(same)
        pool = unit_pool([_unit(of[x.report_id], x) for x in group])
        verdicts = {u.verdict for u in (*pool.units, *pool.apart)}
        if verdicts <= {Verdict.OUTSIDE, Verdict.NOT_SHOWN}:
            untested.append(words)
        else:
            level = group[0].limit if group[0].quantity == Quantity.SWR else None
            figure = _figure(pool, level, words)
            questions.append(Question(words, pool, worst_verdict(u.verdict for u in pool.units), figure))
    questions.sort(key=lambda q: (-q.pool.decided, q.words))
    latest = rows[0]
    slugs = {f"{r.team}, {r.published_at.date()}": r.slug for r in rows}
    return ProductPage(latest.product, latest.maker, latest.maker_key, rows, tuple(questions), tuple(untested), slugs)


def _figure(pool: UnitPool, limit_swr: float | None, words: str) -> str:
    """The units whose SWR is known, as posts; nothing where there are fewer than two."""
    posts = [
        Post(u.serial or u.unit, u.team, u.gamma, u.u_gamma or 0.0, u.swr)
        for u in pool.units
        if u.gamma is not None and u.swr is not None
    ]
    return unit_posts(posts, limit_swr, f"{words}: the worst SWR of each unit") if len(posts) > 1 else ""


def _unit(row: t.ShelfReport, line: t.ShelfLine) -> TestedUnit:
    return TestedUnit(
        f"{row.team}, {row.published_at.date()}",
        row.team,
        line.unit,
        line.serial,
        line.counted,
        Verdict(line.verdict),
        line.swr,
        line.gamma,
        line.u_gamma,
    )
