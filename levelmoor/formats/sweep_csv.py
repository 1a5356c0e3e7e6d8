"""A sweep as a CSV that this and other programs read: frequency, then R and X, or SWR where no more is known."""

from levelmoor.core.rf.reflection import impedance_from_gamma, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep


def write_sweep_csv(sweep: Sweep) -> str:
    """One line of headings with units, then a row for each point, with every digit of the figures."""
    f = sweep.frequency_hz.tolist()
    if sweep.scalar:
        rows = [f"{hz!r},{s!r}" for hz, s in zip(f, swr_from_gamma(sweep.magnitude).tolist(), strict=True)]
        return "\n".join(("Frequency Hz,SWR", *rows, ""))
    z = impedance_from_gamma(sweep.gamma, sweep.z0_ohm)
    swr = swr_from_gamma(sweep.magnitude).tolist()
    parts = zip(f, z.real.tolist(), z.imag.tolist(), swr, strict=True)
    return "\n".join(("Frequency Hz,R ohm,X ohm,SWR", *(f"{hz!r},{r!r},{x!r},{s!r}" for hz, r, x, s in parts), ""))
