"""How far the bench behind a report was proven, for its head: nothing where every sweep has a calibration on record."""

from levelmoor.core.bench.gates import METERS
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.evaluation import Calibration, Evaluation
from levelmoor.core.words.counting import counted


def less_than_proven(evaluation: Evaluation) -> str:
    """A sentence on the sweeps that rest on the team's word; meters have no calibration at a plane and do not count."""
    on_word = {Calibration.ACCEPTED}
    if evaluation.bench_rule is BenchRule.STATED:
        on_word.add(Calibration.AT_PLANE)
    meters = {i.id for i in evaluation.instruments if i.instrument_class in METERS}
    sweeps = [e for e in evaluation.sweeps if e.instrument_id not in meters]
    stated = sum(not e.calibration_id and e.calibration in on_word for e in sweeps)
    if not stated:
        return ""
    if stated == len(sweeps):
        which = "The sweep rests" if stated == 1 else "All sweeps rest"
    else:
        which = f"{stated} of {counted(len(sweeps), 'sweep')} {'rests' if stated == 1 else 'rest'}"
    return f"{which} on the team's word that the analyzer was calibrated; the calibration is not on record."
