"""A line as packages print it: one or several claims, each understood by itself.

Limits per band, powers by mode and lists by slashes stand in one line on a box. The line is cut where another claim
begins; what only adds a band or a condition stays with the claim before it.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from levelmoor.core.claims.claim_text import Understanding, understand
from levelmoor.core.claims.claim_windows import Doubt
from levelmoor.core.claims.claim_words import in_plain_words
from levelmoor.core.claims.described import described_in
from levelmoor.core.claims.doubtful_limit import as_words, doubtful_limit
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.rf.bandplan import band_plan, other_services
from levelmoor.core.rf.channels import CB_CHANNELS, PMR_CHANNELS, cb_channel_hz, pmr_channel_hz
from levelmoor.core.words.bounds import one_line
from levelmoor.core.words.digits import FIGURE

_NUMBER = FIGURE
_MEASURES = re.compile(
    r"\b(?:length|height|long|range|distance|cable|coax|boom|mast|weight|size|diameter|länge|laenge|höhe|hoehe|longueur|"
    r"hauteur|longitud|altura|lunghezza|altezza|reichweite|gewicht|poids|peso)\b\s*(?:of|is|:|=)?\s*"
    rf"(?:up to\s*|approx\.?\s*)?{_NUMBER}\s*(?:mm|cm|m|km|ft|in|inch|\"|kg|g)\b|"
    rf"{_NUMBER}\s*(?:mm|cm|m|ft|km|inch(?:es)?|kg|g)\s*"
    r"(?:long|high|tall|of\s+(?:cable|coax)|cable|coax|whip|range|boom)\b",
    re.IGNORECASE,
)
"""Lengths, heights, distances and weights: never a band or a frequency."""
_FILLERS = re.compile(
    r"\b(?:input|frequency(?:\s+range)?|frequenz(?:bereich)?|fréquences?|frecuencia|frequenza)\b\s*:?", re.IGNORECASE
)
_TUNER = re.compile(r"(?<!\S)(without|no|w/o|with|using|w/)\s*(?:a\s+|an\s+)?(?:tuner|atu)\b", re.IGNORECASE)
_CHANNELS = re.compile(
    r"\b(?:(CB|PMR(?:446)?)\s*[,:]?\s*)?(?:channels?|ch\.?|kan(?:al|äle)|canal(?:es|e|i)?|canaux)\s*(\d{1,2})"
    r"(?:\s*(?:-|–|to|\.\.)\s*(\d{1,2}))?(?!\d|[.,]\d)",
    re.IGNORECASE,
)
_OTHER_SERVICE = re.compile(
    r"\b(?:marine|maritime|airband|air\s+band|aero\w*|frs|gmrs|murs|lpd(?:433)?|tv|dab|seefunk|flugfunk)\b[^,;]*?"
    r"\b(?:channels?|ch\.?|kan(?:al|äle)|canal(?:es|e|i)?)\s*\d+",
    re.IGNORECASE,
)
_ONE_SETTING = re.compile(
    r"\bwithout\s+(?:any\s+)?(?:re-?)?(?:adjust(?:ing|ments?)|tuning|setting)\b|\bno\s+(?:re-?)?(?:adjust(?:ing|ments?)|"
    r"tuning)\s*(?:needed|required|necessary)?\b",
    re.IGNORECASE,
)
_MATCH_TO = re.compile(
    rf"\b(?:tun(?:es|ing)|match(?:es|ing))\b[^;]*?(?<!down )(?<!up )\bto\s+({FIGURE})\s*:\s*1\b", re.IGNORECASE
)
_LOADS = re.compile(rf"\bup\s+to\s+{FIGURE}\s*:\s*1|\bloads?\b|Ω|\bohms?\b|\bany\b|\bwires?\b", re.IGNORECASE)
_ONE = r"\d{1,4}(?:\.\d+)?"
_UNIT_AT_THE_END = re.compile(
    rf"(?<![\d.,:<≤=])(?<![<≤=:] )(?<!SWR )\b((?:{_ONE},\s+){{0,30}}{_ONE}(?:,\s+|\s+and\s+){_ONE})\s*(m|cm|MHz)\b",
    re.IGNORECASE,
)
"""`80, 40, 20 m`, `145.5, 433.5 MHz`: the unit stands once, at the end of the list."""
_NOMINAL = 0.015
"""A number of MHz this near to a band, as a share, names the band in a list such as 144/430 MHz."""


@dataclass(frozen=True)
class UnderstoodLine:
    """How a whole line was understood; `problem` where nothing of it was."""

    claims: tuple[Claim, ...] = ()
    questions: tuple[Doubt, ...] = ()
    problem: str = ""
    leftover: str = ""

    @property
    def words(self) -> tuple[str, ...]:
        """Each claim as it will be judged."""
        return tuple(Understanding(c).words for c in self.claims)

    @property
    def as_it_stands(self) -> bool:
        """Whether it can be taken without a question."""
        return bool(self.claims) and not (self.questions or self.leftover or self.problem)


def understand_line(text: str, region: int, setups: tuple[Setup, ...] = ()) -> UnderstoodLine:
    """Understand a line of one or several claims, such as `SWR < 1.5 2m, 1.8 70cm` or `200 W SSB / 100 W FM`."""
    try:
        bare = one_line(text)
    except ValueError as problem:
        return UnderstoodLine(problem=str(problem))
    if re.match(r"other\s*:", bare, re.IGNORECASE):
        stated = bare.partition(":")[2].strip()
        return (
            UnderstoodLine((Claim("", Quantity.OTHER, stated=stated),))
            if stated
            else UnderstoodLine(problem="write what is claimed after 'other:'")
        )
    named = tuple(s for s in setups if s.name and re.search(re.escape(s.name), bare, re.IGNORECASE))[:1]
    for setup in named:  # a setup is named as it is called, before any word of it is taken for another
        bare = re.sub(rf"(?:\b(?:in|as)\s+)?{re.escape(setup.name)}", " ", bare, flags=re.IGNORECASE)
    described, bare = described_in(bare)
    aside = [m[0] for m in _MEASURES.finditer(bare)]
    plain = in_plain_words(_FILLERS.sub(" ", _MEASURES.sub(" ", bare)))
    if other := _OTHER_SERVICE.search(plain):
        words = f'"{other[0]}" is a channel of another service; write its frequency, as in 156.8 MHz'
        return UnderstoodLine(described, problem=words)
    asked = _doubtful_channel(text, plain) or _doubtful_match(text, plain) or doubtful_limit(text, plain)
    if asked:
        return UnderstoodLine(described, questions=(asked,))
    one_setting, plain = _ONE_SETTING.subn(" ", plain)[::-1]
    try:
        plain = _lists(_CHANNELS.sub(_channel, plain), region)
    except ValueError as problem:
        return UnderstoodLine(problem=str(problem))
    tuner = _tuner(plain)
    clauses = _clauses(_TUNER.sub(" ", plain), region)
    found = [understand(c, region) for c in clauses]
    claims = tuple(_completed(f.claim, tuner, named, bool(one_setting)) for f in found if f.claim is not None)
    claims += described
    questions = tuple(_in_line(q, n, clauses) for n, f in enumerate(found) for q in f.questions)
    problems = [f.problem for f in found if f.problem]
    leftover = ", ".join([*(f.leftover for f in found if f.leftover), *aside])
    if not claims and not questions and len(found) == 1 and found[0].quantity is None and problems:
        asked = Doubt("Keep it as words? No verdict will judge it.", (as_words(text),))
        return UnderstoodLine(questions=(asked,), problem=problems[0], leftover=leftover)
    if not claims and not questions:
        return UnderstoodLine(
            problem=problems[0] if problems else f'"{text.strip()}" is not a clear claim', leftover=leftover
        )
    return UnderstoodLine(claims, questions, problems[0] if problems else "", leftover)


def _completed(claim: Claim, tuner: Tuner | None, setups: Sequence[Setup], one_setting: bool) -> Claim:
    """A condition anywhere in the line holds for all of its claims."""
    if one_setting and claim.quantity.spec.swept:
        claim = replace(claim, one_setting=True)
    if tuner is not None and claim.quantity.spec.shown_by is ShownBy.LEVEL:
        claim = replace(claim, tuner=tuner)
    return replace(claim, setup_id=setups[0].id) if setups else claim


def _tuner(plain: str) -> Tuner | None:
    match = _TUNER.search(plain)
    if match is None:
        return None
    return Tuner.WITH if match[1].lower() in ("with", "using", "w/") else Tuner.WITHOUT


def _in_line(question: Doubt, place: int, clauses: Sequence[str]) -> Doubt:
    """An answer rewrites its clause, and the line with it."""
    answers = tuple(
        (words, "; ".join((*clauses[:place], answer, *clauses[place + 1 :]))) for words, answer in question.answers
    )
    return replace(question, answers=answers)


# -- Numbers that stand for something else ---------------------------------------------------------------------------


def _doubtful_channel(text: str, plain: str) -> Doubt | None:
    """A channel number without its service, where both services have it."""
    match = _CHANNELS.search(plain)
    if match is None or match[1] or match[3] or int(match[2]) > PMR_CHANNELS:
        return None
    line, said = " ".join(text.split()), match[0].strip()
    answers = tuple(
        (f"{name} channel {match[2]}", line.replace(said, f"{name} {said}", 1)) for name in ("CB", "PMR446")
    )
    return Doubt(f'Does "{said}" mean a channel of citizens\' band or of PMR446?', answers)


def _doubtful_match(text: str, plain: str) -> Doubt | None:
    """A tuner's SWR that may be the one it reaches or that of the loads."""
    match = _MATCH_TO.search(plain)
    if match is None or _LOADS.search(plain):
        return None
    line, ratio = " ".join(text.split()), match[1]
    said = re.search(rf"\bto\s+{re.escape(ratio)}\s*(?::|to)\s*1\b", line, re.IGNORECASE)
    if said is None:
        return None
    answers = (
        (f"an SWR of {ratio}:1 is reached", line.replace(said[0], f"down to {ratio}:1", 1)),
        (f"loads up to {ratio}:1 are matched", line.replace(said[0], f"up to {ratio}:1", 1)),
    )
    return Doubt(f'Does "{said[0]}" mean the SWR that is reached, or that of the loads?', answers)


