"""What people ask of an instrument that is swept live: done between two sweeps by the server that sweeps it."""

from typing import Any

from levelmoor.instruments.analyzer import Analyzer, Span
from levelmoor.instruments.live import LiveRun
from levelmoor.records.packed_objects import packed

LONGEST_S = 20.0
THROUGH_S = 120.0
"""How long four sweeps from port to port may take."""
FROM_INSTRUMENTS = (Span,)
"""What an answer may hold besides objects of the core."""


def calibrate(step: str) -> dict[str, Any]:
    """One standard measured, or with `save` the correction computed and switched on."""
    return {"ask": "calibrate", "step": step}


def correct(on: bool) -> dict[str, Any]:
    """The instrument's own correction on or off."""
    return {"ask": "correct", "on": on}


def through() -> dict[str, Any]:
    """What goes from port to port, swept once: answers with the span, the identity and the S-parameters by name."""
    return {"ask": "through"}


def done(run: LiveRun, what: dict[str, Any]) -> tuple[str, bytes | None]:
    """Do it, and give what is said of it, and what came.

    Raises
    ------
    InstrumentProblem
        As the instrument's answers have it, or where it was not reached in time.
    """
    came: list[bytes] = []

    def do(analyzer: Analyzer) -> str:
        if what["ask"] == "calibrate":
            analyzer.calibrate(what["step"])
            if what["step"] != "save":
                return f"{what['step'].capitalize()} measured."
            run.corrected = True
            return "The correction is computed and switched on."
        if what["ask"] == "correct":
            analyzer.correct(what["on"])
            run.corrected = what["on"]
            return (
                "The instrument's correction is on." if what["on"] else "Raw data: the instrument's correction is off."
            )
        assert analyzer.span is not None
        came.append(packed((analyzer.span, analyzer.identify(), analyzer.through())))
        return "Swept from port to port."

    words = run.ask(do, THROUGH_S if what["ask"] == "through" else LONGEST_S)
    return words, came[0] if came else None
