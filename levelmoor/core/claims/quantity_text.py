"""How each quantity is read from a line: its words and figure, taken out of it in a fixed order."""

import re
from collections.abc import Callable
from dataclasses import dataclass, field

from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.rule_sets import shipped_rule_sets
from levelmoor.core.rf.levels import dbm_of_watts
from levelmoor.core.rf.reflection import gamma_from_return_loss, swr_from_gamma
from levelmoor.core.words.digits import FIGURE

NUMBER = rf"({FIGURE})"


def number_of(written: str) -> float:
    """A figure with a point or a comma for its decimals."""
    return float(written.replace(",", ".").replace("−", "-"))


@dataclass
class Remaining:
    """What is left of the line while one part after the other is taken from it, and what was taken."""

    rest: str
    fields: dict[str, object] = field(default_factory=dict)

    def take(self, pattern: str) -> "re.Match[str] | None":
        match = re.search(pattern, self.rest, re.IGNORECASE)
        if match:
            self.rest = f"{self.rest[: match.start()]} {self.rest[match.end() :]}"
        return match

    def number(self, pattern: str) -> float | None:
        match = self.take(pattern)
        return number_of(match[1]) if match else None


def read_quantity(line: Remaining) -> Quantity | None:
    """The quantity a line speaks of; its figure and what belongs to it go from the line into its fields."""
    return next((quantity for quantity, reads in READERS if reads(line)), None)


def _connector(line: Remaining) -> bool:
    """What is claimed is a word: family and gender where they are understood."""
    if not line.take(r"\bconnectors?\b:?"):
        return _bare_connector(line)
    words, _, rest = line.rest.strip().partition(",")
    try:
        line.fields["stated"] = str(parse_connector(words))
    except ValueError:
        line.fields["stated"] = words.strip()
    line.rest = rest
    return True


def _bare_connector(line: Remaining) -> bool:
    """A connector by its name alone, as `SO-239 socket`."""
    whole = re.sub(r"[- ]type\b", "", line.rest.strip(), flags=re.IGNORECASE)
    if not 2 <= len(whole) <= 20:
        return False
    for written in (re.sub(r"\s*\b(?:sockets?|plugs?|jacks?)$", "", whole, flags=re.IGNORECASE), whole):
        try:
            line.fields["stated"] = str(parse_connector(written))
        except ValueError:
            continue
        line.rest = ""
        return True
    return False


def _bandwidth(line: Remaining) -> bool:
    """A width, and the SWR it is claimed at: 2:1 where none is said."""
    if not line.take(r"\b(?:bandwidth|width|wide)\b"):
        return False
    loss = line.number(rf"-?\s*{NUMBER}\s*dB\s*(?:return\s+loss|RL)\b")
    at = line.number(rf"(?:\b(?:at|swr)\s*)*[<≤]?\s*{NUMBER}\s*:\s*1") or line.number(rf"\bswr\s*[<≤]?=?\s*{NUMBER}")
    if loss:
        at = round(float(swr_from_gamma(gamma_from_return_loss(loss))), 4)
    line.take(r"\bswr\b")
    size = line.take(rf"{NUMBER}\s*(kHz|MHz)\b")
    if size:
        line.fields["limit"] = number_of(size[1]) * (1e3 if size[2].lower() == "mhz" else 1)
    line.fields["swr_at"] = at or 2.0
    return True


def _resonance(line: Remaining) -> bool:
    return bool(line.take(r"\b(?:resonan(?:t|ce|ces)|resonates)\b"))


def _emissions(line: Remaining) -> bool:
    """Harmonics or all emissions: so many dB under the carrier, at most a level, or a rule set by its name."""
    rules = next((r for r in shipped_rule_sets() if re.search(re.escape(r), line.rest, re.IGNORECASE)), "")
    if rules:
        line.take(
            rf"(?:\b(?:emissions?|within|meets?|complies\s+with|compliant\s+with|according\s+to)\s+)*{re.escape(rules)}"
        )
        line.fields["stated"] = rules
        _carrier(line)
        return True
    if not line.take(r"\b(?:harmonics?|spurious|emissions?)\b"):
        return False
    while line.take(r"\b(?:harmonics?|spurious|emissions?|suppression|attenuation|rejection|radiation|down\s+by)\b|&"):
        pass
    level = line.take(rf"(?:at most|less than|under|below|up to|≤|<)?\s*([-−+]?{FIGURE})\s*dBm\b")
    if level:
        line.fields["limit"], line.fields["unit"] = number_of(level[1]), "dBm"
    elif re.search(rf"{NUMBER}\s*[µuμn]W\b", line.rest):
        line.fields["limit"], line.fields["unit"] = round(float(dbm_of_watts(_watts(line) or 1e-6)), 2), "dBm"
    else:
        line.fields["limit"] = line.number(
            rf"(?:at least|better than|more than|under|below)?\s*[-−<>≤≥\s]*{NUMBER}\s*dBc?\b"
        )
    _carrier(line)
    return True


