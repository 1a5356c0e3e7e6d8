"""The hosts of a database cluster: one connects to the first that answers for the cluster."""

from collections.abc import Sequence
from typing import Any

from sqlalchemy import URL, Engine, ExceptionContext, event, make_url

NOT_READY = 1047
"""What a node says that has lost its cluster."""
CONNECT_S = 2
"""How long a host may take to answer: then another one is asked, or the page says that the database is away."""


def hosts_of(url: str) -> tuple[URL, list[tuple[str, int]]]:
    """The address of the database, and the other hosts of its cluster that `also` names: `?also=db2,db3:3307`.

    Raises
    ------
    ValueError
        Where a port of theirs is none.
    """
    found = make_url(url)
    named = found.query.get("also", "")
    others = []
    for one in (named if isinstance(named, str) else ",".join(named)).split(","):
        host, _, port = one.strip().partition(":")
        if port and not port.isdigit():
            raise ValueError(f"also={named}: {port} is not a port; write it like also=db2.example,db3.example:3307")
        if host:
            others.append((host, int(port or found.port or 3306)))
    return found.difference_update_query(["also"]), others


def fail_over(engine: Engine, others: Sequence[tuple[str, int]]) -> None:
    """Have new connections go to the first host of a cluster that answers and takes part in it, the last that did
    first; and connections to one that does not any more be given up."""
    last: list[tuple[Any, Any]] = []

    @event.listens_for(engine, "do_connect")
    def reach(dialect: Any, _record: Any, args: Any, given: dict[str, Any]) -> Any:
        hosts = list(dict.fromkeys([*last, (given.get("host"), given.get("port", 3306)), *others]))
        for n, (host, port) in enumerate(hosts):
            try:
                found = dialect.connect(*args, **{**given, "host": host, "port": port})
                if not _takes_part(found):
                    found.close()
                    raise dialect.loaded_dbapi.OperationalError(NOT_READY, f"{host}:{port} is not ready")
                last[:] = [(host, port)]
                return found
            except dialect.loaded_dbapi.OperationalError:
                if n + 1 == len(hosts):
                    raise
        raise AssertionError("unreachable")

    @event.listens_for(engine, "handle_error")
    def given_up(context: ExceptionContext) -> None:
        problem = context.original_exception
        if problem.args and problem.args[0] == NOT_READY:
            context.is_disconnect = True


def _takes_part(connection: Any) -> bool:
    """Whether a node of a cluster answers for the cluster; a database that is in none does."""
    cursor = connection.cursor()
    try:
        return not (_told(cursor, "VARIABLES", "wsrep_on") == "ON" and _told(cursor, "STATUS", "wsrep_ready") == "OFF")
    finally:
        cursor.close()


def _told(cursor: Any, kind: str, name: str) -> str:
    cursor.execute(f"SHOW GLOBAL {kind} LIKE '{name}'")
    found = cursor.fetchone()
    return str(found[1]).upper() if found else ""
