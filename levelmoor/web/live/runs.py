"""The live runs of this server: one for each instrument that a team follows."""

import os
import threading

from flask import current_app

from levelmoor.core.model.instrument_address import Reach, check_reach, parse_address, parse_reach
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.live import LiveRun

VARIABLE = "LEVELMOOR_INSTRUMENTS"
"""The addresses that this installation may reach, none by default."""


def reach() -> tuple[Reach, ...]:
    """What the installation's setting allows."""
    return parse_reach(os.environ.get(VARIABLE, ""))


class Runs:
    """The runs of one server, by team and instrument."""

    def __init__(self) -> None:
        self._runs: dict[tuple[int, int], LiveRun] = {}
        self._lock = threading.Lock()

    def of(self, team_id: int, instrument_id: int, address: str, driver: Driver, span: Span) -> LiveRun:
        """The run of a team's instrument, made with its first screen; another address or driver makes another run.

        Raises
        ------
        ValueError
            Where the address is none, or the installation may not reach it.
        """
        at = parse_address(address)
        check_reach(at, reach())
        with self._lock:
            run = self._runs.get((team_id, instrument_id))
            if run is None or (run.address, run.driver) != (at, driver):
                run = self._runs[team_id, instrument_id] = LiveRun(driver, at, span)
            return run

    def known(self, team_id: int, instrument_id: int) -> LiveRun | None:
        with self._lock:
            return self._runs.get((team_id, instrument_id))


def runs() -> Runs:
    """Those of the server that answers."""
    return current_app.config["RUNS"]  # type: ignore[no-any-return]
