"""Files in random dialects whose truth is known."""

import pytest

from benchmarks.misread import misread


@pytest.mark.parametrize("seed", range(4))
def test_no_file_is_read_wrong_without_a_word(seed):
    tally, wrong = misread(250, seed)
    assert [(made.name, made.data[:300]) for made, _ in wrong] == []
    right = sum(n for name, n in tally.items() if name.endswith("right"))
    assert right > 125, tally  # who asks about everything helps nobody
