"""The path from radio to analyzer: what it takes away at each frequency, and what arrives along it.

References
----------
.. [1] JCGM 100:2008, 5.1; mismatch spreads U-shaped, divisor root 2 (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.bench.noise_check import NoiseCheck
from levelmoor.core.bench.pad_check import PadCheck
from levelmoor.core.bench.pads import INPUT_ROOM_DB, NOISE_ROOM_DB, measured_or_label, noise_in_bandwidth_dbm
from levelmoor.core.emissions.captured_lines import Path
from levelmoor.core.model.bench_records import CheckKind
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.equipment import Instrument, Pad
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.levels import (
    HIGHEST_HARMONIC,
    dbm_of_watts,
    format_watts,
    harmonics_hz,
    mismatch_error_db,
    watts_of_dbm,
)
from levelmoor.core.words.said import said, together

U_WRITTEN_DB = 0.3
"""Standard uncertainty in dB of a figure that was written down by hand (common practice, no source)."""
SWR_RADIO, SWR_PAD = 2.0, 1.2
"""How badly a radio's output and a pad meet at worst (common practice, no source)."""


@dataclass(frozen=True)
class PathPiece:
    """A piece with its measured attenuation in dB over frequency and its u; without a curve it is not measured.

    `stands_w` is the power in W it stands, None where that is not told. A cable's is not asked for: infinity.
    """

    name: str
    curve: Curve | None
    u_db: float
    label_db: float | None = None
    stands_w: float | None = None
    by_hand: bool = False
    """Whether it is no piece of its own, but what somebody has written down for the whole path."""

    def known(self, frequency_hz: float) -> bool:
        return self.curve is not None and self.curve.covers(frequency_hz, frequency_hz)

    def at(self, frequency_hz: float) -> float:
        """Attenuation in dB: as measured, else the label's figure."""
        return measured_or_label(self.curve, self.label_db, frequency_hz)


def pieces_of(book: BenchBook, capture: Capture) -> tuple[PathPiece, ...]:
    """The pads and the cable of a capture, as the bench has measured them; or the offset written down instead."""
    if capture.offset is not None:
        return (PathPiece("offset as set", capture.offset, U_WRITTEN_DB, by_hand=True),)
    pads = {p.id: p for p in book.equipment.pads}
    pieces = [_pad(book, pads[i]) for i in capture.pad_ids if i in pads]
    line = next((x for x in book.equipment.lines if x.id == capture.line_id), None)
    if line is not None:
        check = book.latest(CheckKind.CABLE, item_id=line.id)
        found = book.result(check) if check else None
        curve = found.loss_db if isinstance(found, CableCheck) and found.sound else line.measured
        u = found.figures.u_loss_db if isinstance(found, CableCheck) else U_WRITTEN_DB
        pieces.append(PathPiece(line.name, curve, u, stands_w=math.inf))
    return tuple(pieces)


def _pad(book: BenchBook, pad: Pad) -> PathPiece:
    check = book.latest(CheckKind.PAD, item_id=pad.id)
    found = book.result(check) if check else None
    if isinstance(found, PadCheck) and not found.no_pad:
        return PathPiece(pad.name, found.attenuation, found.u_db, pad.nominal_db, pad.power_w)
    return PathPiece(pad.name, pad.measured, U_WRITTEN_DB, pad.nominal_db, pad.power_w)


def path_of(pieces: Sequence[PathPiece]) -> Path:
    """Attenuation in dB and its u at a frequency: the sum of the pieces, between what was measured and never beyond.

    u adds the pieces' and the mismatch of radio and path, 20 log10(1 +- |g1||g2|) over root 2 [1]_.
    """
    mismatch = max(mismatch_error_db(_gamma(SWR_RADIO), _gamma(SWR_PAD))) / math.sqrt(2)

    def at(frequency_hz: float) -> tuple[float, float] | None:
        if not pieces or not all(p.known(frequency_hz) for p in pieces):
            return None
        total = sum(p.at(frequency_hz) for p in pieces)
        return total, math.sqrt(sum(p.u_db**2 for p in pieces) + mismatch**2)

    return at


def _gamma(swr: float) -> float:
    return (swr - 1) / (swr + 1)


def path_in_words(pieces: Sequence[PathPiece], capture: Capture, up_to: int = HIGHEST_HARMONIC) -> str:
    """The path of a capture in words, with each piece's figure at the carrier and its harmonics; a dash where there is
    none."""
    told: list[str] = []
    for p in pieces:
        at = [n * capture.carrier_hz for n in range(1, up_to + 1)]
        figures = tuple(f"{p.at(f):.2f}" if p.known(f) else "–" for f in at)
        measured = set(figures) != {"–"}
        told.append(
            said("path.piece", name=p.name, figures=figures) if measured else said("path.not_measured", name=p.name)
        )
    if capture.entered_db:
        told.append(said("path.entered", db=capture.entered_db))
    return together(*told, between="; ") or said("path.none")


