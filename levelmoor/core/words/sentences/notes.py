"""Questions, warnings and notes that stand beside the verdicts."""

SENTENCES = {
    "ask.adjusted": "{one} clearly differs from {last}: was the article adjusted between them?",
    "ask.plane": (
        "{one} reads about as much as {last}, and is turned against it: was the reference plane moved between them?"
    ),
    "note.scalar": "{name} knows only SWR: R, X and resonance cannot be shown from it.",
    "note.active": ("{name} reflects more than it is sent; a passive sample cannot, so check the calibration."),
    "note.two_repeats": "{one} and {other} are repeats; three repeats are needed to know how far they spread.",
    "note.not_radiation": (
        "A match is not radiation: a sweep through a tuner shows the tuner's range and loss, not the antenna."
    ),
    "note.counterfeit": "{label} may be a counterfeit: {why}",
    "note.control": "{label} is a control: it is shown, and not counted.",
    "note.one_sample": "One sample: the result is about this unit, not about the model.",
    "note.band_moved": (
        "{name} in the claim {claim} is the band of region {then}, {old:range}; it is judged as that of region {now}, "
        "{new:range}. Write the range in MHz where the other is meant."
    ),
    "note.retired": "{name} is not the team's any more; what rests on it keeps its figures.",
}
