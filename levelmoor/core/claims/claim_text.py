"""The quick entry line: a claim in the shorthand people think in, and how it was understood.

Nothing is taken in silence: words that are not understood are named, and what could mean two things is asked.
"""

import re
from dataclasses import dataclass, field

from levelmoor.core.model.claims import Claim, Quantity, Tuner
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.rule_sets import shipped_rule_sets
from levelmoor.core.rf.bandplan import REGIONS, band_plan, find_band
from levelmoor.core.rf.frequency import UNITS_HZ, format_range
from levelmoor.core.rf.levels import dbm_of_watts
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import one_line

_NUMBER = r"(\d+(?:[.,]\d+)?)"
_AT_A_FREQUENCY = (Quantity.ATTENUATION, Quantity.CHOKING, Quantity.OUTPUT_POWER, Quantity.EMISSIONS)
"""Quantities that may be claimed at one frequency instead of over a window."""


@dataclass(frozen=True)
class Doubt:
    """What could mean more than one thing, with each meaning as a text to put in its place."""

    words: str
    answers: tuple[tuple[str, str], ...]
    """Each answer's words and the whole line rewritten that way."""


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
        ranges = [f"{w.name}: {format_range(w.low_hz, w.high_hz)}" for w in self.claim.windows if "MHz" not in w.name]
        if self.claim.quantity in (Quantity.SWR, Quantity.RETURN_LOSS):
            said += f", {self.claim.tuner.value} tuner"
            said += f", referred to {self.claim.z0_ohm:g} Ω" if self.claim.z0_ohm != 50 else ""
        if self.claim.condition:
            said += f", {self.claim.condition}"
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
    if re.search(r"\btypical\b", line.rest, re.IGNORECASE):
        line.fields["condition"] = "typical"
        line.rest = re.sub(r"\btypical\b", " ", line.rest, flags=re.IGNORECASE)
    _condition(line, setups)
    quantity = _quantity(line)
    if quantity is None:
        hint = "write a quantity with it, as in SWR < 1.5 2m, gain 2.1 dBi, or 50 W FM"
        return Understanding(None, problem=f'what "{text.strip()}" claims is not clear: {hint}')
    rest = re.sub(
        r"\b(?:over|across|within|in|on|for|from|the|band|bands|of|at|is|guaranteed|entire|whole|all|only|nominal|"
        r"unbalanced|maximum|max|minimum|min|or|better|less|lower|more)\b|:(?=\s|$)",
        " ",
        line.rest,
        flags=re.I,
    )
    if quantity in (Quantity.TUNER_RANGE, Quantity.TUNER_TIME):
        rest = re.sub(r"\btuner\b", " ", rest, flags=re.IGNORECASE)
    rest = re.sub(r"(?<!\S)[.,;:/]+(?!\S)", " ", rest)
    rest = re.sub(r"^[\s,;:]+|[\s,;:]+$", "", rest)
    questions = _doubtful_bands(text, rest)
    if questions:
        return Understanding(None, questions, quantity=quantity)
    if quantity in _AT_A_FREQUENCY and re.fullmatch(rf"{_NUMBER}\s*[kMG]?Hz", rest, re.IGNORECASE):
        line.fields["stated"], rest = f"at {rest}", ""
    rest = _tolerances(rest) if quantity is Quantity.RESONANCE else rest
    try:
        windows, leftover = _windows(rest, region)
        if quantity in (Quantity.BANDWIDTH, Quantity.GAIN):
            windows = tuple(_band_of(w, region) for w in windows)
        claim = Claim("", quantity, windows, **line.fields)  # type: ignore[arg-type]
    except ValueError as problem:
        return Understanding(None, problem=str(problem), quantity=quantity)
    if claim.missing == "limit":
        words = f"the {claim.quantity.value.replace('_', ' ')} has no figure; write it, as in SWR < 1.5 2m"
        return Understanding(None, problem=words, quantity=quantity)
    return Understanding(claim, leftover=leftover.strip(" ,:;-/"))


def _tolerances(rest: str) -> str:
    """A frequency with how near it is claimed, `14.2 MHz ±50 kHz` or `145 MHz ± 1 %`, as the range it stands for."""

    def span(match: "re.Match[str]") -> str:
        at, unit = float(match[1].replace(",", ".")), match[2] or "MHz"
        by = float(match[3].replace(",", "."))
        hz = at * UNITS_HZ[unit.lower()]
        away = hz * by / 100 if match[4] == "%" else by * UNITS_HZ[match[4].lower()]
        return f"{(hz - away) / 1e6:.9g} - {(hz + away) / 1e6:.9g} MHz"

    pattern = rf"{_NUMBER}\s*([kMG]?Hz)?\s*(?:±|\+/-|\+-)\s*{_NUMBER}\s*(%|[kMG]?Hz)"
    return re.sub(pattern, span, rest, flags=re.IGNORECASE)


