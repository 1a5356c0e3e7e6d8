"""A choke at each place says what Compare says of the same files, with or without a claim of SWR."""

from dataclasses import replace

import pytest

from levelmoor.core.comparison.comparison import compare
from levelmoor.core.comparison.comparison_model import Question
from levelmoor.core.comparison.features import BEST_HZ
from levelmoor.core.comparison.place_matrix import place_matrix
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.significance import Meaning
from levelmoor.core.model.conditions import Conditions
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.state import OpenedRound
from tests.core.comparison.test_comparison import case, dipole, evidence

SETUPS = (
    Setup("plain", "No choke"),
    Setup("feed", "At the feed", conditions=Conditions(accessory="choke", accessory_at="feed point")),
    Setup("shack", "At the shack", conditions=Conditions(accessory="choke", accessory_at="shack")),
)


def nine_files():
    """Three repeats in each place: at the feed the dip has moved, at the shack it has not."""
    at = {"plain": 7.1e6, "feed": 7.16e6, "shack": 7.1005e6}
    swept = [evidence(f"{s}-{n}", dipole(f0 + 700 * n), s) for s, f0 in at.items() for n in range(3)]
    return replace(case(*swept), setups=SETUPS)


@pytest.mark.parametrize("claimed", [True, False])
def test_each_place_means_what_compare_says_of_the_same_files(claimed):
    evaluation = nine_files()
    evaluation = evaluation if claimed else replace(evaluation, claims=())
    matrix = place_matrix(evaluation, Dossier(evaluation), evaluation.samples[0].id)
    groups = [tuple(e for e in evaluation.sweeps if e.setup_id == s.id) for s in SETUPS]
    (forty,) = [b for b in matrix.bands if b.name == "40m"]
    found = compare(evaluation, groups, Question.SETUPS, (forty,), evaluation.profile.limit_swr)
    said = [d[BEST_HZ].meaning for d in found.windows[0].differences]
    cells = [row[matrix.bands.index(forty)] for row in matrix.cells]
    assert [next(m for name, _, m in c.changes if name == "dip") for c in cells] == said
    assert said == [Meaning.MOUNTING, Meaning.ERROR]


def test_a_place_that_was_adjusted_and_not_swept_since_leaves_the_others_standing():
    files = nine_files()
    sample = files.samples[0].id
    evaluation = replace(files, opened=(OpenedRound(sample, "shack", "", 2),))
    matrix = place_matrix(evaluation, Dossier(evaluation), sample)
    assert matrix is not None and [s.id for s in matrix.setups] == ["feed"]
