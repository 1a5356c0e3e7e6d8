"""What a verdict rests on and what else was looked at: the same on the page, in the report, on a terminal."""

from collections.abc import Iterator

from levelmoor.core.evidence.findings import Part, WindowEvidence
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.evaluation import Evaluation, Evidence
from levelmoor.core.rf.sweep import Sweep


def deciding(evaluation: Evaluation, found: WindowEvidence) -> tuple[Evidence, ...]:
    """The sweep that decided, or the repeats that did; empty where no sweep did."""
    ids = next((p.sweep_ids for p in found.pieces if found.sweep_id in p.sweep_ids), (found.sweep_id,))
    return tuple(e for e in evaluation.sweeps if e.id in ids)


def judged_sweep(evaluation: Evaluation, found: WindowEvidence) -> Sweep | None:
    """The curve that was judged: the one that was published where it had been moved, else the raw sweep or the mean of
    the repeats; None where no sweep decided."""
    members = deciding(evaluation, found)
    return found.curve or (Piece(members).evidence.sweep if members else None)


def state_words(evaluation: Evaluation, found: WindowEvidence) -> str:
    """The state that a verdict rests on: setup, setting, round, instrument."""
    parts = [s.name for s in evaluation.setups if s.id == found.setup_id]
    parts += [f"setting {s.name}" for s in evaluation.settings if s.id == found.setting_id]
    if parts and found.round > 1:
        parts.append(f"round {found.round}")
    parts += [i.name for i in evaluation.instruments if i.id == found.instrument_id]
    return ", ".join(parts)


def looked_at(found: WindowEvidence) -> Iterator[tuple[Part, str]]:
    """The evidence that did not decide, each piece with its part and a sentence; other setups come last."""
    for piece in found.pieces:
        if piece.part in (Part.DECIDES, Part.BESIDE):
            continue
        if piece.part is Part.SET_ASIDE:
            said = f"{piece.words}; by itself it would be {VERDICT_WORDS[piece.verdict]}"
        else:
            said = f"{piece.name} ({VERDICT_WORDS[piece.verdict]} by itself): {piece.words}"
        if piece.worst_swr is not None and piece.part is Part.SET_ASIDE:
            said += f", SWR {piece.worst_swr:.2f} at worst"
        yield piece.part, said if said.endswith(".") else f"{said}."
    for beside in found.beside:
        yield Part.BESIDE, f"{beside}."
