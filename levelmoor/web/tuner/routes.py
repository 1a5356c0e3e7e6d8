"""The tuner's page: trials as a grid, files in and out, each trial's cells."""

from typing import Any

from flask import Blueprint, abort, g, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.matching.guided_steps import PERMITTED, guided_steps
from levelmoor.core.model.networks import NETWORK_WORDS, PART_WORDS
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.trials_csv import Names, read_trials, write_trials
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.trials import TrialProblem, add_trials
from levelmoor.web.context import db, for_members
from levelmoor.web.downloads import download, for_download, of_upload
from levelmoor.web.entries import TAKEN_BEFORE, of_table
from levelmoor.web.hand import as_shown
from levelmoor.web.in_parts import part_asked
from levelmoor.web.tuner.view import page_of
from levelmoor.web.workbench.screen import evaluation_or_404, shown
from levelmoor.web.workbench.work import Work

tuner = Blueprint("tuner", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/tuner")


def _shown(row: t.Evaluation, changed: bool) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    data = {
        "page": page_of(screen.bench.evaluation, str(screen.hand.sample_id or ""), part_asked("trials")),
        "network_words": [(k.value, words) for k, words in NETWORK_WORDS.items()],
        "part_words": PART_WORDS,
        "steps_of": guided_steps,
        "permitted": PERMITTED,
        "learnt": g.get("learnt"),
    }
    return {**vars(screen), **data}


WORK = Work("tuner/work.html", _shown, ("trials", "networks"))
again = WORK.again


@tuner.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    return render_template("tuner/page.html", **WORK.shown(evaluation_or_404(evaluation_id)))


@tuner.post("/trials")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Trials from a table: pasted, or a file."""
    row, upload = evaluation_or_404(evaluation_id), request.files.get("file")
    hand = as_shown(row)
    named = bool(upload and upload.filename)
    data = upload.read() if upload and named else request.form.get("table", "").encode()
    name = of_upload(upload.filename) if upload and named else "the table"
    placed = {f"{k}_id": str(getattr(hand, f"{k}_id") or "") for k in ("sample", "setup", "instrument")}
    try:
        found = read_apart(read_trials, name, data, _names(row), **placed)
        stem = of_table(data, *placed.values())
        entries = [(f"{stem}-{n}", one) for n, one in enumerate(found)]
        if not add_trials(db(), row, entries, current_user.name):
            raise TrialProblem(TAKEN_BEFORE)
    except (FileProblem, TrialProblem) as problem:
        return again(row, "trials", problem)
    return again(row)


def _names(row: t.Evaluation) -> Names:
    """What a table of trials may name."""
    return Names({n.name: str(n.id) for n in row.networks}, {s.name: str(s.id) for s in row.sweeps})


@tuner.get("/trials.csv")
@for_members
def as_csv(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    if not row.trials:
        abort(404)
    text = write_trials(evaluation_of(row).trials, _names(row))
    return download(text.encode(), f"trials-{for_download(row.product.name)}.csv", "text/csv")


WORK.keeps(
    tuner, "trial", "/trials", lambda row: row.trials, lambda trial: f"the trial on {trial.frequency_hz / 1e6:g} MHz",
    ("remove", "trial_cell"),
)  # fmt: skip
