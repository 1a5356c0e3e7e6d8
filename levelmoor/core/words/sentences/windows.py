"""What a sweep, readings or edges from a notebook say of a window."""

SENTENCES = {
    # -- Whether a sweep is fine enough ------------------------------------------------------------------------------
    "coarse.points": "only {count} of the sweep's points fall inside the window, {needed} are needed; {again}",
    "coarse.step": "a step of {step:step} in the window is more than a twentieth of it; {again}",
    "coarse.share": "a step of {step:step} at {at:mhz} MHz could hide a narrow resonance; {again}",
    "coarse.dip": "the dip at {at:hz} MHz is only {steps:.1f} steps wide, {needed} are needed; {again}",
    "coarse.peak": "the peak at {at:hz} MHz is only {steps:.1f} steps wide, {needed} are needed; {again}",
    "coarse.leap": ("the reflection leaps between two points near {at:hz} MHz, what lies between is unknown; {again}"),
    "coarse.again": "sweep again with a step of {step:step} or less",
    "coarse.spot": (
        "nothing was read at {at:hz} MHz, and what lies on both sides of it is too far off to read between; take a "
        "reading at that frequency"
    ),
    "coarse.survey": "{why}; about {swr:swr}, by the survey",
    # -- Whether it covers the window --------------------------------------------------------------------------------
    "window.gap_there": "the sweep ({span:range}) has a gap from {gap:range} where the window lies",
    "window.not_reached": "the sweep ({span:range}) does not reach the window",
    "window.not_covered": "the sweep ({span:range}) does not cover the whole window; {again}",
    "window.hole": "nothing was measured between {low:hz} and {high:hz} MHz; {again} in one go",
    "window.sweep_all": "sweep {window:range} with room on both sides",
    # -- The verdict on a level --------------------------------------------------------------------------------------
    "window.pass": "{where}, within the limit of {limit:limit}{guard:if| with its guard band}{edge}",
    "window.fail": "{where}, beyond the limit of {limit:limit}{guard:if| with its guard band}{edge}",
    "window.too_close": (
        "{where}; the limit of {limit:limit} lies within the uncertainty, and the probability that it is met is "
        "{chance:percent} %"
    ),
    "window.worst": "the worst SWR in the window is {swr:swr} at {at:hz} MHz",
    "window.passes": " (up to {swr:swr} passes)",
    "window.fails": " (above {swr:swr} fails)",
    "window.coarse_fail": "{found}; a measured point decides, though the sweep is not one that could pass",
    "window.lone": (
        "one point alone, {swr:swr} at {at:hz} MHz, is beyond the limit of {limit:limit}, as a signal on the air "
        "would make it; sweep again, or take a second reading there"
    ),
    "window.other_impedance": (
        "SWR alone was read in {read:g} ohm and the claim refers to {claimed:g} ohm: {swr:swr} there may be anything "
        "from {low:swr} to {high:swr} here, {low_ohm:.0f} to {high_ohm:.0f} ohm being possible; sweep with R and X"
    ),
    "dip.outside": (
        "the nearest dip is at {at:mhz} MHz{at_edge:if|, at the sweep's end}, {away:step} ({share:.1f} %) {side} the "
        "window, as if the element were {element}"
    ),
    # -- Read off: resonance and bandwidth ---------------------------------------------------------------------------
    "resonance.scalar": "A sweep of SWR alone does not show where X is zero; sweep with R and X.",
    "resonance.spot": (
        "No X is zero at one frequency exactly; write how near to {name} it is claimed to be, such as {name} ±1 %."
    ),
    "resonance.pass": "X is zero at {at:mhz} MHz ({kind}), inside the window.",
    "resonance.open": "X is zero so near to the window's edge, or so nearly, that it is left open.",
    "resonance.none": "X is nowhere zero in the sweep, which covers the window.",
    "resonance.outside": "X is zero at {at:mhz} MHz, outside the window.",
    "width.read": "{least:if|At least }{width:step} wide at {swr:g}:1, {span:range}{inside}",
    "width.inside": ", {width:step} of it inside {window}",
    "width.nothing": "Nothing in the window is within {swr:g}:1{outside:if|; }{outside}",
    "width.typed": "Edges typed{day:if| on }{day}: {width:step} wide at {swr:g}:1, {span:range}{inside}",
    "width.pass": "{found}, at least the {claimed:step} claimed.",
    "width.open": "{found}, with an edge beyond the sweep; sweep with more room on both sides.",
    "width.fail": "{found}; less than the {claimed:step} claimed.",
    "width.too_close": "{found}; the {claimed:step} claimed lie within the uncertainty.",
    "plane.turns": (
        "A feed line turns resonance and width; check the line on the bench, or sweep at the sample's connector."
    ),
    "plane.other_line": (
        "The feed line is of {line:g} ohm and turns what is read at its shack end; check it on the bench, or sweep at "
        "the sample's connector."
    ),
    "plane.no_line": (
        "No feed line is noted with the setup, and what one makes of {swr:swr} at its shack end depends on it: note "
        "the line and check it on the bench, or sweep at the sample's connector."
    ),
    "plane.holds": "{found:bare}; read at the shack end, it holds for a feed line of {line:g} ohm.",
    "plane.loss": (
        "Loss in the feed line lowers the SWR at its shack end, so staying within the limit there does not show it at "
        "the sample's connector; check the line on the bench, or sweep at the sample's connector."
    ),
    # -- Usability ---------------------------------------------------------------------------------------------------
    "use.all": "Within {limit:g}:1 across the whole band.",
    "use.part": "Within {limit:g}:1 on {share:percent} % of the band.",
    "use.none": "Above {limit:g}:1 everywhere in the band.",
    "use.readings": "Within {limit:g}:1 at {within} of {of} readings; what lies between them was not read.",
    "use.radio_full": "Full power, {watts}, across the band{arrives}.{source}{range}",
    "use.radio_reduced": (
        "Full power on {share:percent} % of the band, {watts} at its worst, SWR {swr:swr}{arrives}.{source}{range}"
    ),
    "use.radio_tuner": "Its tuner is needed at SWR {swr:swr}; it reaches {reaches:g}:1{arrives}.{source}{range}",
    "use.radio_none": "Not usable at SWR {swr:swr} without a tuner beside it{arrives}.{source}{range}",
    "use.radio_beyond": (
        "Its fold-back is written down up to SWR {last:g} and the band reaches {swr:swr}; what it gives there is not "
        "known, so it counts as not usable without a tuner{arrives}.{source}{range}"
    ),
    "use.arrives_antenna": "; {watts} arrive at the antenna",
    "use.arrives_here": "; {watts} go into what is connected",
    "use.fold_back": " Fold-back {source}.",
    "use.transmits": " It transmits on {span:range} of it alone.",
}
