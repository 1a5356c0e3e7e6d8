"""The help page: the job in twelve lines, the words, the keys."""

from flask import Blueprint, render_template

from levelmoor.core.model.usability import PROFILES
from levelmoor.core.plan import cautions
from levelmoor.core.rf.bandplan import REGIONS, band_plan, other_services
from levelmoor.web.guide.glossary import OWN, TRADE

guide = Blueprint("guide", __name__, template_folder="templates")


@guide.get("/help")
def page() -> str:
    plans = [*(band_plan(r) for r in REGIONS), other_services()]
    return render_template(
        "guide/help.html", plans=plans, profiles=PROFILES.values(), cautions=cautions, glossary=OWN | TRADE
    )
