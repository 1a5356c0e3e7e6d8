"""Objects of the core as bytes in the database: what is read back may hold them and arrays, and nothing that acts."""

import io
import pickle
from collections.abc import Collection
from typing import Any

_ALWAYS = {("_reconstruct", "numpy._core.multiarray"), ("ndarray", "numpy"), ("dtype", "numpy"),
           ("scalar", "numpy._core.multiarray"), ("_frombuffer", "numpy._core.numeric"),
           ("datetime", "datetime"), ("timezone", "datetime"), ("timedelta", "datetime")}  # fmt: skip


def packed(what: object) -> bytes:
    return pickle.dumps(what, protocol=5)


def read_back(body: bytes, also: Collection[type] = ()) -> Any:
    """What was packed; `also` are classes from outside the core that it may hold.

    Raises
    ------
    pickle.UnpicklingError
        Where it holds anything else, or cannot be read.
    """
    return _Reader(io.BytesIO(body), also).load()


class _Reader(pickle.Unpickler):
    def __init__(self, file: io.BytesIO, also: Collection[type]) -> None:
        super().__init__(file)
        self._also = {(one.__qualname__, one.__module__) for one in also}

    def find_class(self, module: str, name: str) -> Any:
        if (name, module) in _ALWAYS or (name, module) in self._also:
            return super().find_class(module, name)
        if module.startswith("levelmoor.core.") and isinstance(found := super().find_class(module, name), type):
            return found
        raise pickle.UnpicklingError(f"{module}.{name} is not read back")
