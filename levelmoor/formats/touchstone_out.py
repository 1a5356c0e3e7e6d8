"""What was swept live as a file: a reflection as one-port Touchstone, from port to port as two-port or CSV."""

from collections.abc import Mapping

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.rf.sweep import Sweep


def write_s1p(sweep: Sweep, comment: str = "") -> str:
    """Touchstone 1.1, Hz, real and imaginary part, with every digit of the figures. Raises ValueError for SWR alone."""
    if sweep.scalar:
        raise ValueError("a sweep of SWR alone has no phase to write")
    head = [f"! {line}" for line in comment.splitlines()]
    rows = (
        f"{f!r} {g.real!r} {g.imag!r}" for f, g in zip(sweep.frequency_hz.tolist(), sweep.gamma.tolist(), strict=True)
    )
    return "\n".join((*head, f"# Hz S RI R {sweep.z0_ohm:g}", *rows, ""))


def write_through(frequency_hz: FloatArray, found: Mapping[str, ComplexArray], comment: str = "") -> tuple[str, str]:
    """A sweep from port to port as (ending of the file's name, text): Touchstone 1.1 with all four parameters, or CSV
    with S21 in dB and degrees where some were not swept. Raises KeyError without S21."""
    s21, f = found["s21"], frequency_hz.tolist()
    if {"s11", "s12", "s22"} <= set(found):
        columns = [part.tolist() for n in ("s11", "s21", "s12", "s22") for part in (found[n].real, found[n].imag)]
        rows = [" ".join(repr(v) for v in row) for row in zip(f, *columns, strict=True)]
        return ".s2p", "\n".join((*(f"! {line}" for line in comment.splitlines()), "# Hz S RI R 50", *rows, ""))
    polar = zip(f, (20 * np.log10(np.abs(s21))).tolist(), np.degrees(np.angle(s21)).tolist(), strict=True)
    heads = (*(f"# {line}" for line in comment.splitlines()), "frequency Hz,S21 dB,phase deg")
    return ".csv", "\n".join((*heads, *(f"{hz!r},{db!r},{deg!r}" for hz, db, deg in polar), ""))