def _band_of(window: Window, region: int) -> Window:
    """A width is claimed in a band: where one frequency is named, the band that it lies in."""
    bands = band_plan(region).bands
    return next((b.window for b in bands if window.spot and b.low_hz <= window.low_hz <= b.high_hz), window)


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
    if _emissions(line):
        return Quantity.EMISSIONS
    if line.take(r"\b(?:chok(?:e|ing)(?:\s+impedance)?|common[- ]mode(?:\s+impedance)?)\b"):
        ohm = line.take(rf"[>≥]?\s*{_NUMBER}\s*(k)?\s*(?:Ω|ohms?|kΩ)")
        fields["limit"] = float(ohm[1].replace(",", ".")) * (1e3 if ohm[2] else 1) if ohm else None
        return Quantity.CHOKING
    if line.take(r"\b(?:attenuation|attenuates|pad|insertion loss)\b"):
        fields["limit"] = line.number(rf"[<>≤≥]?\s*{_NUMBER}\s*dB\b")
        line.take(rf"(?:±|\+/-)\s*{_NUMBER}\s*dB\b")
        return Quantity.ATTENUATION
    if line.take(r"\b(?:return loss|RL)\b"):
        fields["limit"] = line.number(rf"(?:[>≥]?=?|at least|better than|min(?:imum)?\.?)\s*{_NUMBER}\s*dB\b")
        if fields["limit"] is None:
            fields["limit"] = line.number(rf"[>≥]?=?\s*{_NUMBER}(?=\s|$)")
        line.take(r"\bat\s+least\b|\bmin(?:imum)?\b\.?|\bor better\b")
        return Quantity.RETURN_LOSS
    if line.take(r"\bgain\b") or re.search(r"\bdB[id]\b", line.rest):
        gain = line.take(r"[>≥]?\s*([-+]?\d+(?:[.,]\d+)?)\s*dB([id])?\b")
        if gain:  # a dipole has 2.15 dBi
            over = 2.15 if (gain[2] or "").lower() == "d" else 0.0
            fields["limit"] = round(float(gain[1].replace(",", ".")) + over, 6)
        return Quantity.GAIN
    if line.take(r"\b(?:tun(?:es|ing)|match(?:es|ing))\s+time\b|\b(?:tunes|matches)\s+(?:with)?in\b"):
        span = line.take(rf"{_NUMBER}\s*(?:-|–|to)\s*{_NUMBER}\s*(?:s|sec|seconds?)\b")
        limit = line.number(rf"(?:[<≤]|max(?:imum)?|under|at most|up to)?\s*{_NUMBER}\s*(?:s|sec|seconds?)\b")
        fields["limit"] = float(span[2].replace(",", ".")) if span else limit
        return Quantity.TUNER_TIME
    if line.take(r"\b(?:tun(?:es|ing)|match(?:es|ing))(?:\s+range)?\b"):
        span = line.take(rf"{_NUMBER}\s*(?:-|–|to|\.\.)\s*{_NUMBER}\s*(?:Ω|ohms?)")
        swr = None if span else line.take(rf"(?:loads?\s*)?(?:up to\s*)?{_NUMBER}\s*:\s*1\b(?:\s*SWR)?")
        if span:
            fields["stated"] = f"{span[1]} to {span[2]} Ω"
        elif swr:
            line.take(r"\bSWR\b")
            fields["stated"] = f"up to {swr[1]}:1"
        return Quantity.TUNER_RANGE
    if re.search(r"\b(?:weather|rain|water|IP\d\d)", line.rest, re.IGNORECASE):
        fields["stated"], line.rest = line.rest.strip(), ""
        return Quantity.WEATHER
    if re.search(r"\b(?:pattern|front|side|omni|beam)", line.rest, re.IGNORECASE):
        fields["stated"], line.rest = line.rest.strip(), ""
        return Quantity.PATTERN
    if _swr(line):
        return Quantity.SWR
    if re.search(rf"{_NUMBER}\s*[kmµuμ]?W\b", line.rest):
        output = bool(line.take(r"\b(?:(?:RF\s+)?output|transmits|tx|transmit(?:ting)?)(?:\s+power)?\b"))
        fields["limit"] = _watts(line)
        while line.take(r"\b(?:max(?:imum)?\.?|rated|rating|power|handling|handles|input|up to|RF|transmit|capacity)"):
            pass
        _mode(line)
        return Quantity.OUTPUT_POWER if output else Quantity.POWER
    if line.take(r"\bimpedance\b") or re.search(rf"{_NUMBER}\s*(?:Ω|ohms?)", line.rest, re.IGNORECASE):
        fields["limit"] = line.number(rf"{_NUMBER}\s*(?:Ω|ohms?\b)?")
        line.take(r"\bnominal\b")
        return Quantity.IMPEDANCE
    return None


