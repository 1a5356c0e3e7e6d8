"""Preview, publishing, and the public pages of what is published."""

from flask import Blueprint, Response, abort, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.model.relied_on import only_relied_on
from levelmoor.core.model.report_sections import SECTION_WORDS, ReportSection
from levelmoor.core.shelf.citation import Citation, schema_org
from levelmoor.core.words.bounds import TEXTS
from levelmoor.formats.bundle import Publication, read_bundle
from levelmoor.formats.picture import media_type
from levelmoor.records import accounts, answers, following, publishing, reviews, store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.reviews import content_of, reviewed
from levelmoor.records.roles import Act, may
from levelmoor.services.findings import findings_of, long_work
from levelmoor.services.list_card import refresh_card
from levelmoor.services.shelving import list_again, shelf_figures
from levelmoor.web.context import db, for_act, for_members, note, team
from levelmoor.web.downloads import FOR_GOOD, download, for_download
from levelmoor.web.letters import write_letter
from levelmoor.web.links import outward
from levelmoor.web.reports.before import before_publishing
from levelmoor.web.reports.page import draw
from levelmoor.web.reports.published import revision_or_404
from levelmoor.web.reports.stored import stored, words_around
from levelmoor.web.telling import tell
from levelmoor.web.tryout.routes import NOTHING_TRIED
from levelmoor.web.workbench.screen import evaluation_or_404

reports = Blueprint("reports", __name__, template_folder="templates")


@reports.get("/e/<int:evaluation_id>/report")
@for_members
def preview(evaluation_id: int) -> ResponseReturnValue:
    return _preview(evaluation_or_404(evaluation_id), "")


def _preview(row: t.Evaluation, problem: str) -> str:
    """The report as it would be published now, and what a reader would ask."""
    core, report = only_relied_on(evaluation_of(row)), store.report_of(db(), row.id)
    number = len(report.revisions) + 1 if report else 1
    shots = {p.raw_file.sha256: p.id for p in row.pictures}
    publication = Publication(core.title, team().name, number, request.form.get("reason", ""), now().date().isoformat())
    findings = findings_of(core)
    return render_template(
        "reports/preview.html",
        row=row,
        report=report,
        problem=problem,
        missing=publishing.missing_for_report(row),
        questions=before_publishing(row, core, findings, report),
        stands=reviewed(db(), row.id, content_of(core)),
        asks_review=team().asks_review,
        listed=report.listed if report else team().reports_listed,
        reason=request.form.get("reason", ""),
        words=request.form.get("words", ""),
        answers=answers.waiting(db(), report.id) if report else (),
        speaks_for=answers.SPEAKS_FOR_WORDS,
        **{
            **words_around(long_work(core, repr(publication), draw, vars(publication), core, findings, heavy=True)),
            "picture_address": lambda digest: url_for("pictures.show", evaluation_id=row.id, picture_id=shots[digest]),
        },
    )


