"""Questions, warnings and notes that stand beside the verdicts."""

SENTENCES = {
    "ask.adjusted": "{one} clearly differs from {last}: was the product adjusted between them?",
    "ask.plane": "{one} reads about as much as {last}, but rotated: was the reference plane moved between them?",
    "note.scalar": "{name} has SWR only, so it cannot show R, X or resonance.",
    "note.active": "{name} reflects more than it is sent, which no passive sample can; check the calibration.",
    "note.two_repeats": "{one} and {other} are repeats; three are needed to know their spread.",
    "note.not_radiation": (
        "A match is not radiation: a sweep through a tuner shows the tuner's range and loss, not the antenna."
    ),
    "note.counterfeit": "{label} may be a counterfeit: {why}",
    "note.control": "{label} is a control: it is shown, but not counted.",
    "note.one_sample": "One sample: the result is about this unit, not about the model.",
    "note.band_moved": (
        "{name} in the claim {claim} was the band of region {then}, {old:range}; it is now judged as that of region "
        "{now}, {new:range}. Write the range in MHz if you mean the other."
    ),
    "note.retired": "{name} no longer belongs to the team; evidence that rests on it keeps its figures.",
}
