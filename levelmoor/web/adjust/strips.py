"""Time strips of the live view, kept with the evaluation: rotation, something coming near, wind."""

from flask import Blueprint, jsonify, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from pydantic import TypeAdapter, ValidationError

from levelmoor.core.model.time_strips import TimeStrip
from levelmoor.core.readings.time_strip import check_strip, strip_sentence
from levelmoor.core.words.bounds import STRIPS
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.json_in import read_json
from levelmoor.records.bench import rows_of
from levelmoor.records.mapping import strip_row
from levelmoor.web.adjust.routes import WORK
from levelmoor.web.context import db, for_members
from levelmoor.web.hand import as_shown
from levelmoor.web.workbench.screen import evaluation_or_404

strips = Blueprint("strips", __name__, url_prefix="/e/<int:evaluation_id>/adjust/strips")


_SENT = TypeAdapter(TimeStrip)


@strips.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Keep the minutes that a live screen shows, of what is on its bench."""
    row = evaluation_or_404(evaluation_id)
    hand = as_shown(row)
    try:
        sent = read_json(request.form.get("strip", "").encode())
        if not isinstance(sent, dict) or len(row.strips) >= STRIPS:
            raise ValueError(f"a strip must be JSON, and at most {STRIPS} are allowed")
        ids = {"id": "", "sample_id": str(hand.sample_id), "setup_id": str(hand.setup_id), "who": current_user.name}
        strip = _SENT.validate_python({**sent, **ids})
        check_strip(strip)
    except ValidationError as problem:
        first = problem.errors()[0]
        return jsonify(problem=f"{'.'.join(str(p) for p in first['loc'])}: {first['msg']}"), 422
    except ValueError as problem:
        return jsonify(problem=sentence(problem)), 422
    instrument = next((i for i in rows_of(db(), row.team_id, "instrument") if str(i.id) == strip.instrument_id), None)
    if instrument is None:
        return jsonify(problem="That instrument does not belong to your team."), 422
    places = {"sample_id": hand.sample_id, "setup_id": hand.setup_id, "setting_id": hand.setting_id}
    row.strips.append(strip_row(strip, **places, instrument_id=instrument.id))
    page = url_for("adjust.page", evaluation_id=row.id, _anchor="fold-strips")
    return jsonify(said=f"Saved. {strip_sentence(strip)}", page=page)


WORK.keeps(strips, "strip", "", lambda row: row.strips, lambda one: f"a time strip of {one.kind}", ("remove", ""))
