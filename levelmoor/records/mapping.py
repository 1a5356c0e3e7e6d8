"""From rows to the core's evaluation."""

import numpy as np

from levelmoor.core import evaluation as core
from levelmoor.core.claims import Claim, Quantity, Tuner
from levelmoor.core.decision import Rule
from levelmoor.core.sweep import Sweep
from levelmoor.core.uncertainty import BenchFigures
from levelmoor.core.usability import PROFILES, Profile, own_profile
from levelmoor.core.windows import Window
from levelmoor.records import tables
from levelmoor.records.arrays import unpack, unpack_complex


def profile_of(name: str, limit: float) -> Profile:
    return PROFILES.get(name) or own_profile(limit)


def claim_of(row: tables.Claim) -> Claim:
    return Claim(
        id=str(row.id),
        quantity=Quantity(row.quantity),
        windows=tuple(Window(w["low_hz"], w["high_hz"], w["name"]) for w in row.windows),
        limit=row.limit,
        z0_ohm=row.z0_ohm,
        tuner=Tuner(row.tuner),
        condition=row.condition,
        source=row.source,
        seen_on=row.seen_on.isoformat() if row.seen_on else "",
    )


def windows_row(windows: tuple[Window, ...]) -> list[dict[str, object]]:
    return [{"low_hz": w.low_hz, "high_hz": w.high_hz, "name": w.name} for w in windows]


def instrument_of(row: tables.Instrument) -> core.Instrument:
    figures = BenchFigures(row.directivity_db, row.tracking, row.source_match_db, row.repeat_u)
    return core.Instrument(str(row.id), row.name, row.kind, figures, row.figures_source)


def sweep_of(row: tables.Sweep) -> Sweep:
    half = unpack(row.half_step) if row.half_step else None
    gamma = unpack_complex(row.gamma)
    return Sweep(unpack(row.frequency), np.asarray(gamma), row.z0_ohm, row.scalar, half)


def evidence_of(row: tables.Sweep) -> core.Evidence:
    return core.Evidence(
        id=str(row.id),
        name=row.name,
        sample_id=str(row.sample_id),
        setup_id=str(row.setup_id),
        instrument_id=str(row.instrument_id),
        calibration=core.Calibration(row.calibration),
        sweep=sweep_of(row),
        file_name=row.file_name,
        sha256=row.raw_file.sha256,
        taken_on=row.taken_on.isoformat() if row.taken_on else "",
        port=row.port,
        unit=row.unit,
        kind=row.kind,
    )


def evaluation_of(row: tables.Evaluation) -> core.Evaluation:
    """The whole tree; the instruments are those that its sweeps name."""
    instruments = {s.instrument_id: s.instrument for s in row.sweeps}
    return core.Evaluation(
        title=row.title or row.product.name,
        product=core.Product(row.product.name, row.product.maker, row.product.description),
        region=row.region,
        rule=Rule(row.rule),
        profile=profile_of(row.profile, row.profile_limit),
        samples=tuple(
            core.Sample(str(s.id), s.label, s.serial, core.Obtained(s.obtained), s.note) for s in row.samples
        ),
        claims=tuple(claim_of(c) for c in row.claims),
        setups=tuple(
            core.Setup(str(s.id), s.name, s.description, core.Plane(s.plane), s.tuner_in_line) for s in row.setups
        ),
        instruments=tuple(instrument_of(i) for i in instruments.values()),
        sweeps=tuple(evidence_of(s) for s in row.sweeps),
        notes=row.notes,
    )
