"""The command line's judge and claim: the findings of an exported evaluation, and how a line is understood."""

import argparse
from collections.abc import Mapping
from hashlib import sha256
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import VERDICT_EXITS, BadInput, refusing

MOST_BESIDE = 5_000
"""Files beside a document that are looked through for its raw files."""


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    judge = commands.add_parser("judge", help="judge an exported evaluation")
    judge.add_argument(
        "evaluation",
        metavar="CASE",
        type=Path,
        help="an exported evaluation, or its evaluation.json with the raw files beside it",
    )
    judge.add_argument("--json", action="store_true")
    judge.set_defaults(run=_judge)

    claim = commands.add_parser("claim", help="show how a line of claims is understood")
    claim.add_argument("text", metavar="TEXT")
    claim.add_argument("--region", type=int, choices=(1, 2, 3), default=1, help="ITU region (default 1)")
    claim.add_argument("--json", action="store_true")
    claim.set_defaults(run=_claim)


def _judge(options: argparse.Namespace) -> int:
    from levelmoor.core.judge import judge
    from levelmoor.core.metrology.decision import worst_verdict
    from levelmoor.formats.exchange_file import read_exchange
    from levelmoor.formats.judge_text import judge_text

    with refusing(options.evaluation):
        data = options.evaluation.read_bytes()
        beside = {} if data.startswith(b"PK") else _files_beside(options.evaluation)
        evaluation = read_exchange(data, files=beside).evaluation
    findings = judge(evaluation)
    if options.json:
        from levelmoor.formats.answers import judge_answer

        print(judge_answer(evaluation, findings).model_dump_json(indent=1))
    else:
        print(*judge_text(evaluation, findings), sep="\n")
    verdicts = [f.verdict for f in findings.claims if f.counted]
    if not evaluation.claims:
        verdicts = [e.report.verdict for e in findings.emissions]
    return VERDICT_EXITS[worst_verdict(verdicts).value]


def _files_beside(document: Path) -> Mapping[str, bytes]:
    """The files in the document's folder and in `files` beside it, by SHA-256."""
    found: dict[str, bytes] = {}
    for folder in (document.parent, document.parent / "files"):
        for path in sorted(folder.iterdir())[:MOST_BESIDE] if folder.is_dir() else ():
            if path.is_file() and path != document:
                data = path.read_bytes()
                found[sha256(data).hexdigest()] = data
    return found


def _claim(options: argparse.Namespace) -> int:
    from levelmoor.core.claims.claim_line import understand_line

    found = understand_line(options.text, options.region)
    if not options.text.strip():
        raise BadInput("the claim is empty; write one, such as 'SWR < 1.5 2m'")
    if options.json:
        from levelmoor.formats.claim_answer import line_answer

        print(line_answer(found).model_dump_json(indent=1))
    else:
        for words in found.words:
            print(words)
        for question in found.questions:
            print(f"asked: {question.words}")
            for words, line in question.answers:
                print(f"  {words}: {line}")
        if found.leftover:
            print(f"not understood: {found.leftover}")
        if found.problem:
            print(f"not understood: {found.problem}")
    if found.as_it_stands:
        return 0
    return 3 if found.claims or (found.questions and not found.problem) else 2
