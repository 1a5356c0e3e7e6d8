"""The quick entry line: a claim in the shorthand people think in, and how it was understood.

Nothing is taken in silence: words that are not understood are named, and what could mean two things is asked.
"""

import re
from dataclasses import dataclass, field, replace

from levelmoor.core.bandplan import REGIONS, band_plan, find_band
from levelmoor.core.bounds import one_line
from levelmoor.core.claims import Claim, Quantity, Tuner
from levelmoor.core.connectors import parse_connector
from levelmoor.core.evaluation import Setup
from levelmoor.core.frequency import format_range
from levelmoor.core.window_text import parse_windows
from levelmoor.core.windows import Window

_NUMBER = r"(\d+(?:[.,]\d+)?)"
_AT_A_FREQUENCY = (Quantity.ATTENUATION, Quantity.CHOKING, Quantity.OUTPUT_POWER, Quantity.EMISSIONS)
"""Quantities that may be claimed at one frequency instead of over a window."""


@dataclass(frozen=True)
class Question:
    """What could mean more than one thing, with each meaning as a text to put in its place."""

    words: str
    answers: tuple[tuple[str, str], ...]
    """Each answer's words and the whole line rewritten that way."""


@dataclass(frozen=True)
class Understanding:
    """How a line was understood: a claim where it was, questions where it is ambiguous, words that say nothing here."""

    claim: Claim | None
    questions: tuple[Question, ...] = ()
    problem: str = ""
    leftover: str = ""

    @property
    def words(self) -> str:
        """The claim as it will be judged, with the ranges its windows stand for."""
        if self.claim is None:
            return ""
        said = self.claim.wording
        ranges = [f"{w.name}: {format_range(w.low_hz, w.high_hz)}" for w in self.claim.windows if "MHz" not in w.name]
        if self.claim.quantity in (Quantity.SWR, Quantity.RETURN_LOSS):
            said += f", {self.claim.tuner.value} tuner"
        if ranges:
            said += f" ({'; '.join(ranges)})"
        return said


@dataclass
class _Line:
    """What is left of the line while one part after the other is taken from it."""

    rest: str
    fields: dict[str, object] = field(default_factory=dict)

    def take(self, pattern: str) -> "re.Match[str] | None":
        match = re.search(pattern, self.rest, re.IGNORECASE)
        if match:
            self.rest = f"{self.rest[: match.start()]} {self.rest[match.end() :]}"
        return match

    def number(self, pattern: str) -> float | None:
        match = self.take(pattern)
        return float(match[1].replace(",", ".")) if match else None


def understand(text: str, region: int, setups: tuple[Setup, ...] = ()) -> Understanding:
    """Understand one line such as `SWR < 1.5 2m 70cm without tuner` or `2:1 bandwidth 200 kHz on 40m`."""
    if region not in REGIONS:
        raise ValueError(f"there are ITU regions 1, 2 and 3, not {region}")
    try:
        line = _Line(one_line(text))
    except ValueError as problem:
        return Understanding(None, problem=str(problem))
    if not line.rest:
        return Understanding(None)
    _condition(line, setups)
    quantity = _quantity(line)
    if quantity is None:
        hint = "write a quantity with it, as in SWR < 1.5 2m, gain 2.1 dBi, or 50 W FM"
        return Understanding(None, problem=f'what "{text.strip()}" claims is not clear: {hint}')
    rest = re.sub(
        r"\b(?:over|across|within|in|on|for|from|the|band|bands|of|at|is|guaranteed)\b", " ", line.rest, flags=re.I
    )
    rest = re.sub(r"^[\s,;:]+|[\s,;:]+$", "", rest)
    if quantity is Quantity.OTHER:
        return Understanding(replace(Claim("", quantity), stated=rest))
    questions = _doubtful_bands(text, rest)
    if questions:
        return Understanding(None, questions)
    if quantity in _AT_A_FREQUENCY and re.fullmatch(rf"{_NUMBER}\s*[kMG]?Hz", rest, re.IGNORECASE):
        line.fields["stated"], rest = f"at {rest}", ""
    try:
        windows, leftover = _windows(rest, region)
    except ValueError as problem:
        return Understanding(None, problem=str(problem))
    try:
        claim = Claim("", quantity, windows, **line.fields)  # type: ignore[arg-type]
    except ValueError as problem:
        return Understanding(None, problem=str(problem))
    if claim.missing == "limit":
        return Understanding(
            None, problem=f"the {claim.quantity.value.replace('_', ' ')} has no figure; write it, as in SWR < 1.5 2m"
        )
    return Understanding(claim, leftover=leftover)


