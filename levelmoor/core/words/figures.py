"""Figures as Levelmoor shows them, with the digits that mean something."""

import math


def format_mhz(frequency_hz: float, decimals: int = 3) -> str:
    """MHz with at least three decimals, six where the value has them, grouped by three: `14.200`, `5.351 500`."""
    whole, fraction = f"{frequency_hz / 1e6:.6f}".split(".")
    fraction = fraction.rstrip("0").ljust(decimals, "0")
    fraction = fraction.ljust(-(-len(fraction) // 3) * 3, "0")
    groups = [fraction[i : i + 3] for i in range(0, len(fraction), 3)]
    return f"{whole}." + "\u202f".join(groups)


def brief_mhz(frequency_hz: float) -> str:
    """MHz in a sentence, with the decimals that say something: `146`, `145.5`, `5.351 5`."""
    whole, _, fraction = f"{frequency_hz / 1e6:.6f}".rstrip("0").partition(".")
    groups = [fraction[i : i + 3] for i in range(0, len(fraction), 3)]
    return f"{whole}." + "\u202f".join(groups) if fraction else whole


def brief_range(low_hz: float, high_hz: float) -> str:
    """`14-14.35 MHz` with an en dash."""
    return f"{brief_mhz(low_hz)}\u2013{brief_mhz(high_hz)} MHz"


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


def step_at_most(step_hz: float) -> str:
    """A step that must not be exceeded, in two digits that do not exceed it either."""
    place = 10.0 ** (math.floor(math.log10(step_hz)) - 1)
    return format_step(math.floor(step_hz / place * (1 + 1e-12)) * place)


def format_signed(level: float, decimals: int = 1) -> str:
    """A level with a minus sign that is one: `−28.5`."""
    return f"{level:.{decimals}f}".replace("-", "\u2212")


def format_swr(swr: float) -> str:
    """An SWR with the digits that mean something: two decimals, one above 10, none above 100."""
    if math.isinf(swr):
        return "infinite"
    return f"{swr:.2f}" if swr < 10 else f"{swr:.1f}" if swr < 100 else f"{swr:.0f}"
