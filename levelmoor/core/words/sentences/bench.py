"""What the bench has shown: calibrations, checks, and the gates before each kind of evidence."""

SENTENCES = {
    # -- Gates -------------------------------------------------------------------------------------------------------
    "gate.meter_checked": "checked against the analyzer on known loads, {at:time}",
    "gate.meter_old": (
        "the meter was last checked against the analyzer {at:time}, more than {hours:g} h from the reading; check it "
        "again on the bench"
    ),
    "gate.meter_elsewhere": (
        "the meter was checked at {at:mhz} MHz, and {window} is elsewhere; check it there on the bench"
    ),
    "gate.meter_unchecked": (
        "the meter was not checked against an analyzer on known loads; add that check on the bench"
    ),
    "gate.meter_stated": "a meter has no calibration at the plane; its stated accuracy counts",
    "gate.assumed": (
        "nothing is stated of {name}, so typical figures were assumed: {directivity:.0f} dB directivity, "
        "{tracking:.1f} % tracking"
    ),
    "gate.assumed_not_enough": (
        "nothing is stated of {name} and typical figures show nothing here; write its figures down, or check it on the "
        "bench"
    ),
    "gate.instrument_unsaid": "it is not said what it was measured with; write {what} down",
    "gate.path_by_hand": (
        "the path's figures were written down by hand; measure pad and cable on the bench, and name them with the "
        "capture"
    ),
    "gate.path_measured": "path measured on the bench",
    "gate.through_missing": (
        "no calibration of {instrument} on record covers this sweep on its day; calibrate it over "
        "{span:range}, record it on the bench, and sweep again"
    ),
    "gate.through_unproven": (
        "neither a known load nor the empty fixture was swept with that calibration; sweep the empty fixture, or a "
        "known load, over {span:range} on that day"
    ),
    "gate.through_fixture": "the empty fixture was swept, {at:time}",
    "gate.cal_gone": "the calibration record of this sweep is gone; choose another",
    "gate.cal_passed": "calibration on record: {standards}, {span:range}, {at:time}",
    "gate.cal_none": (
        "the sweep has no calibration of its own span and plane; calibrate at the reference plane and sweep again"
    ),
    "gate.cal_unstated": (
        "it is not stated whether the analyzer was calibrated at the reference plane; state it with the sweep"
    ),
    "gate.cal_not_recorded": (
        "the calibration is stated but not on record; record it on the bench with its standards, span, plane, "
        "instrument and time, and choose it for this sweep"
    ),
    "gate.cal_stated": "calibrated at the reference plane, as stated; not on record",
    "gate.cal_other_instrument": (
        "the calibration is of {who}, and the sweep is not; calibrate the instrument that sweeps"
    ),
    "gate.cal_span": (
        "the calibration spans {span:range} and the sweep {swept:range}; calibrate over the span that is swept, and "
        "sweep again"
    ),
    "gate.cal_plane": (
        "the calibration was done at another plane than the setup's; calibrate at the plane and sweep again"
    ),
    "gate.load_todo": "sweep a known good load at the plane with this calibration, and drop the file on the bench",
    "gate.load_missing": "no known load was swept with this calibration; {todo}",
    "gate.load_other_day": (
        "the known load was not swept between this calibration and the next, or on another day than the sweep; {todo}"
    ),
    "gate.load_typical": "no known load; typical figures",
    "gate.load_span": "the known load was swept over {span:range} only; {todo}, over the whole window",
    "gate.line_unchecked": (
        "{line} was not checked; sweep it with its far end open or shorted, and drop the file on the bench"
    ),
    "gate.line_bad": "{line} is bad: {reasons:list}; use another one",
    "gate.line_old": "the check of {line} is over a year old; sweep it again",
    "gate.line_passed": "{line}: {found:low}",
    "gate.found": "{found:low}",
    # -- Age ---------------------------------------------------------------------------------------------------------
    "age.undated": "it is not stated when {what} was done; write it down",
    "age.sweep_undated": "it is not stated when the sweep was taken; write it down with the sweep",
    "age.before": "the sweep was taken before {what} was done",
    "age.old": "{what} was {old} old when the sweep was taken, and holds for {holds}{renew:if|; }{renew}",
    # -- Known load, open or short -----------------------------------------------------------------------------------
    "load.bad": (
        "The load does not match 50 ohm: {where}, more than {limit:g}. Calibrate again at this plane, or look at the "
        "load and the connectors"
    ),
    "load.where": "at worst SWR {swr:.3f} at {at:mhz} MHz",
    "load.unstated": (
        "The load matches 50 ohm, {where}; its own return loss is not stated, so it gives no figure: write it down "
        "with the load"
    ),
    "load.own": (
        "The load matches 50 ohm, {where}; it is the load that calibrated, or it is not said which one did, so it "
        "gives no figure: sweep another known load, and say on the calibration which load was used"
    ),
    "load.good": (
        "The load matches 50 ohm, {where}; effective directivity {directivity:.0f} dB or better over the span"
    ),
    "full.where": "|Γ| is {size:.3f} at worst, at {at:mhz} MHz",
    "full.bad": "The open or short does not read full: {where}. Calibrate again at this plane",
    "full.good": "The open or short reads full: {where}",
    # -- Feed line ---------------------------------------------------------------------------------------------------
    "line.sound": "No fault shown: {told:list}",
    "line.bad": "Bad: {told:list}",
    "line.short": "it ends after {length:.1f} m of {stated:g} m: broken or shorted there, or not that long",
    "line.long": "it is electrically {length:.1f} m long, not {stated:g} m: another type, or longer than noted",
    "line.impedance": "it is of {z0:.0f} ohm, not {type:g}: another type than noted",
    "line.echo": "an echo at {at:.1f} m: a bad joint, a kink or water there",
    "line.loss": "{db:.2f} dB at {mhz:.0f} MHz",
    "line.lossy": "it loses {loss} where {table:.2f} dB is usual: old, wet or another type",
    "line.lossless": (
        "it loses {loss} where {table:.2f} dB is usual: shorter or another type, or its far end was not open or shorted"
    ),
    "line.length": "{length:.1f} m, losing {loss} (table {table:.2f} dB)",
    "line.ohm": "{z0:.0f} ohm",
    "line.no_ohm": "too short in waves to tell its impedance",
    "line.splice": "a connector or a splice at {at:.1f} m",
    "line.too_little": "its loss is too little for this sweep to judge; sweep to a higher frequency",
    "line.beyond": (
        "not shown beyond {far:.1f} m, where the far end hides a joint; turn it round and sweep it again for that"
    ),
    # -- Pad, meter, noise -------------------------------------------------------------------------------------------
    "pad.none": ("The second trace is of the path without the pad: it loses nothing; put the pad in and take it again"),
    "pad.at": "{db:.2f} dB at {at:hz} MHz",
    "pad.missing": "the traces do not reach {at} MHz",
    "pad.label": "the label says {label:g} dB, {off:.1f} dB off: use the measured figures",
    "meter.none": "No load was read yet",
    "meter.few": "{count} of {needed} loads: the meter's accuracy is not known yet",
    "meter.good": (
        "Over {count} loads from SWR {low:.2f} to {high:.2f} the meter reads {side} by {seen:.3f} in |Γ|; between them "
        "it counts as one of {directivity:.0f} dB directivity, beyond them by what is stated of it"
    ),
    "noise.floor": "Noise {dbm:.0f} dBm in {rbw:g} kHz{spurs:if|; spurs of its own, the loudest }{spurs}",
    "noise.spur": "{dbm:.0f} dBm at {at:mhz} MHz",
    "check.name": "{kind}, {at:time}",
    "check.incomplete": "not complete: {why}",
    # -- Paths -------------------------------------------------------------------------------------------------------
    "path.piece": "{name} {figures:names} dB",
    "path.not_measured": "{name}, not measured",
    "path.entered": "{db:g} dB entered in the analyzer were taken off what it showed",
    "path.none": "no pad",
    "path.told": "{pieces:list}",
    "path.moved": "moved to the {where} through {length:.1f} m of line losing up to {loss:.2f} dB",
}
