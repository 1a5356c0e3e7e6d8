"""What captures of a keyed radio show: lines against limits, power, what the analyzer may have made."""

SENTENCES = {
    "line.no_level": "the capture has no level at {at:mhz} MHz; sweep as far as that",
    "line.no_path": "the path is not known at {at:mhz} MHz; measure its pieces there",
    "line.no_carrier": "{why}; without it no power and no ratio to the carrier is known",
    "line.unresolved": (
        "within {near:step} of the carrier nothing is told from it; sweep there with a resolution bandwidth of "
        "{rbw:step} and a step of {step:step}, or less"
    ),
    "line.level": "{most:if|at most }{dbm:.1f} dBm{repeats}",
    "line.repeats": ", the mean of {count} captures{spread:if| that spread by }{spread}",
    "line.spread": "{db:.1f} dB",
    "line.away": "{level}, {apart} dB {side} the limit of {limit:.1f} dBm",
    "line.sure": "{away}, more than the guard band of {wide} dB",
    "line.close": "{away}, within the uncertainty of {wide} dB; met with a probability of {chance:percent} %",
    "line.tested": "{found:bare}; {tested}",
    "line.still_own": (
        "at most {dbm:.1f} dBm, some of it perhaps still the analyzer's own; capture it with yet {more:g} dB more pad"
    ),
    "line.noise": (
        "the noise, corrected, is at {dbm:.1f} dBm and hides if the limit of {limit:.1f} dBm is kept; narrow the "
        "resolution bandwidth or use less pad, and capture it again"
    ),
    "line.cancelled": (
        "{dbm:.1f} dBm, and perhaps more; capture it with yet {more:g} dB more pad until it reads the same twice"
    ),
    "line.torn": (
        "captures by the same path read between {low:.1f} and {high:.1f} dBm, farther apart than they can be off; "
        "capture it again, and set the wrong one aside"
    ),
    "line.own_unknown": (
        "the analyzer's own distortion is not written down, so it may have made this itself; capture it again with "
        "{more:g} dB more pad"
    ),
    "line.own_near": (
        "it is {above:.0f} dB above what the analyzer's input makes by its intercepts, less than {room:.0f} dB; "
        "capture it again with {more:g} dB more pad"
    ),
    "line.could_cancel": (
        "what the analyzer's input makes by its intercepts, {own:.1f} dBm, could have cancelled part of an emission "
        "over the limit; capture it again with {more:g} dB more pad"
    ),
    "pad.higher": "with {more:.0f} dB more pad it reads {by:.1f} dB higher: the analyzer had cancelled part of it",
    "pad.lower": "with {more:.0f} dB more pad it reads {by:.1f} dB lower: the analyzer had made it",
    "pad.same": "with {more:.0f} dB more pad it reads the same within {room:.1f} dB: it is the radio's",
    "rule.no_figure": "{words}",
    "capture.problem": "{name}: {why}",
    "emission.worst": "{what} at {at:mhz} MHz{down}: {found:low}",
    "emission.down": ", {db:.1f} dB below the carrier",
    "emission.by_rules": "By {rules}: {found:low}",
    "emission.nothing": "No harmonic was looked at.",
    "emission.less_power": (
        "at {watts:.2g} W it would be {verdict}, and {claimed:g} W are claimed; capture it at {claimed:g} W: {found}"
    ),
    "emission.at_power": "It is not shown at {claimed:g} W: captured at {watts:.2g} W. {found}",
    "emission.fails": (
        "{unit} fails {rules}: {what} at {at:mhz} MHz is {over:.0f} dB over the limit. Whoever transmits with it "
        "answers for that, whatever a sticker says. Levelmoor gives no legal advice."
    ),
    "power.reads": ("{watts:.2g} W ({dbm:.1f} dBm) at {at:mhz} MHz, {by} dB {side} the {claimed:g} W claimed{end}."),
    "power.sure": ", more than the guard band of {wide} dB",
    "power.close": ", within the uncertainty of {wide} dB; met with a probability of {chance:percent} %",
}
