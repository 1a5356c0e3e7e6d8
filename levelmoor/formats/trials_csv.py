"""Trials as CSV, and one trial from what was typed: the same reading for a telephone, a pasted table and a file."""

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TypeVar

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.trials import MOST_DIALS, DialPosition, Outcome, Trial
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.trials.load_text import parse_load
from levelmoor.core.words.bounds import NUMBERS, TEXTS, TRIALS, unprintable
from levelmoor.core.words.figures import format_mhz
from levelmoor.formats.csv_out import write_csv
from levelmoor.formats.equipment_fields import number
from levelmoor.formats.headed_csv import FREQUENCY, read_headed
from levelmoor.formats.plausible import MAYBE_DBM
from levelmoor.formats.problem import shown
from levelmoor.formats.units import Quantity

T = TypeVar("T")
HEADINGS = {
    "frequency": "Frequency MHz",
    "load": "Load",
    "power": "Power W",
    "memory": "From memory",
    "outcome": "Outcome",
    "before": "SWR before",
    "after": "SWR after",
    "seconds": "Seconds",
    "dials": "Dials",
    "network": "Network",
    "sweep": "Antenna sweep",
    "note": "Note",
    "day": "Day",
}
_KNOWN = {
    "frequency": FREQUENCY,
    "load": ("load", "antenna", "load ohm", "load ω", "z", "ohm", "ohms", "ω"),
    "resistance": ("r", "load r", "resistance"),
    "reactance": ("x", "load x", "reactance"),
    "power": ("power", "w", "watt", "watts", "dbm", "tx power", "power out"),
    "memory": ("from memory", "memory", "recall", "recalled"),
    "outcome": ("outcome", "result", "matched"),
    "before": ("swr before", "before", "swr in", "swr without", "swr untuned", "start swr"),
    "after": ("swr after", "after", "swr", "swr out", "residual", "residual swr", "swr tuned", "end swr"),
    "seconds": ("seconds", "sec", "time", "s", "tune time", "tuning time"),
    "dials": ("dials", "knobs", "settings"),
    "network": ("network", "circuit", "tuner network"),
    "sweep": ("antenna sweep", "load sweep", "sweep"),
    "note": ("note", "notes", "remark", "remarks", "comment", "comments"),
    "day": ("day", "date", "taken on"),
}
_MEASURES = {
    "frequency": Quantity.FREQUENCY, "power": Quantity.POWER, "seconds": Quantity.TIME,
    "resistance": Quantity.RESISTANCE, "reactance": Quantity.RESISTANCE,
    "before": Quantity.RATIO, "after": Quantity.RATIO,
}  # fmt: skip
_DIAL = re.compile(r"\A\s*(?:dial|knob)\s+(\S.*?)\s{0,9}", re.IGNORECASE)
"""The heading of a column for one knob, such as Dial coil."""
_OUTCOMES = {
    Outcome.MATCHED: ("matched", "match", "ok", "yes", ""),
    Outcome.GAVE_UP: ("gave up", "gave_up", "fail", "failed", "no"),
    Outcome.REFUSED: ("refused", "refuses"),
    Outcome.STOPPED: ("stopped", "stopped by hand", "aborted"),
}
_OFF_SCALE = ("off scale", "off the scale", "offscale", "pegged", "full scale", "∞", "inf", "infinite")
_BOUND = re.compile(r"\A\s*(?:>=?|≥|over|above|more than|at least)\s*", re.IGNORECASE)
_YES = ("yes", "y", "1", "true", "memory", "recalled", "x")
_NO = ("", "no", "n", "0", "false", "fresh")
ANALYZER = "analyzer"
"""What stands for the power where an analyzer was the source."""
LONGEST_TUNE_S = 300.0
"""Nobody waits so long for a match: a larger figure without a unit is in milliseconds."""


class TypedProblem(ValueError):
    """What is wrong with a field, by its name."""

    def __init__(self, field: str, words: str) -> None:
        self.field = field
        super().__init__(words)


@dataclass(frozen=True)
class Names:
    """What a table may name: the tuner's networks, and the sweeps of antennas without it, by name; with their ids."""

    networks: Mapping[str, str] = field(default_factory=dict)
    sweeps: Mapping[str, str] = field(default_factory=dict)


