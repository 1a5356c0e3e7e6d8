"""Time strips of the live view, kept with the evaluation: rotation, something coming near, wind."""

from flask import Blueprint, jsonify, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from levelmoor.core.model.time_strips import StripKind, StripMark, StripPoint, TimeStrip
from levelmoor.core.readings.time_strip import check_strip, strip_sentence
from levelmoor.core.words.bounds import STRIP_MARKS, STRIP_POINTS, STRIPS, unprintable
from levelmoor.core.words.sentence import sentence
from levelmoor.records import tables as t
from levelmoor.web.adjust.routes import again, part_of
from levelmoor.web.context import db, for_members
from levelmoor.web.hand import hand_of
from levelmoor.web.removal import removed
from levelmoor.web.workbench.screen import evaluation_or_404

strips = Blueprint("strips", __name__, url_prefix="/e/<int:evaluation_id>/adjust/strips")


class _Point(BaseModel):
    model_config = ConfigDict(extra="forbid")
    at_s: float
    swr: list[float | None] = Field(max_length=4)
    dip_hz: float | None = None
    counts: bool = True


class _Mark(BaseModel):
    model_config = ConfigDict(extra="forbid")
    at_s: float
    words: str = Field(max_length=80)
    figure: float | None = None


class _Strip(BaseModel):
    model_config = ConfigDict(extra="forbid")
    kind: StripKind
    instrument_id: int
    begun_at: str = Field(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d$")
    wanted_hz: list[float] = Field(max_length=4)
    points: list[_Point] = Field(max_length=STRIP_POINTS)
    marks: list[_Mark] = Field(max_length=STRIP_MARKS)
    note: str = Field(default="", max_length=2000)


@strips.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Keep the minutes that a live screen shows, of what is on its bench."""
    row = evaluation_or_404(evaluation_id)
    hand = hand_of(row)
    try:
        sent = _Strip.model_validate_json(request.get_data(as_text=True) or "{}")
        if db().get(t.Instrument, sent.instrument_id) is None or len(row.strips) >= STRIPS:
            raise ValueError(f"the instrument is not there, or {STRIPS} strips are kept already")
        if any(unprintable(m.words) for m in sent.marks) or unprintable(sent.note):
            raise ValueError("a mark or the note holds what is no letter")
        strip = TimeStrip(
            "", "", "", "", sent.kind, tuple(sent.wanted_hz),
            tuple(StripPoint(p.at_s, tuple(p.swr), p.dip_hz, p.counts) for p in sent.points),
            tuple(StripMark(**m.model_dump()) for m in sent.marks),
        )  # fmt: skip
        check_strip(strip)
    except ValidationError as problem:
        first = problem.errors()[0]
        return jsonify(problem=f"{'.'.join(str(p) for p in first['loc'])}: {first['msg']}"), 422
    except ValueError as problem:
        return jsonify(problem=sentence(problem)), 422
    instrument = db().get_one(t.Instrument, sent.instrument_id)
    if instrument.team_id != row.team_id:
        return jsonify(problem="That instrument is another team's."), 422
    row.strips.append(
        t.TimeStrip(
            sample_id=hand.sample_id,
            setup_id=hand.setup_id,
            setting_id=hand.setting_id,
            instrument_id=instrument.id,
            kind=sent.kind.value,
            wanted_hz=sent.wanted_hz,
            points=[[p.at_s, p.swr, p.dip_hz, p.counts] for p in sent.points],
            marks=[[m.at_s, " ".join(m.words.split()), m.figure] for m in sent.marks],
            begun_at=sent.begun_at,
            who=current_user.name[:200],
            note=" ".join(sent.note.split()),
        )
    )
    page = url_for("adjust.page", evaluation_id=row.id, _anchor="fold-strips")
    return jsonify(said=f"Kept. {strip_sentence(strip)}", page=page)


@strips.post("/<int:strip_id>/remove")
@for_members
def remove(evaluation_id: int, strip_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    strip = part_of(row.strips, strip_id)
    removed(strip, f"a time strip of {strip.kind} was removed")
    return again(row)
