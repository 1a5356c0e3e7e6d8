"""How a sample stood, as facts that a comparison tells apart: a setup copied with one change is told in a sentence."""

from dataclasses import dataclass, fields


@dataclass(frozen=True)
class Conditions:
    """Facts of a setup as people write them, with their units; empty where nothing is noted."""

    height: str = ""
    length: str = ""
    sections: str = ""
    counterpoise: str = ""
    accessory: str = ""
    accessory_at: str = ""
    adapters: str = ""
    azimuth: str = ""
    surroundings: str = ""
    near: str = ""

    @property
    def noted(self) -> list[tuple[str, str]]:
        """The words and value of each fact that is noted."""
        return [(words, getattr(self, name)) for name, words in CONDITION_WORDS.items() if getattr(self, name)]


CONDITION_WORDS = {
    "height": "height",
    "length": "length or tap",
    "sections": "sections fitted",
    "counterpoise": "counterpoise",
    "accessory": "accessory",
    "accessory_at": "accessory placed",
    "adapters": "adapters",
    "azimuth": "azimuth",
    "surroundings": "surroundings",
    "near": "nearby",
}
NONE_IF_EMPTY = ("accessory", "counterpoise", "adapters", "accessory placed")
"""Where nothing noted means that there was none."""
CONDITION_EXAMPLES = {
    "height": "4 m",
    "length": "2 x 9.8 m; coil tap 14",
    "sections": "4 of 5",
    "counterpoise": "two wires of 5 m",
    "accessory": "ring-core choke",
    "accessory_at": "at the antenna",
    "adapters": "BNC to N",
    "azimuth": "90°",
    "surroundings": "open moor, fence 30 m away",
    "near": "nobody within 1.5 m",
}
assert set(CONDITION_WORDS) == {f.name for f in fields(Conditions)}


def changed(first: Conditions, second: Conditions) -> list[tuple[str, str, str]]:
    """The facts in which two setups differ: name, then the first's and the second's value."""
    pairs = ((name, getattr(first, name), getattr(second, name)) for name in CONDITION_WORDS)
    return [(name, a, b) for name, a, b in pairs if a.strip().lower() != b.strip().lower()]


def difference(first: Conditions, second: Conditions, others: tuple[tuple[str, str, str], ...] = ()) -> str:
    """What is different in the second setup, as a sentence; `others` are further facts as words with both values."""
    told = {name: (CONDITION_WORDS[name], a, b) for name, a, b in changed(first, second)}
    parts = []
    if "accessory" in told and not (first.accessory and second.accessory):
        told.pop("accessory_at", None)
        del told["accessory"]
        with_it = second if second.accessory else first
        word = "with" if second.accessory else "without"
        parts.append(" ".join(p for p in (word, with_it.accessory, with_it.accessory_at) if p))
    elif "accessory_at" in told and "accessory" not in told and first.accessory:
        _, a, b = told.pop("accessory_at")
        parts.append(f"{first.accessory} {b or 'anywhere else'} instead of {a or 'where it was'}")
    parts += [_told(*t) for t in (*told.values(), *(o for o in others if o[1] != o[2]))]
    if not parts:
        return "No difference is noted."
    joined = parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} and {parts[-1]}"
    return f"The same, but {joined}."


def _told(words: str, before: str, after: str) -> str:
    if not before:
        return f"with {words} {after}"
    if not after:
        return f"without {words} {before}" if words in NONE_IF_EMPTY else f"{words} not noted"
    return f"{words} {after} instead of {before}"
