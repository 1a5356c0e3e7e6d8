"""The analyzers of the demo, and the dialect of their files."""

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.instruments.stand_ins.physics import Analyzer

HANDHELD = Analyzer(directivity=0.006 - 0.004j, noise=8e-4, drift=0.004)
BENCH = Analyzer()


def touchstone(f: FloatArray, gamma: ComplexArray, unit: str, notation: str, exponent: str = "e") -> str:
    """The option line and data of a one-port file."""
    scale = {"Hz": 1.0, "kHz": 1e3, "MHz": 1e6, "GHz": 1e9}[unit]
    if notation == "RI":
        pairs = np.column_stack((gamma.real, gamma.imag))
    else:
        size = 20 * np.log10(np.abs(gamma)) if notation == "DB" else np.abs(gamma)
        pairs = np.column_stack((size, np.degrees(np.angle(gamma))))
    rows = [f"{x / scale:.9g}\t{a:.6e}\t{b:.6e}".replace("e", exponent) for x, (a, b) in zip(f, pairs, strict=True)]
    return "\n".join((f"# {unit} S {notation} R 50", *rows, ""))
