"""The facts of a knob as they are typed: its ends, and the table of its dial."""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np

from levelmoor.core.matching.learnt_tables import Seen
from levelmoor.core.model.evaluation import Evidence
from levelmoor.core.model.networks import Knob, Network
from levelmoor.core.trials.load_text import parse_load
from levelmoor.core.words.bounds import KNOB_MARKS, NUMBERS, TEXTS, one_line, unprintable
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.equipment_fields import number


class KnobProblem(ValueError):
    """What is wrong with what was typed; nothing is stored then."""


def knob_from(knob: Knob, name: str, typed: str) -> Knob:
    """The knob with one fact as typed.

    Raises
    ------
    KnobProblem
        Where the fact is none of a knob.
    KeyError
        Where there is no such fact.
    """
    read = _FACTS[name]
    try:
        return read(knob, typed)
    except ValueError as problem:
        raise KnobProblem(sentence(problem)) from None


def table_text(knob: Knob) -> str:
    """`0 10; 50 130; 100 250`: each mark with its value."""
    marks = knob.labels or [f"{d:g}" for d in knob.dial]
    return "; ".join(f"{mark} {v:g}" for mark, v in zip(marks, knob.value, strict=True))


def _name(knob: Knob, typed: str) -> Knob:
    bare = one_line(typed)
    if not bare or len(bare) > TEXTS["trial.dial"] or unprintable(bare):
        raise ValueError(f"a knob's name has at most {TEXTS['trial.dial']} characters")
    return replace(knob, name=bare)


def _mark(typed: str) -> float:
    return number(typed, "a mark, as in 10", *NUMBERS["knob.mark"])


def _steps(knob: Knob, typed: str) -> Knob:
    return replace(knob, steps=typed == "yes")


def _table(knob: Knob, typed: str) -> Knob:
    """Marks and values, two figures to a place; marks may come in any order. Letters at a switch keep theirs, and are
    its positions from 1 on."""
    pairs: dict[float, float] = {}
    parts = [p for p in (p.strip() for p in re.split(r"[;\n]", typed)) if p]
    if len(parts) > KNOB_MARKS:
        raise ValueError(f"at most {KNOB_MARKS} marks are allowed")
    labels: list[str] = []
    for part in parts:
        figures = re.sub(r"(?:pF|µH|uH|nH)", "", part).replace(":", " ").split()
        if len(figures) != 2:
            raise ValueError(f'"{part[:40]}" is not a mark with its value; write 0 10; 50 130; 100 250')
        if figures[0].isalpha():
            labels.append(one_line(figures[0]))
        if labels and (len(labels) != len(pairs) + 1 or len(set(labels)) != len(labels)):
            raise ValueError("a switch has a letter for each of its positions, each once; write A 1.2; B 3.4; D 8")
        mark = float(len(labels)) if labels else number(figures[0], "a mark, as in 50", *NUMBERS["knob.mark"])
        pairs[mark] = number(figures[1], f"a value in {knob.unit}, as in 130", 0, 1e7)
    marks = sorted(pairs)
    held = tuple(m for m in knob.held if m in pairs)
    made = replace(knob, dial=tuple(marks), value=tuple(pairs[m] for m in marks), labels=tuple(labels), held=held)
    return replace(made, low=1.0, high=float(max(len(labels), 2)), steps=True) if labels else made


SEEN_AT = 7
"""So many frequencies of each sweep a table is learnt from."""


def read_seen(text: str, network: Network, sweeps: Sequence[Evidence]) -> list[Seen]:
    """What tables are learnt from: in each line the name of a sweep at the input, the load, and the marks.

    Raises
    ------
    ValueError
        Naming the line and what is missing in it.
    """
    found: list[Seen] = []
    if len(text) > TEXTS["network.learnt_from"]:
        raise ValueError(f"at most {TEXTS['network.learnt_from']} characters are allowed here")
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines:
        raise ValueError("write one line for each sweep: its name, the load, and the mark of each knob")
    for n, line in enumerate(lines, 1):
        name, load, *marks = (p.strip() for p in (*one_line(line).split(";"), "", ""))
        evidence = next((e for e in sweeps if e.name.lower() == name.lower()), None)
        if evidence is None or evidence.sweep.scalar:
            raise ValueError(f"line {n}: there is no sweep {name!r} with R and X")
        z = parse_load(load).impedance_ohm
        if z is None:
            raise ValueError(f"line {n}: {load!r} is not a load with R and X, as in 50")
        dials = {}
        for part in network.parts:
            knob = network.knob(part)
            said = next((m for m in marks if knob and m.lower().startswith(knob.name.lower())), "")
            if knob is None or not said:
                raise ValueError(f"line {n}: the mark of {knob.name if knob else part.value} is missing")
            dials[part] = knob.mark_of(said[len(knob.name) :].lstrip(" :"))
        sweep = evidence.sweep.referred_to(50.0)
        for hz in np.linspace(sweep.low_hz, sweep.high_hz, SEEN_AT):
            found.append((float(hz), dials, z, complex(sweep.gamma_at(float(hz)))))
    return found


_FACTS: Mapping[str, Callable[[Knob, str], Knob]] = {
    "name": _name,
    "low": lambda knob, typed: replace(knob, low=_mark(typed)),
    "high": lambda knob, typed: replace(knob, high=_mark(typed)),
    "steps": _steps,
    "table": _table,
}
