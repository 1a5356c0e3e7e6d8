"""What other packages bring along, found by their entry points [1]_: readers, table dialects, rule sets, band plans.

A package names what it brings in one of `GROUPS`; what cannot be loaded, or is not what its group asks for, is named
once and left out. Nothing is looked for on any other way.

References
----------
.. [1] Python packaging user guide, "Entry points specification".
"""

import logging
from collections.abc import Callable, Mapping
from functools import lru_cache
from importlib.metadata import entry_points
from typing import Any, TypeVar

T = TypeVar("T")
GROUPS = ("levelmoor.readers", "levelmoor.dialects", "levelmoor.rule_sets", "levelmoor.band_plans")
READERS, DIALECTS, RULE_SETS, BAND_PLANS = GROUPS
_left_out: dict[tuple[str, str], str] = {}


@lru_cache
def _loaded(group: str) -> Mapping[str, Any]:
    found: dict[str, Any] = {}
    for point in sorted(entry_points(group=group), key=lambda p: p.name):
        try:
            found[point.name] = point.load()
        except Exception as problem:  # whatever a stranger's module does when it is loaded
            leave_out(group, point.name, f"cannot be loaded: {problem!r}")
    return found


def plugged(group: str, made: Callable[[Any], T]) -> dict[str, T]:
    """What there is in a group by its name, each as `made` has it; what it raises ValueError or the like for is left
    out."""
    found: dict[str, T] = {}
    for name, brought in _loaded(group).items():
        try:
            found[name] = made(brought)
        except (ValueError, TypeError, KeyError, AttributeError) as problem:
            leave_out(group, name, str(problem))
    return found


def leave_out(group: str, name: str, why: str) -> None:
    """Name what is left out, once."""
    if (group, name) not in _left_out:
        _left_out[group, name] = why
        logging.getLogger(__name__).warning("%s: the plug-in %s is left out: %s", group, name, why)


def left_out() -> tuple[str, ...]:
    """What was left out so far, and why."""
    return tuple(f"{group}: {name}: {why}" for (group, name), why in _left_out.items())


def forget() -> None:
    """Look again, as after a package was installed."""
    _loaded.cache_clear()
    _left_out.clear()
