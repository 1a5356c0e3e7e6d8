"""Elements and trips as rows: what is moved, and what was."""

from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.adjusting import TEMPLATES, ElementKind, positions
from levelmoor.core.words.bounds import ELEMENTS, ROUNDS
from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round, open_round
from levelmoor.records.database import now
from levelmoor.records.mapping import adjustment_of, element_of

RETURNED = "left the mark and returned to it"
"""What is said of a trip in which nothing was moved."""


class AdjustProblem(ValueError):
    """What is wrong with a move or an element; nothing is stored then."""


def add_element(row: t.Evaluation, kind: ElementKind) -> t.ArticleElement:
    """Another part that is moved, as is usual of its kind."""
    if len(row.elements) >= ELEMENTS:
        raise AdjustProblem(f"At most {ELEMENTS} parts are allowed.")
    usual, alike = TEMPLATES[kind], sum(e.kind == kind.value for e in row.elements)
    name = f"{usual.words[:1].upper()}{usual.words[1:]}{f' {alike + 1}' if alike else ''}"
    made = t.ArticleElement(
        name=name, kind=kind.value, unit=usual.unit, at=0.0, lengthens=usual.lengthens, bands=[], cut=usual.cut
    )
    row.elements.append(made)
    return made


State = t.InHand | t.Adjustment
"""What says of which sample, setup and setting a trip is: the bench in hand, or an earlier trip."""


def move(
    session: Session,
    row: t.Evaluation,
    of: State,
    by: Mapping[int, float],
    who: str,
    entry_id: str = "",
    down_min: float | None = None,
    note: str = "",
) -> t.Adjustment:
    """A trip to the article: the sweeps of its state from now on are another round. The same entry sent again is kept
    once, as it came first.

    Raises
    ------
    AdjustProblem
        Where nothing is moved, an element is not there, or cannot go that far.
    """
    if entry_id and (known := _known(session, row.id, entry_id)):
        return known
    moves = {i: amount for i, amount in by.items() if amount}
    if not moves:
        raise AdjustProblem("Enter how far it was moved.")
    elements = {e.id: element_of(e) for e in row.elements}
    if any(i not in elements for i in moves):
        raise AdjustProblem("Somebody has removed that part; reload the page.")
    stands = where(row, of)
    for i, amount in moves.items():
        if why := elements[i].why_not(stands[i], amount):
            raise AdjustProblem(why)
    made = _trip(row, of, who, "; ".join(elements[i].say(amount) for i, amount in moves.items()))
    made.moves = [{"element_id": str(i), "by": amount} for i, amount in moves.items()]
    made.entry_id, made.down_min, made.note = entry_id[:40], down_min, note
    return made


def leave_and_return(row: t.Evaluation, of: State, who: str) -> t.Adjustment:
    """The mark was left and gone back to: a round in which nothing was moved, which tells how well that repeats."""
    return _trip(row, of, who, RETURNED)


def _trip(row: t.Evaluation, of: State, who: str, words: str) -> t.Adjustment:
    """A trip in which nothing is moved yet, as the next round of its state."""
    state = (of.sample_id, of.setup_id, of.setting_id)
    open_round(row, *state)
    number = latest_round(row, *state)
    if number > ROUNDS:
        raise AdjustProblem(f"At most {ROUNDS} rounds are allowed.")
    made = t.Adjustment(
        sample_id=of.sample_id,
        setup_id=of.setup_id,
        setting_id=of.setting_id,
        round=number,
        moves=[],
        words=words,
        who=who[:200],
        made_at=now().isoformat(timespec="minutes")[:16],
    )
    row.adjustments.append(made)
    return made


def where(row: t.Evaluation, of: State) -> dict[int, float]:
    """Where each element stands in a state, by its id."""
    state = (of.sample_id, of.setup_id, of.setting_id)
    trips = [a for a in row.adjustments if (a.sample_id, a.setup_id, a.setting_id) == state]
    stands = positions((element_of(e) for e in row.elements), (adjustment_of(a) for a in trips), ROUNDS)
    return {int(i): at for i, at in stands.items()}


def back(session: Session, row: t.Evaluation, adjustment: t.Adjustment, who: str) -> t.Adjustment:
    """The opposite of a trip, in its own state: what was moved is put back, which is a round of its own."""
    by = {int(m["element_id"]): -m["by"] for m in adjustment.moves}
    kept = {e.id: e for e in row.elements}
    gone = [kept[i].name for i, amount in by.items() if i in kept and kept[i].cut and amount > 0]
    if gone:
        raise AdjustProblem(f"{', '.join(gone)} was cut, which cannot be undone. Record what you put on instead.")
    return move(session, row, adjustment, by, who)


def _known(session: Session, evaluation_id: int, entry_id: str) -> t.Adjustment | None:
    same = (t.Adjustment.evaluation_id == evaluation_id, t.Adjustment.entry_id == entry_id)
    return session.scalar(select(t.Adjustment).where(*same, t.Adjustment.deleted_at.is_(None)))