_AT_LEAST, _AT_MOST = r"at\s+least|more\s+than|better\s+than|over", r"at\s+most|less\s+than|under|below"


def _choking(line: Remaining) -> bool:
    words = r"\b(?:chok(?:e|ing)(?:\s+impedance)?|common[- ]mode(?:\s+(?:impedance|chok(?:e|ing)))?)\b"
    if not line.take(words) and not line.take(r"\b(?:line[- ]isolator|current\s+balun)\b(?=.*\d\s*k?\s*(?:Ω|ohm))"):
        return False
    ohm = line.take(rf"(?:[>≥]|{_AT_LEAST})?\s*{NUMBER}\s*(?:(k)\s*(?:Ω|ohms?)?|(?:Ω|ohms?))(?!\w)")
    line.fields["limit"] = number_of(ohm[1]) * (1e3 if ohm[2] else 1) if ohm else None
    return True


def _insertion_loss(line: Remaining) -> bool:
    if not line.take(r"\b(?:insertion|through|throughput|passage)\s+loss\b"):
        return False
    line.fields["limit"] = line.number(rf"(?:[<≤]|{_AT_MOST})?\s*{NUMBER}\s*dB\b")
    return True


def _attenuation(line: Remaining) -> bool:
    """At least so much, or with a tolerance so much; a pad's figure without one is good to its last digit."""
    word = line.take(r"\b(?:attenuation|attenuates|attenuator|pad)\b")
    if not word:
        return False
    tolerance = line.number(rf"(?:±|\+/-|\b(?:accuracy|tolerance)\b:?)\s*(?:±\s*)?{NUMBER}\s*(?:dB)?\b")
    found = line.take(rf"([<>≤≥]|{_AT_LEAST}|{_AT_MOST})?\s*{NUMBER}\s*dB\b")
    if found:
        line.fields["limit"] = number_of(found[2])
        digits = len(re.split(r"[.,]", found[2])[1]) if re.search(r"[.,]", found[2]) else 0
        if tolerance is None and word[0].lower() in ("pad", "attenuator") and not found[1]:
            tolerance = 0.5 * 10.0**-digits
        line.fields["tolerance"] = tolerance
    return True


def _return_loss(line: Remaining) -> bool:
    if not line.take(r"\b(?:return loss|RL)\b"):
        return False
    limit = line.number(rf"(?:[>≥]?=?|at least|better than|min(?:imum)?\.?)\s*{NUMBER}\s*dB\b")
    line.fields["limit"] = line.number(rf"[>≥]?=?\s*{NUMBER}(?=\s|$)") if limit is None else limit
    line.take(r"\bat\s+least\b|\bmin(?:imum)?\b\.?|\bor better\b")
    return True


def _gain(line: Remaining) -> bool:
    if not line.take(r"\bgain\b") and not re.search(r"\bdB[id]\b", line.rest):
        return False
    several = line.take(rf"{NUMBER}(?:\s*/\s*{FIGURE})+\s*dB[id]\b")
    if several:  # one for each band, in what order is not said
        line.fields["stated"] = " ".join(several[0].split())
        return True
    bare = None if re.search(r"\dB[id]?\b|dB", line.rest) else line.take(rf"^\s*[:=]?\s*{NUMBER}{_NO_UNIT}")
    if bare:  # dBi or dBd
        line.fields["stated"] = bare[0].strip(" :=")
        return True
    gain = line.take(rf"[>≥]?\s*([-+]?{FIGURE})\s*dB([id])?\b")
    if gain:  # a dipole has 2.15 dBi
        over = 2.15 if (gain[2] or "").lower() == "d" else 0.0
        line.fields["limit"] = round(number_of(gain[1]) + over, 6)
    return True


def _tuner_time(line: Remaining) -> bool:
    if not line.take(r"\b(?:tun(?:es|ing)|match(?:es|ing))\s+time\b|\b(?:(?:auto-?)?tunes?|matches)\s+(?:with)?in\b"):
        return False
    line.fields["limit"] = _seconds(line)
    line.take(r"\btuner\b")
    return True