def _condition(line: _Line, setups: tuple[Setup, ...]) -> None:
    if line.take(r"\b(?:without|no|w/o)\s+(?:a\s+|an\s+)?(?:tuner|atu)\b"):
        line.fields["tuner"] = Tuner.WITHOUT
    elif line.take(r"\b(?:with|using)\s+(?:a\s+|an\s+)?(?:tuner|atu)\b"):
        line.fields["tuner"] = Tuner.WITH
    for setup in setups:
        if setup.name and line.take(rf"(?:\b(?:in|as)\s+)?{re.escape(setup.name)}"):
            line.fields["setup_id"] = setup.id
            break


def _quantity(line: _Line) -> Quantity | None:
    """The quantity, its figure and what belongs to it; each pattern takes its words out of the line."""
    fields = line.fields
    if line.take(r"\bconnectors?\b:?"):
        return _connector(line)
    if line.take(r"\b(?:bandwidth|width|wide)\b"):
        return _bandwidth(line)
    if line.take(r"\b(?:resonan(?:t|ce|ces)|resonates)\b"):
        return Quantity.RESONANCE
    if line.take(r"\b(?:harmonics?|spurious|emissions?)\b"):
        fields["limit"] = line.number(rf"[-−<]?\s*{_NUMBER}\s*dBc?\b")
        _power(line)
        return Quantity.EMISSIONS
    if line.take(r"\b(?:chok(?:e|ing)(?:\s+impedance)?|common[- ]mode(?:\s+impedance)?)\b"):
        ohm = line.take(rf"[>≥]?\s*{_NUMBER}\s*(k)?\s*(?:Ω|ohms?|kΩ)")
        fields["limit"] = float(ohm[1].replace(",", ".")) * (1e3 if ohm[2] else 1) if ohm else None
        return Quantity.CHOKING
    if line.take(r"\b(?:attenuation|attenuates|pad|insertion loss)\b"):
        fields["limit"] = line.number(rf"{_NUMBER}\s*dB\b")
        return Quantity.ATTENUATION
    if line.take(r"\b(?:return loss|RL)\b"):
        fields["limit"] = line.number(rf"[>≥]?=?\s*{_NUMBER}\s*(?:dB)?\b")
        return Quantity.RETURN_LOSS
    if line.take(r"\bgain\b") or re.search(r"\bdB[id]\b", line.rest):
        fields["limit"] = line.number(rf"[>≥]?\s*{_NUMBER}\s*dB[id]?\b")
        return Quantity.GAIN
    if line.take(r"\b(?:tun(?:es|ing)|match(?:es|ing))\s+time\b|\b(?:tunes|matches)\s+(?:with)?in\b"):
        fields["limit"] = line.number(rf"[<≤]?\s*{_NUMBER}\s*(?:s|sec|seconds?)\b")
        return Quantity.TUNER_TIME
    if line.take(r"\b(?:tun(?:es|ing)|match(?:es|ing))(?:\s+range)?\b"):
        span = line.take(rf"{_NUMBER}\s*(?:-|–|to|\.\.)\s*{_NUMBER}\s*(?:Ω|ohms?)")
        if span:
            fields["stated"] = f"{span[1]} to {span[2]} Ω"
        return Quantity.TUNER_RANGE
    if re.search(r"\b(?:weather|rain|water|IP\d\d)", line.rest, re.IGNORECASE):
        fields["stated"], line.rest = line.rest.strip(), ""
        return Quantity.WEATHER
    if re.search(r"\b(?:pattern|front|side|omni|beam)", line.rest, re.IGNORECASE):
        fields["stated"], line.rest = line.rest.strip(), ""
        return Quantity.PATTERN
    if _swr(line):
        return Quantity.SWR
    if re.search(rf"{_NUMBER}\s*(?:k)?W\b", line.rest):
        output = bool(line.take(r"\b(?:output|transmits|tx)(?:\s+power)?\b"))
        watts = line.take(rf"{_NUMBER}\s*(k)?W\b")
        fields["limit"] = float(watts[1].replace(",", ".")) * (1e3 if watts[2] else 1) if watts else None
        line.take(r"\b(?:max(?:imum)?|rated|power|handling|handles|up to)\b")
        _mode(line)
        return Quantity.OUTPUT_POWER if output else Quantity.POWER
    if line.take(r"\bimpedance\b") or re.search(rf"{_NUMBER}\s*(?:Ω|ohms?)", line.rest, re.IGNORECASE):
        fields["limit"] = line.number(rf"{_NUMBER}\s*(?:Ω|ohms?\b)?")
        line.take(r"\bnominal\b")
        return Quantity.IMPEDANCE
    if line.take(r"^other:?\s+"):
        return Quantity.OTHER
    return None


