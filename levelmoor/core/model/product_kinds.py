"""What kind of product is evaluated: it decides which steps of the work are shown first."""

from enum import StrEnum


class ProductKind(StrEnum):
    ANTENNA = "antenna"
    TUNER = "tuner"
    ACCESSORY = "accessory"
    RADIO = "radio"
    UNSTATED = "unstated"


PRODUCT_KIND_WORDS = {
    ProductKind.ANTENNA: "Antenna",
    ProductKind.TUNER: "Tuner",
    ProductKind.ACCESSORY: "Choke, pad or filter",
    ProductKind.RADIO: "Radio",
    ProductKind.UNSTATED: "Something else",
}
CLAIM_EXAMPLES = {
    ProductKind.ANTENNA: "SWR < 1.5 2m",
    ProductKind.TUNER: "matches 16 to 600 ohm to 1.5:1 40m",
    ProductKind.ACCESSORY: "choke 5 kohm 3.5 to 30 MHz",
    ProductKind.RADIO: "harmonics 60 dB 2m 5 W",
    ProductKind.UNSTATED: "SWR < 1.5 2m",
}
"""A claim as the boxes of such products word it."""