def _channel(match: "re.Match[str]") -> str:
    """A channel as its frequency; a range of channels as the range from the first to the last."""
    pmr = (match[1] or "").upper().startswith("PMR")
    at, most = (pmr_channel_hz, PMR_CHANNELS) if pmr else (cb_channel_hz, CB_CHANNELS)
    first = int(match[2])
    if match[3] is None:
        return f" {at(first) / 1e6:.9g} MHz "
    last = int(match[3])
    if (first, last) == (1, most):
        return " PMR446 " if pmr else " CB "
    return f" {at(first) / 1e6:.9g} - {at(last) / 1e6:.9g} MHz "


def _lists(plain: str, region: int) -> str:
    """Lists by slashes: `40/20/15m`, `144/430 MHz`, `144-146/430-440 MHz`, each of them by itself."""
    plain = re.sub(rf"({_NUMBER}\s*-\s*{_NUMBER})\s*/\s*(?={_NUMBER}\s*-)", r"\1; ", plain)

    def by_unit(match: "re.Match[str]") -> str:
        parts, unit = match[1].split("/"), match[2]
        if unit.lower() in ("m", "cm"):
            return ", ".join(f"{p.strip()}{unit}" for p in parts)
        return ", ".join(_nominal(p.strip(), unit, region) for p in parts)

    plain = re.sub(rf"\b({_NUMBER}(?:\s*/\s*{_NUMBER}){{1,30}})\s*(m|cm|MHz)\b", by_unit, plain, flags=re.IGNORECASE)
    plain = re.sub(
        r"(?<![\d.,<≤=:])(?<![<≤=:] )(?<!SWR )(?<!under )(?<!below )\b((?:\d{1,3}\s+){1,30}\d{1,3})\s*(c?m)\b",
        lambda m: _side_by_side(m, region),
        plain,
    )
    plain = _UNIT_AT_THE_END.sub(_each_with_unit, plain)
    plain = re.sub(r"\b(\d+\s*c?m)\s*/\s*(?=\d+\s*c?m\b)", r"\1, ", plain)
    return re.sub(rf"\b({_NUMBER})\s*MHz\s+band\b", lambda m: _nominal(m[1], "MHz", region), plain, flags=re.IGNORECASE)


