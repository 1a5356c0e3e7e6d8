"""What a match leaves for the antenna: the tuner's loss, the line's, and both together. A match is not radiation.

References
----------
.. [1] Amateur radio handbooks, total loss of a line with mismatch at its load (memory).
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from levelmoor.core.matching.solutions import Match, generic_network, match_at, solutions, with_loss
from levelmoor.core.model.networks import PART_WORDS, Network, NetworkKind, Part
from levelmoor.core.rf.feedline import total_loss_db

NOT_RADIATION = "A match is not radiation."
Q_STATED = 1.2
"""By this factor a Q that is stated or measured may be off either way (common practice, no source)."""
Q_TYPICAL = 1.6
"""By this factor one that is typical of its kind (common practice, no source)."""
HALF = 0.5
HOPELESS = 0.1
FINE_SWR = 1.5


@dataclass(frozen=True)
class Behind:
    """The share of the power that reaches the load, with the ends between which it lies. `share` is None where the
    tuner's loss is unknown: it is then at most `high`. `inside` is the setting with its watts, volts and amperes."""

    share: float | None
    low: float
    high: float
    line_db: float | None
    inside: Match | None
    words: str
    warnings: tuple[str, ...] = ()
    usual: str = ""
    """What a usual network would let through, where nobody knows what this one keeps."""

    @property
    def known(self) -> bool:
        return self.share is not None

    @property
    def reach(self) -> str:
        """What of the power reaches the load, in few words."""
        return "not known" if self.share is None else f"{100 * self.share:.2g} %"


def q_factor(network: Network) -> float:
    """By which factor the Q of its parts may be off."""
    return Q_TYPICAL if "typical" in network.q_source.lower() else Q_STATED


def behind_match(
    network: Network | None,
    dials: Mapping[Part, float],
    frequency_hz: float,
    load_ohm: complex | None,
    power_w: float = 100.0,
    line: tuple[float, float] | None = None,
    swr_seen: float | None = None,
) -> Behind:
    """What reaches the antenna of a match.

    Parameters
    ----------
    network, dials : what is inside the tuner and where its knobs stand; None or none where nobody says
    load_ohm : what the tuner is loaded with, None where it is not known
    power_w : the power that goes in, for watts, volts and amperes
    line : matched loss in dB of the line behind the tuner, and |gamma| at its far end [1]_; None where there is none
    swr_seen : what the transmitter saw
    """
    line_db = float(total_loss_db(line[0], line[1])) if line and line[1] < 1 else (math.inf if line else None)
    through_line = 1.0 if line_db is None else 10 ** (-line_db / 10)
    if network is None or network.missing or load_ohm is None or any(p not in dials for p in network.parts):
        why = "the load was not swept" if load_ohm is None else "the tuner's loss is unknown"
        said = f"What reaches the antenna is unknown: {why}"
        said += f"; the line then loses {line_db:.1f} dB." if line_db and math.isfinite(line_db) else "."
        usual = ""
        if load_ohm is not None and load_ohm.real > 0 and (ends_of := usual_loss(frequency_hz, load_ohm)) is not None:
            usual = f"a typical T network would pass {_percent(ends_of[0])} to {_percent(ends_of[1])}"
        return Behind(None, 0.0, through_line, line_db, None, f"{said} {NOT_RADIATION}", usual=usual)
    inside = with_loss(match_at(network, dials, frequency_hz, load_ohm), power_w)
    by = q_factor(network)
    ends = [
        match_at(
            replace(network, coil_q=network.coil_q * f, capacitor_q=network.capacitor_q * f),
            dials,
            frequency_hz,
            load_ohm,
        ).share
        for f in (1 / by, by)
    ]
    share, low, high = (s * through_line for s in (inside.share, min(ends), max(ends)))
    said = f"{_percent(share)} of the power reaches the antenna ({_percent(low)} to {_percent(high)})"
    said += (
        f": the tuner loses {inside.loss_db:.2f} dB" if math.isfinite(inside.loss_db) else ": the tuner loses all of it"
    )
    if line_db is not None:
        said += f", the line {line_db:.2f} dB" if math.isfinite(line_db) else ", the line the rest"
    warnings = _warnings(network, inside, share, swr_seen, power_w)
    return Behind(share, low, high, line_db, inside, f"{said}. {NOT_RADIATION}", warnings)


SWEPT_U = 0.03
"""A two-port sweep leaves so much of the share open, as a share of itself: a tenth of a dB (common practice, no
source)."""


def behind_swept(through: float, line: tuple[float, float] | None, swr_seen: float | None) -> Behind:
    """What reaches the antenna of a match whose tuner was swept through in this setting."""
    line_db = float(total_loss_db(line[0], line[1])) if line and line[1] < 1 else None
    share = through * (10 ** (-line_db / 10) if line_db is not None else 1.0)
    kept_db = -10 * math.log10(through) if through > 0 else math.inf
    said = f"{_percent(share)} of the power reaches the antenna: the tuner as swept loses {kept_db:.2f} dB"
    said += f", the line {line_db:.2f} dB" if line_db is not None else ""
    low, high = share * (1 - SWEPT_U), min(share * (1 + SWEPT_U), 1.0)
    return Behind(share, low, high, line_db, None, f"{said}. {NOT_RADIATION}", _hopeless(share, swr_seen))


def _hopeless(share: float, swr_seen: float | None) -> tuple[str, ...]:
    """What is said of a share that is too small."""
    if share < HOPELESS and swr_seen is not None and swr_seen <= FINE_SWR:
        swr = f"{swr_seen:.3g}"
        return (f"An SWR of {swr} hides a load that accepts almost nothing: {_percent(share)} leaves the shack.",)
    return (f"Most of the power stays in the tuner: {_percent(share)} gets through.",) if share < HALF else ()


def _percent(share: float) -> str:
    value = 100 * share
    return f"{value:.0f} %" if value >= 10 else f"{value:.1f} %" if value >= 1 else f"{value:.2g} %"


def _warnings(network: Network, inside: Match, share: float, swr_seen: float | None, power_w: float) -> tuple[str, ...]:
    said = list(_hopeless(share, swr_seen))
    parts: Mapping[Part, float] = inside.peak_v
    worst = max(parts, key=lambda p: parts[p])
    if network.rated_v and parts[worst] > network.rated_v:
        said.append(
            f"At {power_w:g} W the {PART_WORDS[worst]} sees {parts[worst]:.0f} V peak, above its {network.rated_v:g} V."
        )
    amps = max(inside.rms_a, key=lambda p: inside.rms_a[p])
    if network.rated_a and inside.rms_a[amps] > network.rated_a:
        said.append(
            f"At {power_w:g} W the {PART_WORDS[amps]} carries {inside.rms_a[amps]:.1f} A, above its "
            f"{network.rated_a:g} A."
        )
    return tuple(said)


@lru_cache(maxsize=2048)
def usual_loss(frequency_hz: float, load_ohm: complex) -> tuple[float, float] | None:
    """The share that a usual T network at its best lets through into a load, with a Q low and high for its kind; None
    where it does not match the load."""
    network = generic_network(NetworkKind.T)
    best = solutions(network, frequency_hz, load_ohm, most=1)[0]
    if best.swr > FINE_SWR:
        return None
    ends = [
        match_at(
            replace(network, coil_q=network.coil_q * f, capacitor_q=network.capacitor_q * f),
            best.dials,
            frequency_hz,
            load_ohm,
        ).share
        for f in (1 / Q_TYPICAL, Q_TYPICAL)
    ]
    return min(ends), max(ends)
