"""What sweeps through an article show."""

SENTENCES = {
    "through.found": "The {name} is {value} at {at:mhz} MHz; {kind}{limit} is claimed.",
    "through.impedance": (
        "The sweep is in {read:g} Ω, without the reflections of its ports, and the claim refers to {claimed:g} Ω; "
        "sweep all four parameters, and save them as .s2p."
    ),
    "through.nothing": "Nothing was swept on {window}.",
    "through.why": "{found} {why}",
    "through.not_believed": "{found} At {at:mhz} MHz the fixture cannot show more than {most} ({stray}).",
    "through.lone": (
        "It is a single point, and a stray signal could have caused it; sweep again, or with finer steps there."
    ),
    "through.uncovered": "Only {span:range} of {window} was swept; sweep all of it.",
    "through.coarse": (
        "The steps in {window} are up to {step:step}; sweep all of it with steps of {wanted:down} or less."
    ),
    "stray.taken_off": "the stray of the empty fixture was subtracted",
    "stray.assumed": "the empty fixture was not swept; 0.3 pF assumed",
    "stray.not_empty": "the sweep of the empty fixture shows something in it, so 0.3 pF is assumed; sweep it empty",
    "stray.elsewhere": "the empty fixture was swept over {span:range}, not here; 0.3 pF assumed",
    "stray.in_part": "the stray of the empty fixture was subtracted over {span:range}; 0.3 pF assumed elsewhere",
}