def _side_by_side(match: "re.Match[str]", region: int) -> str:
    """`80 40 20 m`, where each of them is a band."""
    names = [f"{number}{match[2]}" for number in match[1].split()]
    known = {b.name for b in band_plan(region).bands}
    return ", ".join(names) if set(names) <= known else match[0]


def _each_with_unit(match: "re.Match[str]") -> str:
    unit = " MHz" if match[2].lower() == "mhz" else match[2]
    return ", ".join(f"{p}{unit}" for p in re.split(r",\s+|\s+and\s+", match[1]))


def _nominal(number: str, unit: str, region: int) -> str:
    """The band that a number of MHz names on a box: the one it lies in, or at whose edge."""
    mhz = float(number.replace(",", "."))
    for band in (*band_plan(region).bands, *other_services().bands):
        if band.low_hz * (1 - _NOMINAL) <= mhz * 1e6 <= band.high_hz * (1 + _NOMINAL):
            return band.name
    return f"{number} {unit}"


# -- Where one claim ends and another begins -------------------------------------------------------------------------


def _clauses(plain: str, region: int) -> list[str]:
    """The line cut where another claim begins."""
    plain = re.sub(rf"(?<=[A-Za-z])\s*/\s*(?={FIGURE}\s*k?m?µ?W\b)", "; ", plain)
    plain = re.sub(
        r"(?<=\S)\s+(?=(?:gain|connector(?=\s*:?\s*\w)|output\s+power|power\s+handling|nominal\s+impedance)\b)",
        "; ",
        plain,
    )
    plain = re.sub(
        rf"(?:(?<=dB)|(?<=dBi)|(?<=dBd)|(?<=ohm)|(?<=Ω)|(?<=W)|(?<=pad))\s+(?={FIGURE}\s*(?:k?W\b|dB[id]\b|Ω|ohm\b))",
        "; ",
        plain,
    )
    plain = re.sub(r"(?<![\d\s]):(?!\s*1\b)|(?<=\D)\s:\s", " ", plain)
    plain = _TWO_LIMITS.sub(lambda both: re.sub(r"\s*[,/]\s*", " ", both[0]), plain)
    pieces = [p.strip() for p in re.split(r"\s*;\s*|,(?!\d)\s*|(?<!\d),\s*|\s+/\s+", plain) if p.strip()]
    clauses: list[str] = []
    before = ""
    last: Quantity | None = None
    for piece in pieces:
        quantity = _quantity_of(piece, region)
        in_context = _in_context(piece, last, region) if quantity in (None, Quantity.POWER) else ""
        if in_context:
            clauses.append(in_context)
        elif quantity is not None and not (last is Quantity.EMISSIONS and quantity is Quantity.POWER):
            clauses.append(f"{before} {piece}".strip())
            before, last = "", quantity
        elif clauses:
            clauses[-1] += f", {piece}"
        else:
            before = f"{before}, {piece}".strip(", ")
    if before:
        clauses.append(before)
    return [_across(c, region) for clause in clauses for c in _by_typical(clause)]


