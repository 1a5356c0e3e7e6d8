"""On the air, as colour: contacts and spots, with distances and two antennas in alternation. No verdict reads them."""

from dataclasses import replace
from typing import Any

from flask import Blueprint, abort, g, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor import __version__
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.on_air.alternation import alternations, way_of
from levelmoor.core.on_air.locator import position_of
from levelmoor.core.rf.bandplan import band_at
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.bounds import NUMBERS, TEXTS
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import format_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.adif import AdifFile, read_adif, write_adif
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.spots_csv import read_spots, write_spots
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.database import now
from levelmoor.records.field import CONTACT, FieldProblem, add_records
from levelmoor.records.mapping import evaluation_of
from levelmoor.web.cell_values import CellProblem, moment_cell, number
from levelmoor.web.context import db, for_members
from levelmoor.web.downloads import download, for_download, of_upload
from levelmoor.web.entries import TAKEN_BEFORE, of_table, pressed
from levelmoor.web.hand import as_shown
from levelmoor.web.workbench.screen import evaluation_or_404, shown
from levelmoor.web.workbench.work import Work

on_air = Blueprint("on_air", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/air")

TYPED = ("mode", "call", "own_locator", "locator", "sent", "received", "note")


def _shown(row: t.Evaluation, changed: bool) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    contacts = sorted(screen.bench.evaluation.contacts, key=lambda c: c.at)
    latest = contacts[-1] if contacts else None
    data = {
        "contacts": [(c, way_of(c)) for c in reversed(contacts)],
        "alternations": alternations(contacts),
        "own_locator": latest.own_locator if latest else "",
        "names": {str(s.id): s.name for s in row.setups},
        "added": g.get("added", ""),
        "band_of": lambda hz: band_at(hz, row.region),
    }
    return {**vars(screen), **data}


WORK = Work("on_air/work.html", _shown, ("field_records",))
again = WORK.again


@on_air.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    return render_template("on_air/page.html", **WORK.shown(evaluation_or_404(evaluation_id)))


@on_air.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """One contact, with the antenna on the bench."""
    row, form = evaluation_or_404(evaluation_id), request.form
    hand = as_shown(row)
    try:
        said: dict[str, Any] = {name: " ".join(form.get(name, "").split()) for name in TYPED}
        for name, value in said.items():
            if len(value) > TEXTS[f"contact.{name}"]:
                raise CellProblem(f"At most {TEXTS[f'contact.{name}']} characters in {name.replace('_', ' ')}.")
        for name in ("own_locator", "locator"):
            if said[name]:
                position_of(said[name])
        hz, power = parse_frequency(form.get("frequency", "")), form.get("power", "").strip()
        at = moment_cell(form.get("at", ""), row) or now().isoformat(timespec="minutes")[:16]
        one = Contact(
            "",
            at,
            hz,
            power_w=number(power, "watts, as in 10", *NUMBERS["trial.power_w"]) if power else None,
            sample_id=str(hand.sample_id or ""),
            setup_id=str(hand.setup_id or ""),
            **said,
        )
        add_records(db(), row, CONTACT, [(pressed("air"), one, _called(one))], current_user.name)
    except (ValueError, CellProblem) as problem:
        return again(row, "contact", sentence(problem))
    return again(row)


def _called(one: Contact) -> str:
    what = "the contact with" if one.kind is ContactKind.CONTACT else "the spot by"
    return f"{what} {one.call or 'a station'} on {one.band or f'{format_mhz(one.frequency_hz)} MHz'}"


@on_air.post("/files")
@for_members
def add_file(evaluation_id: int) -> ResponseReturnValue:
    """Contacts from ADIF, spots from CSV; the same file twice is taken once."""
    row, upload = evaluation_or_404(evaluation_id), request.files.get("file")
    as_shown(row)
    try:
        if upload is None or not upload.filename:
            raise FieldProblem("Choose an ADIF file (.adi), or a CSV of spots.")
        name, data = of_upload(upload.filename), upload.read()
        setups = {s.name.lower(): str(s.id) for s in row.setups}
        adif = name.lower().endswith((".adi", ".adif")) or b"<eor>" in data.lower()
        read = (
            read_apart(read_adif, name, data, setups)
            if adif
            else AdifFile(tuple(read_apart(read_spots, name, data, setups)))
        )
        found, told = read.contacts, read.told
        entries = [(_entry(c), c, _called(c)) for c in found]
        added = add_records(db(), row, CONTACT, entries, current_user.name)
        if not added and not told:
            raise FieldProblem(TAKEN_BEFORE)
    except (FileProblem, FieldProblem) as problem:
        return again(row, "file", problem)
    g.added = f"{counted(len(added), 'contact')} added. {told}".strip()
    return again(row)


def _entry(one: Contact) -> str:
    """The same contact from another file is the same entry."""
    return of_table(repr(replace(one, id="", note="", setup_id="", sample_id="")).encode())


WORK.keeps(
    on_air, "record", "", lambda row: [r for r in row.field_records if r.kind == CONTACT],
    lambda record: record.words or "a contact", ("remove", ""),
)  # fmt: skip


@on_air.get("/contacts.adi")
@for_members
def as_adif(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    contacts = [c for c in evaluation_of(row).contacts if c.kind is ContactKind.CONTACT]
    if not contacts:
        abort(404)
    text = write_adif(contacts, {str(s.id): s.name for s in row.setups}, __version__)
    return download(text.encode(), f"contacts-{for_download(row.product.name)}.adi", "text/plain")


@on_air.get("/spots.csv")
@for_members
def as_csv(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    spots = [c for c in evaluation_of(row).contacts if c.kind is ContactKind.SPOT]
    if not spots:
        abort(404)
    text = write_spots(spots, {str(s.id): s.name for s in row.setups})
    return download(text.encode(), f"spots-{for_download(row.product.name)}.csv", "text/csv")
