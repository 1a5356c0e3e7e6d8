"""Which instruments can be reached, and how they are spoken to: the team's settings for live instruments."""

from collections.abc import Mapping, Sequence

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue
from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.instrument_address import check_reach, parse_address
from levelmoor.core.words.sentence import sentence
from levelmoor.instruments.analyzer import Analyzer
from levelmoor.instruments.connection import Connection
from levelmoor.instruments.driver import Driver, driver_text, read_driver, shipped_drivers
from levelmoor.instruments.problem import InstrumentProblem
from levelmoor.records import tables as t
from levelmoor.records.bench import rows_of
from levelmoor.records.leases import Leased, take
from levelmoor.records.roles import Act
from levelmoor.web.context import db, for_editors, for_members, maker, may_do, note, team
from levelmoor.web.live.runs import reach
from levelmoor.web.removal import removed

live_settings = Blueprint("live_settings", __name__, template_folder="templates", url_prefix="/equipment/live")


def driver_rows(session: Session, team_id: int) -> Sequence[t.Driver]:
    query = select(t.Driver).where(t.Driver.team_id == team_id, t.Driver.deleted_at.is_(None)).order_by(t.Driver.id)
    return session.scalars(query).all()


def drivers_of(session: Session, team_id: int) -> Mapping[str, Driver]:
    """The shipped drivers and the team's own, which stand before shipped ones of the same name."""
    own = [Driver.model_validate(r.commands) for r in driver_rows(session, team_id)]
    return {**shipped_drivers(), **{d.name: d for d in own}}


@live_settings.get("")
@for_members
def page() -> str:
    return _page()


def _page(problem: str = "", said: str = "", text: str = "") -> str:
    return render_template(
        "live/settings.html",
        instruments=rows_of(db(), team().id, "instrument"),
        drivers=drivers_of(db(), team().id),
        own=driver_rows(db(), team().id),
        may_edit=may_do(Act.LEAD),
        problem=problem,
        said=said,
        text=text,
        start_text=driver_text(next(iter(shipped_drivers().values()))),
    )


@live_settings.post("/<int:instrument_id>")
@for_editors
def connect(instrument_id: int) -> ResponseReturnValue:
    """Address and driver of an instrument; asked at once who it is."""
    row = next((i for i in rows_of(db(), team().id, "instrument") if i.id == instrument_id), None) or abort(404)
    typed, driver = request.form.get("address", "").strip(), request.form.get("driver", "")
    if not typed:
        row.address, row.driver = "", ""
        return _page(said=f"{row.name} is no longer live.")
    try:
        address = parse_address(typed)
        check_reach(address, reach())
        if driver not in drivers_of(db(), team().id):
            raise ValueError("choose a driver")
    except ValueError as problem:
        db().rollback()
        return _page(problem=sentence(problem)), 422
    row.address, row.driver = str(address), driver
    note("setting", f"{row.name} is live at {address}")
    try:
        take(maker(), str(address), team().id)
    except Leased as problem:
        return _page(said=f"Saved. {sentence(problem)}")
    try:
        with Connection(address) as connection:
            who = Analyzer(drivers_of(db(), team().id)[driver], connection).identify()
        return _page(said=f"{row.name} answers: {who[:120]}")
    except InstrumentProblem as problem:
        return _page(said=f"Saved, but it does not answer: {problem}.")


@live_settings.post("/drivers")
@for_editors
def add_driver() -> ResponseReturnValue:
    """A driver of the team's own; one of the same name takes its place."""
    text = request.form.get("commands", "")
    try:
        driver = read_driver(text)
    except ValueError as problem:
        return _page(problem=f"The driver was rejected. {problem}.", text=text), 422
    row = next((r for r in driver_rows(db(), team().id) if r.name == driver.name), None)
    if row is None:
        row = t.Driver(team_id=team().id, name=driver.name)
        db().add(row)
    row.commands = driver.model_dump(mode="json")
    db().flush()
    return _page(said=f"{driver.name} was added; choose it for an instrument above.")


@live_settings.post("/drivers/<int:driver_id>/remove")
@for_editors
def remove_driver(driver_id: int) -> ResponseReturnValue:
    row = next((r for r in driver_rows(db(), team().id) if r.id == driver_id), None) or abort(404)
    removed(row, f"the driver {row.name} was removed")
    db().flush()
    return _page()
