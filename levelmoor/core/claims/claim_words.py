"""The words that packages print, in the shorthand that claims are understood in: signs, units, and five languages.

The figures stay as they are; only words are put in the place of others.
"""

import re

from levelmoor.core.words.digits import FIGURE

_TO_MORE = r"(?:\s*(?:-|–|to)\s*[\d,]++)?"
SIGNS: tuple[tuple[str, str], ...] = (
    (rf"(?<![\d.,])([1-9]\d{{0,2}}),(\d{{3}})(?:,(\d{{3}}))?(?={_TO_MORE}\s*(?:Ω|ohm|W\b|watt|k?Hz\b))", r"\1\2\3"),
    (r"[≦⩽]|=<|<=", "≤"),
    (r"[≧⩾]|=>|>=", "≥"),
    (r"[−‒]", "-"),
    (r"\s*@\s*", " at "),
    (r"\)\s*(?=[<≤]|\d[\d.,]*\s*(?:[kmµ]?W\b|dB))", "); "),
    (rf"\bbetween\s+({FIGURE}\s*(?:[kMG]?Hz)?)\s+and\s+(?=\d)", r"\1 to "),
    (r"(\d)\s*(?:meters?|metres?)\b", r"\1m"),
    (r"(\d)\s*micro-?watts?\b", r"\1 µW"),
    (r"(\d)\s*milli-?watts?\b", r"\1 mW"),
    (r"(\d)\s*kilo-?watts?\b", r"\1 kW"),
    (r"\bCB\s*\(?\s*27(?:[.,]0+)?\s*MHz\b", " CB "),
    (r"(?<=\d)\s+o\s+(?:inferior|menor|menos)\b", " or less "),
    (r"(\d)\s*[~～]\s*(?=\d)", r"\1 to "),
    (r"(\d\s*(?:[kMG]?Hz|c?m)?)\s*(?:\.\.\.|…)\s*(?=\d)", r"\1 to "),
    (r"\bnot?\s+(?:more|greater|higher)\s+than\b|\b(?:does\s+)?not\s+(?:above|over|exceed(?:s|ing)?)\b", " at most "),
    (r"\bnot?\s+worse\s+than\b", " better than "),
    (r"\bnot?\s+(?:less|lower)\s+than\b|\bnot\s+(?:below|under)\b", " at least "),
    (r"(\d\s*(?:[kMG]?Hz)?)\s+(?:through|thru)\s+(?=\d)", r"\1 to "),
    (rf"((?:\bSWR\b|[<≤]|\b(?:under|below|than|most|up\s+to|to|at))\s*)({FIGURE})\s+to\s+1\b(?!\s*(?:[kMG]?Hz|c?m\b)|[.,]\d)",
     r"\1\2:1"),
    (r"\bno\s+(?:antenna\s+)?(tuner|atu)\s+(?:is\s+)?(?:needed|required|necessary)\b", r"without \1"),
    (r"\b(?:w/o|without\s+an?\s+external)\s+(?=(?:tuner|atu)\b)", "without "),
    (r"[~≈]|\bca\.?\s|\bapprox(?:\.|imately)?\s|\babout\s|\benv\.\s|\bcirca\s", " typical "),
    (r"\btyp(?:\.|ically|isch|ique|ico|ical)?(?=[\s:,;)]|$)", " typical "),
    (r"\bV\.?\s?S\.?\s?W\.?\s?R\.?(?![A-Za-z])", " SWR "),
    (r"\bS\.\s?W\.\s?R\.?(?![A-Za-z])", " SWR "),
    (r"\bR\.?O\.?S\.?(?=[\s:<≤=]|$)|\bT\.?O\.?S\.?(?=[\s:<≤=]|$)|\bR\.?O\.?E\.?(?=[\s:<≤=]|$)", " SWR "),
    (r"\b(?:residual|remaining|matched|tuned)\s+SWR\b|\bSWR\s+(?:after\s+tuning|(?:once|when)\s+tuned)\b",
     " SWR with tuner "),
    (r"(\d\s*(?:[kMG]?Hz)?)\s+up\s+to\s+(?=\d)", r"\1 to "),
    (rf"\b1\s*:\s*({FIGURE})(?!\s*:\d)", r"\1:1"),
    (rf"\bS\s?11\b\s*:?\s*(?:[<≤]|under|below|better than)?\s*-\s*({FIGURE})\s*dB", r" return loss \1 dB "),
    (r"(\d)\s*[Ww]atts?\b", r"\1 W"),
    (r"(\d)\s*(?:ohmios|ohms|ohm|Ohm)\b", r"\1 ohm"),
    (r"\bF\s*/\s*B\b", " front to back "),
    (r"(\d)\s*dB\s+over\s+an?\s+(?:half-?wave\s+)?dipole\b", r"\1 dBd "),
    (r"\bB\.?W\.?(?=[\s:])", " bandwidth "),
    (r"(\d)\s*(MHz|kHz|GHz|mhz|khz|ghz|Mhz|Khz)\b", r"\1 \2"),
)  # fmt: skip
"""Signs and abbreviations, each with what stands in its place."""
LANGUAGES: tuple[tuple[str, str], ...] = (
    # German
    (r"\bstehwellen(?:verhältnis|verhaeltnis)?\b|\bwelligkeit\b", "SWR"),
    (r"\br(?:ü|ue)ckfluss?d(?:ä|ae)mpfung\b|\brückflußdämpfung\b", "return loss"),
    (r"\b(?:max(?:imal|imum)?\.?\s*)?(?:belastbarkeit|eingangsleistung|sendeleistung)\b", "power handling"),
    (r"\bausgangsleistung\b", "output power"), (r"\bleistung\b", "power"), (r"\bgewinn\b", "gain"),
    (r"\bbandbreite\b", "bandwidth"), (r"\bimpedanz\b|\bwellenwiderstand\b", "impedance"),
    (r"\banschlu(?:ss|ß)\b|\bstecker(?:typ)?\s*:", "connector:"), (r"\bbesser\s+(?:als\s+)?", "better than "),
    (r"\bh(?:ö|oe)chstens\b|\bmax\.?\s+", "max "), (r"\bkleiner\s+(?:als\s+)?|\bunter\b", "under "),
    (r"\bohne\s+(?:tuner|anpassger(?:ä|ae)t|koppler)\b", "without tuner"),
    (r"\bmit\s+(?:tuner|anpassger(?:ä|ae)t|koppler)\b", "with tuner"),
    (r"\b(?:oberwellen|nebenwellen|nebenaussendungen)(?:unterdr(?:ü|ue)ckung|d(?:ä|ae)mpfung)?\b", "harmonics"),
    (r"\b(\d+)\s*-?\s*(m|cm)\s*-?\s*band\b", r"\1\2"), (r"\b(?:im|auf|von|bei|für|fuer)\b", " "), (r"\bbis\b", "to"),
    (r"\bresonan(?:t|z)\b", "resonant"), (r"\bwasserdicht\b", "waterproof"), (r"\bund\b", "and"),
    # French
    (r"\bpertes?\s+(?:de|en)\s+retour\b|\baffaiblissement\s+de\s+réflexion\b", "return loss"),
    (r"\bpuissance\s+de\s+sortie\b", "output power"), (r"\bpuissance(?:\s+(?:admissible|maximale))?\b", "power"),
    (r"\bbande\s+passante\b|\blargeur\s+de\s+bande\b", "bandwidth"), (r"\bimpédance\b", "impedance"),
    (r"\bconnecteur\b", "connector"), (r"\bmâle\b", "male"), (r"\bfemelle\b", "female"),
    (r"\bsans\s+(?:coupleur|bo[iî]te\s+d.accord|tuner)\b", "without tuner"),
    (r"\bavec\s+(?:coupleur|bo[iî]te\s+d.accord|tuner)\b", "with tuner"),
    (r"\binférieur\s+(?:à|a)\b|\bmoins\s+de\b", "under"), (r"\bsur\b|\bde\s+(?=\d)|\bbande\b", " "), (r"\bà\b", "to"),
    (r"\bharmoniques\b|\brayonnements?\s+non\s+essentiels?\b", "harmonics"), (r"\bet\b", "and"),
    # Spanish
    (r"\bpérdidas?\s+de\s+retorno\b", "return loss"), (r"\bganancia\b", "gain"),
    (r"\bpotencia\s+de\s+salida\b", "output power"), (r"\bpotencia(?:\s+m[aá]x(?:ima|\.)?)?\b", "power"),
    (r"\bancho\s+de\s+banda\b", "bandwidth"), (r"\bimpedancia\b", "impedance"), (r"\bconector\b", "connector"),
    (r"\bmacho\b", "male"), (r"\bhembra\b", "female"), (r"\bsin\s+(?:acoplador|sintonizador)\b", "without tuner"),
    (r"\bcon\s+(?:acoplador|sintonizador)\b", "with tuner"), (r"\bmenor(?:\s+(?:de|que|a))?\b", "under"),
    (r"\barm[oó]nicos\b|\bespurias\b", "harmonics"),
    # Italian
    (r"\bguadagno\b", "gain"), (r"\bpotenza\s+(?:di|in)\s+uscita\b", "output power"),
    (r"\bpotenza(?:\s+(?:max(?:\.|ima)?|massima|applicabile))*", "power"),
    (r"\blarghezza\s+di\s+banda\b", "bandwidth"), (r"\bimpedenza\b", "impedance"), (r"\bconnettore\b", "connector"),
    (r"\bmaschio\b", "male"), (r"\bfemmina\b", "female"), (r"\bsenza\s+accordatore\b", "without tuner"),
    (r"\bcon\s+accordatore\b", "with tuner"), (r"\b(?:inferiore|minore)\s+(?:a|di)\b", "under"),
    (r"\b(?:su|da|nei|nella|sui)\b", " "), (r"\barmoniche\b|\bspurie\b", "harmonics"),
    (r"\bperdite?\s+di\s+ritorno\b", "return loss"), (r"\ben\b|\bbanda\b", " "),
)  # fmt: skip
"""Words of leaflets, each with the English one; what two languages share stands once."""


def in_plain_words(text: str) -> str:
    """The line with signs and foreign words replaced, brackets opened, blanks put together."""
    for pattern, words in SIGNS:
        text = re.sub(pattern, words, text, flags=re.IGNORECASE if len(pattern) > 12 else 0)
    for pattern, words in LANGUAGES:
        text = re.sub(pattern, words, text, flags=re.IGNORECASE)
    text = re.sub(rf"({FIGURE})\s+a\s+(?=({FIGURE}))", _to_or_at, text)
    text = re.sub(r"[()\[\]]", " ", text)
    return " ".join(text.split())


def _to_or_at(match: "re.Match[str]") -> str:
    """`144 a 146` runs from one to the other, `1,5 a 145` stands at the second: nobody claims so wide a range."""
    first, second = (float(x.replace(",", ".")) for x in (match[1], match[2]))
    return f"{match[1]} {'to' if first < second < 3 * first else 'at'} "