_ACROSS = re.compile(
    rf"\b(?:across|over)\s+(?:a\s+)?({FIGURE}\s*[kM]Hz)(?!\s*(?:-|–|to\b))(?:\s+(?:wide|span|bandwidth))?",
    re.IGNORECASE,
)


def _across(clause: str, region: int) -> str:
    """`SWR < 1.5 across 2 MHz on 2m` claims a width in a band, and not two windows."""
    found = _ACROSS.search(clause)
    rest = found and f"{clause[: found.start()]} {clause[found.end() :]}"
    if not rest or re.search(r"\bbandwidth\b", rest):
        return clause
    said = understand(rest, region)
    wide = said.claim is not None and said.claim.quantity is Quantity.SWR and said.claim.windows
    return f"bandwidth {found[1]} {rest}" if found and wide else clause


def _quantity_of(piece: str, region: int) -> Quantity | None:
    found = understand(piece, region)
    if found.claim is not None:
        return found.claim.quantity
    return found.quantity


_IN_DB = {
    Quantity.INSERTION_LOSS: "insertion loss",
    Quantity.ATTENUATION: "attenuation",
    Quantity.RETURN_LOSS: "return loss",
}


def _in_context(piece: str, last: Quantity | None, region: int) -> str:
    """`1.8 70cm` after a limit of SWR is another limit, `50 W CW` after an output power another output power."""
    if last is not None and last.spec.shown_by is ShownBy.LEVEL:
        match = re.match(rf"^(?:≤|<|at most|max)?\s*({_NUMBER})(?:\s*:\s*1)?\s+(?:on|at|in)?\s*(.+)$", piece)
        if match and 1 < float(match[1].replace(",", ".")) <= 20:
            found = understand(f"SWR < {match[1]} {match[2]}", region)
            if found.claim is not None and found.claim.windows and not found.leftover:
                return f"SWR < {match[1]} {match[2]}"
    if last in _IN_DB and re.match(rf"^{_NUMBER}\s*dB\b", piece):
        return f"{_IN_DB[last]} {piece}"
    if last is Quantity.OUTPUT_POWER and re.match(rf"^{_NUMBER}\s*[kmµ]?W\b", piece):
        return f"output {piece}"
    return ""


