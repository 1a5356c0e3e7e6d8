"""Claims that say the same twice, or contradict each other: the leaflet against the box."""

from dataclasses import dataclass
from itertools import combinations, islice

from levelmoor.core.model.claims import Claim


@dataclass(frozen=True)
class Conflict:
    """Two claims, and in words what is with them; `duplicate` where they say the same."""

    first_id: str
    second_id: str
    duplicate: bool
    words: str


def conflicts(claims: tuple[Claim, ...], most: int | None = None) -> tuple[Conflict, ...]:
    """Pairs of claims on one quantity under one condition whose windows meet, so many of them at the most."""
    return tuple(islice((found for a, b in combinations(claims, 2) if (found := _between(a, b))), most))


_ALIKE = ("quantity", "tuner", "setup_id", "swr_at", "mode", "unit", "condition", "z0_ohm")
"""What two claims share that speak of the same thing; a typical figure is no limit."""


def _between(a: Claim, b: Claim) -> Conflict | None:
    if any(getattr(a, n) != getattr(b, n) for n in _ALIKE):
        return None
    if a.quantity.spec.free_text:
        return None
    windows = _shared(a, b)
    if windows is None:
        return None
    where = f" on {windows}" if windows else ""
    same_windows = {(w.low_hz, w.high_hz) for w in a.windows} == {(w.low_hz, w.high_hz) for w in b.windows}
    if (a.limit, a.stated.lower()) == (b.limit, b.stated.lower()):
        if not same_windows or (a.limit is None and not a.stated and not a.windows):
            return None
        return Conflict(a.id, b.id, True, f"{_who(a)} and {_who(b, a)} say the same: {a.wording}")
    said = f"{_who(a)} says {_what(a)}, {_who(b, a)} says {_what(b)}{where}"
    return Conflict(a.id, b.id, False, f"{said}: each is judged by itself")


def _shared(a: Claim, b: Claim) -> str | None:
    """Where the windows of two claims meet, empty where neither has one, None where they do not meet."""
    if not a.windows and not b.windows:
        return ""
    met = [v.name for v in a.windows for w in b.windows if v.low_hz < w.high_hz and w.low_hz < v.high_hz]
    return ", ".join(dict.fromkeys(met)) or None


def _who(claim: Claim, other: Claim | None = None) -> str:
    """The claim's source, told apart from the other's where both are alike."""
    source = claim.source or "a claim without a source"
    alike = other is not None and source == (other.source or "a claim without a source")
    return f"{source} again" if alike else source


def _what(claim: Claim) -> str:
    return claim.limit_text or claim.stated or "no figure"
