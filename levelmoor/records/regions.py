"""A change of region: bands are names, so claims and settings on them mean other ranges then, and it is asked."""

from collections.abc import Iterable
from dataclasses import dataclass

from levelmoor.core.rf.bandplan import MovedBand, moved_bands
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import brief_range
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.kinds import name_of


@dataclass(frozen=True)
class Moving:
    """A claim or a setting with the bands that mean another range in the new region."""

    row: t.Claim | t.ArticleSetting
    bands: tuple[MovedBand, ...]

    @property
    def words(self) -> str:
        said = (f"{m.new.name} {brief_range(*m.old.ends)} becomes {brief_range(*m.new.ends)}" for m in self.bands)
        return f"{name_of(self.row)}: {', '.join(said)}"


def moving(row: t.Evaluation, region: int) -> list[Moving]:
    """The claims and settings of an evaluation whose bands another region has otherwise."""
    found = []
    for one in _with_windows(row):
        bands = moved_bands(_windows(one), region)
        if bands:
            found.append(Moving(one, bands))
    return found


def _with_windows(row: t.Evaluation) -> Iterable[t.Claim | t.ArticleSetting]:
    yield from row.claims
    yield from row.settings


def _windows(row: t.Claim | t.ArticleSetting) -> tuple[Window, ...]:
    return tuple(Window(**w) for w in row.windows or ())


def take_bands(rows: Iterable[Moving]) -> None:
    """Let the names stand, with the ranges of the new region."""
    for moved in rows:
        new = {m.old: m.new for m in moved.bands}
        moved.row.windows = windows_row(tuple(new.get(w, w) for w in _windows(moved.row)))


def keep_ranges(rows: Iterable[Moving]) -> None:
    """Let the ranges stand, in MHz: they are no longer the band of that name."""
    for moved in rows:
        old = {m.old for m in moved.bands}
        kept = (Window(*w.ends) if w in old else w for w in _windows(moved.row))
        moved.row.windows = windows_row(tuple(kept))
