"""Every table is a kind that people work on, so that history and removal know it, or it is said here what else it is;
and what an evaluation holds goes out in an exported case."""

from dataclasses import fields

import pytest
from sqlalchemy import inspect

from levelmoor.core.model import catalogue
from levelmoor.core.model.evaluation import Evaluation, Product
from levelmoor.core.model.plan_wishes import PlanWishes
from levelmoor.core.model.reading_sheets import ReadingSheet
from levelmoor.core.words import bounds
from levelmoor.formats.exchange import EvaluationDocument
from levelmoor.records import tables as t
from levelmoor.records.base import Base
from levelmoor.records.kinds import KINDS
from levelmoor.web.removal import REMOVABLE

NO_KIND = {
    t.Answer: "what others say of a report", t.Attempt: "tries to sign in", t.AuditEntry: "the history itself", t.ColumnMapping: "remembered, not worked on",
    t.InHand: "a person's own bench", t.Invitation: "people", t.KeptAct: "what a browser sent", t.KeptResult: "worked out",
    t.Drawn: "drawn from what is published", t.Lease: "instruments in use", t.LiveLook: "who looks", t.LiveRun: "instruments in use",
    t.SecondStep: "people", t.RecoveryCode: "people", t.OutsideIdentity: "people", t.Passkey: "people", t.BackupMade: "the installation", t.ServerMinute: "the installation", t.Trouble: "the installation",
    t.LiveSweep: "went by", t.LiveWish: "asked of an instrument", t.Mail: "letters",
    t.Membership: "people", t.RawFile: "never changed", t.ReadingSheet: "what readings stand on", t.Report: "published",
    t.ReportRevision: "published", t.ResetLink: "people", t.Review: "an answer that stays", t.Setting: "the installation",
    t.ShelfFacet: "made from reports", t.ShelfLine: "made from reports", t.ShelfReport: "made from reports",
    t.SignIn: "people", t.Tick: "a mark in the plan", t.User: "people",
}  # fmt: skip
NEVER_REMOVED = {"product", "team"}
FROM_RAW = {"sweep", "traces", "trace", "two_port", "sha256"}
"""Read from the raw file, which the row names."""
ELSEWHERE = {
    "instrument": {"figures", "retired"},  # facts of a piece that the team owns
    "reading": {f.name for f in fields(ReadingSheet)},  # of the sheet that it stands on
}
IN_ONE_COLUMN = {"rule_set": "rules", "level": "record", "heat": "record", "contact": "record"}
"""Kinds whose fields stand together in a column of the table named here, by the name of its kind."""
OTHER_BOUNDS = ("adjustment.by", "evaluation.profile_limit", "filters", "heat.celsius", "heat.seconds", "knob.mark",
                "setup.condition", "stays", "trial.dial")  # fmt: skip
"""Of a part of a field."""
NO_TABLE = {"own_band": "the team's bands", "spot": "the team's spots", "opened": "the evaluation's opened_rounds",
            "section": "the evaluation's report_sections"}  # fmt: skip
TABLES = sorted((m.class_ for m in Base.registry.mappers), key=lambda model: model.__name__)


@pytest.mark.parametrize("model", TABLES, ids=lambda model: model.__name__)
def test_a_table_is_a_kind_or_something_else(model):
    assert (model in KINDS.values()) != (model in NO_KIND)


@pytest.mark.parametrize("kind", KINDS)
def test_a_kind_is_removed_and_had_back_or_never_removed(kind):
    assert (kind in REMOVABLE) != (kind in NEVER_REMOVED)


@pytest.mark.parametrize("field", [f.name for f in fields(Evaluation)])
def test_what_an_evaluation_holds_goes_out_in_its_document(field):
    assert field in EvaluationDocument.model_fields


@pytest.mark.parametrize("kind", [k for k in catalogue.KINDS.values() if k.name not in NO_TABLE], ids=lambda k: k.name)
def test_each_field_of_a_kind_has_a_column(kind):
    """A field without one would be lost when it is kept; history and restoring know columns alone."""
    name = IN_ONE_COLUMN.get(kind.name, kind.name)
    columns = {a.key for a in inspect(KINDS[name]).attrs}
    wanted = {f.name for f in fields(kind.row)} - FROM_RAW - ELSEWHERE.get(kind.name, set())
    assert kind.name in IN_ONE_COLUMN or wanted <= columns


@pytest.mark.parametrize("kind", catalogue.KINDS.values(), ids=lambda k: k.name)
def test_what_a_kind_names_is_a_kind_or_a_piece_of_the_bench(kind):
    known = {k.name for k in catalogue.KINDS.values()} | {"kit", "pad", "line", "load", "piece"}
    assert set(kind.names.values()) <= known


@pytest.mark.parametrize("bound", sorted({*bounds.TEXTS, *bounds.NUMBERS, *bounds.MOST} - set(OTHER_BOUNDS)))
def test_a_bound_is_of_a_field_that_there_is(bound):
    """One that is misspelt would bound nothing."""
    kind, _, field = bound.rpartition(".")
    rows = {k.name: k.row for k in catalogue.KINDS.values()}
    rows |= {"product": Product, "evaluation": Evaluation, "wishes": PlanWishes}
    homes = [rows[kind]] if kind else list(rows.values())
    assert any(field in {f.name for f in fields(row)} for row in homes)
