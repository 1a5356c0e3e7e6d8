"""Three tasks shown step by step with the demo: what one does, and what the program then answers, computed by the
program itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache

from levelmoor.core.claims.claim_line import understand_line
from levelmoor.core.model.evaluation import Calibration
from levelmoor.demo.load import example, sweeps
from levelmoor.services.tryout import Published, Tried, claims_to_try, try_out

FAILING, BAND = "rollaway-a-70cm.s1p", "70cm"


@dataclass(frozen=True)
class WalkStep:
    """What is done, and what one sees then: a sentence, the answer to a file, or both."""

    does: str
    words: str = ""
    tried: Tried | None = None


def _tried(claim: str, file: str, calibration: Calibration, title: str = "", other: str = "") -> Tried:
    """A file of the demo against a claim; beside it, where named, another sweep of an evaluation."""
    claims, beside = claims_to_try(understand_line(claim, 1)), None
    if other:
        of = example(title)
        evidence = next(e for e in of.sweeps if e.name == other)
        figures = next(i.figures for i in of.instruments if i.id == evidence.instrument_id)
        beside = Published(claims[0], evidence, figures)
    return try_out(file, sweeps()[file], claims, calibration, beside=beside)


def _within() -> list[WalkStep]:
    claim = f"SWR < 1.5 {BAND}"
    proven = _tried(claim, FAILING, Calibration.AT_PLANE)
    return [
        WalkStep(
            f"Type the claim as the box prints it: {claim}",
            f"It is understood as: {understand_line(claim, 1).words[0]}. "
            "Change the line until that is what the box means.",
        ),
        WalkStep(
            "Drop the file from your analyzer onto the page",
            "You see the curve at once, and that something is missing.",
            _tried(claim, FAILING, Calibration.UNSTATED),
        ),
        WalkStep("Say that the analyzer was calibrated at the connector", "Now the sweep counts.", proven),
        WalkStep("Read what would make it sure", " ".join(proven.surer)),
    ]


def _close() -> list[WalkStep]:
    at = Calibration.AT_PLANE
    return [
        WalkStep(
            "Here the limit is as good as what was measured",
            "The soft band around the curve is twice the standard uncertainty. Neither a Pass nor a Fail stays clear "
            "of the limit by that much, so neither is given.",
            _tried(f"SWR < 1.7 {BAND}", FAILING, at),
        ),
        WalkStep("With a limit of 2 the same sweep stays clear of it", "", _tried(f"SWR < 2 {BAND}", FAILING, at)),
        WalkStep("With a limit of 1.5 it is clearly beyond", "", _tried(f"SWR < 1.5 {BAND}", FAILING, at)),
        WalkStep(
            "What helps when it is too close",
            "An instrument with better figures, or figures measured with a known load; and three sweeps or more, so "
            "that their spread is known. A claim that stays too close to call is reported as just that.",
        ),
    ]


def _disagree() -> list[WalkStep]:
    return [
        WalkStep(
            "Overlay the two",
            "A is a meter in the hut, read at the end of the feed line; B is an analyzer at the antenna. Both are "
            "within their own uncertainty, the soft band.",
            _tried("SWR < 2 4m", "fourstay-near.s1p", Calibration.AT_PLANE, "Fourstay 70", "fourstay-hut-meter"),
        ),
        WalkStep(
            "Ask where each one measured",
            "A feed line attenuates what comes back: at the shack end an antenna always looks better. Sweep the line "
            "with its far end open, and Levelmoor refers the reading to the connector.",
        ),
        WalkStep(
            "Ask what each one has proven",
            "An analyzer proves itself on a known load; a meter is checked against an analyzer. What is in doubt is "
            "listed under the bench. If both count and cannot both be right, the claim is Not shown, and its reason "
            "names both.",
        ),
        WalkStep(
            "Leave one out, with your reason",
            "Write the reason at the sweep, under “Leave out of the verdict”. The report prints both sweeps and the "
            "reason.",
        ),
    ]


WALKS: Mapping[str, Callable[[], list[WalkStep]]] = {"within": _within, "close": _close, "disagree": _disagree}


@cache
def walk_of(task: str) -> list[WalkStep]:
    """The steps of a task; none where it is not shown so."""
    return WALKS[task]() if task in WALKS else []
