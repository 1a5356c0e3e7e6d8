"""What a process holds of the machine's memory, and how it gives back what it needs no more.

References
----------
.. [1] GNU C Library manual, "Malloc tunable parameters", M_ARENA_MAX and M_MMAP_THRESHOLD; malloc_trim(3).
"""

import ctypes
import resource
from contextlib import suppress
from pathlib import Path

M_ARENA_MAX, ARENAS = -8, 2
M_MMAP_THRESHOLD, APART_BYTES = -3, 65_536
"""An array of so many bytes gets pages of its own, which go back when it is freed; left alone, the library raises the
size to that of the largest freed so far, and what is small and stays keeps the room of what was large and went."""


def resident_bytes() -> int:
    """What this process holds, with what it shares."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize()


def hold_less() -> None:
    """Have the C library keep what is freed in two places and not in one for each thread, and nothing of what was
    large, where it knows how [1]_."""
    with suppress(OSError, AttributeError):
        library = ctypes.CDLL(None)
        library.mallopt(M_ARENA_MAX, ARENAS)
        library.mallopt(M_MMAP_THRESHOLD, APART_BYTES)


def give_back() -> None:
    """Hand what is free, and kept for later, back to the system, where the C library knows how [1]_."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)