def _emissions(line: _Line) -> bool:
    """Harmonics or all emissions: so many dB under the carrier, at most a level, or a rule set by its name."""
    rules = next((r for r in shipped_rule_sets() if re.search(re.escape(r), line.rest, re.IGNORECASE)), "")
    if rules:
        line.take(
            rf"(?:\b(?:emissions?|within|meets?|complies\s+with|compliant\s+with|according\s+to)\s+)*{re.escape(rules)}"
        )
        line.fields["stated"] = rules
        _power(line)
        return True
    if not line.take(r"\b(?:harmonics?|spurious|emissions?)\b"):
        return False
    while line.take(r"\b(?:harmonics?|spurious|emissions?|suppression|attenuation|rejection|radiation|down\s+by)\b|&"):
        pass
    level = line.take(r"(?:at most|less than|under|below|up to|≤|<)?\s*([-−+]?\d+(?:[.,]\d+)?)\s*dBm\b")
    if level:
        line.fields["limit"], line.fields["unit"] = float(level[1].replace(",", ".").replace("−", "-")), "dBm"
    elif re.search(rf"{_NUMBER}\s*[µuμn]W\b", line.rest):
        line.fields["limit"], line.fields["unit"] = round(float(dbm_of_watts(_watts(line) or 1e-6)), 2), "dBm"
    else:
        line.fields["limit"] = line.number(
            rf"(?:at least|better than|more than|under|below)?\s*[-−<>≤≥]*\s*{_NUMBER}\s*dBc?\b"
        )
    _power(line)
    return True


def _watts(line: _Line) -> float | None:
    """A power in W, from `500 mW`, `25 µW`, `1.5 kW`, `5 W`."""
    found = line.take(rf"(?:at most|less than|under|below|up to|≤|<)?\s*{_NUMBER}\s*([kmµuμn])?W\b")
    if found is None:
        return None
    size = {"k": 1e3, "m": 1e-3, "µ": 1e-6, "μ": 1e-6, "u": 1e-6, "n": 1e-9}.get(found[2] or "", 1.0)
    return float(f"{float(found[1].replace(',', '.')) * size:.9g}")


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
    line.take(r"\bswr\b")
    size = line.take(rf"{_NUMBER}\s*(kHz|MHz)\b")
    if size:
        line.fields["limit"] = float(size[1].replace(",", ".")) * (1e3 if size[2].lower() == "mhz" else 1)
    line.fields["swr_at"] = at or 2.0
    return Quantity.BANDWIDTH


_NO_UNIT = r"(?![\d.,]*\d)(?!\s*(?:[kMG]?Hz|c?m|[kmµ]?W|dB[cim]?)\b)(?!\s*(?:-|–|to)\s*\d)"
_SIGN = r"(?:<=?|≤|=<|\bunder\b|\bbelow\b|\bat most\b|\bup to\b|\bmax(?:imum)?\b\.?|\bbetter than\b|\bless than\b)"


def _swr(line: _Line) -> bool:
    """Whether the line speaks of SWR, by its name or a limit such as `< 1.5`, `2:1`; with another unit it is none."""
    named = bool(re.search(r"\bv?swr\b", line.rest, re.IGNORECASE))
    z0 = line.take(rf"(?:\b(?:at|on|in|for|into)\s+)?{_NUMBER}\s*(?:Ω|ohms?\b)") if named else None
    if z0:
        line.fields["z0_ohm"] = float(z0[1].replace(",", "."))
    line.rest = re.sub(r"\bmax(?:imum)?\b\.?(?=\s*(?:$|<|≤))", " ", line.rest, flags=re.IGNORECASE)
    limit: float | None = None
    for pattern in (
        rf"\bv?swr\b[\s:=]*{_SIGN}?\s*{_NUMBER}\s*:\s*1\b",
        rf"\bv?swr\b[\s:=]*{_SIGN}?\s*{_NUMBER}{_NO_UNIT}",
        rf"{_SIGN}?\s*{_NUMBER}\s*:\s*1\b",
        rf"{_SIGN}\s*{_NUMBER}{_NO_UNIT}",
        rf"{_NUMBER}\s*(?:or\s+(?:better|less|lower|under)|max(?:imum)?\b)",
    ):
        limit = line.number(pattern)
        if limit is not None:
            line.fields["limit"] = limit
            break
    line.take(r"\bv?swr\b:?")
    return limit is not None or named


def _power(line: _Line) -> None:
    watts = line.number(rf"\b{_NUMBER}\s*W\b")
    if watts is not None:
        line.fields["power_w"] = watts
    _mode(line)


_MODE = r"(?:SSB|CW|FM|AM|PEP|RTTY|FT8|carrier|voice|data|digital)"


def _mode(line: _Line) -> None:
    mode = line.take(rf"\b({_MODE}(?:(?:\s*/\s*|\s+){_MODE})*)\b")
    if mode:
        line.fields["mode"] = re.sub(r"\s*/\s*", "/", mode[1])
    duty = line.number(rf"\b{_NUMBER}\s*%\s*(?:duty)?(?:\s+cycle)?")
    if duty is not None:
        line.fields["duty"] = duty / 100


def _doubtful_bands(text: str, rest: str) -> tuple[Doubt, ...]:
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
    return (Doubt(f'Does "{number}" mean {" or ".join(words for words, _ in kept)}?', tuple(kept)),)


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
        alone = re.fullmatch(rf"{_NUMBER}\s*[kMG]?Hz", text.strip(), re.IGNORECASE)
        if not alone and not re.search(r"\d[^\d]*(?:-|–|\bto\b|\.\.)[^\d]*\d", text):
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
