"""The shelf of published reports: put on it, taken off it, searched.

A search names words, facets and an order. A page begins after a place in that order, so that the last one costs what
the first one does.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from itertools import islice
from typing import Any

from sqlalchemy import ColumnElement, delete, false, func, select, update
from sqlalchemy.dialects.mysql import match
from sqlalchemy.orm import Session

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.shelf.entry import ShelfEntry, ShelfLine
from levelmoor.core.shelf.folding import folded, key_of, search_words
from levelmoor.records import tables as t
from levelmoor.records.shelf_index import ShelfIndex, shelf_index

MARK = "qz"
"""Before every word that is searched: MariaDB's index leaves out words of less than three letters, and common ones."""
MOST_WORDS = 8
A_PAGE = 20
FACETS = ("kind", "band", "verdict", "maker", "team", "connector", "year")
MOST_VALUES = 12
"""Values of one facet that are offered; a search finds the others."""
ORDERS = ("newest", "name")
NEVER = datetime(1970, 1, 1)
"""When an empty shelf was changed last."""


class SearchProblem(ValueError):
    """Why something asked of the shelf is none: says what would be right."""


@dataclass(frozen=True)
class Search:
    """What is asked for: words, a value of each facet, the order, and the place after which the page begins."""

    words: str = ""
    kind: str = ""
    band: str = ""
    verdict: str = ""
    maker: str = ""
    team: str = ""
    connector: str = ""
    year: str = ""
    order: str = "newest"
    after: str = ""

    @property
    def chosen(self) -> Mapping[str, str]:
        """The facets that are asked for, with their values."""
        return {name: value for name in FACETS if (value := getattr(self, name))}

    @property
    def asked(self) -> Mapping[str, str]:
        """The whole as fields of an address, what is empty left out."""
        words = {name: value for name, value in asdict(self).items() if value}
        if self.order == "newest":
            del words["order"]
        return words

    def changed(self, **fields: str) -> "Search":
        """The same from its beginning, with other words, values or order."""
        return replace(self, **{"after": "", **fields})


def search_from(fields: Mapping[str, str]) -> Search:
    """A search from the fields of an address.

    Raises
    ------
    SearchProblem
        Where a kind, a verdict, a year, an order or a place is none.
    """
    asked = Search(**{name: fields.get(name, "").strip()[:200] for name in asdict(Search()) if fields.get(name)})
    _one_of("kind", asked.kind, [k.value for k in ProductKind])
    _one_of("verdict", asked.verdict, [v.value for v in Verdict])
    _one_of("order", asked.order, ORDERS)
    if asked.year and not (asked.year.isdecimal() and len(asked.year) == 4):
        raise SearchProblem(f"“{asked.year}” is not a year. Write four digits, such as 2026.")
    if asked.after:
        _place(asked)
    return asked


def _one_of(name: str, value: str, known: Sequence[str]) -> None:
    if value and value not in known:
        raise SearchProblem(f"“{value}” is not a known {name}. Use one of: {', '.join(known)}.")


def _place(asked: Search) -> tuple[datetime | str, int]:
    """The place after which a page begins: the date or the name of its last row, and that row's number."""
    at, _, number = asked.after.rpartition("~")
    try:
        return (datetime.fromisoformat(at) if asked.order == "newest" else at), int(number)
    except ValueError as problem:
        raise SearchProblem(f"“{asked.after}” is not a place in this list. Start from its first page.") from problem


@dataclass(frozen=True)
class Found:
    """A page of what was found, how many there are in all, and how the next page is asked for."""

    rows: Sequence[t.ShelfReport]
    count: int
    next: Search | None
    facets: Mapping[str, list[tuple[str, int]]]
    """The values by which it can be narrowed, with how many reports each leaves, the largest first."""


def find(session: Session, asked: Search, most: int = A_PAGE) -> Found:
    """One page of the reports that a search finds."""
    index = shelf_index(session)
    bits = _bits(session, index, asked)
    at: Any = _place(asked) if asked.after else None
    order = index.newest(bits, at) if asked.order == "newest" else index.named(bits, at)
    ids = list(islice(order, most + 1))
    query = select(t.ShelfReport).where(t.ShelfReport.report_id.in_(ids[:most]))
    known = {row.report_id: row for row in session.scalars(query)}
    rows = [known[i] for i in ids[:most] if i in known]
    follows = None
    if len(ids) > most and rows:
        end = rows[-1]
        last = end.published_at.isoformat() if asked.order == "newest" else end.sort_name
        follows = replace(asked, after=f"{last}~{end.report_id}")
    return Found(rows, bits.bit_count(), follows, _facets(index, bits, asked))


def _facets(index: ShelfIndex, bits: int, asked: Search) -> Mapping[str, list[tuple[str, int]]]:
    offered = {}
    for name in FACETS:
        counts = ((value, (bits & having).bit_count()) for value, having in index.values.get(name, {}).items())
        left = sorted(((v, n) for v, n in counts if n), key=lambda v: (-v[1], v[0]))
        if len(left) > 1 or name in asked.chosen:
            offered[name] = left[:MOST_VALUES]
    return offered


def _bits(session: Session, index: ShelfIndex, asked: Search) -> int:
    """The reports that a search finds, as bits of the index."""
    bits = index.every
    for name, value in asked.chosen.items():
        bits &= index.values.get(name, {}).get(value, 0)
    if asked.words and bits:
        found = select(t.ShelfReport.report_id).where(matching(asked.words))
        bits &= index.words.get(asked.words, lambda: index.bits(session.scalars(found)))
    return bits


