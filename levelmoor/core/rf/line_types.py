"""Feed line types by their generic designations, with loss, velocity factor and impedance.

The figures are data in `line_types.json`, with their source.
"""

import json
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.reflection import FloatArray


@dataclass(frozen=True)
class LineType:
    """Matched loss is k1 sqrt(f) + k2 f in dB per 100 m, f in MHz."""

    name: str
    z0_ohm: float
    velocity: float
    k1: float
    k2: float
    aliases: tuple[str, ...] = ()

    def loss_db(self, frequency_hz: ArrayLike, length_m: float) -> FloatArray:
        """One-way matched loss in dB of a length in m."""
        mhz = np.asarray(frequency_hz, dtype=np.float64) / 1e6
        return np.asarray((self.k1 * np.sqrt(mhz) + self.k2 * mhz) * length_m / 100)


@lru_cache
def line_types() -> dict[str, LineType]:
    """The types by name."""
    raw = json.loads(files("levelmoor.core.rf").joinpath("line_types.json").read_text("utf-8"))
    return {t["name"]: LineType(**{**t, "aliases": tuple(t["aliases"])}) for t in raw["types"]}


def _key(name: str) -> str:
    return "".join(c for c in name.lower() if c.isalnum())


def find_line_type(name: str) -> LineType:
    """A type by its designation, case, blanks and hyphens ignored.

    Raises
    ------
    ValueError
        If there is none; the message lists those there are.
    """
    for one in line_types().values():
        if _key(name) in (_key(one.name), *map(_key, one.aliases)):
            return one
    raise ValueError(f'"{name}" is not a known type of feed line; choose from {", ".join(line_types())}')
