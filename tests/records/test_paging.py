"""Pages of a list: every row once, one row more tells whether another follows."""

import pytest
from sqlalchemy import select

from levelmoor.records import tables as t
from levelmoor.records.store import page_of


@pytest.mark.parametrize(
    ("number", "rows", "more"),
    [
        (1, [0, 1, 2], True),
        (2, [3, 4, 5], True),
        (3, [6], False),
        (4, [], False),
        (0, [0, 1, 2], True),
        (-5, [0, 1, 2], True),
    ],
)
def test_each_page_has_its_own_rows(session, number, rows, more):
    session.add_all(t.Team(name=f"Paged {n}") for n in range(7))
    session.flush()
    query = select(t.Team.name).where(t.Team.name.startswith("Paged ")).order_by(t.Team.name)
    page = page_of(session, query, number, 3)
    assert (page.rows, page.more, page.number) == ([f"Paged {n}" for n in rows], more, max(number, 1))


def test_a_page_that_is_just_full_has_none_after_it(session):
    session.add_all(t.Team(name=f"Full {n}") for n in range(3))
    session.flush()
    page = page_of(session, select(t.Team.name).where(t.Team.name.startswith("Full ")), 1, 3)
    assert (len(page.rows), page.more) == (3, False)
