"""What the shelf can be narrowed by, held in memory as sets of bits: one bit for each report, the newest first.

Counting what a facet leaves of any search is then a matter of microseconds, whatever else is asked for. Each process
reads the index once, and again after something was put on the shelf or taken off it.
"""

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from threading import Lock

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.kept import Kept

Stamp = tuple[object, ...]
SEARCHES = 500


@dataclass(frozen=True)
class ShelfIndex:
    """`places` are the reports' dates and ids from the newest on; `by_name` their ranks there, by product. `values` are
    the bits of the reports that have a value of a facet, by facet and value."""

    stamp: Stamp
    places: list[tuple[datetime, int]]
    ranks: Mapping[int, int]
    by_name: list[tuple[str, int, int]]
    values: Mapping[str, Mapping[str, int]]
    words: Kept[int]
    """The bits of what was searched lately: who narrows a list asks for the same words again."""

    @property
    def every(self) -> int:
        return (1 << len(self.places)) - 1

    def bits(self, report_ids: Iterable[int]) -> int:
        """The bits of some reports; one that is not on the shelf has none."""
        held = bytearray(len(self.places) // 8 + 1)
        for report_id in report_ids:
            if (rank := self.ranks.get(report_id)) is not None:
                held[rank >> 3] |= 1 << (rank & 7)
        return int.from_bytes(held, "little")

    def newest(self, bits: int, after: tuple[datetime, int] | None) -> Iterator[int]:
        """The ids of the reports of some bits, the newest first, from after a place on."""
        start = bisect_right(self.places, (-_seconds(after[0]), -after[1]), key=_order) if after else 0
        bits >>= start
        while bits:
            step = (bits & -bits).bit_length()
            start += step
            bits >>= step
            yield self.places[start - 1][1]

    def named(self, bits: int, after: tuple[str, int] | None) -> Iterator[int]:
        """The same by product."""
        held = bits.to_bytes(len(self.places) // 8 + 1, "little")
        start = bisect_right(self.by_name, after, key=lambda of: of[:2]) if after else 0
        for _name, report_id, rank in self.by_name[start:]:
            if held[rank >> 3] >> (rank & 7) & 1:
                yield report_id


def _seconds(at: datetime) -> float:
    return (at - datetime(1970, 1, 1)).total_seconds()


def _order(place: tuple[datetime, int]) -> tuple[float, int]:
    return -_seconds(place[0]), -place[1]


_held: dict[str, ShelfIndex] = {}
_reading = Lock()


def shelf_index(session: Session) -> ShelfIndex:
    """The index as the shelf stands now."""
    row = t.ShelfReport
    parts = (func.count(), func.max(row.published_at), func.sum(row.report_id), func.sum(row.revision))
    names = select(func.sum(func.crc32(t.Team.name)))  # a team that is called otherwise is found otherwise
    stamp = (*session.execute(select(*parts)).one(), session.scalar(names))
    database = str(session.get_bind().engine.url)
    known = _held.get(database)
    if known is not None and known.stamp == stamp:
        return known
    with _reading:
        known = _held.get(database)
        if known is None or known.stamp != stamp:
            known = _held[database] = _read(session, stamp)
    return known


def _read(session: Session, stamp: Stamp) -> ShelfIndex:
    row = t.ShelfReport
    newest = session.execute(
        select(row.published_at, row.report_id, row.sort_name).order_by(row.published_at.desc(), row.report_id.desc())
    ).all()
    places = [(at, report_id) for at, report_id, _ in newest]
    ranks = {report_id: rank for rank, (_, report_id) in enumerate(places)}
    searched: Kept[int] = Kept(SEARCHES)
    empty = ShelfIndex(stamp, places, ranks, [], {}, searched)
    having: dict[str, dict[str, list[int]]] = {}
    of = t.ShelfFacet
    for facet, value, report_id in session.execute(select(of.facet, of.value, of.report_id)):
        having.setdefault(facet, {}).setdefault(value, []).append(report_id)
    values = {facet: {v: empty.bits(ids) for v, ids in of.items()} for facet, of in having.items()}
    by_name = sorted((name, report_id, ranks[report_id]) for _, report_id, name in newest)
    return ShelfIndex(stamp, places, ranks, by_name, values, searched)
