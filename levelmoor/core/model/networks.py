"""The network inside a tuner, with its knobs: what a dial stands for."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class NetworkKind(StrEnum):
    """How the parts are joined, from the transmitter to the antenna."""

    T = "t"
    L_SERIES_FIRST = "l_series_first"
    L_SHUNT_FIRST = "l_shunt_first"
    PI = "pi"
    DIFFERENTIAL_T = "differential_t"


NETWORK_WORDS = {
    NetworkKind.T: "T: capacitor, coil to ground, capacitor",
    NetworkKind.L_SERIES_FIRST: "L: coil in line, capacitor across the antenna",
    NetworkKind.L_SHUNT_FIRST: "L: capacitor across the transmitter, coil in line",
    NetworkKind.PI: "pi: capacitor, coil in line, capacitor",
    NetworkKind.DIFFERENTIAL_T: "T with one differential capacitor: one half gains what the other loses",
}


class Part(StrEnum):
    """What a knob turns."""

    C_IN = "c_in"
    COIL = "coil"
    C_OUT = "c_out"


PART_WORDS = {
    Part.C_IN: "transmitter side capacitor",
    Part.COIL: "coil",
    Part.C_OUT: "antenna side capacitor",
}


@dataclass(frozen=True)
class Place:
    """A part's place in the ladder: in line, or to ground; a coil or a capacitor."""

    part: Part
    series: bool

    @property
    def coil(self) -> bool:
        return self.part is Part.COIL


LADDERS: Mapping[NetworkKind, tuple[Place, ...]] = {
    NetworkKind.T: (Place(Part.C_IN, True), Place(Part.COIL, False), Place(Part.C_OUT, True)),
    NetworkKind.L_SERIES_FIRST: (Place(Part.COIL, True), Place(Part.C_OUT, False)),
    NetworkKind.L_SHUNT_FIRST: (Place(Part.C_IN, False), Place(Part.COIL, True)),
    NetworkKind.PI: (Place(Part.C_IN, False), Place(Part.COIL, True), Place(Part.C_OUT, False)),
    NetworkKind.DIFFERENTIAL_T: (Place(Part.C_IN, True), Place(Part.COIL, False), Place(Part.C_OUT, True)),
}
"""The places of each network, from the transmitter to the antenna."""


@dataclass(frozen=True)
class Knob:
    """One dial. `low` and `high` are its ends as marked; `dial` and `value` its table, what the marks stand for in pF
    or µH, read in between by straight lines. With `steps` it is a switch or a tap: only the table's own marks can be
    set. An inverted dial is one whose table falls. `labels` are what is written at the marks of a switch where that is
    no number, as A, B and D. `held` are the marks whose value was corrected by hand: nothing that is learnt moves
    them."""

    part: Part
    name: str
    low: float
    high: float
    dial: tuple[float, ...] = ()
    value: tuple[float, ...] = ()
    steps: bool = False
    labels: tuple[str, ...] = ()
    held: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        if not self.low < self.high:
            raise ValueError(
                f"the dial of {self.name} runs from {self.low:g} to {self.high:g}; write the lower mark first"
            )
        if len(self.dial) != len(self.value) or len(self.dial) == 1:
            raise ValueError(f"the table of {self.name} needs a value for each mark, and at least two marks")
        if self.labels and len(self.labels) != len(self.dial):
            raise ValueError(f"{self.name} needs a label for each of its positions")
        if not set(self.held) <= set(self.dial):
            raise ValueError(f"only marks in the table of {self.name} can be held")
        if any(b <= a for a, b in zip(self.dial, self.dial[1:], strict=False)):
            raise ValueError(f"the marks in the table of {self.name} must rise")
        if any(not v >= 0 for v in self.value):
            raise ValueError(f"the values in the table of {self.name} must be at least 0")
        rises = [b - a for a, b in zip(self.value, self.value[1:], strict=False)]
        if any(r * rises[0] <= 0 for r in rises):
            raise ValueError(
                f"the values in the table of {self.name} must rise all the way, or fall all the way on an inverted dial"
            )

    def mark_words(self, mark: float) -> str:
        """A mark as it is written at the knob."""
        if self.labels:
            return self.labels[min(range(len(self.dial)), key=lambda n: abs(self.dial[n] - mark))]
        return f"{mark:.4g}"

    def mark_of(self, text: str) -> float:
        """The mark that a text names.

        Raises
        ------
        ValueError
            Where it is neither a number nor one of the labels.
        """
        bare = text.strip()
        for label, mark in zip(self.labels, self.dial, strict=False):
            if label.casefold() == bare.casefold():
                return mark
        if self.labels:
            raise ValueError(f'"{bare}" is not a position of {self.name}; choose from {", ".join(self.labels)}')
        try:
            return float(bare.replace(",", ".").replace("−", "-"))
        except ValueError:
            raise ValueError(f'"{bare}" is not a mark of {self.name}; write it like 7') from None

    @property
    def unit(self) -> str:
        return "µH" if self.part is Part.COIL else "pF"

    @property
    def inverted(self) -> bool:
        return len(self.value) > 1 and self.value[-1] < self.value[0]


@dataclass(frozen=True)
class Network:
    """A tuner's network. The qualities are those of its parts, with their source; `rated_v` is the peak voltage and
    `rated_a` the effective current that the parts stand, None where nobody says. `learnt_from` are the lines its tables
    were learnt from."""

    id: str
    name: str
    kind: NetworkKind = NetworkKind.T
    knobs: tuple[Knob, ...] = ()
    coil_q: float = 150.0
    capacitor_q: float = 1500.0
    q_source: str = "typical of air coils and air capacitors (memory)"
    rated_v: float | None = None
    rated_a: float | None = None
    learnt_from: str = ""

    def __post_init__(self) -> None:
        for words, q in (("coil", self.coil_q), ("capacitors", self.capacitor_q)):
            if not q > 0:
                raise ValueError(f"the Q of the {words} must be above 0, not {q:g}")

    @property
    def places(self) -> tuple[Place, ...]:
        return LADDERS[self.kind]

    @property
    def parts(self) -> tuple[Part, ...]:
        """What its knobs turn; of a double capacitor the transmitter side names the one knob."""
        if self.kind is NetworkKind.DIFFERENTIAL_T:
            return (Part.C_IN, Part.COIL)
        return tuple(p.part for p in self.places)

    def knob(self, part: Part) -> Knob | None:
        return next((k for k in self.knobs if k.part is part), None)

    @property
    def missing(self) -> tuple[Part, ...]:
        """The parts whose table is not written down yet."""
        return tuple(p for p in self.parts if (k := self.knob(p)) is None or not k.dial)