def _recall(line: Remaining) -> bool:
    words = (
        r"\b(?:recall(?:s|ed)?(?:\s+(?:time|from\s+memory))?|from\s+memory|memory\s+(?:recall|tuning)(?:\s+time)?)\b"
    )
    if not line.take(words):
        return False
    line.fields["limit"] = _seconds(line)
    line.take(r"\b(?:tuner|within|in)\b")
    return True


def _seconds(line: Remaining) -> float | None:
    """The longest time that is named, in s."""
    span = line.take(rf"{NUMBER}\s*(?:-|–|to)\s*{NUMBER}\s*(?:s|sec|seconds?)\b")
    if span:
        return number_of(span[2])
    found = line.take(rf"(?:[<≤]|max(?:imum)?|under|at most|up to)?\s*{NUMBER}\s*(ms|s|sec|seconds?)\b")
    return number_of(found[1]) * (1e-3 if found[2] == "ms" else 1) if found else None


def _tuner_range(line: Remaining) -> bool:
    """Resistances from one to another, all loads up to an SWR, or any wire; and to what SWR they are brought."""
    ohm = r"(?:kΩ|Ω|k?ohms?)"
    ohms = rf"{NUMBER}\s*(k)?(?:{ohm})?\s*(?:-|–|to|\.\.)\s*{NUMBER}\s*(k(?=\s*(?:Ω|ohm)))?\s*{ohm}"
    named = line.take(r"\b(?:tun(?:es|ing)|match(?:es|ing|ed)|(?:tuner|atu)(?=\s+range))(?:\s+range)?\b")
    if not named and (re.search(r"\bSWR\b", line.rest) or not re.search(ohms, line.rest, re.IGNORECASE)):
        return False
    span = line.take(ohms)
    residual = rf"(?:\b(?:down\s+to|to|within|under|below)\b|[<≤])\s*(?:SWR\s*)?{NUMBER}\s*:\s*1\b"
    if span:
        low, high = (number_of(span[i]) * (1e3 if span[i + 1] else 1) for i in (1, 3))
        line.fields["stated"] = f"{low:g} to {high:g} Ω"
    elif line.take(r"\b(?:any|random|every)\s+(?:length\s+of\s+)?(?:wires?|loads?|antennas?)\b"):
        line.fields["stated"] = "any load"
    elif swr := line.take(rf"(?<!to )(?:loads?\s*)?(?:(?:up to|of)\s*)?(?<![\d.,]){NUMBER}\s*:\s*1\b(?:\s*SWR)?"):
        line.fields["stated"] = f"up to {swr[1]}:1"
    limit = line.number(residual)
    if limit is not None:
        line.fields["limit"] = limit
    line.take(r"\bSWR\b")
    line.take(r"\b(?:loads?|tuner)\b")
    return True


def _in_words(pattern: str) -> Callable[[Remaining], bool]:
    """A quantity that is claimed in words: all that the line still says."""

    def reads(line: Remaining) -> bool:
        if not re.search(pattern, line.rest, re.IGNORECASE):
            return False
        line.fields["stated"], line.rest = line.rest.strip(), ""
        return True

    return reads


_NO_UNIT = r"(?![\d.,]*\d)(?!\s*(?:[kMG]?Hz|c?m|[kmµ]?W|dB[cim]?)\b)(?!\s*(?:-|–|to)\s*\d)"
_SIGN = r"(?:<=?|≤|=<|\bunder\b|\bbelow\b|\bat most\b|\bup to\b|\bmax(?:imum)?\b\.?|\bbetter than\b|\bless than\b)"


def _swr(line: Remaining) -> bool:
    """Whether the line speaks of SWR, by its name or a limit such as `< 1.5`, `2:1`; with another unit it is none."""
    named = bool(re.search(r"\bv?swr\b", line.rest, re.IGNORECASE))
    z0 = line.take(rf"(?:\b(?:at|on|in|for|into)\s+)?{NUMBER}\s*(?:Ω|ohms?\b)") if named else None
    if z0:
        line.fields["z0_ohm"] = number_of(z0[1])
    line.rest = re.sub(r"\bmax(?:imum)?\b\.?(?=\s*(?:$|<|≤))", " ", line.rest, flags=re.IGNORECASE)
    limit: float | None = None
    for pattern in (
        rf"\bv?swr\b[\s:=]*{_SIGN}?\s*{NUMBER}\s*:\s*1\b",
        rf"\bv?swr\b[\s:=]*{_SIGN}?\s*{NUMBER}{_NO_UNIT}",
        rf"{_SIGN}?\s*{NUMBER}\s*:\s*1\b",
        rf"(?!up to){_SIGN}\s*{NUMBER}{_NO_UNIT}",
        rf"{NUMBER}\s*(?:or\s+(?:better|less|lower|under)|max(?:imum)?\b)",
    ):
        limit = line.number(pattern)
        if limit is not None:
            line.fields["limit"] = limit
            break
    line.take(r"\bv?swr\b:?")
    return limit is not None or named


