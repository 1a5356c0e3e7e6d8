"""The figure of a bench check, whatever its kind."""

import numpy as np

from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.bench.check_results import Result
from levelmoor.core.bench.load_check import FLAT_SWR, ResidualCheck
from levelmoor.core.bench.meter_check import MeterCheck
from levelmoor.core.bench.noise_check import NoiseCheck
from levelmoor.core.bench.pad_check import PadCheck
from levelmoor.core.model.bench_records import BenchCheck, CheckKind
from levelmoor.core.rf.reflection import FloatArray, gamma_from_swr
from levelmoor.figures.meter_figure import meter_figure
from levelmoor.figures.profile import Post, Profile, profile


def check_figure(check: BenchCheck, result: Result) -> str:
    """The figure of a check with its result; its accessible name is the result in words."""
    if isinstance(result, MeterCheck):
        return meter_figure(result, result.words) if result.pairs else ""
    return profile(_profile(check, result), result.words)


def _profile(check: BenchCheck, result: Result) -> Profile:
    if isinstance(result, CableCheck):
        return _cable(result)
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
    if check.kind is CheckKind.OPEN_OR_SHORT:
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


def _cable(result: CableCheck) -> Profile:
    f, seen = np.array(result.seen_db.frequency_hz), np.array(result.seen_db.value)
    most, table = result.most_db.at(f), result.table_db.at(f)
    return Profile(f, seen, "loss one way, dB", most, "the usual maximum", (), table, "the type's table")


def _pad(result: PadCheck) -> Profile:
    f, value = np.array(result.attenuation.frequency_hz), np.array(result.attenuation.value)
    posts = [Post(p.frequency_hz, p.attenuation_db, f"{p.attenuation_db:.2f}") for p in result.figures]
    if result.nominal_db is None:
        return Profile(f, value, "attenuation, dB", None, "", posts)
    words = f"label {result.nominal_db:g} dB"
    return Profile(f, value, "attenuation, dB", None, "", posts, np.full(f.size, result.nominal_db), words)
