"""The comments of an evaluation as its pages show them."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.records import accounts
from levelmoor.records import tables as t
from levelmoor.records.comments import of_evaluation, to_do
from levelmoor.web.context import db


@dataclass(frozen=True)
class Talk:
    """What was said, what is to be done of it, and who can be asked."""

    team_id: int
    comments: Sequence[t.Comment]
    about: tuple[tuple[str, str], ...]
    """What can be spoken of: its key in the form, and its words."""

    @property
    def people(self) -> list[t.User]:
        return [m.user for m in accounts.members(db(), self.team_id)]

    @property
    def open(self) -> list[t.Comment]:
        return to_do(self.comments)

    def subject(self, comment: t.Comment) -> str:
        """What a comment is about, in words; what was removed meanwhile is named by its kind."""
        key = comment.about_kind if comment.about_id is None else f"{comment.about_kind}-{comment.about_id}"
        return dict(self.about).get(key, f"a {comment.about_kind} that was removed")

    def of(self, kind: str, row_id: int) -> list[t.Comment]:
        """The open ones about one row."""
        return [c for c in self.comments if (c.about_kind, c.about_id) == (kind, row_id) and c.done_at is None]


def talk_of(row: t.Evaluation, evaluation: Evaluation) -> Talk:
    claims = [(c.id, c.wording) for c in evaluation.claims]
    about = [
        ("evaluation", "the whole evaluation"),
        *((f"claim-{i}", words) for i, words in claims),
        *((f"figure-{i}", f"the figure of {words}") for i, words in claims),
        *((f"sweep-{s.id}", s.name) for s in row.sweeps),
    ]
    return Talk(row.team_id, of_evaluation(db(), row.id), tuple(about))
