"""The live instruments of a team, and which of them it has in hand."""

import time
from collections.abc import Callable

from flask import abort, jsonify, make_response

from levelmoor.core.words.sentence import sentence
from levelmoor.instruments.driver import Driver
from levelmoor.records import tables as t
from levelmoor.records.bench import rows_of
from levelmoor.records.leases import Leased, take
from levelmoor.services.live_runs import SharedRun
from levelmoor.web.context import db, maker, team
from levelmoor.web.live.drivers import drivers_of
from levelmoor.web.live.runs import runs

RENEW_S = 5.0


def live_instruments() -> list[t.Instrument]:
    """The team's instruments that its settings give an address and a driver."""
    return [i for i in rows_of(db(), team().id, "instrument") if i.address and i.driver]


def instrument_or_404(instrument_id: int) -> tuple[t.Instrument, Driver]:
    row = next((i for i in live_instruments() if i.id == instrument_id), None)
    driver = drivers_of(db(), team().id).get(row.driver) if row else None
    if row is None or driver is None:
        abort(404)
    return row, driver


def lease(instrument: t.Instrument) -> Callable[[], int]:
    """The team has the instrument from now on; called again, it has it longer. Raises Leased where another has it."""
    sessions, address, team_id = maker(), instrument.address, team().id
    last = [0.0, 0]

    def renew() -> int:
        if time.monotonic() - last[0] > RENEW_S:
            last[:] = [time.monotonic(), take(sessions, address, team_id)]
        return int(last[1])

    renew()
    return renew


def run_or_404(instrument_id: int) -> SharedRun:
    """The run of an instrument that the team has in hand; 409 where another team has it."""
    instrument, driver = instrument_or_404(instrument_id)
    try:
        lease(instrument)
    except Leased as problem:
        abort(make_response(jsonify(problem=sentence(problem)), 409))
    return runs().known(team().id, instrument_id, instrument.address, driver) or abort(404)
