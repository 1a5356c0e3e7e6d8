"""What `claim --json` prints: how a line of claims is understood."""

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict
from pydantic_core import to_json

from levelmoor.core.claims.claim_line import UnderstoodLine
from levelmoor.core.model.claims import Tuner
from levelmoor.core.model.quantities import Quantity


class Answer(BaseModel):
    """What a command prints; the model is its JSON Schema."""

    model_config = ConfigDict(extra="forbid")


def as_json(answer: BaseModel | Sequence[BaseModel]) -> str:
    """An answer, or several, as JSON; what is infinite or not a number is null."""
    return to_json(answer, indent=1, inf_nan_mode="null").decode()


class WindowSaid(Answer):
    name: str
    low_hz: float
    high_hz: float


class ClaimSaid(Answer):
    quantity: Quantity
    limit: float | None
    unit: str
    windows: list[WindowSaid]
    z0_ohm: float
    swr_at: float | None
    power_w: float | None
    mode: str
    duty: float | None
    tolerance: float | None
    tuner: Tuner
    stated: str
    condition: str


class QuestionSaid(Answer):
    """A doubt, with answers in words and the whole line as it would read with each."""

    words: str
    answers: list[tuple[str, str]]


class LineAnswer(Answer):
    """`leftover` is what says nothing here, `problem` why nothing was understood."""

    claims: list[ClaimSaid]
    questions: list[QuestionSaid]
    leftover: str
    problem: str


def line_answer(line: UnderstoodLine) -> LineAnswer:
    """How a line is understood."""
    claims = [
        ClaimSaid(
            windows=[WindowSaid(name=w.name, low_hz=w.low_hz, high_hz=w.high_hz) for w in c.windows],
            unit=c.limit_unit,
            **{n: getattr(c, n) for n in ClaimSaid.model_fields if n not in ("windows", "unit")},
        )
        for c in line.claims
    ]
    questions = [QuestionSaid(words=q.words, answers=list(q.answers)) for q in line.questions]
    return LineAnswer(claims=claims, questions=questions, leftover=line.leftover, problem=line.problem)