def _output_power(line: Remaining) -> bool:
    words = r"\b(?:(?:RF\s+)?output|transmits|tx|transmit(?:ting)?)(?:\s+power)?\b"
    return _names_watts(line) and bool(line.take(words)) and _power_handling(line)


def _power_handling(line: Remaining) -> bool:
    if not _names_watts(line):
        return False
    line.fields["limit"] = _watts(line)
    while line.take(r"\b(?:max(?:imum)?\.?|rated|rating|power|handling|handles|input|up to|RF|transmit|capacity)"):
        pass
    _mode(line)
    return True


def _names_watts(line: Remaining) -> bool:
    return bool(re.search(rf"{NUMBER}\s*[kmµuμ]?W\b", line.rest))


def _impedance(line: Remaining) -> bool:
    if not line.take(r"\bimpedance\b") and not re.search(rf"{NUMBER}\s*(?:Ω|ohms?)", line.rest, re.IGNORECASE):
        return False
    line.fields["limit"] = line.number(rf"{NUMBER}\s*(?:Ω|ohms?\b)?")
    line.take(r"\bnominal\b")
    return True


def _watts(line: Remaining) -> float | None:
    """A power in W, from `500 mW`, `25 µW`, `1.5 kW`, `5 W`."""
    found = line.take(rf"(?:at most|less than|under|below|up to|≤|<)?\s*{NUMBER}\s*([kmµuμn])?W\b")
    if found is None:
        return None
    size = {"k": 1e3, "m": 1e-3, "µ": 1e-6, "μ": 1e-6, "u": 1e-6, "n": 1e-9}.get(found[2] or "", 1.0)
    return float(f"{float(found[1].replace(',', '.')) * size:.9g}")


def _carrier(line: Remaining) -> None:
    """At what carrier power, in which mode and duty cycle, where that is said."""
    watts = line.number(rf"\b{NUMBER}\s*W\b")
    if watts is not None:
        line.fields["power_w"] = watts
    _mode(line)


_MODE = r"(?:SSB|CW|FM|AM|PEP|RTTY|FT8|carrier|continuous|voice|data|digital)"


def _mode(line: Remaining) -> None:
    mode = line.take(rf"\b({_MODE}(?:(?:\s*/\s*|\s+){_MODE})*)\b")
    if mode:
        line.fields["mode"] = re.sub(r"\s*/\s*", "/", mode[1])
    duty = line.number(rf"\b{NUMBER}\s*%\s*(?:duty)?(?:\s+cycle)?")
    if duty is not None:
        line.fields["duty"] = duty / 100


READERS: tuple[tuple[Quantity, Callable[[Remaining], bool]], ...] = (
    (Quantity.CONNECTOR, _connector),
    (Quantity.BANDWIDTH, _bandwidth),
    (Quantity.RESONANCE, _resonance),
    (Quantity.EMISSIONS, _emissions),
    (Quantity.CHOKING, _choking),
    (Quantity.INSERTION_LOSS, _insertion_loss),
    (Quantity.ATTENUATION, _attenuation),
    (Quantity.RETURN_LOSS, _return_loss),
    (Quantity.GAIN, _gain),
    (Quantity.RECALL, _recall),
    (Quantity.TUNER_TIME, _tuner_time),
    (Quantity.TUNER_RANGE, _tuner_range),
    (Quantity.WEATHER, _in_words(r"\b(?:weather|rain|water|IP\d\d)")),
    (Quantity.PATTERN, _in_words(r"\b(?:pattern|front|side|omni|beam)")),
    (Quantity.SWR, _swr),
    (Quantity.OUTPUT_POWER, _output_power),
    (Quantity.POWER, _power_handling),
    (Quantity.IMPEDANCE, _impedance),
)
"""The quantities in the order in which a line is searched for them: those with words of their own come first."""
