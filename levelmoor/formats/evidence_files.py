"""From raw files to evidence: segments joined, raw sweeps corrected, the sweeps and traces of bench checks."""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from levelmoor.core.bench.calibration import IDEAL_KIT, ErrorTerms, correct, error_terms
from levelmoor.core.model.bench_records import BenchCheck, CalibrationRecord, RawPart, Reads
from levelmoor.core.model.equipment import Kit
from levelmoor.core.rf.segments import join_segments
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file
from levelmoor.formats.trace_file import S21, read_trace_file

STANDARDS = ("open", "short", "load")


def read_part(part: RawPart, files: Mapping[str, bytes]) -> Sweep:
    """The sweep of one raw file. Raises FileProblem, or KeyError with the file's name where it is missing."""
    data = files.get(part.sha256)
    if data is None:
        raise KeyError(part.file_name)
    return read_sweep_file(part.file_name, data, ReadOptions(part.port, part.unit, part.kind, part.columns)).sweep


def correction_of(record: CalibrationRecord, kit: Kit | None, files: Mapping[str, bytes]) -> ErrorTerms:
    """The error terms of a calibration whose open, short and load were brought in as raw sweeps.

    Raises
    ------
    ValueError
        Where one of the three is missing, or they do not share a span.
    """
    parts = {p.role: p for p in record.parts}
    if missing := [s for s in STANDARDS if s not in parts]:
        raise ValueError(f"the calibration has no raw sweep of its {', '.join(missing)}; add it on the bench")
    return terms_from({s: read_part(parts[s], files) for s in STANDARDS}, kit)


def terms_from(sweeps: Mapping[str, Sweep], kit: Kit | None) -> ErrorTerms:
    """Error terms from raw sweeps of the three standards, over the frequencies of the open."""
    for name, sweep in sweeps.items():
        if sweep.scalar:
            raise ValueError(f"the raw sweep of the {name} has SWR alone; a correction needs complex reflection")
    f = sweeps["open"].frequency_hz
    for name in ("short", "load"):
        if not sweeps[name].covers(float(f[0]), float(f[-1])):
            raise ValueError(f"the {name} and the open were swept over different spans; sweep all three over one span")
    raw = [np.asarray(sweeps[s].gamma_at(f)) for s in STANDARDS]
    return error_terms(f, raw[0], raw[1], raw[2], kit or IDEAL_KIT)


def corrected(sweep: Sweep, terms: ErrorTerms) -> Sweep:
    """A raw sweep corrected; raises ValueError where it leaves the calibration's span or is of SWR alone."""
    if sweep.scalar:
        raise ValueError("a sweep of SWR alone cannot be corrected; it needs complex reflection")
    return replace(sweep, gamma=correct(terms, sweep.frequency_hz, sweep.gamma), half_step_gamma=None)


def sweep_of_parts(parts: tuple[RawPart, ...], files: Mapping[str, bytes], terms: ErrorTerms | None = None) -> Sweep:
    """The sweep that one or more raw files hold together, corrected where error terms are given."""
    sweep = join_segments(tuple(read_part(p, files) for p in parts))
    return corrected(sweep, terms) if terms else sweep


def filled_check(check: BenchCheck, files: Mapping[str, bytes]) -> BenchCheck:
    """A bench check with the sweep or traces of its raw files.

    Raises
    ------
    KeyError
        Where a raw file is not there.
    FileProblem
        Where one cannot be read as what it is said to be.
    """
    if not check.parts:
        return check
    if check.spec.reads is Reads.SWEEP:
        return replace(check, sweep=read_part(check.parts[0], files))
    traces = []
    for part in check.parts:
        data = files.get(part.sha256)
        if data is None:
            raise KeyError(part.file_name)
        trace, what = read_trace_file(part.file_name, data, part.unit, levels=part.role != S21)
        if (what == S21) != (part.role == S21):
            raise FileProblem(part.file_name, 1, 1, f"a file of {what}", f"a file of {part.role or 'levels'}")
        traces.append(trace)
    return replace(check, traces=tuple(traces))
