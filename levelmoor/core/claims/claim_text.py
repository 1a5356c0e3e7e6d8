"""The quick entry line: a claim in the shorthand people think in, and how it was understood.

Nothing is taken in silence: words that are not understood are named, and what could mean two things is asked.
"""

import re
from dataclasses import dataclass

from levelmoor.core.claims.claim_windows import Doubt, band_around, doubtful_bands, tolerances_as_ranges, windows_in
from levelmoor.core.claims.quantity_text import NUMBER, Remaining, read_quantity
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.rf.bandplan import REGIONS
from levelmoor.core.words.bounds import one_line
from levelmoor.core.words.figures import brief_range

_NEAR = rf"\bwithin\s+(?:±\s*)?{NUMBER}\s*(%|[kMG]?Hz)\s+(?:of|around)\s+{NUMBER}\s*([kMG]?Hz)"
_AT_A_POWER = rf"\bat\s+{NUMBER}\s*[mk]?W\b"
"""A condition of what is claimed, where the power is not the claim itself."""


@dataclass(frozen=True)
class Understanding:
    """How a line was understood: a claim where it was, questions where it is ambiguous, words that say nothing here."""

    claim: Claim | None
    questions: tuple[Doubt, ...] = ()
    problem: str = ""
    leftover: str = ""
    quantity: Quantity | None = None
    """What is claimed, also where the rest of it is not clear."""

    @property
    def words(self) -> str:
        """The claim as it will be judged, with the ranges its windows stand for."""
        if self.claim is None:
            return ""
        said = self.claim.wording
        ranges = [f"{w.name}: {brief_range(w.low_hz, w.high_hz)}" for w in self.claim.windows if "MHz" not in w.name]
        if self.claim.quantity.spec.shown_by is ShownBy.LEVEL:
            said += f", {self.claim.tuner.value} tuner"
            said += f", referred to {self.claim.z0_ohm:g} Ω" if self.claim.z0_ohm != 50 else ""
        if self.claim.condition:
            said += f", {self.claim.condition}"
        if ranges:
            said += f" ({'; '.join(ranges)})"
        return said


def understand(text: str, region: int, setups: tuple[Setup, ...] = ()) -> Understanding:
    """Understand one line such as `SWR < 1.5 2m 70cm without tuner` or `2:1 bandwidth 200 kHz on 40m`.

    Raises
    ------
    ValueError
        Where there is no such ITU region.
    """
    if region not in REGIONS:
        raise ValueError(f"there are ITU regions 1, 2 and 3, but no {region}")
    try:
        line = Remaining(one_line(text))
    except ValueError as problem:
        return Understanding(None, problem=str(problem))
    if not line.rest:
        return Understanding(None)
    if re.search(r"\btypical\b", line.rest, re.IGNORECASE):
        line.fields["condition"] = "typical"
        line.rest = re.sub(r"\btypical\b", " ", line.rest, flags=re.IGNORECASE)
    _condition(line, setups)
    quantity = read_quantity(line)
    if quantity is None:
        hint = "name the quantity, as in SWR < 1.5 2m, gain 2.1 dBi, or 50 W FM"
        return Understanding(None, problem=f'"{text.strip()}" is not a clear claim: {hint}')
    if quantity not in (Quantity.POWER, Quantity.OUTPUT_POWER) and (power := line.take(_AT_A_POWER)):
        typical = f"{line.fields['condition']}, " if "condition" in line.fields else ""
        line.fields["condition"] = typical + " ".join(power[0].split())
    line.rest = re.sub(_NEAR, r"\3 \4 ± \1 \2", line.rest, flags=re.IGNORECASE)
    rest = re.sub(
        r"\b(?:over|across|within|in|on|for|from|the|band|bands|edges?|of|at|around|is|guaranteed|entire|whole|full|all|only|nominal|peak|"
        r"unbalanced|maximum|max|minimum|min|or|better|less|lower|more|works|antenna)\b|:(?=\s|$)",
        " ",
        line.rest,
        flags=re.I,
    )
    rest = re.sub(r"(?<!\S)[.,;:/]+(?!\S)", " ", rest)
    rest = re.sub(r"^[\s,;:]+|[\s,;:]+$", "", rest)
    if below := _without_beginning(rest):
        words = f'"{below}" has no lower end; write both ends, as in 1 MHz to 3 GHz'
        return Understanding(None, problem=words, quantity=quantity)
    questions = doubtful_bands(text, rest)
    if questions:
        return Understanding(None, questions, quantity=quantity)
    if quantity.spec.at_a_frequency and re.fullmatch(rf"{NUMBER}\s*[kMG]?Hz", rest, re.IGNORECASE):
        line.fields["stated"], rest = f"at {rest}", ""
    try:
        windows, leftover = windows_in(tolerances_as_ranges(rest), region)
        if quantity.spec.in_a_band:
            windows = tuple(band_around(w, region) for w in windows)
        claim = Claim("", quantity, windows, **line.fields)  # type: ignore[arg-type]
    except ValueError as problem:
        return Understanding(None, problem=str(problem), quantity=quantity)
    if claim.missing == "limit":
        words = "the claim has no figure; add it, as in SWR < 1.5 2m"
        return Understanding(None, problem=words, quantity=quantity)
    return Understanding(claim, leftover=leftover.strip(" ,:;-/"))


def _without_beginning(rest: str) -> str:
    """A range of which only the upper end is a frequency, as DC to 3 GHz, or nothing."""
    found = re.search(rf"(?<![\w.])(?:DC\b\s*(?:to|-|–|\.\.)|(?:up\s+)?to)\s*{NUMBER}\s*[kMG]?Hz", rest, re.IGNORECASE)
    after_a_figure = found and re.search(r"\d\s*(?:[kMG]?Hz)?\s*$", rest[: found.start()], re.IGNORECASE)
    return found[0].strip() if found and not after_a_figure else ""


def _condition(line: Remaining, setups: tuple[Setup, ...]) -> None:
    if line.take(r"\b(?:without|no|w/o)\s+(?:a\s+|an\s+)?(?:tuner|atu)\b"):
        line.fields["tuner"] = Tuner.WITHOUT
    elif line.take(r"\b(?:with|using)\s+(?:a\s+|an\s+)?(?:tuner|atu)\b"):
        line.fields["tuner"] = Tuner.WITH
    for setup in setups:
        if setup.name and line.take(rf"(?:\b(?:in|as)\s+)?{re.escape(setup.name)}"):
            line.fields["setup_id"] = setup.id
            break
