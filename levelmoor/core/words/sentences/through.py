"""What sweeps through an article show."""

SENTENCES = {
    "through.found": "The {name} is {value} ± {u} at {at:mhz} MHz; {kind}{limit} is claimed.",
    "through.nothing": "Nothing was swept on {window}.",
    "through.why": "{found} {why}",
    "through.not_believed": ("{found} At {at:mhz} MHz the fixture lets no more than {most} be believed ({stray})."),
    "through.lone": "That point is alone, as a signal on the air would make it; sweep again, or closer there.",
    "through.uncovered": "Only {span:range} was swept of {window}; sweep all of it.",
    "through.coarse": "Steps up to {step:step} lie in {window}; sweep all of it with no step above {wanted:step}.",
    "stray.taken_off": "the empty fixture was swept and taken off",
    "stray.assumed": "the empty fixture was not swept; 0.3 pF assumed",
    "stray.elsewhere": "the empty fixture was swept over {span:range}, not here, so 0.3 pF are assumed",
    "stray.in_part": (
        "the empty fixture was swept over {span:range} and taken off there; elsewhere 0.3 pF are assumed"
    ),
}
