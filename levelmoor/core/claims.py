"""Claims: checkable statements from a published specification."""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.reflection import gamma_from_return_loss, swr_from_gamma
from levelmoor.core.windows import Window


class Quantity(StrEnum):
    SWR = "swr"
    RETURN_LOSS = "return_loss"
    GAIN = "gain"
    PATTERN = "pattern"
    POWER = "power"
    WEATHER = "weather"
    OTHER = "other"


QUANTITY_WORDS = {
    Quantity.SWR: "SWR at most",
    Quantity.RETURN_LOSS: "Return loss at least",
    Quantity.GAIN: "Gain",
    Quantity.PATTERN: "Pattern",
    Quantity.POWER: "Power handling",
    Quantity.WEATHER: "Weather sealing",
    Quantity.OTHER: "Other",
}
LIMIT_UNITS = {
    Quantity.SWR: "",
    Quantity.RETURN_LOSS: "dB",
    Quantity.GAIN: "dBi",
    Quantity.POWER: "W",
}
SWEPT = (Quantity.SWR, Quantity.RETURN_LOSS)
"""The quantities that a sweep can check; the others are kept and marked as outside this bench."""


class Tuner(StrEnum):
    """Whether the claim speaks of the article with or without a tuner in line."""

    WITHOUT = "without"
    WITH = "with"


@dataclass(frozen=True)
class Claim:
    """One claim. `limit` is in the quantity's own unit, None where the claim states no figure."""

    id: str
    quantity: Quantity
    windows: tuple[Window, ...] = ()
    limit: float | None = None
    z0_ohm: float = 50.0
    tuner: Tuner = Tuner.WITHOUT
    condition: str = ""
    source: str = ""
    seen_on: str = ""

    def __post_init__(self) -> None:
        if self.quantity is Quantity.SWR and self.limit is not None and not self.limit > 1:
            raise ValueError(f"an SWR limit is above 1, not {self.limit:g}")
        if self.quantity is Quantity.RETURN_LOSS and self.limit is not None and not self.limit > 0:
            raise ValueError(f"a return loss limit is above 0 dB, not {self.limit:g}")
        if not self.z0_ohm > 0:
            raise ValueError(f"a nominal impedance is above 0 ohm, not {self.z0_ohm:g}")

    @property
    def limit_swr(self) -> float | None:
        """The limit as SWR, None where a sweep cannot check the claim or no limit is stated."""
        if self.quantity not in SWEPT or self.limit is None:
            return None
        if self.quantity is Quantity.RETURN_LOSS:
            return float(swr_from_gamma(gamma_from_return_loss(self.limit)))
        return self.limit

    @property
    def checkable(self) -> bool:
        """Whether a sweep can decide the claim as it is written: a swept quantity with limit and window."""
        return self.limit_swr is not None and bool(self.windows)

    @property
    def limit_text(self) -> str:
        """The limit with its unit: `2:1`, `9.54 dB`, or empty."""
        if self.limit is None:
            return ""
        unit = LIMIT_UNITS.get(self.quantity, "")
        return f"{self.limit:g}:1" if self.quantity is Quantity.SWR else f"{self.limit:g} {unit}".strip()

    @property
    def wording(self) -> str:
        """The claim in a few words: `SWR at most 2:1 on 2m, 70cm`."""
        over = ", ".join(w.name for w in self.windows)
        head = f"{QUANTITY_WORDS[self.quantity]} {self.limit_text}".strip()
        return f"{head} on {over}" if over else head
