"""The bench in hand of who asks."""

from contextlib import suppress
from typing import Any

from flask import g, request

from levelmoor.records import tables as t
from levelmoor.records.in_hand import in_hand
from levelmoor.web.cell_values import CellProblem
from levelmoor.web.cells import CELLS, SPECIAL, set_cell
from levelmoor.web.context import db


def hand_of(row: t.Evaluation) -> t.InHand:
    """What the person has on the bench of an evaluation, on this device."""
    hands: dict[int, t.InHand] = db().info.setdefault("hands", {})
    if row.id not in hands:
        hands[row.id] = in_hand(db(), row, g.sign_in)
    return hands[row.id]


def choose(row: t.Evaluation, **chosen: Any) -> t.InHand:
    """Put something else on that bench."""
    hand = hand_of(row)
    for name, value in chosen.items():
        setattr(hand, name, value)
    db().add(hand)
    return hand


def as_shown(row: t.Evaluation) -> t.InHand:
    """The bench as the screen shows it that the request comes from: another page of the same device may have put
    something else there meanwhile. What is shown is in hand from now on."""
    hand = choose(row)
    for name in (*CELLS["hand"], *(n for kind, n in SPECIAL if kind == "hand")):
        if f"shown_{name}" in request.form:
            with suppress(CellProblem):  # what others removed meanwhile
                set_cell("hand", hand, name, request.form[f"shown_{name}"], row)
    return hand
