"""What `judge --json` prints, and the JSON Schema of what commands print."""

from typing import TYPE_CHECKING, Any, TypeAlias

from pydantic import Field

from levelmoor.core.evidence.findings import ClaimFinding, Findings, PieceFinding, UsabilityFinding, WindowEvidence
from levelmoor.core.evidence.pieces import AdjustedQuestion
from levelmoor.core.evidence.radio_use import RadioUse
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import EDITION, Evaluation
from levelmoor.formats.claim_answer import Answer, LineAnswer
from levelmoor.formats.findings_document import findings_document
from levelmoor.formats.from_core import model_of

_SAID: Any = Field({}, description="codes and figures of what is said, by field")
CODES: dict[str, Any] = {"codes": (dict[str, Any], _SAID)}
_CURVE: dict[str, Any] = {"curve": (dict[str, Any] | None, Field(description="what was judged, if it was moved"))}


class Names(Answer):
    """What each id stands for."""

    claims: dict[str, str]
    samples: dict[str, str]
    setups: dict[str, str]
    settings: dict[str, str]
    instruments: dict[str, str]
    sweeps: dict[str, str]


if TYPE_CHECKING:
    JudgeAnswer: TypeAlias = Any
else:
    PieceAnswer = model_of(
        "PieceAnswer", PieceFinding, open_ended=(bool, Field(False, description="whether the worst SWR is infinite")),
        worst_swr=(float | None, Field(description="null if it is not an SWR, or an infinite one")), **CODES,
    )  # fmt: skip
    WindowAnswer = model_of(
        "WindowAnswer", WindowEvidence, ("finding", "window"), name=(str, ...), pieces=(tuple[PieceAnswer, ...], ...),
        figures=(dict[str, Any] | None, Field(description="as check prints them")), **_CURVE, **CODES,
    )  # fmt: skip
    ClaimVerdict = model_of("ClaimVerdict", ClaimFinding, windows=(tuple[WindowAnswer, ...], ...), **CODES)
    UsabilityAnswer = model_of("UsabilityAnswer", UsabilityFinding, **_CURVE, **CODES)
    QuestionAnswer = model_of("QuestionAnswer", AdjustedQuestion, **CODES)
    RadioAnswer = model_of("RadioAnswer", RadioUse, worst_swr=(float | None, ...), **CODES)
    JudgeAnswer = model_of(
        "JudgeAnswer", Findings, title=(str, ...), edition=(int, ...), summary=(dict[Verdict, int], ...),
        names=(Names, ...), claims=(tuple[ClaimVerdict, ...], ...), usability=(tuple[UsabilityAnswer, ...], ...),
        emissions=(tuple[dict[str, Any], ...], ...), questions=(tuple[QuestionAnswer, ...], ...),
        radios=(tuple[RadioAnswer, ...], ...), **CODES,
    )  # fmt: skip


def judge_answer(evaluation: Evaluation, findings: Findings) -> JudgeAnswer:
    """The findings with the names of what their ids stand for."""
    names = Names(
        claims={c.id: c.wording for c in evaluation.claims},
        samples={s.id: s.label for s in evaluation.samples},
        setups={s.id: s.name for s in evaluation.setups},
        settings={s.id: s.name for s in evaluation.settings},
        instruments={i.id: i.name for i in evaluation.instruments},
        sweeps={e.id: e.name for e in evaluation.sweeps},
    )
    found = findings_document(findings)
    return JudgeAnswer(title=evaluation.title, edition=EDITION, summary=findings.summary, names=names, **found)


def answers_schema() -> dict[str, Any]:
    """The JSON Schemas of both, by command."""
    return {"judge": JudgeAnswer.model_json_schema(), "claim": LineAnswer.model_json_schema()}
