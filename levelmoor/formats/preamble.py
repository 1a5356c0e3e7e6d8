"""What lines over the headings of a table say of its columns: units, reference, what was made of their figures."""

import re
from collections.abc import Mapping, Sequence

from levelmoor.formats.changed_figures import FACTOR, changed, multiplied
from levelmoor.formats.problem import shown
from levelmoor.formats.units import Quantity, Unit, spelled, units_in

REFERENCE = re.compile(
    r"(?<![\w.,])(\d{2,3}(?:[.,]\d++)?+)\s*(?:Ω|Ω|ohms?\b)|\(\s?(50|75|[1346]00|150|200|450)\s?\)", re.IGNORECASE
)
_NAMED_REFERENCE = re.compile(
    r"(?:\b[zr][_ ]?(?:0|o|ref)|\b(?:ref(?:erence)?|system|port)\.? (?:impedance|resistance|z))\b"
    r"[\s:=;,\[(]{0,4}(?:(?:Ω|Ω|ohms?)[\s:=;,\])]{1,4})?(\d{2,3}(?:\.\d{1,9})?)(?![\w.])",
    re.IGNORECASE,
)
_FIGURE_AND_UNIT = re.compile(r"(?<![\w.,])[\d.,]++\s*+[^\W\d]++")
_SAYS: Mapping[str, re.Pattern[str]] = {
    role: re.compile(words, re.IGNORECASE)
    for role, words in {
        "frequency": r"freq|\bf\b|\bqrg\b", "forward": r"forward|fwd|incident", "reflected": r"refl|\bref\b|\brev",
        "phase": r"phase|angle|theta|\barg", "level": r"level|ampl", "re": r"\bre\b|real", "im": r"\bim\b|imag",
        "r": r"\brs?\b|resist", "x": r"\bxs?\b|react", "abs_z": r"\bz\b|imped", "abs_gamma": r"gamma|\bs11\b|\bmag",
        "return_loss": r"return|\brl\b", "s21": r"\bs21\b|(?<!return )\bloss|attenuation", "swr": r"swr",
        "snr": r"snr|s/n", "temperature": r"temp", "seconds": r"\btimes?\b|elapsed|duration",
    }.items()
}  # fmt: skip
"""What a line over the headings says of the column that it is about."""
_POWER, _POWERS = re.compile(r"power|watts", re.IGNORECASE), ("forward", "reflected", "level", "power")
"""A word for powers that does not say which, and the columns it may mean."""
_OF_ALL = re.compile(
    r"\b(?:all|every|values|figures|readings|data|results)\b|\A\W{0,4}(?:scale|scaling) factor", re.IGNORECASE
)
_UNIT = re.compile(r"(?:\bin\s|[\[(:=])\s?([^\W\d]{1,6}|%)(?![\w/])", re.IGNORECASE)
_SIMULATED = re.compile(
    r"\A\W{0,4}simulat|\bsimulat\w{1,6} (?:by|with|data|results?|values|figures|sweep)", re.IGNORECASE
)


def units_above(lines: Sequence[str], role: str, accepted: Sequence[Quantity]) -> list[Unit]:
    """The units that lines name by themselves: not those of figures, such as the bandwidth's; of lines about this
    column before those of lines about none."""
    own: list[Unit] = []
    common: list[Unit] = []
    for line in lines:
        if re.search(r"\bunits?\b|\bin\b|[\[(:=]", line):
            plain = _FIGURE_AND_UNIT.sub(" ", line)
            of = _about(plain)
            units = units_in(plain.replace(";", ","))
            if role in of:
                own += [u for u in units if u not in own]
            elif not of:
                common += [u for u in units if u not in common]
    return [u for u in own or common if u.quantity in accepted]


def not_as_measured(
    heading: str, role: str, units: Sequence[Unit], above: Sequence[str], accepted: Sequence[Quantity]
) -> str:
    """What the heading of a column, which names these units, or a line above it says: that the figures are not those
    that were measured, or not of a quantity that is `accepted`. Empty where neither does."""
    if what := changed(REFERENCE.sub("", heading), role, units):
        return f"{shown(heading.strip())} {what}"
    return _changed_above(above, role, accepted)


def _changed_above(lines: Sequence[str], role: str, accepted: Sequence[Quantity]) -> str:
    for line in lines:
        said = f"the line {shown(line)}"
        if role != "frequency" and _SIMULATED.search(line):
            return f"{said} says that the figures are simulated"
        plain = _FIGURE_AND_UNIT.sub(" ", line)
        of = _about(FACTOR.sub(" ", plain))  # in "x 10", x is not a reactance
        of_all = not of and _OF_ALL.search(plain)
        if (role in of or of_all) and multiplied(line):
            return f"{said} says that the figures are multiples"
        of_this = role in of and of in ([role], list(_POWERS))
        if of_this or (of_all and role != "frequency"):
            for word in _UNIT.findall(plain):
                if (unit := spelled(word)) is not None and unit.quantity not in accepted:
                    return f"{said} names {unit.name}, which measures {unit.quantity.value}"
    return ""


def telling(lines: Sequence[str]) -> tuple[str, ...]:
    """The lines that say what the figures of some column are: their units, that they are multiples, or simulated. What
    else changes from file to file, as the ends of a span do, is left out of them."""
    found = []
    for line in lines:
        if multiplied(line) or _SIMULATED.search(line):
            found.append(line)
        elif any(spelled(word) for word in _UNIT.findall(_FIGURE_AND_UNIT.sub(" ", line))):
            found.append(re.sub(r"[\d.,]+", "", line))
    return tuple(found)


def reference_above(lines: Sequence[str]) -> float | None:
    """The impedance in Ω to which lines say that figures refer."""
    for line in lines:
        if match := REFERENCE.search(line) or _NAMED_REFERENCE.search(line):
            return float(next(filter(None, match.groups())).replace(",", "."))
    return None


def _about(line: str) -> list[str]:
    """The columns that a line is about; any powers where it does not say which."""
    said = [role for role, words in _SAYS.items() if words.search(line)]
    return said or (list(_POWERS) if _POWER.search(line) else [])
