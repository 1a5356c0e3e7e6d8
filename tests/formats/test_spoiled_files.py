"""Whatever is done to a file: it is read as a sound sweep, or refused with a place that exists."""

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from levelmoor.demo.load import sweeps
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file

SHORT = {name: b"\n".join(data.splitlines()[:40]) + b"\n" for name, data in sweeps().items()}
PIECES = [
    b"nan",
    b"\n",
    b"1e400",
    b"-",
    b";",
    b",",
    b"\t",
    b"#",
    b"!",
    b"[",
    b"1e308 ",
    b"\xff",
    b"\x00",
    b"inf",
    b"1_0",
]


@st.composite
def spoiled(draw):
    name = draw(st.sampled_from(sorted(SHORT)))
    data = bytearray(SHORT[name])
    for _ in range(draw(st.integers(0, 4))):
        at = draw(st.integers(0, len(data)))
        how = draw(st.sampled_from(["put", "cut", "end"]))
        if how == "put":
            data[at:at] = draw(st.sampled_from(PIECES))
        elif how == "cut":
            del data[at : at + draw(st.integers(1, 40))]
        else:
            del data[at:]
    return name, bytes(data)


@settings(max_examples=300)
@given(spoiled())
@example(("a.s1p", b"# MHz S DB R 50\n14 1e9 0\n14.1 0 0\n"))
def test_read_soundly_or_refused_with_a_place(case):
    name, data = case
    try:
        sweep = read_sweep_file(name, data).sweep
    except FileProblem as problem:
        lines = data.replace(b"\r\n", b"\n").replace(b"\r", b"\n").split(b"\n")
        assert 1 <= problem.line <= len(lines)
        assert 1 <= problem.column <= len(lines[problem.line - 1]) + 2
        assert problem.found
        assert problem.expected
    else:
        assert np.all(np.diff(sweep.frequency_hz) > 0)
        assert np.all(np.isfinite(sweep.gamma))


@pytest.mark.parametrize("name", SHORT)
def test_unspoiled_files_are_read(name):
    if "Number of Frequencies" not in SHORT[name].decode("utf-8", "replace"):
        assert read_sweep_file(name, SHORT[name]).sweep.points > 10
