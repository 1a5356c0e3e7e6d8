"""A published evaluation as a template: what was asked and how it is answered, without the answers."""

from dataclasses import replace

from levelmoor.core.model.equipment import Equipment
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.core.model.plan_wishes import PlanWishes

MEASURED = (
    "sweeps", "captures", "adjustments", "widths", "strips", "trials", "throughs", "levels", "heats", "contacts",
    "readings", "opened", "comparisons", "pictures", "calibrations", "checks", "instruments",
)  # fmt: skip
"""What another team makes itself, with its own bench."""


def as_template(published: Evaluation) -> Evaluation:
    """The claims, setups, settings, parts, networks, rules and method of an evaluation, with one unit of one's own and
    nothing measured. The plan follows from them; its runs were named by what was measured before."""
    bare = dict.fromkeys(MEASURED, ())
    setups = tuple(replace(s, line_id="", set_aside="") for s in published.setups)
    wishes = PlanWishes(shift_hz=published.wishes.shift_hz, rbw_hz=published.wishes.rbw_hz)
    return replace(
        published,
        samples=(Sample("1", "Unit 1"),),
        setups=setups,
        wishes=wishes,
        equipment=Equipment(),
        wanted_hz=published.wanted_hz,
        notes="",
        **bare,  # type: ignore[arg-type]
    )
