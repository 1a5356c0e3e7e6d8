"""The live runs that this server's screens have followed: one for each instrument of a team."""

import os
import threading

from flask import current_app
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.core.model.instrument_address import Reach, check_reach, parse_address, parse_reach
from levelmoor.instruments.driver import Driver
from levelmoor.services.live_runs import SharedRun

VARIABLE = "LEVELMOOR_INSTRUMENTS"
"""The addresses that this installation may reach, none by default."""


def reach() -> tuple[Reach, ...]:
    """What the installation's setting allows."""
    return parse_reach(os.environ.get(VARIABLE, ""))


class Runs:
    """The runs that this server knows, by team and instrument."""

    def __init__(self, maker: sessionmaker[Session]) -> None:
        self._maker = maker
        self._runs: dict[tuple[int, int], SharedRun] = {}
        self._lock = threading.Lock()

    def of(self, team_id: int, instrument_id: int, address: str, driver: Driver) -> SharedRun:
        """The run of a team's instrument, also of one that another server sweeps; another address or driver makes
        another run.

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
                run = self._runs[team_id, instrument_id] = SharedRun(self._maker, driver, at, team_id)
            return run

    def known(self, team_id: int, instrument_id: int, address: str, driver: Driver) -> SharedRun | None:
        """The same, None where nobody has followed it yet, or it may not be reached."""
        try:
            run = self.of(team_id, instrument_id, address, driver)
        except ValueError:
            return None
        return run if run.stands() is not None else None


def runs() -> Runs:
    """Those of the server that answers."""
    return current_app.config["RUNS"]  # type: ignore[no-any-return]
