"""Trying it without an account: one file, one line of claims, the verdict. Nothing is stored."""

from threading import BoundedSemaphore

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.claims.claim_line import understand_line
from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.evaluation import Calibration
from levelmoor.core.words.sentence import sentence
from levelmoor.demo.load import sweeps
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.records.apart import read_apart
from levelmoor.records.tries import TooManyTries, take_use
from levelmoor.services.tryout import ClaimProblem, Published, claims_to_try, try_out
from levelmoor.web.context import address, maker, wants_part
from levelmoor.web.downloads import download, of_upload
from levelmoor.web.reports.page import ClaimPart, published_page
from levelmoor.web.reports.published import revision_or_404
from levelmoor.web.telling import tell

tryout = Blueprint("tryout", __name__, template_folder="templates")
SAMPLE, SAMPLE_CLAIM = "rollaway-a-70cm.s1p", "SWR < 1.5 70cm"
MOST_BY_ADDRESS = 40
"""Within the quarter of an hour that tries are counted over."""
NOTHING_TRIED = {"sample_claim": SAMPLE_CLAIM, "tried": None, "problem": "", "theirs": ()}
"""What the form's template is given before anything was tried."""
_at_once = BoundedSemaphore(2)


@tryout.get("/try")
def page() -> ResponseReturnValue:
    return render_template("tryout/page.html", **_given())


@tryout.get("/try/sample")
def sample() -> ResponseReturnValue:
    return download(sweeps()[SAMPLE], SAMPLE, "text/plain")


@tryout.post("/try")
def judged() -> ResponseReturnValue:
    """The verdict on the file that was sent, or what keeps it from one."""
    form, problem, tried = request.form, "", None
    try:
        take_use(maker(), f"trying {address()}", MOST_BY_ADDRESS)
        beside = _published()
        claims = (beside.claim,) if beside else claims_to_try(understand_line(form.get("claim", ""), _region()))
        name, data = _file()
        if not _at_once.acquire(timeout=10):
            raise TooManyTries("Others are trying files just now; send yours again in a minute.")
        try:
            said = Calibration.AT_PLANE if form.get("calibrated") == "yes" else Calibration.NONE
            tried = read_apart(try_out, name, data, claims, said, _region(), beside)
        finally:
            _at_once.release()
    except ColumnsProblem as asked:
        problem = f"{asked} With an account you say once which column is which, and it is remembered."
    except FileProblem as rejected:
        problem = f"Rejected: {rejected}."
    except (ClaimProblem, TooManyTries) as refused:
        problem = sentence(refused)
    if tried:
        tell(f"{tried.file_name} judged: {', '.join(VERDICT_WORDS[c.verdict] for c in tried.claims)}.")
    template = "tryout/result.html" if wants_part() else "tryout/page.html"
    return render_template(template, **_given(tried=tried, problem=problem)), 422 if problem else 200


def _given(**more: object) -> dict[str, object]:
    return {**NOTHING_TRIED, **more}


def _region() -> int:
    region = request.form.get("region", "1")
    return int(region) if region in ("1", "2", "3") else 1


def _file() -> tuple[str, bytes]:
    if request.form.get("sample"):
        return SAMPLE, sweeps()[SAMPLE]
    file = request.files.get("file")
    if file is None or not file.filename:
        raise ClaimProblem("choose a sweep: a Touchstone file (.s1p, .s2p) or a CSV file from your analyzer")
    return of_upload(file.filename), file.read()


def _published() -> Published | None:
    """The claim of a published report that the file is held against."""
    form = request.form
    if not form.get("report"):
        return None
    revision = revision_or_404(form["report"], form.get("number", 0, type=int))
    page = published_page(revision.bundle_sha256, lambda: revision.bundle)
    part = next((p for n, p in comparable(page.claims) if n == form.get("part", 0, type=int)), None)
    if part is None:
        abort(404)
    evidence = next(f.evidence for f in part.figures if f.evidence)
    return Published(part.claim, evidence, page.instrument(evidence).figures)


def comparable(parts: tuple[ClaimPart, ...]) -> list[tuple[int, ClaimPart]]:
    """The claims of a report that a reader's own sweep can be held against, by their place on the page."""
    return [
        (n, p) for n, p in enumerate(parts, 1) if p.claim.limit_swr is not None and any(f.evidence for f in p.figures)
    ]
