"""The command line's adjust: the rounds of an exported evaluation, the model they teach, the next move."""

import argparse
import json
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import BadInput, refusing


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    adjust = commands.add_parser("adjust", help="say the next move of an article that is adjusted")
    adjust.add_argument("evaluation", metavar="CASE", type=Path, help="what export writes")
    adjust.add_argument("--json", action="store_true")
    adjust.set_defaults(run=_adjust)


def _adjust(options: argparse.Namespace) -> int:
    from levelmoor.core.adjusting.round_log import RoundLog, states_of
    from levelmoor.core.evidence.dossier import Dossier
    from levelmoor.formats.adjust_answer import adjust_answer, adjust_text
    from levelmoor.formats.exchange_file import read_exchange

    with refusing(options.evaluation):
        evaluation = read_exchange(options.evaluation.read_bytes()).evaluation
    if not evaluation.elements:
        raise BadInput(f"{options.evaluation}: nothing is written down that is moved")
    dossier = Dossier(evaluation)
    answers = [adjust_answer(RoundLog(evaluation, dossier, state)) for state in states_of(evaluation)]
    if options.json:
        print(json.dumps([a.model_dump(mode="json") for a in answers], indent=1))
    else:
        for answer in answers:
            print(*adjust_text(answer), sep="\n")
    return 0
