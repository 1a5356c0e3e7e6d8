"""The command line's adjust and card: the rounds of an exported evaluation and the next move, and its settings card."""

import argparse
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import BadInput, refusing


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    adjust = commands.add_parser("adjust", help="propose the next move for a product being adjusted")
    adjust.add_argument("evaluation", metavar="CASE", type=Path, help="an exported evaluation")
    adjust.add_argument("--json", action="store_true")
    adjust.set_defaults(run=_adjust)

    card = commands.add_parser("card", help="the settings card of an adjustable product")
    card.add_argument("evaluation", metavar="CASE", type=Path, help="an exported evaluation")
    card.add_argument("--sample", metavar="LABEL", help="the sample (default: the one swept most)")
    card.add_argument("--setup", metavar="NAME", action="append", help="a setup; may be repeated (default: all swept)")
    card.add_argument("--size", choices=("a6", "a5", "labels"), default="a6")
    card.add_argument("--pdf", metavar="OUT", type=Path, help="write a PDF (default: CSV to standard output)")
    card.set_defaults(run=_card)


def _adjust(options: argparse.Namespace) -> int:
    from levelmoor.core.adjusting.round_log import RoundLog, states_of
    from levelmoor.core.evidence.dossier import Dossier
    from levelmoor.formats.adjust_answer import adjust_answer, adjust_text
    from levelmoor.formats.claim_answer import as_json
    from levelmoor.formats.exchange_file import read_exchange

    with refusing(options.evaluation):
        evaluation = read_exchange(options.evaluation.read_bytes()).evaluation
    if not evaluation.elements:
        raise BadInput(f"{options.evaluation}: no moving part is listed")
    dossier = Dossier(evaluation)
    answers = [adjust_answer(RoundLog(evaluation, dossier, state), evaluation) for state in states_of(evaluation)]
    if options.json:
        print(as_json(answers))
    else:
        for answer in answers:
            print(*adjust_text(answer), sep="\n")
    return 0


def _card(options: argparse.Namespace) -> int:
    from levelmoor.core.adjusting.settings_card import card_of, carried, most_swept
    from levelmoor.core.evidence.dossier import Dossier
    from levelmoor.formats.exchange_file import read_exchange
    from levelmoor.formats.settings_table import write_card

    with refusing(options.evaluation):
        came = read_exchange(options.evaluation.read_bytes())
    of = came.evaluation
    if not of.settings:
        raise BadInput(f"{options.evaluation}: it has no settings")
    usual = most_swept(of)
    sample = next(
        (s for s in of.samples if options.sample == s.label or (not options.sample and s.id == usual[0])), None
    )
    setups = tuple(s for s in of.setups if s.name in (options.setup or ()))
    if sample is not None and not options.setup:
        setups = tuple(s for s in of.setups if s.id in (carried(of, sample.id) or usual[1:]))
    if sample is None or not setups or len(setups) < len(set(options.setup or ())):
        known = ", ".join([*(s.label for s in of.samples), *(s.name for s in of.setups)])
        raise BadInput(f"{options.evaluation}: there is no such sample or setup; choose from {known}")
    made = card_of(of, Dossier(of), sample.id, [s.id for s in setups])
    if options.pdf:
        from levelmoor.services.card_paper import CardSize
        from levelmoor.services.settings_card import CardOf, card_pdf

        size = CardSize(options.size)
        pictures = {p.setting_id: came.files[p.sha256] for p in of.pictures if p.setting_id}
        with refusing(options.pdf):
            options.pdf.write_bytes(card_pdf(made, CardOf(of, sample, setups), size, "", pictures))
    else:
        print(write_card(made), end="")
    return 0
