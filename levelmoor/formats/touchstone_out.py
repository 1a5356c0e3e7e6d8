"""A sweep as a one-port Touchstone file."""

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