def trial_from(typed: Mapping[str, str], ident: str = "", names: Names | None = None, **placed: str) -> Trial:
    """One trial from what was typed by field; what it is of is `placed`. Without `names` a network and a sweep are not
    looked up.

    Raises
    ------
    TypedProblem
        Naming the field, what stands there and what would be right.
    """
    said = {name: " ".join(typed.get(name, "").split()) for name in HEADINGS}
    frequency = _of("frequency", lambda: parse_frequency(said["frequency"], asks=True))
    low, high = NUMBERS["evaluation.wanted_hz"]
    if not low <= frequency <= high:
        raise TypedProblem("frequency", f"{said['frequency']} is out of range; 1 kHz to 300 GHz is allowed")
    load = _of("load", lambda: parse_load(said["load"]).words) if said["load"] else ""
    for name in ("load", "note"):
        most = TEXTS[f"trial.{name}"]
        if len(said[name]) > most or unprintable(said[name]):
            raise TypedProblem(name, f"at most {most} characters")
    power = None
    if said["power"] and said["power"].lower() != ANALYZER:
        power = _figure("power", re.sub(r"\s?w(atts?)?$", "", said["power"], flags=re.I), "watts, as in 10", "power_w")
    after, before = (_swr(n, said[n]) for n in ("after", "before"))
    digits = re.split(r"[.,]", _BOUND.sub("", said["after"]).removesuffix(":1").strip())
    if said["after"] and after is None and not said["outcome"]:
        said["outcome"] = Outcome.GAVE_UP.value
    outcome = next((o for o, words in _OUTCOMES.items() if said["outcome"].lower() in words), None)
    if outcome is None:
        raise TypedProblem("outcome", f"{shown(said['outcome'])} is not one of matched, gave up, refused, stopped")
    if said["after"] and after is None and outcome is Outcome.MATCHED:
        raise TypedProblem("after", f"{shown(said['after'])} is not a match; write the SWR, or another outcome")
    if said["memory"].lower() not in (*_YES, *_NO):
        raise TypedProblem("memory", f"{shown(said['memory'])} is neither yes nor no")
    seconds = _in_seconds(said["seconds"])
    if said["day"] and moment(said["day"].replace(" ", "T")) is None:
        raise TypedProblem("day", f"{shown(said['day'])} is not a day; write it like 2026-05-31 or 2026-05-31 14:20")
    if names is not None:
        placed.setdefault("network_id", _named("network", said["network"], names.networks))
        placed.setdefault("load_sweep_id", _named("sweep", said["sweep"], names.sweeps))
    return Trial(
        ident,
        placed.pop("sample_id", ""),
        placed.pop("setup_id", ""),
        frequency,
        outcome,
        load=load,
        power_w=power,
        memory=said["memory"].lower() in _YES,
        swr_before=before,
        swr_after=after,
        swr_step=10.0 ** -len(digits[1]) if len(digits) > 1 else 1.0,
        seconds=_figure("seconds", seconds, "seconds, as in 4.2", "seconds") if seconds else None,
        dials=_dials(said["dials"]),
        note=_noted(said),
        taken_on=said["day"].replace(" ", "T")[:16],
        **placed,  # type: ignore[arg-type]
    )


def _of(field: str, read: Callable[[], T]) -> T:
    try:
        return read()
    except ValueError as problem:
        raise TypedProblem(field, str(problem)) from None


def _figure(field: str, text: str, what: str, bound: str) -> float:
    try:
        return number(text, what, *NUMBERS[f"trial.{bound}"])
    except ValueError as problem:
        raise TypedProblem(field, str(problem)) from None


def _in_seconds(text: str) -> str:
    """Without its unit, and of 1:05 the seconds."""
    clock = re.fullmatch(r"(\d+):([0-5]\d(?:[.,]\d+)?)", text)
    if clock is not None:
        return f"{60 * int(clock[1]) + float(clock[2].replace(',', '.')):g}"
    return re.sub(r"\s?s(ec(onds)?)?$", "", text, flags=re.I)


def _swr(field: str, text: str) -> float | None:
    """An SWR; of one that is above a figure that figure, of one off the scale none. The note says so."""
    if not text or text.lower() in _OFF_SCALE:
        return None
    return _figure(field, _BOUND.sub("", text).removesuffix(":1"), "an SWR, as in 1.3, >10 or off scale", "swr_after")


def _noted(said: Mapping[str, str]) -> str:
    """The note, with what an SWR says beyond its figure."""
    more = [
        f"{HEADINGS[n]}: {said[n]}"
        for n in ("before", "after")
        if _BOUND.match(said[n]) or said[n].lower() in _OFF_SCALE
    ]
    return "; ".join(filter(None, (said["note"], *(m for m in more if m not in said["note"]))))


def _named(field: str, name: str, known: Mapping[str, str]) -> str:
    """The id of what is named, whatever the case of its letters."""
    if not name:
        return ""
    found = next((i for n, i in known.items() if n.casefold() == name.casefold()), None)
    if found is None:
        there = f"; choose from {', '.join(known)}" if known else "; there is none yet"
        raise TypedProblem(field, f"{shown(name)} is not a {HEADINGS[field].lower()} of this evaluation{there}")
    return found


def _dials(text: str) -> tuple[DialPosition, ...]:
    """`C1 3.5; coil 7; C2 two turns from the stop`: the last word or all after a colon is where it stands."""
    found = []
    for part in (p.strip() for chunk in text.split(";") for p in _apart(chunk) if p.strip()):
        knob, colon, at = part.partition(":")
        if not colon:
            match = re.match(r"^(.*\S)\s+(\S+)$", part)
            if match is None or "," in match[1]:
                raise TypedProblem("dials", f"{shown(part)} has no mark; write it like coil 7; antenna 3.5")
            knob, at = match[1], match[2]
        if max(len(knob), len(at)) > TEXTS["trial.dial"]:
            raise TypedProblem("dials", f"at most {TEXTS['trial.dial']} characters for a knob and for its mark")
        found.append(DialPosition(knob.strip(), at.strip()))
    if len(found) > MOST_DIALS:
        raise TypedProblem("dials", f"at most {MOST_DIALS} knobs are allowed")
    return tuple(found)


