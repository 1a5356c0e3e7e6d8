"""Fewer points for the same picture: every extreme of every pixel column is kept."""

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.reflection import FloatArray


def keep_extremes(x: FloatArray, y: FloatArray, columns: int) -> NDArray[np.intp]:
    """Indices of a thinned curve: first, last, and the smallest and largest y of each of `columns` equal slices of x.

    x rises, shape (n,). At most 2 columns + 2 indices come back, in order; a curve that is short already comes whole.
    """
    if x.size <= 2 * columns + 2:
        return np.arange(x.size)
    slot = np.minimum(((x - x[0]) / (x[-1] - x[0]) * columns).astype(int), columns - 1)
    starts = np.flatnonzero(np.diff(slot, prepend=-1))
    # Within a slot the order by y puts the smallest first and the largest last.
    order = np.lexsort((y, slot))
    ends = np.append(starts[1:], x.size) - 1
    return np.unique(np.concatenate(([0, x.size - 1], order[starts], order[ends])))
