"""Comparisons that a team puts into its report, each with a sentence of its own."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Comparison:
    """Which sweeps are compared, on which question (of `core/comparison`, empty for the likely one), and against which
    claim (empty for usability). `words` are the team's own."""

    id: str
    sweep_ids: tuple[str, ...] = ()
    question: str = ""
    claim_id: str = ""
    words: str = ""
