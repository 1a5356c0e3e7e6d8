"""The starting length as it is typed: what comes of it in sentences."""

from collections.abc import Mapping

from levelmoor.core.adjusting.starting_length import (
    RESONATOR_WORDS,
    Resonator,
    asked_about,
    learnt,
    loaded_hz,
    loading_coil_henry,
)
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.figures import brief_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.equipment_fields import number

MOST_PAIRS = 50
USUAL_RADIUS_MM = 2.0


def length_words(kind: Resonator, typed: Mapping[str, str]) -> tuple[list[str], str]:
    """What is said of a wanted frequency, a length, a velocity factor and own pairs such as `52 cm 137.5`; and what is
    wrong with them."""
    try:
        velocity = number(typed["velocity"], "a velocity factor up to 1", 0.3, 1) if typed["velocity"].strip() else 1.0
        pairs = [_pair(p) for p in typed["pairs"].replace("\n", ";").split(";")[:MOST_PAIRS] if p.strip()]
        by = learnt(kind, pairs, velocity)
        wanted = parse_frequency(typed["wanted"]) if typed["wanted"].strip() else None
        length = metres(typed["length"]) if typed["length"].strip() else None
    except ValueError as problem:
        return [], sentence(problem)
    said = []
    name = RESONATOR_WORDS[kind]
    if wanted is not None:
        said.append(f"A {name} for {brief_mhz(wanted)} MHz is {_written(by.length_m(wanted))}.")
    if length is not None:
        said.append(f"{_written(length)} is a {name} at {brief_mhz(round(by.frequency_hz(length), -3))} MHz.")
    if wanted is not None and length is not None and not pairs and (ask := asked_about(kind, length, wanted, velocity)):
        said.append(f"Is the length right? {ask}")
    if said:
        said.append(
            "From your own pairs."
            if pairs
            else "Surroundings shift it by ten per cent or more: start longer, and sweep."
        )
    return said, ""


def coil_words(typed: Mapping[str, str]) -> tuple[list[str], str]:
    """What is said of a whip with a coil: the inductance for a wanted frequency, or where it resonates with one."""
    try:
        if not typed["length"].strip() or not typed["coil_at"].strip():
            return [], ""
        length, at = metres(typed["length"]), metres(typed["coil_at"])
        thick = typed["thick"].strip()
        radius = (number(thick, "a thickness in mm, as in 4", 0.1, 500) / 2 if thick else USUAL_RADIUS_MM) / 1000
        wanted = parse_frequency(typed["wanted"]) if typed["wanted"].strip() else None
        coil = number(typed["coil"], "an inductance in µH, as in 12", 1e-3, 1e4) if typed["coil"].strip() else None
        said = []
        if wanted is not None:
            henry = loading_coil_henry(wanted, length, radius, at)
            said.append(f"A coil of {1e6 * henry:.3g} µH there brings it to {brief_mhz(wanted)} MHz, within 20 %.")
        if coil is not None:
            hz = loaded_hz(coil * 1e-6, length, radius, at)
            said.append(f"With {coil:g} µH it resonates at about {brief_mhz(round(hz, -4))} MHz, within 6 %.")
    except ValueError as problem:
        return [], sentence(problem)
    return said, ""


def metres(text: str) -> float:
    """A length as people write it: `52 cm`, `520 mm`, `0.52 m`, `52` in cm."""
    bare = text.strip().lower()
    for unit, scale in (("mm", 1e-3), ("cm", 1e-2), ("m", 1.0)):
        if bare.endswith(unit):
            return number(bare.removesuffix(unit), "a length, as in 52 cm", 1e-4, 1e4) * scale
    return number(bare, "a length, as in 52 cm", 1e-2, 1e6) / 100


def _pair(text: str) -> tuple[float, float]:
    words = text.replace(",", ".").split()
    if len(words) < 2:
        raise ValueError(f'"{text.strip()}" is not a length with its frequency; write it like 52 cm 137.5')
    return metres(" ".join(words[:-1])), parse_frequency(words[-1])


def _written(length_m: float) -> str:
    return f"{100 * length_m:.1f} cm" if length_m < 3 else f"{length_m:.2f} m"
