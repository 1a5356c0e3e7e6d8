"""Elements and trips as rows: what is moved, and what was."""

from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.adjusting import TEMPLATES, ElementKind
from levelmoor.core.words.bounds import ELEMENTS, ROUNDS
from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round, open_round
from levelmoor.records.database import now
from levelmoor.records.mapping import element_of


class AdjustProblem(ValueError):
    """What is wrong with a move or an element; nothing is stored then."""


def add_element(row: t.Evaluation, kind: ElementKind) -> t.ArticleElement:
    """Another part that is moved, as is usual of its kind."""
    if len(row.elements) >= ELEMENTS:
        raise AdjustProblem(f"At most {ELEMENTS} parts are kept.")
    usual, alike = TEMPLATES[kind], sum(e.kind == kind.value for e in row.elements)
    name = f"{usual.words[:1].upper()}{usual.words[1:]}{f' {alike + 1}' if alike else ''}"
    made = t.ArticleElement(
        name=name, kind=kind.value, unit=usual.unit, at=0.0, lengthens=usual.lengthens, bands=[], cut=usual.cut
    )
    row.elements.append(made)
    return made


def move(
    session: Session, row: t.Evaluation, hand: t.InHand, by: Mapping[int, float], who: str, entry_id: str = ""
) -> t.Adjustment:
    """A trip to what is in hand: the sweeps from now on are another round. The same entry sent again is kept once.

    Raises
    ------
    AdjustProblem
        Where nothing is moved, an element is not there, or cannot go that far.
    """
    if entry_id and (known := _known(session, row.id, entry_id)):
        return known
    moves = {i: amount for i, amount in by.items() if amount}
    if not moves:
        raise AdjustProblem("Say by how much it was moved.")
    elements = {e.id: e for e in row.elements}
    if any(i not in elements for i in moves):
        raise AdjustProblem("That part was removed meanwhile; reload the page.")
    stands = where(row, hand)
    for i, amount in moves.items():
        e, to = elements[i], stands[i] + amount
        for end, over in ((e.low, e.low is not None and to < e.low), (e.high, e.high is not None and to > e.high)):
            if over:
                raise AdjustProblem(f"{e.name} stands at {stands[i]:g} {e.unit} and goes no farther than {end:g}.")
    open_round(row, hand.sample_id, hand.setup_id, hand.setting_id)
    number = latest_round(row, hand.sample_id, hand.setup_id, hand.setting_id)
    if number > ROUNDS:
        raise AdjustProblem(f"At most {ROUNDS} rounds are kept.")
    made = t.Adjustment(
        entry_id=entry_id[:40],
        sample_id=hand.sample_id,
        setup_id=hand.setup_id,
        setting_id=hand.setting_id,
        round=number,
        moves=[{"element_id": str(i), "by": amount} for i, amount in moves.items()],
        words="; ".join(element_of(elements[i]).say(amount) for i, amount in moves.items()),
        who=who[:200],
        made_at=now().isoformat(timespec="minutes")[:16],
    )
    row.adjustments.append(made)
    return made


def leave_and_return(row: t.Evaluation, hand: t.InHand, who: str) -> t.Adjustment:
    """The mark was left and gone back to: a round in which nothing was moved, which tells how well that repeats."""
    open_round(row, hand.sample_id, hand.setup_id, hand.setting_id)
    made = t.Adjustment(
        sample_id=hand.sample_id,
        setup_id=hand.setup_id,
        setting_id=hand.setting_id,
        round=latest_round(row, hand.sample_id, hand.setup_id, hand.setting_id),
        moves=[],
        words="left the mark and returned to it",
        who=who[:200],
        made_at=now().isoformat(timespec="minutes")[:16],
    )
    row.adjustments.append(made)
    return made


def where(row: t.Evaluation, hand: t.InHand) -> dict[int, float]:
    """Where each element stands in what is in hand, by its id."""
    found = {e.id: float(e.at) for e in row.elements}
    state = (hand.sample_id, hand.setup_id, hand.setting_id)
    for one in row.adjustments:
        for part in one.moves if (one.sample_id, one.setup_id, one.setting_id) == state else ():
            if int(part["element_id"]) in found:
                found[int(part["element_id"])] += part["by"]
    return {i: round(v, 6) for i, v in found.items()}


def back(session: Session, row: t.Evaluation, hand: t.InHand, adjustment: t.Adjustment, who: str) -> t.Adjustment:
    """The opposite of a trip: what was moved is put back, which is a round of its own."""
    by = {int(m["element_id"]): -m["by"] for m in adjustment.moves}
    kept = {e.id: e for e in row.elements}
    gone = [kept[i].name for i, amount in by.items() if i in kept and kept[i].cut and amount > 0]
    if gone:
        raise AdjustProblem(f"{', '.join(gone)} was cut: that does not come back. Write down what was put on instead.")
    return move(session, row, hand, by, who)


def _known(session: Session, evaluation_id: int, entry_id: str) -> t.Adjustment | None:
    same = (t.Adjustment.evaluation_id == evaluation_id, t.Adjustment.entry_id == entry_id)
    return session.scalar(select(t.Adjustment).where(*same, t.Adjustment.deleted_at.is_(None)))
