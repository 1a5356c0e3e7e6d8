"""What each bench check shows, by its kind."""

from levelmoor.core.bench.cable_check import CableCheck, check_cable
from levelmoor.core.bench.load_check import ResidualCheck, check_load, check_open_or_short
from levelmoor.core.bench.meter_check import MeterCheck, check_meter
from levelmoor.core.bench.noise_check import NoiseCheck, check_noise
from levelmoor.core.bench.pad_check import PadCheck, check_pad
from levelmoor.core.metrology.uncertainty import standard_uncertainty
from levelmoor.core.model.bench_records import BenchCheck, CalibrationRecord, CheckKind, Reads
from levelmoor.core.model.equipment import Equipment, Instrument
from levelmoor.core.rf.levels import harmonics_hz
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace

Result = ResidualCheck | CableCheck | PadCheck | MeterCheck | NoiseCheck


def check_result(
    check: BenchCheck,
    equipment: Equipment,
    instrument: Instrument | None = None,
    calibration: CalibrationRecord | None = None,
) -> Result:
    """The result of a check; `calibration` is the one that its sweep was taken with.

    Raises
    ------
    ValueError
        Where something the check needs is missing, saying what.
    """
    if check.spec.reads is Reads.SWEEP and check.sweep is None:
        raise ValueError("the sweep of this check is missing; add its file")
    match check.kind:
        case CheckKind.OPEN_OR_SHORT:
            return check_open_or_short(_sweep(check))
        case CheckKind.LOAD:
            load = next((x for x in equipment.loads if x.id == check.item_id), None)
            independent = calibration is not None and calibration.independent_of(check.item_id)
            return check_load(_sweep(check), load.return_loss_db if load else None, independent)
        case CheckKind.CABLE:
            line = next((x for x in equipment.lines if x.id == check.item_id), None)
            if line is None:
                raise ValueError("choose the feed line that was swept")
            u = float(standard_uncertainty(0.8, instrument.figures)) if instrument else 0.01
            return check_cable(_sweep(check), find_line_type(line.type), line.length_m, u)
        case CheckKind.METER:
            return check_meter(check.pairs)
        case CheckKind.NOISE:
            if not check.traces:
                raise ValueError("the trace of this check is missing; add its file")
            return check_noise(check.traces[0], check.figure("rbw_hz") or 0.0)
        case CheckKind.PAD:
            return _pad(check, equipment)


def _sweep(check: BenchCheck) -> Sweep:
    assert check.sweep is not None
    return check.sweep


def _pad(check: BenchCheck, equipment: Equipment) -> PadCheck:
    pad = next((x for x in equipment.pads if x.id == check.item_id), None)
    fundamental = check.figure("fundamental_hz")
    wanted = (fundamental, *harmonics_hz(fundamental)) if fundamental else ()
    traces = check.traces
    if check.parts and check.parts[0].role == "s21" and traces:
        nothing = Trace(traces[0].frequency_hz, 0 * traces[0].level_db)
        traces = (nothing, traces[0])
    if len(traces) < 2:
        raise ValueError("a pad needs two traces, without it and with it, or a two-port file")
    return check_pad(traces[0], traces[1], wanted, pad.nominal_db if pad else None)
