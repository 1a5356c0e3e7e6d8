"""The carrier and its emissions as captured: found in the trace, and corrected for the path.

References
----------
.. [1] Harmonic distortion of an input by its intercepts: the n-th at n P - (n - 1) IPn, any microwave text (memory).
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

from levelmoor.core.rf.spectral_lines import (
    ASIDE,
    RBW_ASIDE,
    SPURIOUS_FROM_HZ,
    SpectralLine,
    beside_carrier,
    find_carrier,
    find_harmonic,
    find_spurs,
    last_harmonic,
)
from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.said import said

USUAL_HARMONICS = 5
Path = Callable[[float], "tuple[float, float] | None"]
"""Attenuation in dB and its standard uncertainty at a frequency in Hz; None where it was not measured."""


@dataclass(frozen=True)
class Intercepts:
    """The input's stated second and third intercept in dBm; None where they are not written down."""

    second_dbm: float | None = None
    third_dbm: float | None = None

    def own_dbm(self, n: int, input_dbm: float) -> float | None:
        """What the input makes at the n-th harmonic of a carrier of that level, as indicated [1]_."""
        intercept = self.second_dbm if n == 2 else self.third_dbm
        return None if intercept is None else n * input_dbm - (n - 1) * intercept


@dataclass(frozen=True, eq=False)
class Spectrum:
    """A capture as it is judged: trace, path to the analyzer, and what the analyzer leaves open in dB."""

    name: str
    trace: Trace
    path: Path
    rbw_hz: float = 0.0
    u_level_db: float = 0.0
    intercepts: Intercepts | None = None
    """None takes the capture at its word."""


@dataclass(frozen=True)
class EmissionLine:
    """An emission: its order (1 the carrier, 0 none of its harmonics), level in dBm at the radio with its standard
    uncertainty; None where it is not known, for `missing`. `bound`: the level is at most that."""

    n: int
    frequency_hz: float
    indicated_dbm: float | None = None
    level_dbm: float | None = None
    u_db: float = 0.0
    bound: bool = False
    missing: str = ""
    suspect: bool = False
    """Whether what is left with more pad may still be the analyzer's own, so that the level is at most that."""
    cancelled: bool = False
    """Whether it rose with more pad, so that what is left may still be too low."""
    torn: tuple[float, float] | None = None
    """The lowest and the highest of captures by one path that differ by more than they can be off; the level is the
    highest."""
    repeats: int = 1
    spread_db: float | None = None
    """Standard deviation over the repeats; None where fewer than three tell it."""


@dataclass(frozen=True)
class MeasuredCapture:
    """The carrier and its emissions by one capture, or by repeats of it whose first is `spectrum`. `fundamental` is the
    carrier as the analyzer sees it."""

    name: str
    carrier: EmissionLine
    lines: tuple[EmissionLine, ...]
    spurs: tuple[EmissionLine, ...]
    beside: tuple[EmissionLine, ...]
    """What the carrier's own skirts hide or the bandwidth does not resolve."""
    fundamental: SpectralLine
    pad_db: float
    spectrum: Spectrum
    own_dbm: Mapping[int, float] = field(default_factory=dict)
    """The most that the analyzer itself makes at a harmonic, as indicated: what was read there of another unit that
    came as strongly by the same path."""

    @property
    def span_hz(self) -> float:
        f = self.spectrum.trace.frequency_hz
        return float(f[-1] - f[0])

    def again(self, line: EmissionLine) -> EmissionLine:
        """The same emission in this capture."""
        if line.n:
            return next((x for x in self.lines if x.n == line.n), replace(line, level_dbm=None))
        ratio = line.frequency_hz / self.carrier.frequency_hz
        seen = find_harmonic(self.spectrum.trace, ratio, self.fundamental, self.spectrum.rbw_hz)
        return _line(self.spectrum, 0, line.frequency_hz, seen, self.fundamental.frequency_hz)


class CannotMeasure(ValueError):
    """Why a capture shows nothing, as it is said."""

    def __init__(self, why: str) -> None:
        super().__init__(why)
        self.why = why


def measure(spectrum: Spectrum, carrier_hz: float, up_to: int = USUAL_HARMONICS) -> MeasuredCapture:
    """Carrier, harmonics and spurs of a capture, corrected: true level = indicated + path at that frequency.

    Harmonics are looked at up to the order asked for, and further to the end of the capture.

    Raises
    ------
    NoCarrier
        Where no fundamental stands there.
    ValueError
        Where the path is not known at the carrier.
    """
    trace, rbw = spectrum.trace, spectrum.rbw_hz
    fundamental = find_carrier(trace, carrier_hz)
    carrier = _line(spectrum, 1, fundamental.frequency_hz, fundamental)
    if carrier.level_dbm is None:
        raise CannotMeasure(said("line.no_carrier", why=carrier.missing))
    last = max(up_to, last_harmonic(trace, fundamental.frequency_hz))
    lines = tuple(
        _line(spectrum, n, n * fundamental.frequency_hz, find_harmonic(trace, n, fundamental, rbw))
        for n in range(2, last + 1)
    )
    spurs = tuple(
        _line(spectrum, 0, s.frequency_hz, s, fundamental.frequency_hz) for s in find_spurs(trace, fundamental, rbw)
    )
    known = spectrum.path(fundamental.frequency_hz)
    pad_db = known[0] if known else 0.0
    return MeasuredCapture(
        spectrum.name, carrier, lines, spurs, _beside(spectrum, fundamental), fundamental, pad_db, spectrum
    )


def _beside(spectrum: Spectrum, fundamental: SpectralLine) -> tuple[EmissionLine, ...]:
    """The skirts of the carrier as an upper bound of what they hide, and where nothing is resolved."""
    found = beside_carrier(spectrum.trace, fundamental, spectrum.rbw_hz)
    f0, lines = fundamental.frequency_hz, []
    if found.unresolved_hz:
        needed = SPURIOUS_FROM_HZ / RBW_ASIDE
        words = said("line.unresolved", near=found.unresolved_hz, rbw=needed, step=SPURIOUS_FROM_HZ / 3)
        lines.append(EmissionLine(0, f0 + found.unresolved_hz, missing=words))
    if found.skirt is not None:
        lines.append(_line(spectrum, 0, found.skirt.frequency_hz, found.skirt, f0))
    return tuple(lines)


def _line(
    spectrum: Spectrum, n: int, frequency_hz: float, found: SpectralLine | None, carrier_hz: float = 0.0
) -> EmissionLine:
    """A line as found, corrected; beside the carrier the path is that at the carrier, where it ends there."""
    if found is None:
        return EmissionLine(n, frequency_hz, missing=said("line.no_level", at=frequency_hz))
    path = spectrum.path(found.frequency_hz)
    if path is None and abs(found.frequency_hz - carrier_hz) <= ASIDE * carrier_hz:
        path = spectrum.path(carrier_hz)
    if path is None:
        words = said("line.no_path", at=frequency_hz)
        return EmissionLine(n, found.frequency_hz, found.indicated_dbm, missing=words, bound=found.bound)
    u = math.hypot(path[1], spectrum.u_level_db)
    return EmissionLine(n, found.frequency_hz, found.indicated_dbm, found.indicated_dbm + path[0], u, found.bound)
