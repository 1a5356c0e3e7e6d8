"""What `trials --json` and `match --json` print."""

from collections.abc import Iterator, Sequence

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.matching.behind_match import NOT_RADIATION, behind_match
from levelmoor.core.matching.knobs import SIZE
from levelmoor.core.matching.solutions import Match
from levelmoor.core.matching.solutions import matches as is_match
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.networks import PART_WORDS, Network, Part
from levelmoor.core.trials.load_text import format_load
from levelmoor.core.trials.trial_grid import Cell
from levelmoor.core.trials.trial_verdict import cell_finding
from levelmoor.formats.claim_answer import Answer


class CellAnswer(Answer):
    """A frequency and a load: how many of its trials matched within the limit, and the verdict on it."""

    frequency_hz: float
    load: str
    good: int
    tried: int
    verdict: Verdict
    words: str


class TrialClaimAnswer(Answer):
    claim: str
    verdict: Verdict
    reason: str


class TrialsAnswer(Answer):
    cells: list[CellAnswer]
    claims: list[TrialClaimAnswer]
    said: str


def trials_answer(evaluation: Evaluation, findings: Findings, cells: Sequence[Cell]) -> TrialsAnswer:
    """The grid against the first claim's limit, or the usual profile's, and the verdict on each claim."""
    limits = [c.limit for c in evaluation.claims if c.limit is not None and c.quantity.value == "tuner_range"]
    limit = limits[0] if limits else evaluation.profile.limit_swr
    figures = {i.id: i.figures for i in evaluation.instruments}
    found = [cell_finding(c, limit, figures, evaluation.rule) for c in cells]
    wording = {c.id: c.wording for c in evaluation.claims}
    return TrialsAnswer(
        cells=[
            CellAnswer(
                frequency_hz=f.cell.frequency_hz, load=f.cell.load.words, good=f.good, tried=f.tried,
                verdict=f.verdict, words=f.words,
            )
            for f in found
        ],
        claims=[
            TrialClaimAnswer(claim=wording[f.claim_id], verdict=f.verdict, reason=f.reason) for f in findings.claims
        ],
        said=NOT_RADIATION,
    )  # fmt: skip


class SettingAnswer(Answer):
    """One setting: pF and µH by part, what it costs, and what its parts stand at the power."""

    values: dict[Part, float]
    swr: float
    loss_db: float
    share: float
    share_low: float
    share_high: float
    watts: dict[Part, float]
    peak_v: dict[Part, float]
    rms_a: dict[Part, float]


class MatchAnswer(Answer):
    """The settings at one frequency, the least loss first."""

    network: str
    frequency_hz: float
    resistance_ohm: float
    reactance_ohm: float
    power_w: float
    matches: bool
    settings: list[SettingAnswer]
    said: str


def match_answer(
    network: Network, frequency_hz: float, load_ohm: complex, power_w: float, matches: Sequence[Match]
) -> MatchAnswer:
    """The settings with what reaches the load."""
    settings = []
    for m in matches:
        left = behind_match(network, m.dials, frequency_hz, load_ohm, power_w, swr_seen=m.swr)
        settings.append(
            SettingAnswer(
                values={p: v / SIZE["µH" if p is Part.COIL else "pF"] for p, v in m.values.items()},
                swr=m.swr, loss_db=m.loss_db, share=m.share, share_low=left.low, share_high=left.high,
                watts=dict(m.watts), peak_v=dict(m.peak_v), rms_a=dict(m.rms_a),
            )
        )  # fmt: skip
    return MatchAnswer(
        network=network.name, frequency_hz=frequency_hz, resistance_ohm=load_ohm.real, reactance_ohm=load_ohm.imag,
        power_w=power_w, matches=is_match(matches[0]), settings=settings, said=NOT_RADIATION,
    )  # fmt: skip


def match_text(answer: MatchAnswer) -> Iterator[str]:
    """The same as lines to be read."""
    load = format_load(complex(answer.resistance_ohm, answer.reactance_ohm))
    yield f"{answer.frequency_hz / 1e6:.3f} MHz, {load}, {answer.network}, {answer.power_w:g} W"
    if not answer.matches:
        yield "  no position of the dials matches; this comes closest:"
    for s in answer.settings:
        parts = ", ".join(f"{PART_WORDS[p]} {v:.4g} {'µH' if p is Part.COIL else 'pF'}" for p, v in s.values.items())
        yield (
            f"  {parts}: SWR {s.swr:.2f}, {s.loss_db:.3f} dB lost, {100 * s.share:.3g} % gets through "
            f"({100 * s.share_low:.3g} to {100 * s.share_high:.3g}), {max(s.peak_v.values()):.0f} V peak"
        )
    yield answer.said