def _connector(line: _Line) -> Quantity:
    """What is claimed is a word: family and gender where they are understood."""
    words, _, rest = line.rest.strip().partition(",")
    try:
        line.fields["stated"] = str(parse_connector(words))
    except ValueError:
        line.fields["stated"] = words.strip()
    line.rest = rest
    return Quantity.CONNECTOR


def _bandwidth(line: _Line) -> Quantity:
    """A width, and the SWR it is claimed at: 2:1 where none is said."""
    at = line.number(rf"(?:\b(?:at|swr)\s*)*[<≤]?\s*{_NUMBER}\s*:\s*1") or line.number(rf"\bswr\s*[<≤]?=?\s*{_NUMBER}")
    size = line.take(rf"{_NUMBER}\s*(kHz|MHz)\b")
    if size:
        line.fields["limit"] = float(size[1].replace(",", ".")) * (1e3 if size[2].lower() == "mhz" else 1)
    line.fields["swr_at"] = at or 2.0
    return Quantity.BANDWIDTH


def _swr(line: _Line) -> bool:
    """Whether the line speaks of SWR, by its name or by a limit such as `< 1.5` or `2:1`."""
    named = line.take(r"\b(?:v?swr)\b:?")
    sign = r"(?:<=?|≤|=<|\bunder\b|\bbelow\b|\bat most\b|\bup to\b|\bmax(?:imum)?\b|\bbetter than\b|\bless than\b)"
    limit = line.number(rf"{sign}\s*{_NUMBER}(?:\s*:\s*1\b)?(?![\d.,]*\s*dB)")
    if limit is None:
        limit = line.number(rf"\b{_NUMBER}\s*:\s*1\b")
    if limit is None and named:
        limit = line.number(rf"^\s*{_NUMBER}(?![\d.,]*\s*(?:m|cm|[kMG]?Hz)\b)(?!\s*(?:-|–|to)\s*\d)")
    if limit is not None:
        line.fields["limit"] = limit
    return limit is not None or named is not None


def _power(line: _Line) -> None:
    watts = line.number(rf"\b{_NUMBER}\s*W\b")
    if watts is not None:
        line.fields["power_w"] = watts
    _mode(line)


def _mode(line: _Line) -> None:
    mode = line.take(r"\b(SSB|CW|FM|AM|PEP|carrier|voice|data|digital)\b")
    if mode:
        line.fields["mode"] = mode[1]
    duty = line.number(rf"\b{_NUMBER}\s*%\s*(?:duty)?(?:\s+cycle)?")
    if duty is not None:
        line.fields["duty"] = duty / 100


