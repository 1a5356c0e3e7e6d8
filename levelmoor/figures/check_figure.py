"""The figure of a bench check, whatever its kind."""

import numpy as np

from levelmoor.core.bench_records import BenchCheck, CheckKind
from levelmoor.core.cable_check import LOSS_SLACK_DB, LOSS_WITHIN, CableCheck
from levelmoor.core.check_results import Result
from levelmoor.core.load_check import FLAT_SWR, ResidualCheck
from levelmoor.core.meter_check import MeterCheck
from levelmoor.core.noise_check import NoiseCheck
from levelmoor.core.pad_check import PadCheck
from levelmoor.core.reflection import FloatArray, gamma_from_swr
from levelmoor.figures.meter_figure import meter_figure
from levelmoor.figures.profile import Post, Profile, profile


def check_figure(check: BenchCheck, result: Result) -> str:
    """The figure of a check with its result; its accessible name is the result in words."""
    if isinstance(result, MeterCheck):
        return meter_figure(result, result.words) if result.pairs else ""
    return profile(_profile(check, result), result.words)


def _profile(check: BenchCheck, result: Result) -> Profile:
    if isinstance(result, CableCheck) and check.sweep is not None:
        return _cable(check, result)
    if isinstance(result, PadCheck):
        return _pad(result)
    if isinstance(result, NoiseCheck):
        trace = check.traces[0]
        floor = np.full(trace.frequency_hz.size, result.floor_dbm)
        posts = [Post(f, v, f"{v:.0f}") for f, v in sorted(result.spurs, key=lambda s: -s[1])[:5]]
        words = f"floor {result.floor_dbm:.0f} dBm"
        return Profile(trace.frequency_hz, trace.level_db, "dBm", floor, words, posts)
    assert isinstance(result, ResidualCheck) and check.sweep is not None
    f, magnitude = check.sweep.frequency_hz, check.sweep.magnitude
    if check.kind is CheckKind.FULL:
        return Profile(f, magnitude, "|Γ|", np.ones(f.size), "full reflection")
    level = np.full(f.size, float(_db(gamma_from_swr(FLAT_SWR))))
    return Profile(
        f,
        _db(magnitude),
        "reflection, dB",
        level,
        f"SWR {FLAT_SWR:g}",
        (),
        _db(result.figure.at(f)),
        "effective directivity",
    )


def _db(magnitude: FloatArray) -> FloatArray:
    return np.asarray(20 * np.log10(np.maximum(magnitude, 1e-4)))


def _cable(check: BenchCheck, result: CableCheck) -> Profile:
    assert check.sweep is not None
    f = check.sweep.frequency_hz
    table = result.table_db.at(f)
    measured = -10 * np.log10(np.clip(check.sweep.magnitude, 1e-4, None))
    most = LOSS_WITHIN * table + LOSS_SLACK_DB
    return Profile(f, measured, "loss one way, dB", most, "the most that is usual", (), table, "the type's table")


def _pad(result: PadCheck) -> Profile:
    f, value = np.array(result.attenuation.frequency_hz), np.array(result.attenuation.value)
    posts = [Post(p.frequency_hz, p.attenuation_db, f"{p.attenuation_db:.2f}") for p in result.figures]
    if result.nominal_db is None:
        return Profile(f, value, "attenuation, dB", None, "", posts)
    words = f"label {result.nominal_db:g} dB"
    return Profile(f, value, "attenuation, dB", None, "", posts, np.full(f.size, result.nominal_db), words)
