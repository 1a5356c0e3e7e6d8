"""Claims: checkable statements from a published specification."""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.rf.reflection import gamma_from_return_loss, swr_from_gamma
from levelmoor.core.rf.windows import Window


class Tuner(StrEnum):
    """Whether the claim speaks of the article with or without a tuner in line."""

    WITHOUT = "without"
    WITH = "with"


@dataclass(frozen=True)
class Claim:
    """One claim. `limit` is in the quantity's own unit, None where the claim states no figure.

    `swr_at` is the SWR a bandwidth is claimed at; `power_w`, `mode` and `duty` (0 to 1) belong to powers and emissions;
    `stated` is what is claimed in words, such as a connector; `setup_id` names the setup the claim speaks of, empty
    for the article as it is supplied; `excerpt` is the text where it stands. `one_setting` says that all windows are
    covered without readjusting. `unit` is `dBm` where a limit of emissions is a level, else empty. `tolerance` is by
    how much an attenuation may be off its figure in dB; without one it is at least that.
    """

    id: str
    quantity: Quantity
    windows: tuple[Window, ...] = ()
    limit: float | None = None
    z0_ohm: float = 50.0
    tuner: Tuner = Tuner.WITHOUT
    condition: str = ""
    source: str = ""
    seen_on: str = ""
    swr_at: float | None = None
    power_w: float | None = None
    mode: str = ""
    duty: float | None = None
    stated: str = ""
    setup_id: str = ""
    excerpt: str = ""
    one_setting: bool = False
    unit: str = ""
    tolerance: float | None = None

    def __post_init__(self) -> None:
        if self.limit is not None:
            self.quantity.spec.check_limit(self.limit)
        if not self.z0_ohm > 0:
            raise ValueError(f"a nominal impedance must be above 0 Ω, not {self.z0_ohm:g}")
        if self.swr_at is not None and not self.swr_at > 1:
            raise ValueError(f"the SWR of a bandwidth must be above 1, not {self.swr_at:g}")
        if self.duty is not None and not 0 < self.duty <= 1:
            raise ValueError(f"a duty cycle must be above 0 and at most 1, not {self.duty:g}")

    @property
    def limit_swr(self) -> float | None:
        """The limit as SWR, None where no level of SWR checks the claim or no limit is stated."""
        if self.quantity.spec.shown_by is not ShownBy.LEVEL or self.limit is None:
            return None
        if self.quantity is Quantity.RETURN_LOSS:
            return float(swr_from_gamma(gamma_from_return_loss(self.limit)))
        return self.limit

    @property
    def checkable(self) -> bool:
        """Whether a sweep can decide the claim against a level of SWR as it is written."""
        return self.limit_swr is not None and bool(self.windows)

    @property
    def missing(self) -> str:
        """What a claim that is measured still lacks, or nothing."""
        spec = self.quantity.spec
        if self.limit is None and spec.needs_limit:
            return "limit"
        windowed = spec.swept or self.quantity is Quantity.TUNER_RANGE
        return "window" if windowed and not self.windows else ""

    @property
    def limit_unit(self) -> str:
        return self.unit or self.quantity.spec.unit

    @property
    def limit_text(self) -> str:
        """The limit with its unit: `2:1`, `9.54 dB`, or empty."""
        if self.limit is None:
            return ""
        return f"{self.limit:g}:1" if self.quantity is Quantity.SWR else f"{self.limit:g} {self.limit_unit}".strip()

    @property
    def wording(self) -> str:
        """The claim in a few words: `SWR at most 2:1 on 2m, 70cm`."""
        name = self.quantity.spec.words
        if self.quantity is Quantity.TUNER_RANGE:
            return self._range_wording
        if self.quantity is Quantity.ATTENUATION and self.tolerance is None:
            name = "Attenuation at least"
        if self.quantity is Quantity.EMISSIONS and (self.unit or self.stated):
            name = "Emissions at most" if self.unit else "Emissions within"
        parts = [name, self.limit_text, f"± {self.tolerance:g} dB" if self.tolerance is not None else "", self.stated]
        if self.swr_at is not None:
            parts.append(f"at {self.swr_at:g}:1")
        if self.power_w is not None:
            parts.append(f"at {self.power_w:g} W")
        if self.mode:
            parts.append(self.mode)
        if self.duty is not None and self.quantity is Quantity.POWER:
            parts.append(f"at {100 * self.duty:g} % duty")
        if self.windows:
            parts.append(f"on {', '.join(w.name for w in self.windows)}")
        return " ".join(p for p in parts if p)

    @property
    def _range_wording(self) -> str:
        """`Matches 10 to 1000 Ω to 1.5:1 on 40m`."""
        parts = ["Matches", self.stated or "unstated loads"]
        parts += [f"to {self.limit:g}:1"] if self.limit is not None else []
        parts += [f"at {self.power_w:g} W"] if self.power_w is not None else []
        parts += [f"on {', '.join(w.name for w in self.windows)}"] if self.windows else []
        return " ".join(parts)