_AT_A_NUMBER = re.compile(r"\A[^:]*[^\s:]\s[-+]?\d[\d.,]*")


def _apart(chunk: str) -> list[str]:
    """Dials with commas between, `coil 7, antenna 3.5`, where each stands at a number or all have colons."""
    pieces = [p.strip() for p in re.split(r",\s+|,(?=[^\W\d])", chunk)]
    alike = all(map(_AT_A_NUMBER.fullmatch, pieces)) or all(":" in p for p in pieces)
    return pieces if alike else [chunk]


def dials_text(dials: Sequence[DialPosition]) -> str:
    """The text that is read back as the same."""
    return "; ".join(f"{d.knob}: {d.at}" if " " in d.at or "," in d.knob + d.at else f"{d.knob} {d.at}" for d in dials)


def read_trials(name: str, data: bytes, names: Names | None = None, **placed: str) -> list[Trial]:
    """Trials from a CSV with headings, separated by semicolons, tabs or commas.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right; nothing of the file is taken then.
    """
    table = read_headed(
        name, data, _KNOWN, ("frequency",), "headings as in Frequency MHz; Load; Outcome; SWR after", TRIALS, _MEASURES
    )
    dials = {i: m[1] for i, h in enumerate(table.headings) if (m := _DIAL.fullmatch(h))}
    table = replace(table, columns=[f"dial {dials[i]}" if i in dials else c for i, c in enumerate(table.columns)])
    # Trials without the power that stands there would be others, so no column is passed over in silence.
    known = ", ".join(HEADINGS.values())
    table.all_known(
        f"one of {known}; R and X instead of Load; Dial coil, Dial antenna for single knobs; or leave it out"
    )
    found: list[Trial] = []
    bare = table.without_unit("power")
    if bare and all(MAYBE_DBM[0] <= power <= MAYBE_DBM[1] for _, power in bare):
        raise table.in_watts(*bare[0])
    slow = [(n, seconds) for n, seconds in table.without_unit("seconds") if seconds > LONGEST_TUNE_S]
    if slow:
        right = "seconds or milliseconds? Write the unit in the heading, as in Tune time ms"
        raise table.problem(slow[0][0], "seconds", {"seconds": f"{slow[0][1]:g}"}, right)
    for n, typed in table.typed(rest="dials"):
        try:
            found.append(trial_from(_whole(typed, dials.values()), str(len(found) + 1), names, **placed))
        except TypedProblem as problem:
            field = "resistance" if problem.field == "load" and "load" not in table.columns else problem.field
            raise table.problem(n, field, typed, problem) from None
    return found


def _whole(typed: Mapping[str, str], knobs: Iterable[str]) -> dict[str, str]:
    """R and X put together to the load, and the columns of knobs to the dials."""
    load, r, x = (typed.get(n, "") for n in ("load", "resistance", "reactance"))
    if (r or x) and load:
        raise TypedProblem("load", "either Load, or R and X")
    if r or x:
        ohm, j = _ohm("resistance", r), _ohm("reactance", x)
        load = f"{ohm:g} {'-' if j < 0 else '+'} j{abs(j):g}"
    places = [f"{k}: {at}" for k in knobs if (at := typed.get(f"dial {k}"))]
    return {**typed, "load": load, "dials": "; ".join(filter(None, (typed.get("dials", ""), *places)))}


def _ohm(field: str, text: str) -> float:
    return _of(field, lambda: number(text or "0", "ohm, as in 25", -1e6, 1e6))


def write_trials(trials: Sequence[Trial], names: Names = Names()) -> str:
    """The trials as `read_trials` takes them back."""
    networks, sweeps = ({ident: n for n, ident in known.items()} for known in (names.networks, names.sweeps))
    table: list[list[str]] = [list(HEADINGS.values())]
    for t in trials:
        digits = max(0, len(f"{t.swr_step:.6f}".rstrip("0").partition(".")[2]))
        table.append(
            [
                format_mhz(t.frequency_hz).replace("\u202f", ""),
                t.load.replace("−", "-"),
                f"{t.power_w:g}" if t.power_w is not None else ANALYZER,
                "yes" if t.memory else "no",
                t.outcome.value.replace("_", " "),
                f"{t.swr_before:g}" if t.swr_before is not None else "",
                f"{t.swr_after:.{digits}f}" if t.swr_after is not None else "",
                f"{t.seconds:g}" if t.seconds is not None else "",
                dials_text(t.dials),
                networks.get(t.network_id, ""),
                sweeps.get(t.load_sweep_id, ""),
                t.note,
                t.taken_on.replace("T", " "),
            ]
        )
    return write_csv(table)
