"""What captures of a keyed radio show: lines against limits, power, what the analyzer may have made."""

SENTENCES = {
    "line.no_level": "the capture has no level at {at:mhz} MHz; sweep that far",
    "line.no_path": "the path is not known at {at:mhz} MHz; measure its parts there",
    "line.no_carrier": "{why}; without it, neither power nor ratio to the carrier is known",
    "line.unresolved": (
        "within {near:step} of the carrier nothing can be separated from it; sweep there with a resolution bandwidth "
        "of {rbw:step} and steps of {step:step} or less"
    ),
    "line.level": "{most:if|at most }{dbm:dbm} dBm{repeats}",
    "line.repeats": ", the mean of {count} captures{spread:if| that spread by }{spread}",
    "line.spread": "{db:.1f} dB",
    "line.away": "{level}, {apart} dB {side} the limit of {limit:dbm} dBm",
    "line.sure": "{away}, more than the guard band of {wide} dB",
    "line.close": "{away}, within the uncertainty of {wide} dB; met with a probability of {chance:percent} %",
    "line.tested": "{found:bare}; {tested}",
    "line.still_own": (
        "at most {dbm:dbm} dBm, and some of it may still come from the analyzer; capture it with another {more:g} "
        "dB of pad"
    ),
    "line.noise": (
        "the corrected noise is at {dbm:dbm} dBm and hides whether the limit of {limit:dbm} dBm is met; narrow "
        "the resolution bandwidth or use less pad, and capture it again"
    ),
    "line.cancelled": (
        "{dbm:dbm} dBm, and perhaps more; add another {more:g} dB of pad until two captures read the same"
    ),
    "line.torn": (
        "captures through the same path read between {low:dbm} and {high:dbm} dBm, further apart than their "
        "uncertainty; capture it again, and leave the wrong one out"
    ),
    "line.own_unknown": (
        "the analyzer's own distortion is not stated, so it may have made this itself; capture it again with "
        "{more:g} dB more pad"
    ),
    "line.own_near": (
        "it is {above:.0f} dB above what the analyzer's input makes by its intercepts, and {room:.0f} dB is needed; "
        "capture it again with {more:g} dB more pad"
    ),
    "line.could_cancel": (
        "what the analyzer's input makes by its intercepts, {own:dbm} dBm, could have cancelled part of an "
        "emission over the limit; capture it again with {more:g} dB more pad"
    ),
    "pad.higher": "with {more:.0f} dB more pad it reads {by:.1f} dB higher, so the analyzer cancelled part of it",
    "pad.lower": "with {more:.0f} dB more pad it reads {by:.1f} dB lower, so the analyzer made it",
    "pad.same": "with {more:.0f} dB more pad it reads the same within {room:.1f} dB, so it comes from the radio",
    "rule.no_figure": "{words}",
    "capture.problem": "{name}: {why}",
    "emission.worst": "{what} at {at:mhz} MHz{down}: {found:low}",
    "emission.down": ", {db:.1f} dB below the carrier",
    "emission.by_rules": "By {rules}: {found:low}",
    "emission.nothing": "No harmonic was measured.",
    "emission.less_power": (
        "at {watts:.2g} W it would be {verdict}, but {claimed:g} W is claimed; capture it at {claimed:g} W: {found}"
    ),
    "emission.at_power": "Not shown at {claimed:g} W, because it was captured at {watts:.2g} W. {found}",
    "emission.fails": (
        "{unit} fails {rules}: {what} at {at:mhz} MHz is {over:.0f} dB over the limit. Whoever transmits with it is "
        "responsible, whatever a sticker says. Levelmoor gives no legal advice."
    ),
    "power.reads": "{watts:.2g} W ({dbm:.1f} dBm) at {at:mhz} MHz, {by} dB {side} the {claimed:g} W claimed{end}.",
    "power.sure": ", more than the guard band of {wide} dB",
    "power.close": ", within the uncertainty of {wide} dB; met with a probability of {chance:percent} %",
}
