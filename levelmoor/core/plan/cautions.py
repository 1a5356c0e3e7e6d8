"""Cautions, each for the step where it matters; local codes, the manuals and licensed practice come first."""

INPUT = "Discharge the feed line before it goes to the analyzer; static and nearby transmitters destroy its input."
NO_KEYING = (
    "Never key a transmitter into an analyzer without the pad that is planned for it, or near one that is connected."
)
RAISING = (
    "Look up first: power lines, ladder, roof, mast in the wind, lightning. Raise nothing that can fall on a line."
)
STEP_BACK = "Let go of the element, step back about 1.5 m, wait, then sweep."
TRANSMITTING = (
    "Transmit only where licensed: identify, lowest power that moves the meter, briefly, nobody near the antenna; "
    "no analyzer connected."
)
PAD_FIRST = "Pad in place before the radio is connected; check its watts and the input's maximum once more."
KEY_BRIEFLY = "Transmit only where licensed, at the lowest power that does; key briefly: radio and pad get hot."
EXPOSURE = "Keep people away from a keyed antenna, keep the test inside the load, follow the national exposure rules."
HIGH_VOLTAGE = "High voltage at antenna ends, coils and in tuners: ground the tuner, adjust nothing under power."
TUNER = (
    "Tuner grounded, cover on, nobody touches it or the wire's end while it is keyed: high voltage, RF burns. No knob "
    "moves under more than a tuning carrier of about 10 W; the radio's manual first. Never key into an analyzer."
)
TUNING_CARRIER = (
    "Transmit only where licensed: identify, about 10 W, as short as the tuner takes; then let the radio cool. No "
    "analyzer connected, nobody near the antenna."
)
HEAT = (
    "Into a load where one will do. Nobody touches it while it is keyed or hot: cores, loads and tuners burn hands; "
    "nothing that burns near it, and never alone. Stop at the temperature of the manual, or where it smells."
)
CLAMP = (
    "A clamp goes on with the transmitter off and locked; no hand at line or antenna while it is keyed: RF burns. "
    "Transmit only where licensed, identify."
)
BEFORE_A_MOVE = (
    "Before a hand goes to it: transmitter off and locked, ends and coils discharged; lower the mast clear of power "
    "lines, and wear glasses where wire is cut. Never adjust under power."
)
UP_AGAIN = "Raising it again: look up first. Let go and step back before the sweep; a hand at the element spoils it."
CARRIER = (
    "Where a meter needs a carrier: licensed only, identify, about 10 W for seconds, never while a hand is at the "
    "antenna."
)
VEHICLE = "Vehicle: route and tension the cable as in use, adjust nothing while driving, mind the heat in a parked car."
DEFER = "Local codes, the manuals and licensed practice come first."
