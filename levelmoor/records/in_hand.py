"""The bench in hand: what a person evaluates on one device, whatever the others of the team have before them."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.place import CHOSEN


def in_hand(session: Session, row: t.Evaluation, sign_in: t.SignIn) -> t.InHand:
    """What is in hand; on a new device what the person had last, else what the evaluation begins with. It is kept once
    something is chosen."""
    last = session.scalar(
        select(t.InHand)
        .join(t.SignIn, t.SignIn.id == t.InHand.sign_in_id)
        .where(t.InHand.evaluation_id == row.id, t.SignIn.user_id == sign_in.user_id)
        .order_by((t.InHand.sign_in_id == sign_in.id).desc(), t.InHand.id.desc())
        .limit(1)
    )
    if last is not None and last.sign_in_id == sign_in.id:
        found = last
    else:
        begins = {n: getattr(last, n) if last else getattr(row, f"bench_{n}") for n in CHOSEN}
        found = t.InHand(sign_in_id=sign_in.id, evaluation_id=row.id, **begins)
    without_what_is_gone(session, row, found)
    return found


def without_what_is_gone(session: Session, row: t.Evaluation, hand: t.InHand) -> None:
    """What others removed meanwhile is in nobody's hand."""
    for name, rows in (("sample_id", row.samples), ("setup_id", row.setups)):
        if rows and getattr(hand, name) not in [r.id for r in rows]:
            setattr(hand, name, rows[0].id)
    if hand.setting_id not in (None, *(s.id for s in row.settings)):
        hand.setting_id = None
    record = session.get(t.Calibration, hand.calibration_id) if hand.calibration_id else None
    if hand.calibration_id and (record is None or record.deleted_at is not None):
        hand.calibration, hand.calibration_id = "unstated", None
