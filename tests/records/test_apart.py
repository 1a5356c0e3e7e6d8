"""Files are read in processes of their own: what takes too much is ended, and the next file is read."""

import time

import pytest

from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.records.apart import Readers, read_apart

SOUND = b"MHz,SWR\n14,1.5\n14.1,1.4\n"


@pytest.fixture(scope="module")
def readers():
    found = Readers(1, seconds=2.0)
    yield found
    found.end()


def test_a_sweep_comes_back_as_it_is(readers):
    assert readers.read(read_sweep_file, "a.csv", SOUND).sweep.low_hz == 14e6


def test_problems_come_back_whole(readers):
    with pytest.raises(FileProblem, match="line 2, column 4") as found:
        readers.read(read_sweep_file, "a.csv", b"MHz,SWR\n14,x\n")
    assert found.value.line == 2
    with pytest.raises(ColumnsProblem) as asked:
        readers.read(read_sweep_file, "a.csv", b"MHz,SWR before,SWR after\n14,1.5,1.4\n14.1,1.4,1.3\n")
    assert asked.value.headings == ("MHz", "SWR before", "SWR after")


@pytest.mark.parametrize(
    ("hostile", "said"), [((time.sleep, 600), "too much time"), ((bytes, 3 * 10**9), "too much memory")]
)
def test_what_takes_too_much_is_refused_and_the_next_file_is_read(readers, hostile, said):
    with pytest.raises(FileProblem, match=said):
        readers.read(*hostile)
    assert readers.read(read_sweep_file, "a.csv", SOUND).sweep.low_hz == 14e6


def test_without_readers_a_file_is_read_here():
    assert read_apart(len, SOUND) == len(SOUND)
