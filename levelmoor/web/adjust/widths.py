"""The notebook of widths: edges typed from paper, by band and day."""

from flask import Blueprint, abort, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.readings.width_text import TypedWidth
from levelmoor.core.words.bounds import READINGS
from levelmoor.formats.widths_csv import read_widths, write_widths
from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round
from levelmoor.records.database import now
from levelmoor.web.adjust.routes import WORK, again
from levelmoor.web.cell_values import CellProblem, moment_cell
from levelmoor.web.context import for_members
from levelmoor.web.downloads import download, for_download
from levelmoor.web.hand import as_shown
from levelmoor.web.workbench.screen import evaluation_or_404

widths = Blueprint("widths", __name__, url_prefix="/e/<int:evaluation_id>/adjust/widths")


@widths.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """One width or more, a line each, of what is on the bench."""
    row, form = evaluation_or_404(evaluation_id), request.form
    hand = as_shown(row)
    try:
        found = read_widths(form.get("lines", ""), row.region)
        if len(row.widths) + len(found) > READINGS:
            raise ValueError(f"at most {READINGS} widths are allowed")
        day = moment_cell(form.get("taken_on", ""), row) or now().date().isoformat()
        days = [moment_cell(own, row) or day for own, *_ in found]
    except (ValueError, CellProblem) as problem:
        return again(row, "widths", problem)
    opened = latest_round(row, hand.sample_id, hand.setup_id, hand.setting_id)
    for (_, width, round_, note), taken_on in zip(found, days, strict=True):
        row.widths.append(
            t.WidthReading(
                sample_id=hand.sample_id,
                setup_id=hand.setup_id,
                instrument_id=hand.instrument_id,
                setting_id=hand.setting_id,
                round=round_ or opened,
                taken_on=taken_on,
                who=current_user.name[:200],
                note=note,
                **vars(width),
            )
        )
    return again(row)


WORK.keeps(widths, "width", "", lambda row: row.widths, lambda width: f"a width of {width.band}")


@widths.get("/widths.csv")
@for_members
def as_csv(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    if not row.widths:
        abort(404)
    lines = [(w.taken_on, TypedWidth(**{n: getattr(w, n) for n in _TYPED}), w.round, w.note) for w in row.widths]
    return download(write_widths(lines).encode(), f"widths-{for_download(row.product.name)}.csv", "text/csv")


_TYPED = ("band", "low_hz", "high_hz", "swr", "best_hz", "best_swr", "step_hz")
