"""The words of Levelmoor, each in one sentence: those of its own, and the trade's."""

OWN = {
    "Claim": "One statement of the maker that a measurement can settle, with its limit, its bands and its source.",
    "Evidence": "Everything that was measured, with the conditions it was measured under.",
    "Verdict": "What the evidence says about a claim: Pass, Fail, Too close to call, Not shown or Outside this bench.",
    "Setup": "How the product is mounted and connected; it counts as supplied, with an option, or as a comparison.",
    "Setting": "A position of an adjustable product, such as a mark on a coil, and the bands it is for.",
    "Round": "The time between two adjustments; only evidence of the latest round decides.",
    "Gate": "Something the bench must have shown before a sweep counts, such as a calibration or a known load.",
    "Capture": "A spectrum of a keyed radio, with the path it was taken through.",
    "Trial": "One attempt of a tuner to match one load at one frequency.",
    "Time strip": "SWR at one frequency over some minutes, with marks for what was done.",
    "Settings card": "What each mark of an adjustable antenna gives without readjusting.",
    "Preset card": "Where to set a tuner's knobs for each antenna and frequency.",
}
TRADE = {
    "Adapter": "A piece that joins two connectors; it is calibrated together with the instrument.",
    "Calibration": (
        "Measuring known standards at the reference plane, so that the instrument's own errors can be removed."
    ),
    "Calibration kit": "The open, short and load that an instrument is calibrated with.",
    "Choke": "An accessory that resists current on the outside of a feed line; its choking impedance is in ohms.",
    "Decision rule": "How the uncertainty counts in a verdict: guarded, or simple acceptance.",
    "Dip": "The frequency where SWR is lowest.",
    "Feed line": "The cable between the antenna and the instrument or radio.",
    "Guard band": "The distance from the limit within which a result is too close to call.",
    "Harmonic": "An emission at a whole multiple of the carrier's frequency.",
    "Impedance": "Resistance R and reactance X at one frequency, in ohms.",
    "Insertion loss": "What is lost between the ports of a pad, filter or adapter, in dB.",
    "Known load": "A load whose return loss is on record; sweeping it proves the calibration.",
    "Mismatch loss": "The part of the power that reflection keeps from reaching the load, in dB.",
    "Noise floor": "The weakest level an analyzer can show.",
    "Pad": "An attenuator, which protects an input and makes a level readable.",
    "Probability of conformity": "How likely it is that the true value meets the limit, given the uncertainty.",
    "Reference plane": "The place that the reflection is referred to, usually the sample's connector.",
    "Reflection coefficient": (
        "The reflected wave divided by the forward wave, Γ; SWR and return loss follow from its size."
    ),
    "Repeat": "Another sweep of the same sample, setup, setting and round, with the same instrument on the same day.",
    "Resolution bandwidth": "How far apart two signals must be for a spectrum analyzer to tell them apart.",
    "Resonance": "Where the reactance X is zero.",
    "Return loss": "How far the reflection lies below the forward wave, in dB; more is better.",
    "Spur": "An unwanted emission that is not a harmonic.",
    "Standard uncertainty": "The standard deviation of a result, u; 2u covers about 95 % of cases.",
    "Sweep": "Readings over a range of frequencies, usually a file from an analyzer.",
    "SWR": "Standing wave ratio: 1:1 is a perfect match, and higher means more reflection.",
    "Tuner": "A box that matches an antenna to the radio; a match says nothing about radiation.",
    "Window": "The band or range of frequencies that a claim is about.",
}
"""At most forty in all, twelve of them its own."""