def noise_in(book: BenchBook, instrument: Instrument, rbw_hz: float) -> float | None:
    """The analyzer's noise in a bandwidth: measured on the bench, else as stated; None where it is not known."""
    level, rbw = instrument.noise_dbm, instrument.noise_rbw_hz
    check = book.latest(CheckKind.NOISE, instrument_id=instrument.id)
    found = book.result(check) if check else None
    if isinstance(found, NoiseCheck):
        level, rbw = found.floor_dbm, found.rbw_hz
    if level is None or not rbw or not rbw_hz:
        return level
    return noise_in_bandwidth_dbm(level, rbw, rbw_hz)


@dataclass(frozen=True)
class PathStage:
    """A place along the path with the carrier's level in dBm there, and what it must not be above, if anything."""

    name: str
    level_dbm: float
    highest_dbm: float | None = None


@dataclass(frozen=True)
class PathLook:
    """The path looked at before anything is keyed: its stages, the limit as the analyzer sees it, its noise, and what
    is wrong with it in words; nothing where it may be keyed."""

    stages: tuple[PathStage, ...]
    limit_seen_dbm: float | None
    noise_dbm: float | None
    problems: tuple[str, ...]
    first_w: float | None
    """What the first piece must stand in W, where its own figure does not tell that it does."""

    @property
    def answer(self) -> str:
        """What has been found good where nothing is wrong; what could not be asked is not claimed."""
        found = ["input safe"]
        if self.first_w is None:
            found.append("rating enough")
        if self.limit_seen_dbm is not None and self.noise_dbm is not None:
            found.append("limit above the noise")
        words = f"{', '.join(found).capitalize()}."
        if self.first_w is not None:
            words += (
                f" Make sure that the first part is rated for {format_watts(self.first_w)}; its rating is not on "
                f"record."
            )
        return words


def look_along(
    power_w: float,
    duty: float,
    carrier_hz: float,
    pieces: Sequence[PathPiece],
    instrument: Instrument,
    limit_dbm: float | None,
    noise_dbm: float | None,
) -> PathLook:
    """Levels from the radio to the analyzer, and the questions: input safe, rating enough, measured at the harmonics,
    limit above noise. The limit is seen through the path at the harmonic where it takes away most."""
    level = float(dbm_of_watts(power_w))
    stages = [PathStage("radio", level)]
    problems = []
    if all(p.stands_w == math.inf for p in pieces):
        problems.append("there is no pad in the path: the radio would transmit straight into the analyzer")
    for piece in pieces:
        watts = float(watts_of_dbm(level)) * duty
        if piece.stands_w is not None and watts > piece.stands_w:
            problems.append(
                f"{piece.name} is rated for {format_watts(piece.stands_w)}, but {format_watts(watts)} reaches "
                f"it; use one with a higher rating"
            )
        if not piece.known(carrier_hz):
            problems.append(f"{piece.name} was not measured at the carrier; measure it on the bench")
        level -= piece.at(carrier_hz)
        stages.append(PathStage(f"after {piece.name}", level))
    top = None if instrument.max_input_dbm is None else instrument.max_input_dbm - INPUT_ROOM_DB
    stages.append(PathStage(instrument.name, level, top))
    if top is None:
        problems.append(f"the maximum safe input of {instrument.name} is not on record")
    elif level > top:
        problems.append(
            f"{level:.0f} dBm reaches {instrument.name}, which should see at most {top:.0f} dBm; "
            f"{math.ceil(level - top)} dB more pad"
        )
    problems += _not_measured(pieces, carrier_hz)
    seen = None
    if limit_dbm is not None:
        looked_at = [f for f in (carrier_hz, *harmonics_hz(carrier_hz)) if all(p.known(f) for p in pieces)]
        seen = limit_dbm - max(sum(p.at(f) for p in pieces) for f in looked_at or [carrier_hz])
    if seen is not None and noise_dbm is not None and seen < noise_dbm + NOISE_ROOM_DB:
        short = noise_dbm + NOISE_ROOM_DB - seen
        problems.append(
            f"the limit is {math.ceil(short)} dB short of being {NOISE_ROOM_DB:.0f} dB above the noise; narrow the "
            f"resolution bandwidth by a factor of {math.ceil(10 ** (short / 10))}, or use less pad"
        )
    told = not pieces or pieces[0].stands_w is not None
    return PathLook(tuple(stages), seen, noise_dbm, tuple(problems), None if told else power_w * duty)


def _not_measured(pieces: Sequence[PathPiece], carrier_hz: float) -> list[str]:
    """Harmonics that a piece known at the carrier was not measured at: what is seen there would be Not shown."""
    found = []
    for piece in (p for p in pieces if p.known(carrier_hz)):
        orders = [str(n) for n, f in enumerate(harmonics_hz(carrier_hz), 2) if not piece.known(f)]
        if orders:
            which = f"harmonic {orders[0]}" if len(orders) == 1 else f"harmonics {', '.join(orders)}"
            found.append(f"{piece.name} was not measured at {which}; without that, nothing can be shown there")
    return found
