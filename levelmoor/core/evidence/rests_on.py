"""What a verdict rests on and what else was looked at, in words: the same on the page, in the report, on a terminal."""

from collections.abc import Iterator

from levelmoor.core.evidence.findings import Part, WindowEvidence
from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.evaluation import Evaluation


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
