"""The command line's choke: choking impedance from a sweep in the series fixture."""

import argparse
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import VERDICT_EXITS, BadInput, refusing


def add_commands(commands: Any) -> None:
    """The parser of this command."""
    choke = commands.add_parser("choke", help="choking impedance from a sweep in the series fixture")
    choke.add_argument("file", metavar="FILE.s2p", type=Path, help="two-port Touchstone, or S21 in dB as CSV")
    choke.add_argument("--empty", metavar="FILE.s2p", type=Path, help="the same fixture without the choke")
    choke.add_argument("--claim", help="such as 'choke 5 kohm 3.5 to 30 MHz'")
    choke.add_argument("--region", type=int, choices=(1, 2, 3), default=1)
    choke.add_argument("--json", action="store_true")
    choke.set_defaults(run=_choke)


def _choke(options: argparse.Namespace) -> int:
    from levelmoor.core.claims.claim_text import understand
    from levelmoor.core.metrology.decision import VERDICT_WORDS, DecisionRule, worst_verdict
    from levelmoor.core.metrology.uncertainty import Residuals
    from levelmoor.core.model.quantities import Quantity
    from levelmoor.core.through.choking import choking
    from levelmoor.core.through.through_verdict import choking_curve, judge_through
    from levelmoor.core.words.figures import brief_mhz
    from levelmoor.formats.choke_answer import choke_answer
    from levelmoor.formats.claim_answer import as_json
    from levelmoor.formats.through_file import read_through

    with refusing(options.file):
        swept = read_through(options.file.name, options.file.read_bytes())
        empty = read_through(options.empty.name, options.empty.read_bytes()) if options.empty else None
        claim = None
        if options.claim:
            said = understand(options.claim, options.region)
            claim = said.claim
            if claim is None or claim.quantity is not Quantity.CHOKING:
                raise BadInput(f"{options.claim!r} is not a claim of choking impedance; {said.problem}".rstrip("; "))
        found = choking(swept, Residuals(), empty)
        answer = choke_answer(found, claim.windows if claim else ())
    if claim is not None:
        curve = choking_curve(found)
        judged = [judge_through(claim, curve, w, DecisionRule.GUARDED) for w in claim.windows or (None,)]
        verdict = worst_verdict(found.verdict for found in judged)
        words = " ".join(found.reason for found in judged if found.verdict is verdict)
        answer = answer.model_copy(update={"verdict": verdict, "reason": words})
    if options.json:
        print(as_json(answer))
    else:
        print(f"The lowest is {answer.least_ohm:.4g} Ω at {brief_mhz(round(answer.least_hz, -3))} MHz; {answer.stray}.")
        for p in answer.points:
            parts = "" if p.resistance_ohm is None else f"  R {p.resistance_ohm:.4g}  X {p.reactance_ohm:.4g}"
            print(f"{p.frequency_hz / 1e6:9.3f} MHz  {p.magnitude_ohm:.4g} ± {p.expanded_ohm:.2g} Ω{parts}")
        if answer.verdict is not None:
            print(f"{VERDICT_WORDS[answer.verdict]}. {answer.reason}")
    return VERDICT_EXITS[answer.verdict] if answer.verdict is not None else 0