_RATIO = rf"({FIGURE})(?:\s*:\s*1\b)?"
_TYPICAL = rf"(?:typical\s*:?\s*{_RATIO}|{_RATIO}\s*typical)"
_MOST = rf"(?:max\b\.?\s*:?\s*{_RATIO}|{_RATIO}\s*max\b\.?)"
_AND = r"\s*[,/]?\s*(?:and\s+)?"
_TWO_LIMITS = re.compile(rf"{_TYPICAL}{_AND}{_MOST}|{_MOST}{_AND}{_TYPICAL}", re.IGNORECASE)


def _by_typical(clause: str) -> list[str]:
    """`SWR 1.3 typical 1.8 max` states two figures, a typical one and a limit; so does `SWR < 1.8, typical 1.3`."""
    both = _TWO_LIMITS.search(clause)
    if both and re.search(r"\bSWR\b", clause):
        one, most = (
            (both[1] or both[2], both[3] or both[4]) if both[1] or both[2] else (both[7] or both[8], both[5] or both[6])
        )
        before, after = clause[: both.start()].rstrip(" <≤:="), clause[both.end() :].lstrip(" ,")
        return [f"{before} < {one} {after} typical", f"{before} < {most} {after}"]
    match = re.match(
        rf"^(.*?\bSWR\b)\s*[≤<]?\s*({_NUMBER})(?::1)?\s*(?:max\b)?[\s,]*typical\s+({_NUMBER})(?::1)?"
        rf"(?![\d.,]*\d)(?!\s*(?:[kMG]?Hz|c?m\b|max|-|–|to\s*\d))\s*(.*)$",
        clause,
    )
    if match:
        return [f"{match[1]} < {match[3]} {match[4]} typical", f"{match[1]} < {match[2]} {match[4]}"]
    return [clause]
