"""The work of a step, drawn anew after each act; what was refused comes back where it was typed."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.records import tables as t
from levelmoor.web.cell_values import CellProblem
from levelmoor.web.cells import set_cell
from levelmoor.web.conflicts import in_words, meanwhile
from levelmoor.web.context import db, for_members
from levelmoor.web.removal import removed
from levelmoor.web.workbench.screen import evaluation_or_404


@dataclass(frozen=True)
class Work:
    """`template` draws the work alone, `given` says what of a row and whether it was changed; `parts` are the row's
    lists that an act may have changed."""

    template: str
    given: Callable[[t.Evaluation, bool], dict[str, Any]]
    parts: tuple[str, ...] = ()

    def shown(self, row: t.Evaluation, wrong_in: str = "", wrong: object = "", changed: bool = False) -> dict[str, Any]:
        """For a template; `form` holds what was typed only where something of it was refused."""
        said = {"wrong_in": wrong_in, "wrong": wrong}
        return {"form": request.form if wrong else {}, **self.given(row, changed), **said}

    def settled(self, row: t.Evaluation, wrong: object = "") -> t.Evaluation:
        """The row as it stands after an act; nothing of a refused one stays."""
        if wrong:
            db().rollback()
            return evaluation_or_404(row.id)
        db().flush()
        if self.parts:
            db().expire(row, self.parts)
        return row

    def again(self, row: t.Evaluation, wrong_in: str = "", wrong: object = "") -> ResponseReturnValue:
        """The work anew; what was refused says so at `wrong_in`."""
        data = self.shown(self.settled(row, wrong), wrong_in, wrong, changed=not wrong)
        return render_template("workbench/frame_changed.html", work=self.template, **data), (422 if wrong else 200)

    def cell(self, row: t.Evaluation, kind: str, of: Any, name: str) -> ResponseReturnValue:
        """Put what was typed into a cell of one of the parts, and show the work with it."""
        typed = request.form.get("value", "")
        try:
            set_cell(kind, of, name, typed, row)
            if other := meanwhile(of, name):
                raise CellProblem(in_words(other, typed))
        except CellProblem as problem:
            return self.again(row, f"{kind}-{of.id}-{name}", problem)
        except KeyError:
            abort(404)
        return self.again(row)

    def keeps(
        self,
        pages: Blueprint,
        kind: str,
        at: str,
        rows: Callable[[t.Evaluation], Iterable[Any]],
        called: Callable[[Any], str],
        endpoints: tuple[str, str] = ("remove", "cell"),
    ) -> None:
        """The addresses below `at` for rows of a kind: one is removed, and a cell of one is kept where a second of the
        `endpoints` is named. `called` says which one it was."""
        remove, cell = endpoints

        def remove_one(evaluation_id: int, **of: int) -> ResponseReturnValue:
            row = evaluation_or_404(evaluation_id)
            one = part_of(rows(row), of[f"{kind}_id"])
            removed(one, f"{called(one)} was removed")
            return self.again(row)

        def keep_cell(evaluation_id: int, name: str, **of: int) -> ResponseReturnValue:
            row = evaluation_or_404(evaluation_id)
            return self.cell(row, kind, part_of(rows(row), of[f"{kind}_id"]), name)

        pages.add_url_rule(f"{at}/<int:{kind}_id>/remove", remove, for_members(remove_one), methods=["POST"])
        if cell:
            pages.add_url_rule(f"{at}/<int:{kind}_id>/<name>", cell, for_members(keep_cell), methods=["POST"])


def part_of(rows: Iterable[Any], row_id: int) -> Any:
    return next((r for r in rows if r.id == row_id), None) or abort(404)
