"""What a radio makes of a band: full power, less, its tuner, or nothing; and what arrives at the antenna.

References
----------
.. [1] Amateur radio handbooks, total loss of a line with mismatch at its load (memory).
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.model.equipment import Radio
from levelmoor.core.rf.feedline import LineFigures, total_loss_db
from levelmoor.core.rf.levels import format_watts
from levelmoor.core.rf.reflection import FloatArray, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import said

TYPICAL_FOLD_BACK = ((1.0, 1.0), (2.0, 1.0), (2.5, 0.7), (3.0, 0.5), (4.0, 0.3), (6.0, 0.15), (10.0, 0.1))
"""The share of its power that a radio with a protected final gives at an SWR, where it tolerates 2 (common practice, no
source); of one that tolerates more the SWR counts in proportion."""
TYPICAL = "typical of protected finals (common practice, no source)"
FULL = 0.98
LEAST = 0.2
"""With less of its power a radio is of no use (common practice, no source)."""


class Use(StrEnum):
    """What a station can do with the radio on a band."""

    FULL = "full"
    REDUCED = "reduced"
    TUNER = "tuner"
    NOT_USABLE = "not_usable"


USE_WORDS = {
    Use.FULL: "full power",
    Use.REDUCED: "reduced power",
    Use.TUNER: "tuner needed",
    Use.NOT_USABLE: "not usable",
}


@dataclass(frozen=True)
class RadioUse:
    """One radio on one band of a sample. `share` is that of the band at full power; watts at the band's worst place."""

    radio_id: str
    radio: str
    sample_id: str
    band: str
    use: Use
    share: float
    watts: float
    full_w: float
    worst_swr: float
    reflected: float
    mismatch_db: float
    line_db: float | None
    arrives_w: float
    words: str


def fold_back(radio: Radio, swr: FloatArray) -> FloatArray:
    """The share of its power that the radio gives at an SWR, by its own table or the typical one; beyond the end of its
    own nothing is known, and nothing counted on."""
    table = radio.fold_back or TYPICAL_FOLD_BACK
    scale = 1.0 if radio.fold_back else (radio.tolerates_swr - 1) / (2.0 - 1)
    at = np.array([1 + (s - 1) * scale for s, _ in table])
    shares = np.interp(np.where(np.isfinite(swr), swr, 1e6), at, [v for _, v in table])
    return np.asarray(np.where(beyond_table(radio, swr), 0.0, shares))


def beyond_table(radio: Radio, swr: FloatArray) -> NDArray[np.bool_]:
    """Where an SWR lies beyond the last that the radio's own table has."""
    last = radio.fold_back[-1][0] if radio.fold_back else np.inf
    return np.asarray(swr > last * (1 + 1e-9))


def use_on(
    radio: Radio, sample_id: str, band: Window, at_radio: Sweep, at_antenna: Sweep | None, line: LineFigures | None
) -> RadioUse | None:
    """The use of a radio on a band; None where it does not reach the band, or nothing says its power there.

    Parameters
    ----------
    at_radio : the sweep as the radio sees it, at the shack end of the line that is there
    at_antenna, line : the same at the antenna, and the line between; None where none is known
    """
    ranges = radio.ranges or ()
    if ranges and not any(w.low_hz <= band.low_hz and band.high_hz <= w.high_hz for w in ranges):
        inside = any(w.low_hz <= band.high_hz and band.low_hz <= w.high_hz for w in ranges)
        if not inside:
            return None
    cut = at_radio.cut(band.low_hz, band.high_hz)
    if cut is None or radio.power_w is None:
        return None
    f, magnitude = cut.frequency_hz, np.minimum(np.abs(cut.gamma), 0.999999)
    allowed = np.ones(f.size, dtype=bool)
    if ranges:
        allowed = np.any([(f >= w.low_hz) & (f <= w.high_hz) for w in ranges], axis=0)
    if not allowed.any():
        return None
    f, magnitude = f[allowed], magnitude[allowed]
    swr, full = swr_from_gamma(magnitude), radio.power_w.at(f)
    shares = fold_back(radio, swr)
    given = full * shares
    line_db: FloatArray | None = None
    if line is not None and at_antenna is not None:
        far = np.minimum(np.interp(f, at_antenna.frequency_hz, np.abs(at_antenna.gamma)), 0.999999)
        line_db = total_loss_db(line.loss_db.at(f), far)
    through = (1 - magnitude**2) * (10 ** (-line_db / 10) if line_db is not None else 1.0)
    worst = int(np.argmax(magnitude))
    at_full = float(np.mean(shares >= FULL))
    use = _use(radio, float(swr[worst]), float(shares.min()))
    arrives = float(given[worst] * through[worst])
    span = (float(f[0]), float(f[-1])) if ranges and not allowed.all() else None
    words = _words(radio, use, at_full, float(given[worst]), float(swr[worst]), arrives, line_db is not None, span)
    return RadioUse(
        radio.id, radio.name, sample_id, band.name, use, at_full, float(given[worst]), float(full[worst]),
        float(swr[worst]), float(magnitude[worst] ** 2), float(-10 * np.log10(1 - magnitude[worst] ** 2)),
        float(line_db[worst]) if line_db is not None else None, arrives, words,
    )  # fmt: skip


def _use(radio: Radio, worst_swr: float, least_share: float) -> Use:
    if least_share >= FULL:
        return Use.FULL
    if radio.tuner_swr is not None and worst_swr <= radio.tuner_swr:
        return Use.TUNER
    if worst_swr <= radio.tolerates_swr:
        return Use.REDUCED
    return Use.REDUCED if least_share > LEAST else Use.NOT_USABLE


def _words(
    radio: Radio,
    use: Use,
    share: float,
    watts: float,
    swr: float,
    arrives: float,
    line: bool,
    span: tuple[float, float] | None,
) -> str:
    figures: dict[str, object] = {
        "watts": format_watts(watts),
        "share": share,
        "swr": swr,
        "reaches": radio.tuner_swr or 0.0,
        "last": radio.fold_back[-1][0] if radio.fold_back else 0.0,
        "arrives": said(f"use.arrives_{'antenna' if line else 'here'}", watts=format_watts(arrives)),
        "source": "" if radio.fold_back else said("use.fold_back", source=TYPICAL),
        "range": said("use.transmits", span=span) if span else "",
    }
    code = {Use.FULL: "full", Use.REDUCED: "reduced", Use.TUNER: "tuner", Use.NOT_USABLE: "none"}[use]
    if use is Use.NOT_USABLE and bool(beyond_table(radio, np.asarray(swr))):
        code = "beyond"
    return said(f"use.radio_{code}", **figures)