def matching(words: str) -> ColumnElement[bool]:
    """What the rows of the shelf have to hold that some words find: each of them, or how it begins."""
    every = [parts for written in words.split()[:MOST_WORDS] if (parts := folded(written).split()[:MOST_WORDS])]
    if not every:
        return false()
    against = " ".join(_either(parts) for parts in every)
    return match(t.ShelfReport.__table__.c.words, against=against).in_boolean_mode()


def _either(parts: Sequence[str]) -> str:
    """A word as it is searched: with a hyphen in it, in one piece or each part by itself."""
    apart = " ".join(f"+{MARK}{part}*" for part in parts)
    return apart if len(parts) == 1 else f"+({MARK}{''.join(parts)}* ({apart}))"


def of_product(session: Session, product_key: str) -> Sequence[t.ShelfReport]:
    """All reports on one product, the latest first."""
    query = select(t.ShelfReport).where(t.ShelfReport.product_key == product_key)
    return session.scalars(query.order_by(t.ShelfReport.published_at.desc(), t.ShelfReport.report_id.desc())).all()


def lines_of(session: Session, report_ids: Sequence[int]) -> Sequence[t.ShelfLine]:
    """The verdicts of some reports, in the order in which each report has them."""
    return session.scalars(
        select(t.ShelfLine).where(t.ShelfLine.report_id.in_(report_ids)).order_by(t.ShelfLine.id)
    ).all()


def on_shelf(session: Session, report_id: int) -> t.ShelfReport | None:
    """What the shelf has of a report, if it is there."""
    return session.get(t.ShelfReport, report_id)


# -- Putting on and taking off --------------------------------------------------------------------------------------


def product_key(maker: str, product: str) -> str:
    """The part of an address that names a product, whoever tested it."""
    return key_of(maker, product)[:200] or "unnamed"


def take_off(session: Session, report_id: int) -> None:
    """Take a report off the shelf; its page stays."""
    for table in (t.ShelfFacet, t.ShelfLine, t.ShelfReport):
        session.execute(delete(table).where(table.report_id == report_id))


def put_on(
    session: Session, report: t.Report, team: str, entry: ShelfEntry, figures: Sequence[tuple[str, str]] = ()
) -> None:
    """Put the latest revision of a report on the shelf, in place of an earlier one."""
    take_off(session, report.id)
    last, key = report.revisions[-1], product_key(entry.maker, entry.product)
    row = t.ShelfReport(
        report_id=report.id,
        team_id=report.team_id,
        team=team,
        slug=report.slug,
        revision=last.number,
        published_at=last.published_at,
        title=entry.title,
        product=entry.product,
        product_key=key,
        maker=entry.maker,
        maker_key=key_of(entry.maker)[:200],
        kind=entry.kind.value,
        bands=list(entry.bands),
        connectors=list(entry.connectors),
        verdicts=[[verdict.value, count] for verdict, count in entry.verdicts],
        units=entry.units,
        found=entry.found,
        figures=[{"name": name, "svg": svg} for name, svg in figures],
        sort_name=folded(entry.product)[:200],
        words=" ".join(f"{MARK}{word}" for word in search_words(_searched(team, entry))),
    )
    session.add(row)
    session.add_all(t.ShelfFacet(report_id=report.id, facet=name, value=value) for name, value in facets_of(row))
    session.add_all(
        t.ShelfLine(report_id=report.id, **{**asdict(line), **_short(line), "verdict": line.verdict.value})
        for line in entry.lines
    )
    session.flush()


def _short(line: ShelfLine) -> dict[str, str]:
    """Its texts, as far as a column holds them."""
    return {
        "claim": line.claim[:300],
        "question": line.question[:300],
        "figure": line.figure[:200],
        "window": line.window[:200],
    }


def rename_team(session: Session, team_id: int, was: str, now: str) -> None:
    """What a team is called now is what its reports are found under."""
    ids = select(t.ShelfReport.report_id).where(t.ShelfReport.team_id == team_id)
    of_team = t.ShelfFacet.facet == "team", t.ShelfFacet.value == was, t.ShelfFacet.report_id.in_(ids)
    session.execute(update(t.ShelfFacet).where(*of_team).values(value=now))
    words = " ".join(f"{MARK}{word}" for word in search_words([now]))
    named = {"team": now, "words": func.concat(t.ShelfReport.words, " ", words)}
    session.execute(update(t.ShelfReport).where(t.ShelfReport.team_id == team_id).values(named))


def _searched(team: str, entry: ShelfEntry) -> tuple[str, ...]:
    claims = dict.fromkeys(line.claim for line in entry.lines)
    return (entry.title, entry.product, entry.maker, team, entry.kind.value, *entry.bands, *entry.connectors, *claims)


def facets_of(row: t.ShelfReport) -> Iterator[tuple[str, str]]:
    """What a report can be found by, each facet with its values."""
    one = {"kind": row.kind, "maker": row.maker, "team": row.team, "year": str(row.published_at.year)}
    yield from ((name, value) for name, value in one.items() if value)
    many = {"band": row.bands, "connector": row.connectors, "verdict": [verdict for verdict, _ in row.verdicts]}
    yield from ((name, value) for name, values in many.items() for value in dict.fromkeys(values))
