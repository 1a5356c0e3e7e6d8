"""A driver: a small table of commands and of how answers are read, as data, so that a team can add one."""

import json
import re
from functools import lru_cache
from importlib.resources import files
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError, model_validator

EXAMPLE: dict[str, float | int] = {
    "low_hz": 144e6, "high_hz": 146e6, "points": 201, "power_dbm": -10.0, "rbw_hz": 1e4, "reference_dbm": 0.0
}  # fmt: skip
"""What commands are tried with when a table is kept, of the kinds that they are filled in with."""
PLACEHOLDERS = set(EXAMPLE)
_PLACE = re.compile(r"\{([^{}]*)\}")
_FORMAT = re.compile(r"^(\w+)(:\.?\d*[dfge]?)?$")


def _command(text: str) -> str:
    """One printable line whose braces hold known names and a plain number format, and nothing else."""
    if not text.isascii() or not text.isprintable() or not 0 < len(text) <= 200:
        raise ValueError("a command must be one line of up to 200 printable ASCII characters")
    for place in _PLACE.findall(text):
        match = _FORMAT.match(place)
        if not match or match[1] not in PLACEHOLDERS:
            raise ValueError(f"{{{place}}}: a command may contain {', '.join(sorted(PLACEHOLDERS))}, as {{low_hz:.0f}}")
    if set(_PLACE.sub("", text)) & {"{", "}"}:
        raise ValueError("a brace is not closed")
    try:
        text.format(**EXAMPLE)
    except (ValueError, LookupError) as problem:
        raise ValueError(f"{text!r} cannot be filled in: {problem}") from None
    return text


Command = Annotated[str, AfterValidator(_command)]


class _Table(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Fetch(_Table):
    """How data come: `pairs` are real and imaginary part in turn, `levels` are dBm."""

    ask: Command
    form: Literal["pairs", "levels"]


class Done(_Table):
    """How the end of a sweep is told: a status that is asked for, and its bit."""

    ask: Command = "*ESR?"
    bit: int = Field(default=0, ge=0, le=15)


class ReadBack(_Table):
    """What is asked to see that the span was taken."""

    low: Command
    high: Command
    points: Command


class Through(_Table):
    """How an article between the ports is swept: the command that selects each parameter, which is then swept and
    fetched as the reflection is, and the one that goes back to it; S21 alone where there is no more."""

    s21: Command
    back: Command
    s11: Command | None = None
    s12: Command | None = None
    s22: Command | None = None


class Calibrate(_Table):
    """The standards in the order they are asked for, then what computes and switches the correction."""

    open: Command
    short: Command
    load: Command
    save: Command


class Correction(_Table):
    """How the instrument's own correction is switched, and asked for; without `ask` it is not known."""

    on: Command
    off: Command
    ask: Command | None = None


class Marker(_Table):
    peak: Command
    frequency: Command
    level: Command


class Driver(_Table):
    """The commands of one kind of instrument; what it cannot do is left out."""

    @model_validator(mode="after")
    def _complete(self) -> "Driver":
        """What a sweep would find out only at the instrument."""
        if not self.set:
            raise ValueError("set: at least one command must set the span")
        wanted = {"reflection": "pairs", "spectrum": "levels"}[self.kind]
        if self.fetch.form != wanted:
            raise ValueError(f"fetch.form: {self.kind} comes as {wanted}, not as {self.fetch.form}")
        placed = {m for command in self.set for m in (p.split(":")[0] for p in _PLACE.findall(command))}
        if missing := {"low_hz", "high_hz"} - placed:
            raise ValueError(f"set: no command sets {', '.join(sorted(missing))}")
        asked = [("identify", self.identify), ("fetch.ask", self.fetch.ask), ("done.ask", self.done.ask)]
        asked += [(f"read_back.{n}", c) for n, c in self.read_back]
        for name, command in asked:
            if "?" not in command:
                raise ValueError(f"{name}: {command!r} asks for nothing; a query needs a question mark")
        if self.through is not None and self.kind != "reflection":
            raise ValueError("through: levels have no S21")
        asked += [(f"through.{n}", c) for n, c in self.through or () if c]
        for name, command in [("identify", self.identify), *asked, ("sweep", self.sweep)]:
            if _PLACE.search(command):
                raise ValueError(f"{name}: only commands under set can contain placeholders")
        return self

    name: str = Field(min_length=1, max_length=80)
    kind: Literal["reflection", "spectrum"]
    note: str = ""
    identify: Command = "*IDN?"
    clear: Command = "*CLS"
    set: tuple[Command, ...]
    read_back: ReadBack
    sweep: Command
    done: Done = Done()
    duration: Command | None = None
    fetch: Fetch
    correction: Correction | None = None
    calibrate: Calibrate | None = None
    through: Through | None = None
    marker: Marker | None = None


LARGEST_TABLE = 20_000


def read_driver(text: str | bytes) -> Driver:
    """A driver from its JSON.

    Raises
    ------
    ValueError
        Naming the entry that is not as it should be, and what would be right.
    """
    if len(text) > LARGEST_TABLE:
        raise ValueError(f"the table has {len(text)} characters; at most {LARGEST_TABLE} are allowed")
    try:
        return Driver.model_validate_json(text)
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(p) for p in first["loc"]) or "the table"
        raise ValueError(f"{place}: {first['msg'].removeprefix('Value error, ')}") from None


@lru_cache
def shipped_drivers() -> dict[str, Driver]:
    """The drivers that come with Levelmoor, by name."""
    folder = files("levelmoor.instruments").joinpath("drivers")
    found = [read_driver(f.read_text("utf-8")) for f in folder.iterdir() if f.name.endswith(".json")]
    return {d.name: d for d in sorted(found, key=lambda d: (d.kind, d.name))}


def driver_text(driver: Driver) -> str:
    """The JSON of a driver, to start another from."""
    return json.dumps(driver.model_dump(mode="json", exclude_none=True), indent=1, ensure_ascii=False)