def _doubtful_bands(text: str, rest: str) -> tuple[Question, ...]:
    """A bare number where a band belongs: a wavelength, or a frequency."""
    found = re.search(
        r"(?:^|[\s;]|(?<!\d),)(\d{1,3})(?=$|[\s;]|,(?!\d))(?!\s*(?:-|–|to\b|\.\.|m\b|cm\b|[kMG]?Hz))",
        rest,
        re.IGNORECASE,
    )
    if not found or re.search(r"(?:-|–|to|\.\.)\s*$", rest[: found.start(1)]):
        return ()
    number = found[1]
    line = " ".join(text.split())
    at = line.rindex(number)
    answers = []
    for unit, words in (("m", f"the {number} m band"), ("cm", f"the {number} cm band"), (" MHz", f"{number} MHz")):
        answers.append((words, f"{line[:at]}{number}{unit}{line[at + len(number) :]}"))
    known = {b.name for r in REGIONS for b in band_plan(r).bands}
    kept = [
        a
        for a in answers
        if a[0].endswith("MHz") or a[0].removeprefix("the ").removesuffix(" band").replace(" ", "") in known
    ]
    return (Question(f'Does "{number}" mean {" or ".join(words for words, _ in kept)}?', tuple(kept)),)


def _windows(rest: str, region: int) -> tuple[tuple[Window, ...], str]:
    """Windows from what is left, bands side by side or from one to another; then the words that are none."""
    rest = re.sub(r"\b(\d{1,3})\s*(m|cm)\b", r"\1\2", rest, flags=re.IGNORECASE)
    spanned = re.sub(
        r"\b(\d+)(m|cm)?\s*(?:-|–|to|\.\.)\s*(\d+)(m|cm)\b", lambda m: _spanned(m, region), rest, flags=re.IGNORECASE
    )
    bands: list[Window] = []
    names = sorted((n for b in band_plan(region).bands for n in (b.name, *b.aliases)), key=len, reverse=True)
    pieces = re.split(r"\s*[;&+]\s*|(?<!\d),\s*|,(?!\d)\s*|\s+and\s+", spanned)
    words: list[str] = []
    for piece in (p for p in pieces if p):
        whole = _try(piece, region)
        if whole:
            bands += whole
            continue
        for token in piece.split():
            one = _try(token, region) if any(token.lower() == n.lower().replace(" ", "") for n in names) else ()
            bands += one
            if not one:
                words.append(token)
    leftover = " ".join(words)
    range_in_it = re.search(
        r"\d[\d.,]*\s*(?:[kMG]?Hz)?\s*(?:-|–|to|\.\.)\s*\d[\d.,]*\s*(?:[kMG]?Hz)?", leftover, re.IGNORECASE
    )
    if range_in_it:
        bands += parse_windows(range_in_it[0], region)
        leftover = f"{leftover[: range_in_it.start()]} {leftover[range_in_it.end() :]}"
    leftover = " ".join(leftover.split())
    if re.search(r"\d\s*(?:m|cm|[kMG]?Hz)\b|\d[.,]\d", leftover, re.IGNORECASE):
        bands += parse_windows(leftover, region)  # a spot; or a band that is none: says which, and what there is
        leftover = ""
    return tuple(dict.fromkeys(bands)), leftover


def _try(text: str, region: int) -> tuple[Window, ...]:
    try:
        return (find_band(text, region),)
    except ValueError:
        if not re.search(r"\d[^\d]*(?:-|–|\bto\b|\.\.)[^\d]*\d", text):
            return ()
    try:
        return parse_windows(text, region)
    except ValueError:
        return ()


def _spanned(match: "re.Match[str]", region: int) -> str:
    """`160-10m`: every band of the region from one to the other, by name."""
    first, last = f"{match[1]}{match[2] or match[4]}", f"{match[3]}{match[4]}"
    bands = band_plan(region).bands
    names = [b.name for b in bands]
    if first not in names or last not in names:
        return match[0]
    i, j = sorted((names.index(first), names.index(last)))
    return ", ".join(names[i : j + 1])
