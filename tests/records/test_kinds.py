"""Every table is a kind that people work on, so that history and removal know it, or it is said here what else it is;
and what an evaluation holds goes out in an exported case."""

from dataclasses import fields

import pytest

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.exchange import EvaluationDocument
from levelmoor.records import tables as t
from levelmoor.records.base import Base
from levelmoor.records.kinds import KINDS
from levelmoor.web.removal import REMOVABLE

NO_KIND = {
    t.Attempt: "tries to sign in", t.AuditEntry: "the history itself", t.ColumnMapping: "remembered, not worked on",
    t.InHand: "a person's own bench", t.Invitation: "people", t.Lease: "instruments in use", t.Mail: "letters",
    t.Membership: "people", t.RawFile: "never changed", t.ReadingSheet: "what readings stand on", t.Report: "published",
    t.ReportRevision: "published", t.ResetLink: "people", t.Review: "an answer that stays", t.Setting: "the installation",
    t.SignIn: "people", t.Tick: "a mark in the plan", t.User: "people",
}  # fmt: skip
NEVER_REMOVED = {"product", "team"}
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
