"""The path from radio to analyzer: what it takes away at each frequency, and what arrives along it.

References
----------
.. [1] JCGM 100:2008, 5.1; mismatch spreads U-shaped, divisor root 2 (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.bench_records import CheckKind
from levelmoor.core.cable_check import CableCheck
from levelmoor.core.captures import Capture
from levelmoor.core.curve import Curve
from levelmoor.core.emissions import Path
from levelmoor.core.equipment import Instrument, Pad
from levelmoor.core.gates import BenchBook
from levelmoor.core.pad_check import PadCheck
from levelmoor.core.pads import INPUT_ROOM_DB, NOISE_ROOM_DB, dbm_of_watts, mismatch_error_db

U_WRITTEN_DB = 0.3
"""Standard uncertainty in dB of a figure that was written down by hand (common practice, no source)."""
SWR_RADIO, SWR_PAD = 2.0, 1.2
"""How badly a radio's output and a pad meet at worst (common practice, no source)."""


@dataclass(frozen=True)
class PathPiece:
    """A piece with its measured attenuation in dB over frequency and its u; without a curve it is not measured."""

    name: str
    curve: Curve | None
    u_db: float
    label_db: float | None = None


def pieces_of(book: BenchBook, capture: Capture) -> tuple[PathPiece, ...]:
    """The pads and the cable of a capture, as the bench has measured them; or the offset written down instead."""
    if capture.offset is not None:
        return (PathPiece("offset as written down", capture.offset, U_WRITTEN_DB),)
    pads = {p.id: p for p in book.equipment.pads}
    pieces = [_pad(book, pads[i]) for i in capture.pad_ids if i in pads]
    line = next((x for x in book.equipment.lines if x.id == capture.line_id), None)
    if line is not None:
        check = book.latest(CheckKind.CABLE, item_id=line.id)
        found = book.result(check) if check else None
        curve = found.loss_db if isinstance(found, CableCheck) and found.sound else line.measured
        u = found.figures.u_loss_db if isinstance(found, CableCheck) else U_WRITTEN_DB
        pieces.append(PathPiece(line.name, curve, u))
    return tuple(pieces)


def _pad(book: BenchBook, pad: Pad) -> PathPiece:
    check = book.latest(CheckKind.PAD, item_id=pad.id)
    found = book.result(check) if check else None
    if isinstance(found, PadCheck):
        return PathPiece(pad.name, found.attenuation, found.u_db, pad.nominal_db)
    return PathPiece(pad.name, pad.measured, U_WRITTEN_DB, pad.nominal_db)


def path_of(pieces: Sequence[PathPiece]) -> Path:
    """Attenuation in dB and its u at a frequency: the sum of the pieces, between what was measured and never beyond.

    u adds the pieces' and the mismatch of radio and path, 20 log10(1 +- |g1||g2|) over root 2 [1]_.
    """
    mismatch = max(mismatch_error_db(_gamma(SWR_RADIO), _gamma(SWR_PAD))) / math.sqrt(2)

    def at(frequency_hz: float) -> tuple[float, float] | None:
        if not pieces or any(p.curve is None or not p.curve.covers(frequency_hz, frequency_hz) for p in pieces):
            return None
        total = sum(float(p.curve.at(frequency_hz)) for p in pieces if p.curve is not None)
        return total, math.sqrt(sum(p.u_db**2 for p in pieces) + mismatch**2)

    return at


def _gamma(swr: float) -> float:
    return (swr - 1) / (swr + 1)


@dataclass(frozen=True)
class Stage:
    """A place along the path with the carrier's level in dBm there, and what it must not be above, if anything."""

    name: str
    level_dbm: float
    highest_dbm: float | None = None


@dataclass(frozen=True)
class PathLook:
    """The path looked at before anything is keyed: its stages, the limit as the analyzer sees it, its noise, and what
    is wrong with it in words; nothing where it may be keyed."""

    stages: tuple[Stage, ...]
    limit_seen_dbm: float | None
    noise_dbm: float | None
    problems: tuple[str, ...]


def look_along(
    power_w: float,
    duty: float,
    carrier_hz: float,
    pads: Sequence[Pad],
    pieces: Sequence[PathPiece],
    instrument: Instrument,
    limit_dbm: float | None,
    noise_dbm: float | None,
) -> PathLook:
    """Levels from the radio to the analyzer, and the three questions: input safe, rating enough, limit above noise."""
    level = float(dbm_of_watts(power_w))
    stages = [Stage("radio", level)]
    problems = []
    if not pieces:
        problems.append("there is no pad in the path: the radio would be keyed into the analyzer")
    for piece in pieces:
        pad = next((p for p in pads if p.name == piece.name), None)
        if pad is not None and 10 ** (level / 10) / 1e3 * duty > pad.power_w:
            watts = 10 ** (level / 10) / 1e3 * duty
            problems.append(
                f"{pad.name} stands {pad.power_w:g} W, and {watts:.2g} W reach it; use one that stands more"
            )
        known = piece.curve is not None and piece.curve.covers(carrier_hz, carrier_hz)
        if not known:
            problems.append(f"{piece.name} was not measured at the carrier; measure it on the bench")
        level -= float(piece.curve.at(carrier_hz)) if known and piece.curve else piece.label_db or 0.0
        stages.append(Stage(f"after {piece.name}", level))
    top = None if instrument.max_input_dbm is None else instrument.max_input_dbm - INPUT_ROOM_DB
    stages.append(Stage(instrument.name, level, top))
    if top is None:
        problems.append(f"the largest safe input of {instrument.name} is not written down")
    elif level > top:
        problems.append(
            f"{level:.0f} dBm reach {instrument.name}, which is to see at most {top:.0f} dBm; "
            f"{level - top:.0f} dB more pad"
        )
    taken = stages[0].level_dbm - level
    seen = None if limit_dbm is None else limit_dbm - taken
    if seen is not None and noise_dbm is not None and seen < noise_dbm + NOISE_ROOM_DB:
        short = noise_dbm + NOISE_ROOM_DB - seen
        problems.append(
            f"the limit is {short:.0f} dB short of standing {NOISE_ROOM_DB:.0f} dB above the noise; narrow the "
            f"resolution bandwidth by a factor of {10 ** (short / 10):.0f}, or use less pad"
        )
    return PathLook(tuple(stages), seen, noise_dbm, tuple(problems))
