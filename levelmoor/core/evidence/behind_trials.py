"""What reaches the antenna of each trial, by what is known of the tuner, its load and the line."""

from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.matching.behind_match import Behind, behind_match, behind_swept
from levelmoor.core.matching.preset_card import dials_of
from levelmoor.core.matching.through_gain import share_through
from levelmoor.core.model.evaluation import Evaluation, Plane
from levelmoor.core.model.trials import Trial
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.trials.load_text import load_of

USUAL_W = 100.0


def behind_trial(evaluation: Evaluation, bench: Dossier, trial: Trial, power_w: float | None = None) -> Behind:
    """The share of a match that reaches its load, through tuner and line."""
    sweeps = {e.id: e.sweep for e in evaluation.sweeps}
    network = next((n for n in evaluation.networks if n.id == trial.network_id), None)
    dials = dials_of(trial, network) if network else None
    load = load_of(trial, sweeps)
    swept = next((x for x in evaluation.throughs if x.id == trial.through_id), None)
    if swept is not None and load.gamma is not None:
        share = share_through(swept.two_port, trial.frequency_hz, load.gamma)
        if share is not None:
            return behind_swept(share, _line(evaluation, bench, trial), trial.swr_after)
    return behind_match(
        network,
        dials or {},
        trial.frequency_hz,
        load.impedance_ohm,
        power_w or trial.power_w or USUAL_W,
        _line(evaluation, bench, trial),
        trial.swr_after,
    )


def _line(evaluation: Evaluation, bench: Dossier, trial: Trial) -> tuple[float, float] | None:
    """Matched loss of the line between tuner and antenna, and |gamma| at the antenna; None where the antenna hangs on
    the tuner itself, or nothing is known of the line."""
    evidence = next((e for e in evaluation.sweeps if e.id == trial.load_sweep_id), None)
    if evidence is None or bench.setup(evidence).plane is not Plane.SHACK:
        return None
    setup = bench.setup(evidence)
    cable = bench.book.cable(setup)
    checked = bench.book.result(cable) if cable else None
    line = next((x for x in evaluation.equipment.lines if x.id == setup.line_id), None)
    if isinstance(checked, CableCheck) and checked.loss_db.covers(trial.frequency_hz, trial.frequency_hz):
        loss = float(checked.loss_db.at(trial.frequency_hz))
    elif line is not None:
        loss = float(find_line_type(line.type).loss_db(trial.frequency_hz, line.length_m))
    else:
        return None
    near = load_of(trial, {evidence.id: evidence.sweep}).magnitude
    if near is None:
        return None
    return loss, min(near * 10 ** (loss / 10), 0.9999)
