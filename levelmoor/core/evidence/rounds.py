"""The log of rounds: which is the latest of a state, whether anything was measured in it or not."""

from itertools import chain
from typing import Any

from levelmoor.core.model.evaluation import Evaluation


class Rounds:
    """The latest round of each sample in each setup and setting.

    A move that is noted opens a round, and so does evidence of it, also where that was set aside: what was adjusted
    stays adjusted.
    """

    def __init__(self, evaluation: Evaluation) -> None:
        of = evaluation
        every: chain[Any] = chain(
            *(of.adjustments, of.opened, of.sweeps, of.readings, of.widths),
            *(of.captures, of.throughs, of.heats, of.trials),
        )
        self._latest: dict[tuple[str, str, str], int] = {}
        for one in every:
            state = (one.sample_id, one.setup_id, one.setting_id)
            self._latest[state] = max(self._latest.get(state, 1), one.round)

    def latest(self, sample_id: str, setup_id: str, setting_id: str) -> int:
        return self._latest.get((sample_id, setup_id, setting_id), 1)
