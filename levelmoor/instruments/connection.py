"""One line in, one line out over TCP, by PyVISA's pure Python backend."""

import socket
import threading
from types import TracebackType
from typing import Any

import pyvisa
from pyvisa import errors
from pyvisa.constants import StatusCode

from levelmoor.core.model.instrument_address import Address
from levelmoor.instruments.problem import InstrumentProblem, Trouble

TIMEOUT_S = 3.0
_opening = threading.Lock()
"""PyVISA keeps one list of what is open; it is opened and closed by one thread at a time."""


class Connection:
    """A connection to an instrument; every trouble becomes an `InstrumentProblem`."""

    def __init__(self, address: Address, timeout_s: float = TIMEOUT_S) -> None:
        self.address = address
        self._timeout_s = timeout_s
        self._resource: Any = None

    def __enter__(self) -> "Connection":
        try:
            with _opening:
                manager = pyvisa.ResourceManager("@py")
                self._resource = manager.open_resource(
                    f"TCPIP0::{self.address.host}::{self.address.port}::SOCKET",
                    read_termination="\n",
                    write_termination="\n",
                    timeout=int(1000 * self._timeout_s),
                    open_timeout=int(1000 * self._timeout_s),
                )
            self._socket().getpeername()  # the backend does not tell a refused connection from an open one
        except (OSError, pyvisa.errors.Error, ValueError) as problem:
            self.__exit__(None, None, None)
            words = f"nothing answers at {self.address}; is the instrument switched on, and is this its address?"
            raise InstrumentProblem(Trouble.UNREACHABLE, words) from problem
        return self

    def __exit__(
        self, _kind: type[BaseException] | None, _problem: BaseException | None, _trace: TracebackType | None
    ) -> None:
        if self._resource is not None:
            with _opening:
                self._resource.close()
            self._resource = None

    def _socket(self) -> socket.socket:
        found = self._resource.visalib.sessions[self._resource.session].interface
        assert isinstance(found, socket.socket)
        return found

    def _hung_up(self) -> bool:
        """Whether the other side has closed: the backend waits for its time-out then."""
        try:
            return self._socket().recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
        except BlockingIOError:
            return False
        except OSError:
            return True

    def tell(self, command: str) -> None:
        try:
            self._resource.write(command)
        except (errors.VisaIOError, OSError) as problem:
            raise self._trouble(command, problem) from problem

    def ask(self, command: str) -> str:
        try:
            answer = str(self._resource.query(command)).strip()
        except UnicodeDecodeError as problem:
            words = f'the instrument answered "{command}" with something that is not text; switch it off and on'
            raise InstrumentProblem(Trouble.GARBAGE, words) from problem
        except (errors.VisaIOError, OSError) as problem:
            raise self._trouble(command, problem) from problem
        if not answer:
            # A closed line reads as an empty one.
            raise InstrumentProblem(
                Trouble.DISCONNECTED, f'the instrument closed the connection at "{command}"; check its cable'
            )
        return answer

    def number(self, command: str) -> float:
        answer = self.ask(command)
        try:
            return float(answer)
        except ValueError:
            raise InstrumentProblem(
                Trouble.GARBAGE, f'"{command}" was answered with "{answer[:40]}", which is not a number'
            ) from None

    def numbers(self, command: str) -> list[float]:
        answer = self.ask(command)
        try:
            return [float(part) for part in answer.split(",")]
        except ValueError:
            raise InstrumentProblem(
                Trouble.GARBAGE, f'"{command}" was answered with "{answer[:40]}", which are not numbers'
            ) from None

    def _trouble(self, command: str, problem: Exception) -> InstrumentProblem:
        if (
            isinstance(problem, errors.VisaIOError)
            and problem.error_code == StatusCode.error_timeout
            and not self._hung_up()
        ):
            words = f'no answer to "{command}" within {self._timeout_s:g} s; is the instrument busy or locked?'
            return InstrumentProblem(Trouble.TIMEOUT, words)
        return InstrumentProblem(
            Trouble.DISCONNECTED, f'the connection broke at "{command}"; check the cable and the network'
        )
