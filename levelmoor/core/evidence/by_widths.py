"""Edges from a notebook as evidence of a bandwidth: where no sweep shows it, the latest that the claim may rest on."""

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import WindowEvidence
from levelmoor.core.evidence.heard import why_not_allowed
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.readings.width_verdict import judge_width
from levelmoor.core.rf.windows import Window

SAME_SWR = 0.005


def by_widths(
    evaluation: Evaluation, bench: Dossier, claim: Claim, sample_id: str, swr_at: float, by_sweep: WindowEvidence
) -> WindowEvidence:
    """What a claim of bandwidth comes to with the notebook beside the sweeps: these decide where they show anything."""
    if by_sweep.verdict is not Verdict.NOT_SHOWN:
        return by_sweep
    heard = [w for w in evaluation.widths if _heard(bench, claim, sample_id, swr_at, by_sweep.window, w)]
    if not heard:
        return by_sweep
    latest = max(heard, key=lambda w: (w.taken_on, w.round))
    figures = bench.book.instruments[latest.instrument_id].figures
    verdict, reason = judge_width(latest, 1e3 * (claim.limit or 0.0), figures, evaluation.rule)
    return WindowEvidence(
        None,
        by_sweep.window,
        None,
        verdict,
        reason,
        setup_id=latest.setup_id,
        setting_id=latest.setting_id,
        round=latest.round,
        instrument_id=latest.instrument_id,
        pieces=by_sweep.pieces,
    )


def _heard(bench: Dossier, claim: Claim, sample_id: str, swr_at: float, window: Window, reading: WidthReading) -> bool:
    """Whether the claim is one that the reading can speak of: its sample, a setup it allows, its band and its SWR."""
    setup, setting = bench.setups.get(reading.setup_id), bench.settings.get(reading.setting_id)
    return (
        reading.sample_id == sample_id
        and setup is not None
        and not setup.set_aside
        and not why_not_allowed(claim, setup)
        and (setting is None or setting.meant_for(window))
        and reading.instrument_id in bench.book.instruments
        and abs(reading.swr - swr_at) <= SAME_SWR
        and window.low_hz <= reading.high_hz
        and reading.low_hz <= window.high_hz
    )
