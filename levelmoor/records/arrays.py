"""Arrays as compressed little-endian bytes."""

import zlib

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray


def pack(array: FloatArray | ComplexArray) -> bytes:
    """float64 or complex128, little-endian, deflated; complex goes as pairs of float64."""
    flat = np.ascontiguousarray(array).view(np.float64)
    return zlib.compress(flat.astype("<f8").tobytes(), 6)


def unpack(data: bytes) -> FloatArray:
    return np.frombuffer(zlib.decompress(data), dtype="<f8").astype(np.float64)


def unpack_complex(data: bytes) -> ComplexArray:
    return unpack(data).view(np.complex128)
