"""Frequencies as people write them, and as Levelmoor shows them."""

import math
import re

UNITS_HZ = {"hz": 1.0, "khz": 1e3, "k": 1e3, "mhz": 1e6, "m": 1e6, "ghz": 1e9, "g": 1e9}
HIGHEST_HZ = 300e9
DOUBTFUL_FROM = 1800.0
"""A number without a unit from here on is as likely kHz as MHz: 7100 is in a band as kHz, 5760 as MHz."""
LOWEST_BAND_HZ = 100e3
MHZ_DECIMALS = 3
"""So many decimals have the MHz that are shown; nobody writes kHz with them."""
_WRITTEN = re.compile(r"^([+-]?[0-9.,]+(?:e[+-]?\d+)?)\s*([a-z]*)$", re.IGNORECASE)


class DoubtfulFrequency(ValueError):
    """A frequency that could mean more than one thing; the message asks."""


def parse_frequency(text: str, asks: bool = False) -> float:
    """Frequency in Hz from `7.2`, `7200 kHz`, `7.2MHz`, `144.5M`; a bare number is MHz, with an exponent (`7.2e6`) Hz.
    Where nothing beside it says MHz, it `asks` about a bare number below 0.1, and from 1800 on with fewer than three
    decimals.

    One comma is a decimal comma. Several separators (`14.205,5`) are asked about, not guessed.

    Raises
    ------
    DoubtfulFrequency
        If the digits are grouped in a way that leaves the value open, or it may be kHz as well as MHz.
    ValueError
        If it is not a frequency, is not above zero, or is above 300 GHz.
    """
    written = text.strip().replace("\u00a0", " ")
    match = _WRITTEN.match(written)
    unit = match[2].lower() if match else ""
    if not match or (unit and unit not in UNITS_HZ):
        raise ValueError(f'"{text}" is not a frequency; write it like 7.2, 7200 kHz or 144.5M')
    digits = match[1]
    if digits.count(".") + digits.count(",") > 1:
        plain = re.sub(r"[.,]", "", digits)
        first = re.split(r"[.,]", digits)[0]
        raise DoubtfulFrequency(
            f'"{text}" is unclear: is it {first}.{plain[len(first) :]} MHz? Write it with one decimal point and a unit'
        )
    try:
        value = float(digits.replace(",", "."))
    except ValueError:
        raise ValueError(f'"{text}" is not a frequency; write it like 7.2, 7200 kHz or 144.5M') from None
    if (
        unit in ("hz", "khz", "k")
        and re.fullmatch(r"[1-9]\d{0,2}(?:,\d{3}|\.\d{3})", digits)
        and ("," in digits or value * UNITS_HZ[unit] < LOWEST_BAND_HZ)
    ):
        plain = re.sub("[.,]", "", digits)
        raise DoubtfulFrequency(f'"{text}" is unclear: is it {plain} {match[2]}? Write it without the comma or point')
    decimals = len(digits.replace(",", ".").partition(".")[2])
    if (
        asks
        and not unit
        and "e" not in digits.lower()
        and ((value >= DOUBTFUL_FROM and decimals < MHZ_DECIMALS) or 0 < value * 1e6 < LOWEST_BAND_HZ)
    ):
        likely = ("kHz", "MHz") if value >= DOUBTFUL_FROM else ("MHz", "GHz")
        either = " or ".join(f"{digits} {u}" for u in likely)
        raise DoubtfulFrequency(f'"{text}" is unclear: add its unit, as in {either}')
    # Rounding to a thousandth of a hertz keeps 7.2 MHz at 7200000.0 whatever binary makes of 7.2.
    hertz = round(value * UNITS_HZ[unit or ("hz" if "e" in digits.lower() else "mhz")], 3)
    if not math.isfinite(hertz) or hertz <= 0:
        raise ValueError(f'"{text}" is not a frequency above zero')
    if hertz > HIGHEST_HZ:
        raise ValueError(f'"{text}" is above 300 GHz; a bare number is in MHz, so add the unit, as in 7200 kHz')
    return hertz


def parse_frequencies(text: str) -> list[float]:
    """Several frequencies as people write them, in Hz: between them a semicolon, a comma with a blank behind it, or a
    comma where they have decimal points; any other comma is a decimal one.

    Raises
    ------
    ValueError
        Where one of them is not a frequency.
    """
    parts = [part.strip(" ,") for part in re.split(r";|,\s", text)]
    every = [one for part in parts for one in (part.split(",") if "." in part else [part])]
    return [parse_frequency(one) for one in every if one.strip()]