@reports.post("/e/<int:evaluation_id>/report")
@for_act(Act.PUBLISH)
def publish(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    form = request.form
    try:
        revision = publishing.publish(
            db(),
            row,
            team(),
            current_user.name,
            form.get("reason", ""),
            form.get("listed") == "yes",
            shelf_figures,
            findings_of,
        )
    except publishing.NotReady as problem:
        return _refused(evaluation_id, problem)
    refresh_card(row, revision.number)
    what = f"revision {revision.number} of {revision.title} was published ({revision.bundle_sha256})"
    note("publication", what, row.id)
    return redirect(url_for("reports.public", slug=revision.report.slug))


def _refused(evaluation_id: int, problem: ValueError) -> ResponseReturnValue:
    db().rollback()
    return _preview(evaluation_or_404(evaluation_id), str(problem)), 422


@reports.post("/e/<int:evaluation_id>/report/sections")
@for_act(Act.WORK)
def choose_sections(evaluation_id: int) -> ResponseReturnValue:
    """Which sections the report shows, and what the team says above each."""
    row, form = evaluation_or_404(evaluation_id), request.form
    offered = [s for s in ReportSection if f"words-{s}" in form]
    words = {s: form[f"words-{s}"].strip() for s in offered}
    if long := next((s for s, said in words.items() if len(said) > TEXTS["section.words"]), None):
        most = TEXTS["section.words"]
        problem = (
            f"The sentence above “{SECTION_WORDS[long]}” has {len(words[long])} characters; at most {most} are allowed."
        )
        return _refused(evaluation_id, ValueError(problem))
    kept = [s for s in row.report_sections or () if s["section"] not in offered]
    shown = form.getlist("shown")
    row.report_sections = [*kept, *({"section": s.value, "shown": s in shown, "words": words[s]} for s in offered)]
    left = ", ".join(SECTION_WORDS[s] for s in offered if s not in shown)
    note("setting", f"the report shows {'every section' if not left else 'its sections without ' + left}", row.id)
    tell("Saved.")
    return redirect(url_for("reports.preview", evaluation_id=row.id, _anchor="goes-in"))


# -- Review by a second member, and taking back ----------------------------------------------------------------------


@reports.post("/e/<int:evaluation_id>/report/review")
@for_act(Act.PUBLISH)
def ask_review(evaluation_id: int) -> ResponseReturnValue:
    """Ask the others to look at the report as it would be."""
    row = evaluation_or_404(evaluation_id)
    try:
        reviews.ask(db(), row.id, content_of(only_relied_on(evaluation_of(row))), current_user.id)
    except reviews.ReviewProblem as problem:
        return _refused(evaluation_id, problem)
    note("review", f"a review of the report on {row.product.name} was asked for", row.id)
    link = outward("reports.preview", evaluation_id=row.id)
    letter = f"{current_user.name} asks for a review of the report on {row.product.name}:\n\n{link}\n"
    for place in accounts.members(db(), team().id):
        if may(place.role, Act.REVIEW) and place.user_id != current_user.id:
            write_letter(place.user.email, f"Review: {row.product.name}", letter)
    tell("You have asked for a review; reviewers see it here.")
    return redirect(url_for("reports.preview", evaluation_id=row.id))


@reports.post("/e/<int:evaluation_id>/report/review/answer")
@for_act(Act.REVIEW)
def answer_review(evaluation_id: int) -> ResponseReturnValue:
    """Approve the report as it stands, or return it with words."""
    row, form = evaluation_or_404(evaluation_id), request.form
    approved, content = form.get("answer") == "approve", content_of(only_relied_on(evaluation_of(row)))
    try:
        review = reviews.answer(db(), row.id, content, current_user.id, approved, form.get("words", ""))
    except reviews.ReviewProblem as problem:
        return _refused(evaluation_id, problem)
    done = "approved" if approved else "returned"
    said = f": {review.words}" if review.words else ""
    note("review", f"the report on {row.product.name} was {done}{said}", row.id)
    letter = f"{current_user.name} has {done} the report on {row.product.name}{said}\n"
    write_letter(review.asked_by.email, f"Review {done}: {row.product.name}", letter)
    tell(f"The report is {done}.")
    return redirect(url_for("reports.preview", evaluation_id=row.id))


@reports.post("/e/<int:evaluation_id>/report/listed")
@for_act(Act.LEAD)
def set_listed(evaluation_id: int) -> ResponseReturnValue:
    """Take the report out of the public list at once, or put it back; who has the link still finds it."""
    row = evaluation_or_404(evaluation_id)
    report = store.report_of(db(), row.id) or abort(404)
    list_again(db(), report, request.form.get("listed") == "yes")
    words = "is listed" if report.listed else "is no longer listed"
    note("publication", f"the report on {row.product.name} {words}", row.id)
    tell(f"The report {words}.")
    return redirect(url_for("reports.preview", evaluation_id=row.id))


@reports.post("/e/<int:evaluation_id>/report/withdraw")
@for_act(Act.LEAD)
def withdraw(evaluation_id: int) -> ResponseReturnValue:
    """The report does not stand any more: its page says so and why, its bundles can still be verified."""
    row = evaluation_or_404(evaluation_id)
    report = store.report_of(db(), row.id) or abort(404)
    try:
        publishing.withdraw(db(), report, current_user.name, request.form.get("words", ""))
    except publishing.NotReady as problem:
        return _refused(evaluation_id, problem)
    note("withdrawal", f"the report on {row.product.name} was withdrawn: {report.withdrawn_reason}", row.id)
    return redirect(url_for("reports.public", slug=report.slug))


@reports.get("/r/<slug>")
@reports.get("/r/<slug>/<int:number>")
def public(slug: str, number: int | None = None) -> ResponseReturnValue:
    """The public page of the latest or of one revision; JSON at the same address for those who ask for it."""
    revision = revision_or_404(slug, number)
    report = revision.report
    best = request.accept_mimetypes.best_match(["text/html", "application/json"], "text/html")
    if best == "application/json":
        return _as_json(revision)
    made, cited = stored(revision), _citation(revision)
    around = {
        "answers": answers.shown(db(), report.id),
        "refused": answers.refused(db(), report.id),
        "speaks_for": answers.SPEAKS_FOR_WORDS,
        "followed": following.followed_by(db(), report),
        "follows": following.follows(db(), report),
        "cited": cited,
        "linked_data": schema_org(cited, made.product, made.maker, made.found),
        "team_row": _team(report),
        **NOTHING_TRIED,
        "theirs": made.theirs,
    }
    return render_template("reports/public.html", report=report, revision=revision, made=made, **around)


def _team(report: t.Report) -> t.Team:
    return db().get_one(t.Team, report.team_id)


def _citation(revision: t.ReportRevision) -> Citation:
    report = revision.report
    return Citation(
        revision.title,
        _team(report).name,
        revision.number,
        revision.published_at.date().isoformat(),
        url_for("reports.public", slug=report.slug, number=revision.number, _external=True),
        revision.bundle_sha256,
    )


@reports.get("/r/<slug>/<int:number>/cite.bib")
def bibtex(slug: str, number: int) -> ResponseReturnValue:
    """How the revision is cited, as BibTeX."""
    revision = revision_or_404(slug, number)
    return download(_citation(revision).bibtex, f"levelmoor-{slug}-{number}.bib", "text/plain")


@reports.get("/r/<slug>/<int:number>/picture/<digest>")
def picture(slug: str, number: int, digest: str) -> ResponseReturnValue:
    """A picture of a published report, out of its bundle."""
    revision = revision_or_404(slug, number)
    bundle = read_bundle(revision.bundle)
    if digest not in {p.sha256 for p in bundle.evaluation.pictures}:
        abort(404)
    data = bundle.raw_files[digest]
    return Response(data, mimetype=media_type(data), headers={"Cache-Control": FOR_GOOD})


@reports.get("/r/<slug>.json")
@reports.get("/r/<slug>/<int:number>.json")
def as_json(slug: str, number: int | None = None) -> ResponseReturnValue:
    return _as_json(revision_or_404(slug, number))


def _as_json(revision: t.ReportRevision) -> Response:
    bundle = read_bundle(revision.bundle)
    response = jsonify(
        manifest=bundle.manifest,
        bundle_sha256=revision.bundle_sha256,
        evaluation=bundle.evaluation_document,
        findings=bundle.findings_document,
        withdrawn=revision.report.withdrawn_reason,
    )
    response.vary.add("Accept")
    return response


@reports.get("/r/<slug>/<int:number>/bundle.zip")
def bundle(slug: str, number: int) -> ResponseReturnValue:
    revision = revision_or_404(slug, number)
    name = f"levelmoor-{for_download(revision.title)}-{revision.number}.zip"
    response = download(revision.bundle, name, "application/zip")
    response.headers["ETag"] = f'"{revision.bundle_sha256}"'
    return response
