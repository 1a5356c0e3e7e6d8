"""What `judge --json` prints, and the JSON Schema of what commands print."""

from typing import Any

from pydantic import Field

from levelmoor.core.evidence.findings import Findings, Part
from levelmoor.core.evidence.radio_use import Use
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import EDITION, Evaluation
from levelmoor.core.model.usability import Usability
from levelmoor.formats.claim_answer import Answer, LineAnswer
from levelmoor.formats.findings_document import findings_document


class PieceAnswer(Answer):
    """A piece of evidence in a window: its state, its part, and what it says by itself."""

    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    sweep_ids: list[str]
    setup_id: str
    setting_id: str
    round: int
    instrument_id: str
    part: Part
    verdict: Verdict
    worst_swr: float | None = Field(description="null where it is no SWR, or an infinite one")
    open_ended: bool = Field(False, description="whether the worst SWR is infinite")
    words: str
    name: str


class WindowAnswer(Answer):
    """A window of a claim; `curve` is what was judged where it was moved to another plane, `figures` as of check."""

    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    name: str
    sweep_id: str | None
    verdict: Verdict
    reason: str
    gates: list[str]
    setup_id: str
    setting_id: str
    round: int
    instrument_id: str
    pieces: list[PieceAnswer]
    beside: list[str]
    figure: str
    margin: float | None
    curve: dict[str, Any] | None
    figures: dict[str, Any] | None


class ClaimVerdict(Answer):
    """A claim on a sample; `counted` is false for a control or a suspected counterfeit."""

    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    claim_id: str
    sample_id: str
    verdict: Verdict
    reason: str
    counted: bool
    windows: list[WindowAnswer]


class UsabilityAnswer(Answer):
    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    sample_id: str
    band: str
    low_hz: float
    high_hz: float
    state: Usability
    share: float | None
    worst_swr: float | None
    sweep_id: str
    sentence: str
    curve: dict[str, Any] | None


class QuestionAnswer(Answer):
    """Whether the article was adjusted between two sweeps that clearly differ."""

    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    first_id: str
    second_id: str
    sentence: str


class Names(Answer):
    """What each id stands for."""

    claims: dict[str, str]
    samples: dict[str, str]
    setups: dict[str, str]
    settings: dict[str, str]
    instruments: dict[str, str]
    sweeps: dict[str, str]


class ProfileAnswer(Answer):
    """A band by one of the usability profiles."""

    sample_id: str
    band: str
    profile: str
    limit_swr: float
    state: Usability
    share: float | None


class RadioAnswer(Answer):
    """What a radio makes of a band; watts, reflection and losses at its worst place."""

    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    radio_id: str
    radio: str
    sample_id: str
    band: str
    use: Use
    share: float
    watts: float
    full_w: float
    worst_swr: float | None
    reflected: float
    mismatch_db: float
    line_db: float | None
    arrives_w: float
    words: str


class JudgeAnswer(Answer):
    codes: dict[str, Any] = Field({}, description="what is said, by field: its code and figures")
    title: str
    edition: int
    summary: dict[Verdict, int]
    names: Names
    claims: list[ClaimVerdict]
    usability: list[UsabilityAnswer]
    warnings: list[str]
    emissions: list[dict[str, Any]]
    emission_problems: list[tuple[float, str]]
    checks: list[tuple[str, str]]
    paths: list[tuple[str, str]]
    questions: list[QuestionAnswer]
    profiles: list[ProfileAnswer]
    radios: list[RadioAnswer]


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
