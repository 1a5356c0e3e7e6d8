"""Frequencies as people write them, and as Levelmoor shows them."""

import math
import re

UNITS_HZ = {"hz": 1.0, "khz": 1e3, "k": 1e3, "mhz": 1e6, "m": 1e6, "ghz": 1e9, "g": 1e9}
HIGHEST_HZ = 300e9
_WRITTEN = re.compile(r"^([+-]?[0-9.,]+(?:e[+-]?\d+)?)\s*([a-z]*)$", re.IGNORECASE)


class DoubtfulFrequency(ValueError):
    """A frequency that could mean more than one thing; the message asks."""


def parse_frequency(text: str) -> float:
    """Frequency in Hz from `7.2`, `7200 kHz`, `7.2MHz`, `144.5M`; a bare number is MHz, with an exponent (`7.2e6`) Hz.

    One comma is a decimal comma. Several separators (`14.205,5`) are asked about, not guessed.

    Raises
    ------
    DoubtfulFrequency
        If the digits are grouped in a way that leaves the value open.
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
            f'"{text}" is doubtful: is it {first}.{plain[len(first) :]} MHz? Write it with one decimal point and a unit'
        )
    try:
        value = float(digits.replace(",", "."))
    except ValueError:
        raise ValueError(f'"{text}" is not a frequency; write it like 7.2, 7200 kHz or 144.5M') from None
    # Rounding to a thousandth of a hertz keeps 7.2 MHz at 7200000.0 whatever binary makes of 7.2.
    hertz = round(value * UNITS_HZ[unit or ("hz" if "e" in digits.lower() else "mhz")], 3)
    if not math.isfinite(hertz) or hertz <= 0:
        raise ValueError(f'"{text}" is not a frequency above zero')
    if hertz > HIGHEST_HZ:
        raise ValueError(f'"{text}" is above 300 GHz; a bare number is MHz, write the unit, as in 7200 kHz')
    return hertz


def parse_frequencies(text: str) -> list[float]:
    """Several frequencies as people write them, in Hz: between them a semicolon, a comma with a blank behind it, or a
    comma where they have decimal points; any other comma is a decimal one.

    Raises
    ------
    ValueError
        Where one of them is no frequency.
    """
    parts = [part.strip(" ,") for part in re.split(r";|,\s", text)]
    every = [one for part in parts for one in (part.split(",") if "." in part else [part])]
    return [parse_frequency(one) for one in every if one.strip()]


def format_mhz(frequency_hz: float, decimals: int = 3) -> str:
    """MHz with at least three decimals, six where the value has them, grouped by three: `14.200`, `5.351 500`."""
    whole, fraction = f"{frequency_hz / 1e6:.6f}".split(".")
    fraction = fraction.rstrip("0").ljust(decimals, "0")
    fraction = fraction.ljust(-(-len(fraction) // 3) * 3, "0")
    groups = [fraction[i : i + 3] for i in range(0, len(fraction), 3)]
    return f"{whole}." + "\u202f".join(groups)


def format_range(low_hz: float, high_hz: float) -> str:
    """`14.000-14.350 MHz` with an en dash."""
    return f"{format_mhz(low_hz)}\u2013{format_mhz(high_hz)} MHz"


def format_uncertainty(hz: float) -> str:
    """An uncertainty with the two digits that mean something, in the unit that reads best."""
    if not math.isfinite(hz) or hz <= 0:
        return "not known" if hz else "0 Hz"
    size = 10.0 ** (math.floor(math.log10(hz)) - 1)
    return format_step(round(hz / size) * size)


def format_to(value_hz: float, uncertainty_hz: float) -> str:
    """A step or shift with no more digits than its uncertainty leaves it."""
    if not math.isfinite(uncertainty_hz) or uncertainty_hz <= 0 or not value_hz:
        return format_step(abs(value_hz))
    place = 10.0 ** (math.floor(math.log10(uncertainty_hz)) - 1)
    return format_step(round(abs(value_hz) / place) * place)


def format_step(step_hz: float) -> str:
    """A step or a width in the unit that reads best: `250 Hz`, `10.5 kHz`, `9 MHz`."""
    for unit, size in (("GHz", 1e9), ("MHz", 1e6), ("kHz", 1e3)):
        if step_hz >= size:
            return f"{step_hz / size:.4g} {unit}"
    return f"{step_hz:.3g} Hz"
