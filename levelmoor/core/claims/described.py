"""What packages state and nothing here measures, kept in words: sizes, weights, wind, coverage, radiated power."""

import re

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.words.digits import FIGURE

_NAMED = (
    r"weigh(?:s|t)|mass|wind|survival|temperature|polari[sz]\w*|dimensions?|size|diameter|materials?|colou?r|warranty|"
    r"mounting|beamwidth|take-?off\s+angle|efficiency|radiat(?:or|ing\s+element)|elements?|boom|turning\s+radius|cmrr|"
    r"common[- ]mode\s+rejection|duplex|isolation|e\.?i?\.?r\.?p\.?(?!\w)|impedance\s+ratio|transformation|"
    r"(?:cover(?:s|age)|adjust(?:able|s)|tun(?:e)?able|receiv(?:es?|ing|er)|reception|rx|scans?)"
)
_SIZE = (
    r"(?:overall\s+|total\s+|folded\s+|radiator\s+|cable\s+|whip\s+|element\s+|boom\s+)?"
    r"(?:lengths?|heights?|width|diameter|long|länge|laenge|höhe|hoehe|longueur|hauteur|longitud|altura|lunghezza|"
    r"altezza|gewicht|poids|peso)\b\s*(?:of|is|from|:|=)?\s*(?:up\s+to\s*|approx\.?\s*|ca\.?\s*)?"
    rf"{FIGURE}\s*(?:(?:mm|cm|m|ft|in|inch|\")?\s*(?:-|–|to)\s*{FIGURE}\s*)?"
    r"(?:mm|cm|m|km|ft|in|inch|\"|kg|g)\b"
)
_DESCRIBED = re.compile(rf"\b(?:{_NAMED})\b|\b{_SIZE}", re.IGNORECASE)
_RATIO = re.compile(rf"\b(?:balun|unun|un-un|transformer)\b.*{FIGURE}\s*:\s*{FIGURE}|{FIGURE}\s*:\s*{FIGURE}\s*"
                    r"(?:balun|unun|un-un|transformer)\b", re.IGNORECASE)  # fmt: skip
_MEASURED = re.compile(
    r"\b(?:v?swr|ros|tos|s11|return\s+loss|rl|chok\w*|harmonics?|spurious|emissions?|insertion|attenuat\w+|bandwidth|"
    r"resonan\w+|recall|tuning\s+time|connector)\b|\d\s*dB[id]\b",
    re.IGNORECASE,
)
_LIMIT = re.compile(r"[<>≤≥]")
_NEVER_MEASURED = re.compile(
    r"\b(?:weigh(?:s|t)|wind|polari[sz]\w*|efficiency|cmrr|common[- ]mode\s+rejection|isolation)\b|"
    rf"{FIGURE}\s*(?:memories|memory\s+(?:channels|places)|presets)\b",
    re.IGNORECASE,
)
"""Also where a limit is written beside them."""
_CHOKING_DB = re.compile(rf"\bchok(?:e|es|ing)\s*[<>≤≥:]?\s*{FIGURE}\s*dB\b", re.IGNORECASE)
"""What it is in dB depends on what the line carries; in ohms it does not."""
_PIECES = re.compile(r"\s*;\s*|,\s+|\s+/\s+")


def described_in(line: str) -> tuple[tuple[Claim, ...], str]:
    """The pieces of a line that only describe, each as a claim in words, and the line without them."""
    claims: list[Claim] = []
    left: list[str] = []
    for piece in (p for p in _PIECES.split(line) if p.strip()):
        described = (_DESCRIBED.search(piece) or _RATIO.search(piece)) and not _LIMIT.search(piece)
        words = (described or _NEVER_MEASURED.search(piece)) and not _MEASURED.search(piece)
        if words or _CHOKING_DB.search(piece):
            claims.append(Claim("", Quantity.OTHER, stated=piece.strip()))
        else:
            left.append(piece)
    return tuple(claims), ", ".join(left) if claims else line
