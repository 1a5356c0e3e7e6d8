"""A published revision as it is read, drawn once: the same bundle and the same program draw the same."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from functools import cache
from hashlib import sha256
from importlib.resources import files
from pathlib import Path

from flask import render_template, url_for

from levelmoor.core.comparison.comparison_model import QUESTION_WORDS
from levelmoor.core.metrology.decision import RULE_WORDS
from levelmoor.core.model.bench_records import BENCH_RULE_READ
from levelmoor.core.model.evaluation import CALIBRATION_WORDS, PLANE_WORDS
from levelmoor.core.model.report_sections import SECTION_WORDS
from levelmoor.core.model.state import SETUP_ROLE_WORDS
from levelmoor.core.shelf.revision_changes import revision_changes
from levelmoor.formats.bundle import read_bundle
from levelmoor.records import tables as t
from levelmoor.records.drawn import drawn
from levelmoor.web.context import maker
from levelmoor.web.reports.page import ClaimPart, ReportPage, published_page
from levelmoor.web.tryout.routes import comparable

DRAWN_BY, DRAWN_IN = (".py", ".html", ".css", ".json"), ("core", "figures", "formats", "services", "web")
"""Files of the program that decide how a report looks, and where they are."""


@dataclass(frozen=True)
class StoredReport:
    """The body of the page, and what the page around it needs. `theirs` are the claims that a reader's own sweep can be
    held against, `changes` what differs from the revision before, by what it is about."""

    title: str
    product: str
    maker: str
    found: str
    body: str
    files: str
    theirs: Sequence[tuple[int, str]]
    changes: Sequence[tuple[str, Sequence[str]]]


@cache
def _program() -> str:
    """A digest of what decides how a report looks: where that has changed, reports are drawn again."""
    digest = sha256()
    root = Path(str(files("levelmoor")))
    for room in DRAWN_IN:
        for path in sorted(p for p in (root / room).rglob("*") if p.suffix in DRAWN_BY):
            digest.update(path.read_bytes())
    return digest.hexdigest()


def key_of(revision: t.ReportRevision, what: str) -> str:
    """What a thing that is drawn from a revision is kept under."""
    named = f"{_program()} {what} {revision.report.slug} {revision.number} {revision.bundle_sha256}"
    return sha256(named.encode()).hexdigest()


def words_around(page: ReportPage) -> dict[str, object]:
    """What the templates of a report are given."""
    return {
        "page": page,
        "evaluation": page.evaluation,
        "rules": RULE_WORDS,
        "calibrations": CALIBRATION_WORDS,
        "planes": PLANE_WORDS,
        "bench_rules_read": BENCH_RULE_READ,
        "setup_roles": SETUP_ROLE_WORDS,
        "comparison_words": QUESTION_WORDS,
        "section_words": SECTION_WORDS,
        "picture_address": None,
        "figure_address": None,
    }


def stored(revision: t.ReportRevision) -> StoredReport:
    """A revision as it is read."""
    return StoredReport(**json.loads(drawn(maker(), key_of(revision, "page"), lambda: _draw(revision))))


def _draw(revision: t.ReportRevision) -> bytes:
    page = published_page(revision.bundle_sha256, lambda: revision.bundle)
    slug, number = revision.report.slug, revision.number
    given = {
        **words_around(page),
        "picture_address": lambda digest: url_for("reports.picture", digest=digest, slug=slug, number=number),
        "figure_address": lambda name, kind: url_for("papers.figure", name=name, kind=kind, slug=slug, number=number),
    }
    made = StoredReport(
        page.evaluation.title,
        page.evaluation.product.name,
        page.evaluation.product.maker,
        " ".join(page.in_short.sentences),
        render_template("reports/body.html", **given),
        render_template("reports/files.html", **given),
        [(n, _named(p, len(page.evaluation.samples))) for n, p in comparable(page.claims)],
        _changes(revision),
    )
    return json.dumps(asdict(made)).encode()


def _named(part: ClaimPart, units: int) -> str:
    return f"{part.claim.wording}, {part.sample.label}" if units > 1 else part.claim.wording


def _changes(revision: t.ReportRevision) -> Sequence[tuple[str, Sequence[str]]]:
    before = next((r for r in revision.report.revisions if r.number == revision.number - 1), None)
    if before is None:
        return ()
    was, now = read_bundle(before.bundle), read_bundle(revision.bundle)
    return revision_changes((was.evaluation, was.findings), (now.evaluation, now.findings)).groups
