"""What processes log: one line of JSON for each event, with the id of the request that it belongs to.

No line holds what people typed, a password, a token, or an address that lets somebody in.
"""

import logging
import os
import sys
from collections.abc import MutableMapping
from contextvars import ContextVar
from typing import Any

import structlog
from structlog.typing import Processor

VARIABLE = "LEVELMOOR_LOG"
"""`info` by default: each request, and each piece of work of another process; `warning`: what went wrong alone."""
LEVELS = {"info": logging.INFO, "warning": logging.WARNING}

request_id: ContextVar[str] = ContextVar("request_id", default="")
"""The request that is being answered, here or in a process that works for it."""


def log(name: str) -> Any:
    """A logger whose events are names, and whose values are figures and names from the program itself."""
    return structlog.stdlib.get_logger(name)


def _with_request(_logger: object, _method: str, event: MutableMapping[str, Any]) -> MutableMapping[str, Any]:
    if found := request_id.get():
        event.setdefault("request", found)
    return event


def _without_values(_logger: object, _method: str, event: MutableMapping[str, Any]) -> MutableMapping[str, Any]:
    """Of an exception its kind and its places: its words may quote what was typed."""
    found = event.pop("exc_info", None)
    error = (sys.exc_info()[1] if found is True else found[1] if isinstance(found, tuple) else found) or None
    if isinstance(error, BaseException):
        event["error"], event["at"] = type(error).__name__, places_of(error)
    return event


def places_of(error: BaseException) -> list[str]:
    """Where it was raised, from our own files: the innermost last."""
    found, at = list[str](), error.__traceback__
    while at is not None:
        code = at.tb_frame.f_code
        if f"{os.sep}levelmoor{os.sep}" in code.co_filename:
            found.append(f"{code.co_filename.rpartition(f'{os.sep}levelmoor{os.sep}')[2]}:{at.tb_lineno}")
        at = at.tb_next
    return found[-4:]


_SHARED: list[Processor] = [
    _with_request,
    structlog.stdlib.add_log_level,
    structlog.stdlib.add_logger_name,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
    _without_values,
]
structlog.configure(
    processors=[structlog.stdlib.filter_by_level, *_SHARED, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
    logger_factory=structlog.stdlib.LoggerFactory(),
)


def configure() -> None:
    """Have this process log so, on its standard error."""
    handler = logging.StreamHandler()
    formatter = structlog.stdlib.ProcessorFormatter
    render: list[Processor] = [formatter.remove_processors_meta, structlog.processors.JSONRenderer()]
    handler.setFormatter(formatter(foreign_pre_chain=_SHARED, processors=render))
    logging.getLogger().handlers[:] = [handler]
    level = LEVELS.get(os.environ.get(VARIABLE, "info").lower(), logging.INFO)
    logging.getLogger("levelmoor").setLevel(level)
