"""Cautions, each for the step where it matters; local codes, the manuals and licensed practice come first."""

INPUT = (
    "Discharge the feed line before you connect it to the analyzer; static and nearby transmitters destroy its input."
)
NO_KEYING = "Never key a transmitter into an analyzer without the planned pad, or near an analyzer that is connected."
RAISING = (
    "Look up first: power lines, ladder, roof, wind on the mast, lightning. Raise nothing that could fall on a line."
)
STEP_BACK = "Let go of the element, step back about 1.5 m, wait, then sweep."
TRANSMITTING = (
    "Transmit only if licensed: identify, use the lowest power that moves the meter, be brief, keep everybody "
    "away from the antenna, and disconnect the analyzer."
)
PAD_FIRST = "Insert the pad before you connect the radio; check its rating and the maximum of the input once more."
KEY_BRIEFLY = (
    "Transmit only if licensed, at the lowest power that does the job; key briefly, since radio and pad get hot."
)
EXPOSURE = "Keep people away from a keyed antenna, keep the power in the load, and follow your national exposure rules."
HIGH_VOLTAGE = "High voltage at antenna ends, at coils and in tuners: ground the tuner, and adjust nothing under power."
TUNER = (
    "Ground the tuner and keep its cover on. Nobody touches it or the end of the wire while it is keyed: high "
    "voltage, RF burns. Turn no knob under more than a tuning carrier of about 10 W; read the radio's manual "
    "first. Never key into an analyzer."
)
TUNING_CARRIER = (
    "Transmit only if licensed: identify, about 10 W, only as long as the tuner needs; then let the radio cool. "
    "Disconnect the analyzer, and keep everybody away from the antenna."
)
HEAT = (
    "Use a load if one will do. Nobody touches anything that is keyed or hot: cores, loads and tuners burn hands. "
    "Keep flammable things away, and never work alone. Stop at the temperature in the manual, or if it smells."
)
CLAMP = (
    "Switch the transmitter off and lock it before you fit a clamp; keep hands off line and antenna while it is "
    "keyed: RF burns. Transmit only if licensed, and identify."
)
BEFORE_A_MOVE = (
    "Before you touch it: transmitter off and locked, ends and coils discharged. Lower the mast clear of power "
    "lines, and wear eye protection when you cut wire. Never adjust under power."
)
UP_AGAIN = "Before you raise it again, look up. Let go and step back before you sweep; a hand at the element spoils it."
CARRIER = (
    "If a meter needs a carrier: only if licensed, identify, about 10 W for seconds, and never with a hand at the "
    "antenna."
)
VEHICLE = (
    "Vehicle: route and fasten the cable as in use, adjust nothing while driving, and beware of heat in a parked car."
)
DEFER = "Local codes, the manuals and licensed practice come first."
