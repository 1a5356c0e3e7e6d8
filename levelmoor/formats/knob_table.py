"""The facts of a knob as they are typed: its ends, and the table of its dial."""

import re
from collections.abc import Callable, Mapping
from dataclasses import replace

from levelmoor.core.model.networks import Knob
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
    return "; ".join(f"{d:g} {v:g}" for d, v in zip(knob.dial, knob.value, strict=True))


def _name(knob: Knob, typed: str) -> Knob:
    bare = one_line(typed)
    if not bare or len(bare) > TEXTS["trial.dial"] or unprintable(bare):
        raise ValueError(f"a knob has a name of at most {TEXTS['trial.dial']} letters")
    return replace(knob, name=bare)


def _mark(typed: str) -> float:
    return number(typed, "a mark, as in 10", *NUMBERS["knob.mark"])


def _steps(knob: Knob, typed: str) -> Knob:
    return replace(knob, steps=typed == "yes")


def _table(knob: Knob, typed: str) -> Knob:
    """Marks and values, two figures to a place; marks may come in any order."""
    pairs: dict[float, float] = {}
    parts = [p for p in (p.strip() for p in re.split(r"[;\n]", typed)) if p]
    if len(parts) > KNOB_MARKS:
        raise ValueError(f"at most {KNOB_MARKS} marks are taken")
    for part in parts:
        figures = re.sub(r"(?:pF|µH|uH|nH)", "", part).replace(":", " ").split()
        if len(figures) != 2:
            raise ValueError(f'"{part[:40]}" is not a mark with its value; write 0 10; 50 130; 100 250')
        mark = number(figures[0], "a mark, as in 50", *NUMBERS["knob.mark"])
        pairs[mark] = number(figures[1], f"a value in {knob.unit}, as in 130", 0, 1e7)
    marks = sorted(pairs)
    return replace(knob, dial=tuple(marks), value=tuple(pairs[m] for m in marks))


_FACTS: Mapping[str, Callable[[Knob, str], Knob]] = {
    "name": _name,
    "low": lambda knob, typed: replace(knob, low=_mark(typed)),
    "high": lambda knob, typed: replace(knob, high=_mark(typed)),
    "steps": _steps,
    "table": _table,
}
