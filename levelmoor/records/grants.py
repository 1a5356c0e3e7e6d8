"""What the account that the application serves with may do: add and change what is a team's, and nothing to what is
published or to the record of what was done.

Rights are given table by table, since what a whole database is given cannot be taken from one table of it.
"""

from contextlib import suppress

from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError

from levelmoor.records import tables as t
from levelmoor.records.hosts import hosts_of

ADD = "SELECT, INSERT"
CHANGE = "SELECT, INSERT, UPDATE"
TAKE_OUT = "SELECT, INSERT, UPDATE, DELETE"
RIGHTS = {
    "report_revision": ADD,
    "audit": ADD,
    "raw_file": ADD,
    "setting": ADD,
    "tick": ADD,
    "report": "SELECT, INSERT, UPDATE (listed, withdrawn_at, withdrawn_by, withdrawn_reason)",
    "membership": TAKE_OUT,
    "attempt": TAKE_OUT,
    "kept_act": "SELECT, INSERT, DELETE",
    "lease": TAKE_OUT,
    "second_step": TAKE_OUT,
    "recovery_code": TAKE_OUT,
    "outside_identity": TAKE_OUT,
    "passkey": TAKE_OUT,
    "server_minute": TAKE_OUT,
    "trouble": "SELECT, INSERT, DELETE",
    "backup_made": ADD,
    "live_run": TAKE_OUT,
    "live_look": TAKE_OUT,
    "live_sweep": TAKE_OUT,
    "live_wish": TAKE_OUT,
    "shelf_report": TAKE_OUT,
    "shelf_facet": TAKE_OUT,
    "shelf_line": TAKE_OUT,
    "drawn": ADD,
    "kept_result": "SELECT, INSERT, DELETE",
    "column_mapping": TAKE_OUT,
}
"""Where a table asks for other rights than to add and change rows. Deleting is marking, so hardly any may delete."""


def grant_serving(owner_url: str, serving_url: str) -> None:
    """Give the serving account its rights on a migrated schema, and take all others from it.

    Parameters
    ----------
    owner_url : address of the database by the account that owns the schema and may grant
    serving_url : the same database by the account that serves
    """
    owner, serving = hosts_of(owner_url)[0], hosts_of(serving_url)[0]
    if owner.username == serving.username:
        return
    database = str(serving.database).replace("`", "")
    account = _account(serving_url)
    engine = create_engine(owner)
    with engine.begin() as connection:
        for place in (f"`{database}`.*", *(f"`{database}`.`{x.name}`" for x in t.Base.metadata.sorted_tables)):
            with suppress(DBAPIError):  # nothing was given there
                connection.execute(text(f"REVOKE ALL PRIVILEGES ON {place} FROM {account}"))
        for table in t.Base.metadata.sorted_tables:
            rights = RIGHTS.get(table.name, CHANGE)
            connection.execute(text(f"GRANT {rights} ON `{database}`.`{table.name}` TO {account}"))
        connection.execute(text(f"GRANT SELECT ON `{database}`.`alembic_version` TO {account}"))
    engine.dispose()


def _account(url: str) -> str:
    """The account as the server knows it, with the host it may come from."""
    engine = create_engine(hosts_of(url)[0]._replace(database=None))
    with engine.connect() as connection:
        name, _, host = str(connection.execute(text("SELECT CURRENT_USER()")).scalar_one()).rpartition("@")
    engine.dispose()
    return f"'{name}'@'{host}'"
