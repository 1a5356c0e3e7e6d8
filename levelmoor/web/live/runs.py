"""The live runs of this server: one for each instrument that a team follows."""

import os
import threading

from levelmoor.core.model.instrument_address import Reach, check_reach, parse_address, parse_reach
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.live import LiveRun

VARIABLE = "LEVELMOOR_INSTRUMENTS"
"""The addresses that this installation may reach, none by default."""
_runs: dict[tuple[int, int], LiveRun] = {}
_lock = threading.Lock()


def reach() -> tuple[Reach, ...]:
    """What the installation's setting allows."""
    return parse_reach(os.environ.get(VARIABLE, ""))


def run_of(team_id: int, instrument_id: int, address: str, driver: Driver, span: Span) -> LiveRun:
    """The run of a team's instrument, made with its first screen; another address or driver makes another run.

    Raises
    ------
    ValueError
        Where the address is none, or the installation may not reach it.
    """
    at = parse_address(address)
    check_reach(at, reach())
    with _lock:
        run = _runs.get((team_id, instrument_id))
        if run is None or (run.address, run.driver) != (at, driver):
            run = _runs[team_id, instrument_id] = LiveRun(driver, at, span)
        return run


def known_run(team_id: int, instrument_id: int) -> LiveRun | None:
    with _lock:
        return _runs.get((team_id, instrument_id))
