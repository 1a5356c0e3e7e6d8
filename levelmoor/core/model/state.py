"""The state of the article that a piece of evidence is evidence of: setup with its role, setting, round."""

import re
from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.rf.windows import Window


class Role(StrEnum):
    """What a setup is to the product: only the first decides a claim that names no setup."""

    AS_SUPPLIED = "as_supplied"
    OPTION = "option"
    ADDED = "added"
    COMPARISON = "comparison"


SETUP_ROLE_WORDS = {
    Role.AS_SUPPLIED: "as supplied",
    Role.OPTION: "supplied option",
    Role.ADDED: "added",
    Role.COMPARISON: "for comparison",
}
PLACE_FACTS = ("height", "azimuth", "surroundings", "near")
"""Facts of a setup that tell of the place; the others tell of the article and what is attached to it."""
EDGE = 1e-6
"""A window reaches as far as a band where its edges differ by no more than this share."""


def proposed_role(changed_facts: tuple[str, ...], accessory: bool = False) -> Role:
    """The role of a copied setup by the facts that changed: another place is a comparison, anything else is added; of
    an accessory it is one of its own places, as supplied."""
    if accessory:
        return Role.AS_SUPPLIED
    place_alone = bool(changed_facts) and all(f in PLACE_FACTS for f in changed_facts)
    return Role.COMPARISON if place_alone else Role.ADDED


@dataclass(frozen=True)
class Setting:
    """One position of an article that can be adjusted, such as a mark or a tap, with the windows it is meant for; none
    is all of them. `mark` is where it stands as a number on the article's scale, `mark_words` as a hand finds it.
    """

    id: str
    name: str
    windows: tuple[Window, ...] = ()
    mark: float | None = None
    mark_words: str = ""

    def meant_for(self, window: Window) -> bool:
        """Whether the setting is meant for the whole of a window."""
        return not self.windows or any(
            w.low_hz <= window.low_hz * (1 + EDGE) and window.high_hz <= w.high_hz * (1 + EDGE) for w in self.windows
        )

    def parts_of(self, window: Window) -> tuple[Window, ...]:
        """What of a window the setting is meant for."""
        met = (w for w in self.windows if w.low_hz <= window.high_hz and window.low_hz <= w.high_hz)
        return tuple(Window(max(w.low_hz, window.low_hz), min(w.high_hz, window.high_hz)) for w in met)


@dataclass(frozen=True)
class OpenedRound:
    """A round of a state that a person opened by saying that the article was adjusted, whether anything was measured
    since or not."""

    sample_id: str
    setup_id: str
    setting_id: str = ""
    round: int = 1


def setting_named(file_name: str, settings: tuple[Setting, ...]) -> Setting | None:
    """The one setting that a file's name names as a word of its own, None where there is none or more than one."""
    words = f" {_words(file_name.rsplit('.', 1)[0])} "
    named = [s for s in settings if _words(s.name) and f" {_words(s.name)} " in words]
    longest = max(named, key=lambda s: len(_words(s.name)), default=None)
    within = longest is not None and all(f" {_words(s.name)} " in f" {_words(longest.name)} " for s in named)
    return longest if within else None


def _words(text: str) -> str:
    return " ".join(re.findall(r"[^\W_]+", text.lower()))
