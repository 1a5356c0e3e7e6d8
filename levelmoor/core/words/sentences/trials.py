"""What trials of a tuner show: loads matched, times."""

SENTENCES = {
    "trials.not_radiation": "A match is not radiation.",
    "trials.with_note": "{found} {note}",
    "trials.loads_unclear": (
        "Which loads are meant is not written so that it can be judged; write 10 to 1000 Ω, up to 3:1, or any load."
    ),
    "trials.told": "{good} of {tried} matched within {limit:g}:1 ({share}).",
    "trials.failed": "Not matched: {places}. {told}",
    "trials.failed_once": ("Not matched once: {places}. Try it again: one trial alone does not fail a claim. {told}"),
    "trials.close": "Either way: {places}. {told}",
    "trials.any": "{told}{told:if| }No number of trials shows any load; the grid shows what was tried.",
    "trials.gaps": "{told}{told:if| }Not shown: {gaps}.{unknown}",
    "trials.unknown": " Of {loads} it is not known whether the range holds them.",
    "trials.pass": "{told} Tried at the edges and inside; what lies between is not shown.",
    "trials.place": "{place} ({words}{repeats})",
    "trials.repeats": ", {good} of {tried} within",
    "trials.more": "{places}; and {count} more",
    "trials.at_power": (
        "Not shown at {power:g} W: {unsaid} without a stated power or with less; try {them} with {power:g} W, by "
        "steps, and stop at the first sign of heat. {found}"
    ),
    "time.none": "No {what} match was timed yet.",
    "time.told": "{within} of {matches} within {limit:g} s ({share}); the longest {took:.3g} s at {where}.",
    "time.unsure": (
        "{read} of {matches} read within {limit:g} s, the longest {took:.3g} s at {where}; by hand a time is known to "
        "± {guard:.2g} s, which leaves {open} of them open. Film the display or log the tuner where less has to be "
        "told apart."
    ),
    "time.once": "{told} Only one took longer: repeat it.",
    "time.few": "{told} {fewest} times at least show a claim of time.",
}
