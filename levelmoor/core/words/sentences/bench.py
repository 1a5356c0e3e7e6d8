"""What the bench has shown: calibrations, checks, and the gates before each kind of evidence."""

SENTENCES = {
    # -- Gates -------------------------------------------------------------------------------------------------------
    "gate.meter_checked": "checked against the analyzer on known loads, {at:time}",
    "gate.meter_old": (
        "the meter was last checked against the analyzer {at:time}, more than {hours:g} h from the reading; check it "
        "again on the bench"
    ),
    "gate.meter_elsewhere": "the meter was checked at {at:mhz} MHz, not on {window}; check it there on the bench",
    "gate.meter_unchecked": "the meter was not checked against an analyzer on known loads; add that check on the bench",
    "gate.meter_stated": "a meter has no calibration at the plane; its stated accuracy counts",
    "gate.assumed": (
        "nothing is known about {name}, so typical figures were assumed: {directivity:.0f} dB directivity, "
        "{tracking:.1f} % tracking"
    ),
    "gate.assumed_not_enough": (
        "nothing is known about {name}, and typical figures cannot show this; enter its figures, or check it on the "
        "bench"
    ),
    "gate.instrument_unsaid": "the instrument is not stated; add {what}",
    "gate.path_by_hand": (
        "the path's figures were typed, not measured; measure pad and cable on the bench, and choose them for the "
        "capture"
    ),
    "gate.path_measured": "path measured on the bench",
    "gate.through_missing": (
        "no calibration of {instrument} on record covers this sweep on that day; calibrate over {span:range}, record "
        "it on the bench, and sweep again"
    ),
    "gate.through_unproven": (
        "neither a known load nor the empty fixture was swept with that calibration; sweep one of them over "
        "{span:range} on the same day"
    ),
    "gate.through_fixture": "the empty fixture was swept, {at:time}",
    "gate.cal_gone": "the calibration record of this sweep was removed; choose another",
    "gate.cal_passed": "calibration on record: {standards}, {span:range}, {at:time}",
    "gate.cal_none": (
        "the sweep has no calibration for its own span and plane; calibrate at the reference plane and sweep again"
    ),
    "gate.cal_unstated": (
        "nobody has stated whether the analyzer was calibrated at the reference plane; say so at the sweep"
    ),
    "gate.cal_not_recorded": (
        "the calibration is stated but not on record; record it on the bench with its standards, span, plane, "
        "instrument and time, and choose it for this sweep"
    ),
    "gate.cal_accepted": "calibrated at the reference plane, as stated; accepted without a record",
    "gate.cal_stated": "calibrated at the reference plane, as stated; not on record",
    "gate.cal_other_instrument": (
        "the calibration is for {who}, and the sweep was made with another instrument; calibrate the one that sweeps"
    ),
    "gate.cal_span": (
        "the calibration covers {span:range}, and the sweep {swept:range}; calibrate over the whole sweep, and sweep "
        "again"
    ),
    "gate.cal_plane": (
        "the calibration was done at a different plane from the setup's; calibrate at the setup's plane and sweep again"
    ),
    "gate.load_todo": "sweep a known load at the plane with this calibration, and add the file on the bench",
    "gate.load_missing": "no known load was swept with this calibration; {todo}",
    "gate.load_other_day": (
        "the known load was not swept between this calibration and the next, or not on the day of the sweep; {todo}"
    ),
    "gate.load_typical": "no known load; typical figures",
    "gate.load_span": "the known load was swept over {span:range} only; {todo}, over the whole window",
    "gate.line_unchecked": (
        "{line} was not checked; sweep it with its far end open or shorted, and add the file on the bench"
    ),
    "gate.line_bad": "{line} is bad: {reasons:list}; use another one",
    "gate.line_old": "the check of {line} is more than a year old; sweep it again",
    "gate.line_passed": "{line}: {found:low}",
    "gate.found": "{found:low}",
    # -- Age ---------------------------------------------------------------------------------------------------------
    "age.undated": "it is not stated when {what} was done; add the time",
    "age.sweep_undated": "it is not stated when the sweep was made; add the time at the sweep",
    "age.before": "the sweep was made before {what} was done",
    "age.old": "{what} was {old} old when the sweep was made, and is valid for {holds}{renew:if|; }{renew}",
    # -- Known load, open or short -----------------------------------------------------------------------------------
    "load.bad": (
        "The load does not match 50 Ω: {where}, more than {limit:g}. Calibrate again at this plane, or check the "
        "load and the connectors"
    ),
    "load.where": "SWR {swr:.3f} at worst ({at:mhz} MHz)",
    "load.unstated": (
        "The load matches 50 Ω, {where}; its own return loss is not stated, so it gives no figure: enter it with the "
        "load"
    ),
    "load.own": (
        "The load matches 50 Ω, {where}; it is the load that was used to calibrate, or nobody has said which was, so "
        "it gives no figure: sweep another known load, and name the load used in the calibration"
    ),
    "load.good": (
        "The load matches 50 Ω, {where}; effective directivity of {directivity:.0f} dB or better over the span"
    ),
    "full.where": "|Γ| is {size:.3f} at worst ({at:mhz} MHz)",
    "full.bad": "The open or short does not reflect fully: {where}. Calibrate again at this plane",
    "full.good": "The open or short reflects fully: {where}",
    # -- Feed line ---------------------------------------------------------------------------------------------------
    "line.sound": "No fault found: {told:list}",
    "line.bad": "Bad: {told:list}",
    "line.short": "it ends after {length:.1f} m of {stated:g} m: broken or shorted there, or shorter than stated",
    "line.long": "it is {length:.1f} m long electrically, not {stated:g} m: another type, or longer than stated",
    "line.impedance": "it has {z0:.0f} Ω, not {type:g} Ω: a different type from the one stated",
    "line.echo": "an echo at {at:.1f} m: a bad joint, a kink or water",
    "line.loss": "{db:.2f} dB at {mhz:.0f} MHz",
    "line.lossy": "it loses {loss}, and {table:.2f} dB is usual: it may be old, wet or another type",
    "line.lossless": (
        "it loses {loss}, and {table:.2f} dB is usual: shorter, or another type, or its far end was neither open nor "
        "shorted"
    ),
    "line.length": "{length:.1f} m, loss {loss} (table {table:.2f} dB)",
    "line.ohm": "{z0:.0f} Ω",
    "line.no_ohm": "too short in wavelengths to show its impedance",
    "line.splice": "a connector or a splice at {at:.1f} m",
    "line.too_little": "its loss is too small to judge from this sweep; sweep to a higher frequency",
    "line.beyond": (
        "nothing is shown beyond {far:.1f} m, where the far end would hide a bad joint; to check that part, turn the "
        "line round and sweep it again"
    ),
    # -- Pad, meter, noise -------------------------------------------------------------------------------------------
    "pad.none": "The second trace is of the path without the pad: it has no loss; insert the pad and repeat it",
    "pad.at": "{db:.2f} dB at {at:hz} MHz",
    "pad.missing": "the traces do not reach {at} MHz",
    "pad.label": "the label says {label:g} dB, which is {off:.1f} dB off: use the measured figures",
    "meter.none": "No load was read yet",
    "meter.few": "{count} of {needed} loads: the meter's accuracy is not known yet",
    "meter.good": (
        "Over {count} loads from SWR {low:.2f} to {high:.2f} the meter reads {side} by {seen:.3f} in |Γ|; in that "
        "range it counts as having {directivity:.0f} dB directivity, and beyond it its stated accuracy counts"
    ),
    "noise.floor": "Noise {dbm:level} dBm in {rbw:g} kHz{spurs:if|; spurs of its own, the strongest }{spurs}",
    "noise.spur": "{dbm:level} dBm at {at:mhz} MHz",
    "check.name": "{kind}, {at:time}",
    "check.incomplete": "incomplete: {why}",
    # -- Paths -------------------------------------------------------------------------------------------------------
    "path.piece": "{name} {figures:names} dB",
    "path.not_measured": "{name}, not measured",
    "path.entered": "an offset of {db:g} dB set in the analyzer was subtracted",
    "path.none": "no pad",
    "path.told": "{pieces:list}",
    "path.moved": "referred to the {where} through {length:.1f} m of line with up to {loss:.2f} dB of loss",
}
