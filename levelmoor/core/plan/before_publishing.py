"""What a reader of the report would ask: listed for whoever publishes, while it can still be answered."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.gates import gates_of, obstacle
from levelmoor.core.claims.claim_conflicts import conflicts
from levelmoor.core.evidence.admission import why_not_heard
from levelmoor.core.evidence.aside import why_aside
from levelmoor.core.evidence.findings import Findings, Part
from levelmoor.core.evidence.rounds import Rounds
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Obtained
from levelmoor.core.words.counting import counted

MOST_OF_A_KIND = 12
"""More of one kind are counted, not listed."""
NAMED = 3
"""Of several with the same words, so many are named."""


class Asked(StrEnum):
    """What a question is about."""

    NOT_STATED = "Not stated"
    NOT_SHOWN = "Not shown"
    NOT_HEARD = "Sweeps that do not decide"
    CONTRADICTION = "Contradictions"
    CAUTION = "Cautions"
    TO_DO = "Open comments"
    OLDER = "Changed since"


@dataclass(frozen=True)
class ReaderQuestion:
    """One question, and the part of the evaluation that answers it: `case`, `claims`, `bench`, `sweep` with its id,
    `comments` or `history`."""

    asked: Asked
    words: str
    where: str
    id: str = ""


def reader_questions(
    evaluation: Evaluation, findings: Findings, book: BenchBook | None = None
) -> tuple[ReaderQuestion, ...]:
    """Everything of an evaluation that a reader would ask, by kind, in the order of the work; `book` is its own where
    it was opened already."""
    book = book or BenchBook(evaluation)
    return (
        *_not_stated(evaluation),
        *_not_shown(evaluation, findings),
        *_not_heard(evaluation, book),
        *_contradictions(evaluation, findings),
        *(ReaderQuestion(Asked.CAUTION, words, "sweep") for words in findings.warnings),
    )


def _together(asked: Asked, of: str, found: Iterable[tuple[str, str, str]], where: str) -> Iterator[ReaderQuestion]:
    """One question for all that the same is said of; each found has a name, what is said, and an id."""
    alike: dict[str, list[tuple[str, str]]] = {}
    for name, words, ident in found:
        alike.setdefault(words, []).append((name, ident))
    for words, every in alike.items():
        those = list(dict(every).items())
        who = ", ".join(name for name, _ in those[:NAMED])
        if len(those) > NAMED:
            who = f"{counted(len(those), of)} ({who} and {len(those) - NAMED} more)"
        yield ReaderQuestion(asked, f"{who}: {words}", where, those[0][1])


def _not_stated(evaluation: Evaluation) -> Iterator[ReaderQuestion]:
    lacking: list[tuple[str, str, str]] = []
    for s in evaluation.samples:
        lacks = [what for what, said in (("its serial", s.serial), ("its connector", s.connector)) if not said]
        if s.obtained is Obtained.UNSTATED:
            lacks.append("how it was obtained")
        if s.obtained in (Obtained.LENT, Obtained.MAKER) and not s.terms:
            lacks.append("on what terms you have it")
        if lacks:
            lacking.append((s.label, ", ".join(lacks), ""))
    yield from _together(Asked.NOT_STATED, "sample", lacking, "case")
    lacking = []
    for c in evaluation.claims:
        lacks = [what for what, said in (("its source", c.source), ("when it was seen", c.seen_on)) if not said]
        if lacks:
            lacking.append((c.wording, ", ".join(lacks), c.id))
    yield from _together(Asked.NOT_STATED, "claim", lacking, "claims")
    lacking = []
    for e in evaluation.sweeps:
        lacks = [] if e.taken_on else ["when it was taken"]
        if e.calibration is Calibration.UNSTATED:
            lacks.append("whether the analyzer was calibrated")
        if lacks:
            lacking.append((e.name, ", ".join(lacks), e.id))
    yield from _together(Asked.NOT_STATED, "sweep", lacking, "sweep")


def _not_shown(evaluation: Evaluation, findings: Findings) -> Iterator[ReaderQuestion]:
    claims = {c.id: c for c in evaluation.claims}
    shown = evaluation.samples_with_evidence
    for s in evaluation.samples:
        if not s.set_aside and s.id not in shown:
            yield ReaderQuestion(Asked.NOT_SHOWN, f"{s.label} has no evidence at all", "case")
    missing = [
        (claims[f.claim_id].wording, f.reason, f.claim_id) for f in findings.claims if f.verdict is Verdict.NOT_SHOWN
    ]
    yield from _together(Asked.NOT_SHOWN, "claim", missing, "claims")


def _not_heard(evaluation: Evaluation, book: BenchBook) -> Iterator[ReaderQuestion]:
    """Sweeps that decide nothing, each with the reason that keeps it from the claim it reaches."""
    setups, rounds = {s.id: s for s in evaluation.setups}, Rounds(evaluation)
    found = []
    for e in evaluation.sweeps:
        aside = why_aside(evaluation, e)
        why = f"left out with {aside}" if aside else obstacle(gates_of(book, e, setups[e.setup_id]))
        why = why or _why_beside(evaluation, e, rounds)
        if why:
            found.append((e.name, why, e.id))
    yield from _together(Asked.NOT_HEARD, "sweep", found, "sweep")


def _why_beside(evaluation: Evaluation, evidence: Evidence, rounds: Rounds) -> str:
    """Why no claim that the sweep reaches hears it; nothing where one does, or none is reached."""
    first, sweep = "", evidence.sweep
    for c in evaluation.claims:
        if c.checkable and any(sweep.cut(w.low_hz, w.high_hz) is not None for w in c.windows):
            why = why_not_heard(evaluation, c, evidence, rounds)
            if not why:
                return ""
            first = first or why
    return first


def _contradictions(evaluation: Evaluation, findings: Findings) -> Iterator[ReaderQuestion]:
    for conflict in conflicts(evaluation.claims, MOST_OF_A_KIND):
        yield ReaderQuestion(Asked.CONTRADICTION, conflict.words, "claims")
    claims = {c.id: c for c in evaluation.claims}
    for f in findings.claims:
        for w in f.windows:
            if any(p.part is Part.CONTRADICTS for p in w.pieces):
                words = f"{claims[f.claim_id].wording}, {w.name}: {w.reason}"
                yield ReaderQuestion(Asked.CONTRADICTION, words, "claims", f.claim_id)
