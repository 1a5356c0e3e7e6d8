"""What the Adjust page shows: the log of rounds of what is on the bench, the model it teaches, the next move."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

from levelmoor.core.adjusting.next_move import foreseen_words
from levelmoor.core.adjusting.round_log import Round, RoundLog, State, Worth, states_of
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.adjusting import Element
from levelmoor.core.words.figures import format_mhz, format_uncertainty
from levelmoor.figures.adjusting import dip_path, skylines
from levelmoor.records import tables as t
from levelmoor.records.kinds import name_of
from levelmoor.web.workbench.view import Workbench

AMOUNTS: Mapping[str, tuple[float, ...]] = {
    "cm": (0.2, 0.5, 1, 2, 5),
    "mm": (1, 2, 5, 10),
    "turns": (0.25, 0.5, 1, 2),
    "mark": (0.1, 0.2, 0.5, 1),
    "pF": (1, 2, 5, 10),
}
"""What is offered for one tap, by unit; of others one, two and five."""


@dataclass(frozen=True)
class AdjustPage:
    log: RoundLog
    state_words: str
    other_states: Sequence[tuple[State, str]]
    paths: Sequence[str]
    skylines: Sequence[str]
    foreseen: Sequence[str]
    worth: Sequence[Sequence[Worth]]

    @property
    def rounds(self) -> list[Round]:
        """The latest first, as one who comes back wants it."""
        return list(reversed(self.log.rounds))

    def shifted(self, k: int, round_: Round) -> str:
        """How a dip moved against the round before and against the first, in words."""
        before, first = self.log.before(round_), self.log.rounds[0]
        near = self.log.shift(k, round_, before)
        if near is None:
            return ""
        said = _shift(near.hz, near.u_hz)
        far = self.log.shift(k, round_, first) if before is not first else None
        return f"{said}, {_shift(far.hz, far.u_hz)} since the first" if far else said

    def helped(self, k: int, round_: Round) -> str:
        """Whether the moves before a round helped a band."""
        shift = self.log.shift(k, round_, self.log.before(round_))
        return "" if shift is None or shift.helped is None else "nearer" if shift.helped else "further away"

    def came(self, k: int, round_: Round) -> str:
        """Whether a dip came where it was expected."""
        foreseen, band = self.log.foreseen(round_)[k], round_.bands[k]
        if foreseen is None or band is None or band.dip_hz is None:
            return ""
        if foreseen.holds(band.dip_hz, band.u_hz):
            return "as expected"
        off = band.dip_hz - foreseen.hz
        return f"{format_uncertainty(abs(off))} {'above' if off > 0 else 'below'} what was expected"

    def amounts(self, element: Element) -> tuple[float, ...]:
        return AMOUNTS.get(element.unit, (1, 2, 5))

    @property
    def entry(self) -> str:
        """The name of the move that is proposed: whoever says first that it is done has done it, for everybody."""
        last = self.log.rounds[-1].number
        moves = [(m.element_id, m.by) for m in self.log.advice.moves]
        return sha256(repr((self.log.state, last, moves)).encode()).hexdigest()[:32]

    @property
    def head(self) -> str:
        """What the card says first."""
        if not self.log.advice.done:
            return "First"
        bands = self.log.last_swept.bands if self.log.last_swept else ()
        return "Done" if all(b and b.judged is Verdict.PASS for b in bands) else "Stop here"


def _shift(hz: float, u_hz: float) -> str:
    if abs(hz) <= 2 * u_hz:
        return "not moved"
    return f"{'+' if hz > 0 else '−'}{format_uncertainty(abs(hz))} ± {format_uncertainty(2 * u_hz)}"


def build(bench: Workbench, hand: t.InHand, draw: bool = True) -> AdjustPage:
    """The page of the state in hand; without drawing only what the next move shows."""
    state = State(str(hand.sample_id or ""), str(hand.setup_id or ""), str(hand.setting_id or ""))
    log = RoundLog(bench.evaluation, bench.behind, state)
    bands = range(len(log.aims)) if draw else range(0)
    return AdjustPage(
        log,
        _words(bench, state),
        [(s, _words(bench, s)) for s in states_of(bench.evaluation) if s != state],
        [dip_path(log, k) for k in bands] if log.last_swept else [],
        [_skylines(log, k) for k in bands] if log.last_swept else [],
        [foreseen_words(a, p) for a, p in zip(log.aims, log.advice.expected, strict=False) if p is not None],
        [[log.worth(k, e) for k in bands] for e in range(len(log.elements))] if log.last_swept else [],
    )


def _skylines(log: RoundLog, k: int) -> str:
    of = {e.id: p for p in log.dossier.pieces for e in p.members}
    shown = [of[b.sweep_id] for r in log.rounds if (b := r.bands[k]) is not None and b.sweep_id in of]
    return skylines(log, k, [log.dossier.analysis(p, log.aims[k].z0_ohm) for p in shown]) if shown else ""


def worth_words(worth: Worth) -> str:
    """What a step is worth in kHz with twice its uncertainty, both to the digits that mean something."""
    khz, spread = worth.hz / 1e3, 2 * worth.u_hz / 1e3
    digits = max(0, 1 - math.floor(math.log10(spread))) if spread > 0 else 3
    return f"{'+' if khz > 0 else '−'}{abs(khz):.{digits}f} ± {spread:.{digits}f}"


def _words(bench: Workbench, state: State) -> str:
    names = []
    every: tuple[tuple[Sequence[Any], str], ...] = (
        (bench.row.samples, state.sample_id),
        (bench.row.setups, state.setup_id),
        (bench.row.settings, state.setting_id),
    )
    for rows, wanted in every:
        names += [name_of(r) for r in rows if str(r.id) == wanted]
    return ", ".join(names)


def wanted_text(wanted_hz: Sequence[float]) -> str:
    return ", ".join(format_mhz(hz, 6).rstrip("0").rstrip(".") for hz in wanted_hz)
