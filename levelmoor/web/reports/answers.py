"""Answers to a report: written by anybody, confirmed by mail, decided on by the team."""

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.words.sentence import sentence
from levelmoor.records import answers as records
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.answers import SPEAKS_FOR_WORDS, AnswerProblem, Written
from levelmoor.records.database import now
from levelmoor.records.roles import Act
from levelmoor.records.tries import TooManyTries, take_use
from levelmoor.web.context import address, db, for_act, maker, note
from levelmoor.web.downloads import download, of_upload
from levelmoor.web.letters import post, write_letter
from levelmoor.web.links import outward
from levelmoor.web.reports.published import report_or_404
from levelmoor.web.telling import tell
from levelmoor.web.workbench.screen import evaluation_or_404

answers = Blueprint("answers", __name__, template_folder="templates")
MOST_BY_ADDRESS = 6
"""Within the quarter of an hour that tries are counted over."""


def _form(report: t.Report, problem: str = "", sent: str = "") -> str:
    last = report.revisions[-1]
    given = {"report": report, "title": last.title, "problem": problem, "sent": sent, "speaks_for": SPEAKS_FOR_WORDS}
    return render_template("reports/answer.html", **given)


@answers.get("/r/<slug>/answer")
def write(slug: str) -> ResponseReturnValue:
    return _form(report_or_404(slug))


@answers.post("/r/<slug>/answer")
def send_in(slug: str) -> ResponseReturnValue:
    """Keep an answer and send the link that confirms it."""
    report, form = report_or_404(slug), request.form
    try:
        take_use(maker(), f"answering {address()}", MOST_BY_ADDRESS)
        file = request.files.get("file")
        name, data = (of_upload(file.filename), file.read()) if file and file.filename else ("", b"")
        asks = form.get("new_test") == "yes"
        said = Written(
            form.get("name", ""),
            form.get("speaks_for", ""),
            form.get("email", ""),
            form.get("words", ""),
            asks,
            name,
            data,
        )
        token = records.send_in(db(), report, said)
    except (AnswerProblem, TooManyTries) as problem:
        return _form(report, sentence(problem)), 422
    link = outward("answers.confirm", token=token)
    words = f"You answered the report “{report.revisions[-1].title}”. Confirm that it was you:\n\n{link}\n"
    if not post().goes:
        return _form(report, "This server sends no email, so answers cannot be confirmed here. Write to the team."), 422
    write_letter(said.email, "Confirm your answer", words, report.team_id)
    return _form(report, sent=said.email)


@answers.get("/answers/<token>")
def confirm(token: str) -> ResponseReturnValue:
    return _confirmation(token)


@answers.post("/answers/<token>")
def confirmed(token: str) -> ResponseReturnValue:
    """The sender says that it was them; the team is told."""
    return _confirmation(token, done=True)


def _confirmation(token: str, done: bool = False) -> ResponseReturnValue:
    try:
        answer = records.unconfirmed(db(), token)
    except AnswerProblem as problem:
        return render_template("reports/confirm.html", answer=None, problem=str(problem), done=False), 404
    if done:
        answer.confirmed_at = now()
    return render_template("reports/confirm.html", answer=answer, problem="", done=done)


@answers.post("/e/<int:evaluation_id>/report/answers/<int:answer_id>")
@for_act(Act.PUBLISH)
def decide(evaluation_id: int, answer_id: int) -> ResponseReturnValue:
    """Show an answer beside the report, or refuse it with a reason that its sender gets."""
    row, form = evaluation_or_404(evaluation_id), request.form
    report, answer = store.report_of(db(), row.id), db().get(t.Answer, answer_id)
    if report is None or answer is None or answer.report_id != report.id:
        abort(404)
    approve = form.get("answer") == "approve"
    try:
        records.decide(answer, current_user.name, approve, form.get("words", ""))
    except AnswerProblem as problem:
        tell(str(problem))
        return redirect(url_for("reports.preview", evaluation_id=row.id))
    done = "is shown beside the report" if approve else f"was refused: {answer.why}"
    note("answer", f"the answer of {answer.name} {done}", row.id)
    write_letter(answer.email, "Your answer", f"Your answer to the report on {row.product.name} {done}\n")
    tell(f"The answer of {answer.name} {done}{'.' if approve else ''}")
    return redirect(url_for("reports.preview", evaluation_id=row.id))


@answers.get("/r/<slug>/answers/<int:answer_id>/file")
def file(slug: str, answer_id: int) -> Response:
    """The file of an answer that is shown: handed on as it came, never shown here."""
    report, answer = report_or_404(slug), db().get(t.Answer, answer_id)
    if answer is None or answer.report_id != report.id or not answer.approved or not answer.file_data:
        abort(404)
    return download(answer.file_data, answer.file_name, "application/octet-stream")
