"""Photographs of the case, of where claims stand and of marks: bringing them in, and showing them."""

from flask import Blueprint, Response, abort, request
from flask.typing import ResponseReturnValue

from levelmoor.formats.picture import read_photograph
from levelmoor.formats.problem import FileProblem
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.raw_files import keep_raw
from levelmoor.web.context import db, for_members
from levelmoor.web.downloads import of_upload
from levelmoor.web.workbench.routes import work
from levelmoor.web.workbench.screen import evaluation_or_404

pictures = Blueprint("pictures", __name__, url_prefix="/e/<int:evaluation_id>/pictures")


@pictures.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Each picture is taken scaled and without its metadata, or refused with the reason."""
    row = evaluation_or_404(evaluation_id)
    claim_id = request.form.get("claim_id", type=int)
    setting_id = request.form.get("setting_id", type=int)
    if claim_id is not None and claim_id not in [c.id for c in row.claims]:
        abort(404)
    if setting_id is not None and setting_id not in [s.id for s in row.settings]:
        abort(404)
    problems: list[object] = []
    for file in (f for f in request.files.getlist("pictures") if f.filename):
        name = of_upload(file.filename)
        try:
            taken = read_apart(read_photograph, name, file.read())
        except FileProblem as problem:
            problems.append(problem)
            continue
        row.pictures.append(
            t.Picture(
                claim_id=claim_id,
                setting_id=setting_id,
                raw_file=keep_raw(db(), row.team_id, taken.data),
                file_name=name,
                width=taken.width,
                height=taken.height,
                media_type=taken.media_type,
            )
        )
    return work(row, problems=problems)


@pictures.get("/<int:picture_id>")
@for_members
def show(evaluation_id: int, picture_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    picture = next((p for p in row.pictures if p.id == picture_id), None)
    if picture is None:
        abort(404)
    response = Response(picture.raw_file.data, mimetype=picture.media_type)
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response
