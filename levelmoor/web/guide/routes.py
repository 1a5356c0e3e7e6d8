"""Help by the task: each question with its answer, a figure, and three of them step by step."""

from flask import Blueprint, abort, render_template
from flask.typing import ResponseReturnValue

from levelmoor.core.model.usability import PROFILES
from levelmoor.core.plan import cautions
from levelmoor.core.rf.bandplan import REGIONS, band_plan, other_services
from levelmoor.web.guide.figures import FIGURES, figure_of
from levelmoor.web.guide.glossary import OWN, TRADE
from levelmoor.web.guide.tasks import TASKS
from levelmoor.web.guide.walks import WALKS, walk_of

guide = Blueprint("guide", __name__, template_folder="templates")


@guide.get("/help")
def page() -> str:
    plans = [*(band_plan(r) for r in REGIONS), other_services()]
    return render_template(
        "guide/help.html",
        tasks=TASKS,
        shown={*WALKS, *FIGURES},
        walked=WALKS,
        plans=plans,
        profiles=PROFILES.values(),
        cautions=cautions,
        glossary=OWN | TRADE,
    )


@guide.get("/help/<task>/shown")
def shown(task: str) -> ResponseReturnValue:
    """The figure of an answer, or its steps; asked for once the answer is opened."""
    walk, (svg, words) = walk_of(task), figure_of(task)
    if not (walk or svg):
        abort(404)
    return render_template("guide/shown.html", task=task, walk=walk, svg=svg, words=words)
