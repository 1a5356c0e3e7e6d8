"""What trials of a tuner show: loads matched, times."""

SENTENCES = {
    "trials.not_radiation": "A match is not radiation.",
    "trials.with_note": "{found} {note}",
    "trials.loads_unclear": (
        "The claim does not say clearly which loads it is about; write 10 to 1000 Ω, up to 3:1, or any load."
    ),
    "trials.told": "{good} of {tried} matched within {limit:g}:1 ({share}).",
    "trials.failed": "Not matched: {places}. {told}",
    "trials.failed_once": "One did not match: {places}. Try it again: a single trial does not fail a claim. {told}",
    "trials.close": "Matched at one time and not at another: {places}. {told}",
    "trials.any": "{told}{told:if| }No number of trials can show any load; the grid shows what was tried.",
    "trials.gaps": "{told}{told:if| }Not shown: {gaps}.{unknown}",
    "trials.unknown": " It is not known whether {loads} lie in the claimed range.",
    "trials.pass": "{told} The edges and the inside of the range were tried; what lies between is not shown.",
    "trials.place": "{place} ({words}{repeats})",
    "trials.repeats": ", {good} of {tried} within",
    "trials.more": "{places}; and {count} more",
    "trials.at_power": (
        "Not shown at {power:g} W: {unsaid} made with less power or without stating it; try {them} with {power:g} W, "
        "in steps, and stop at the first sign of heat. {found}"
    ),
    "time.none": "No {what} match was timed yet.",
    "time.told": "{within} of {matches} within {limit:g} s ({share}); the longest took {took:.3g} s at {where}.",
    "time.unsure": (
        "{read} of {matches} read within {limit:g} s, the longest {took:.3g} s at {where}; a time taken by hand is "
        "known to ± {guard:.2g} s, which leaves {open} of them undecided. Film the display or log the tuner to "
        "decide them."
    ),
    "time.once": "{told} Only one took longer: repeat it.",
    "time.few": "{told} At least {fewest} times are needed to show a claim of time.",
}
