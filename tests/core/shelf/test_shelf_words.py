"""What differs between two revisions, what a template leaves behind, how a report is cited."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.judge import judge
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.shelf.beside import Side, bands_of, curve_on, differences
from levelmoor.core.shelf.citation import Citation
from levelmoor.core.shelf.entry import shelf_entry
from levelmoor.core.shelf.revision_changes import revision_changes
from levelmoor.core.shelf.template import as_template

TWENTY = Window(14e6, 14.35e6, "20m")
F = np.linspace(13.8e6, 14.6e6, 801)


AS_IT_CAME = Setup("u", "As it came")


def case(gamma=0.1, limit=1.5, setup=AS_IT_CAME, **more):
    sweep = Sweep(F, np.full(F.size, gamma, complex), 50.0)
    whole = Evaluation(
        "Yard dipole", Product("Yard dipole", "Maker"), samples=(Sample("s", "Unit 1", "S-7"),), setups=(setup,),
        claims=(Claim("c", Quantity.SWR, limit=limit, windows=(TWENTY,)),), instruments=(Instrument("i", "Analyzer"),),
        sweeps=(Evidence("e", "morning", "s", "u", "i", Calibration.AT_PLANE, sweep),),
    )  # fmt: skip
    return replace(whole, **more)


def both(evaluation):
    return evaluation, judge(evaluation)


@pytest.mark.parametrize(
    ("later", "group", "said"),
    [
        (case(limit=1.1), "claims", "SWR at most 1.5:1 on 20m became SWR at most 1.1:1 on 20m"),
        (case(gamma=0.4), "verdicts", "Pass became Fail"),
        (case(sweeps=()), "evidence", "Sweep removed: morning"),
        (case(samples=(Sample("s", "Unit 1", "S-9"),)), "evidence", "Unit 1 (S-7) became Unit 1 (S-9)"),
        (case(region=2), "method", "ITU region"),
    ],
)
def test_a_revision_says_what_it_changed_by_itself(later, group, said):
    changes = revision_changes(both(case()), both(later))
    assert said in " ".join(getattr(changes, group))


def test_the_same_twice_differs_in_nothing():
    assert revision_changes(both(case()), both(case())).groups == ()


def test_a_template_has_the_questions_and_none_of_the_answers():
    made = as_template(case(notes="ours"))
    assert made.claims == case().claims
    assert (made.sweeps, made.instruments, made.notes, [s.serial for s in made.samples]) == ((), (), "", [""])
    assert all(f.verdict == "not_shown" for f in judge(made).claims)


def test_the_shelf_has_each_verdict_with_its_figure():
    entry = shelf_entry(*both(case()))
    (line,) = entry.lines
    assert (line.band, line.serial, line.verdict, entry.bands) == ("20m", "S-7", "pass", ("20m",))
    assert line.gamma == pytest.approx(0.1)
    assert line.u_gamma > 0


def side(name, **more):
    return Side(name, *both(case(**more)))


def compared(*sides):
    return differences([curve_on(s, "20m") for s in sides], "20m")[0]


def test_reports_beside_each_other_say_which_difference_means_anything():
    assert bands_of([side("A"), side("B")]) == ["20m"]
    assert compared(side("A"), side("B", gamma=0.101)).means is False
    assert compared(side("A"), side("B", gamma=0.3)).means is True


def test_what_was_measured_at_another_plane_does_not_compare():
    there = compared(side("A"), side("B", setup=Setup("u", "x", plane=Plane.SHACK)))
    assert there.means is None
    assert "plane" in there.words or "shack" in there.words


def test_a_citation_survives_signs_that_bibtex_uses():
    cited = Citation("50 % {wire} & co_ax", "Team", 2, "2026-11-30", "https://x.example/r/a/2", "ab" * 32)
    assert r"title = {50 \% \{wire\} \& co\_ax}" in cited.bibtex
    assert "revision 2" in cited.text
