"""What a sweep, readings or edges from a notebook say of a window."""

SENTENCES = {
    # -- Whether a sweep is fine enough ------------------------------------------------------------------------------
    "coarse.points": (
        "only {count:count|point|points} of the sweep {count:verb|lies|lie} in the window, and {needed} are needed; "
        "{again}"
    ),
    "coarse.step": "the steps in the window are up to {step:step}, more than a twentieth of it; {again}",
    "coarse.share": "steps of {step:step} at {at:mhz} MHz could hide a narrow resonance; {again}",
    "coarse.dip": "the dip at {at:hz} MHz is only {steps:.1f} steps wide, and {needed} are needed; {again}",
    "coarse.peak": "the peak at {at:hz} MHz is only {steps:.1f} steps wide, and {needed} are needed; {again}",
    "coarse.leap": (
        "the reflection jumps between two points near {at:hz} MHz, and what lies between them is unknown; {again}"
    ),
    "coarse.again": "sweep again with steps of {step:down} or less",
    "coarse.spot": (
        "there is no reading at {at:hz} MHz, and its neighbours are too far away to interpolate; take a reading at "
        "that frequency"
    ),
    "coarse.survey": "{why}. The wide sweep reads about {swr:swr}",
    # -- Whether it covers the window --------------------------------------------------------------------------------
    "window.gap_there": "the sweep ({span:range}) has a gap at {gap:range}, inside the window",
    "window.not_reached": "the sweep ({span:range}) does not reach the window",
    "window.not_covered": "the sweep ({span:range}) does not cover the whole window; {again}",
    "window.hole": "nothing was measured between {low:hz} and {high:hz} MHz; {again} without a gap",
    "window.sweep_all": "sweep {window:range} with room on both sides",
    # -- The verdict on a level --------------------------------------------------------------------------------------
    "window.pass": "{where}; the limit is {limit:limit}{edge}",
    "window.fail": "{where}; the limit is {limit:limit}{edge}",
    "window.too_close": (
        "{where}; the limit of {limit:limit} lies within the uncertainty, and is met with a probability of "
        "{chance:percent} %"
    ),
    "window.worst": "SWR is {swr:swr} at worst ({at:hz} MHz)",
    "window.passes": ", and up to {swr:swr} passes with this bench",
    "window.fails": ", and above {swr:swr} fails with this bench",
    "window.coarse_fail": "{found}. The sweep is too coarse for a Pass, but a point measured beyond the limit fails",
    "window.lone": (
        "a single point ({swr:swr} at {at:hz} MHz) is beyond the limit of {limit:limit}, and a stray signal could "
        "have caused it; sweep again, or take a second reading there"
    ),
    "window.other_impedance": (
        "the sweep has SWR alone, referred to {read:g} Ω, but the claim refers to {claimed:g} Ω: {swr:swr} there "
        "means {low:swr} to {high:swr} here ({low_ohm:.0f} to {high_ohm:.0f} Ω); sweep with R and X"
    ),
    "dip.outside": (
        "the nearest dip is at {at:mhz} MHz{at_edge:if|, the end of the sweep}, {away:step} ({share:.1f} %) {side} "
        "the window, as if the element were {element}"
    ),
    # -- Read off: resonance and bandwidth ---------------------------------------------------------------------------
    "resonance.scalar": "A sweep of SWR alone does not show where X is zero; sweep with R and X.",
    "resonance.spot": (
        "X is never zero at one frequency exactly; write how near to {name} it is claimed to be, such as {name} ±1 %."
    ),
    "resonance.pass": "X is zero at {at:mhz} MHz ({kind}), inside the window.",
    "resonance.open": "X is zero too near the edge of the window, or too briefly, to decide.",
    "resonance.none": "X is not zero anywhere in the sweep, which covers the window.",
    "resonance.outside": "X is zero at {at:mhz} MHz, outside the window.",
    "width.read": "{least:if|At least }{width:step} wide at {swr:g}:1, {span:range}{inside}",
    "width.inside": ", {width:step} of it inside {window}",
    "width.nothing": "Nothing in the window is within {swr:g}:1{outside:if|; }{outside}",
    "width.typed": (
        "By the edges in the notebook{day:if| of }{day}: {width:step} wide at {swr:g}:1, {span:range}{inside}"
    ),
    "width.pass": "{found}; at least {claimed:step} is claimed.",
    "width.open": "{found}, with an edge beyond the sweep; sweep with more room on both sides.",
    "width.fail": "{found}, less than the {claimed:step} claimed.",
    "width.too_close": "{found}; the {claimed:step} claimed is within the uncertainty.",
    "plane.turns": (
        "A feed line changes resonance and width; check the line on the bench, or sweep at the sample's connector."
    ),
    "plane.other_line": (
        "The feed line has {line:g} Ω and changes what is read at its shack end; check it on the bench, or sweep at "
        "the sample's connector."
    ),
    "plane.no_line": (
        "The setup does not name its feed line, and what a line makes of {swr:swr} at its shack end depends on it: "
        "name the line and check it on the bench, or sweep at the sample's connector."
    ),
    "plane.holds": "{found:bare}; read at the shack end, this holds for a feed line of {line:g} Ω.",
    "plane.loss": (
        "Loss in the feed line lowers the SWR at its shack end, so a Pass there does not show a Pass at the sample's "
        "connector; check the line on the bench, or sweep at the sample's connector."
    ),
    # -- Usability ---------------------------------------------------------------------------------------------------
    "use.all": "Within {limit:g}:1 across the whole band.",
    "use.part": "Within {limit:g}:1 on {share:percent} % of the band.",
    "use.none": "Above {limit:g}:1 everywhere in the band.",
    "use.readings": "Within {limit:g}:1 at {within} of {of} readings; there are no readings between them.",
    "use.radio_full": "Full power, {watts}, across the band{arrives}.{source}{range}",
    "use.radio_reduced": (
        "Full power on {share:percent} % of the band, and {watts} at worst (SWR {swr:swr}){arrives}.{source}{range}"
    ),
    "use.radio_tuner": "SWR {swr:swr} needs the radio's tuner, which reaches {reaches:g}:1{arrives}.{source}{range}",
    "use.radio_none": "Not usable at SWR {swr:swr} without an external tuner{arrives}.{source}{range}",
    "use.radio_beyond": (
        "The radio's fold-back is known up to SWR {last:g}, and the band reaches {swr:swr}; what it delivers there "
        "is unknown, so it counts as not usable without a tuner{arrives}.{source}{range}"
    ),
    "use.arrives_antenna": "; {watts} reaches the antenna",
    "use.arrives_here": "; {watts} reaches what is connected",
    "use.fold_back": " Fold-back {source}.",
    "use.transmits": " It transmits only on {span:range} of it.",
}
