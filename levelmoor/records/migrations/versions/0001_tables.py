"""The tables, and what the database itself forbids for every account: as SQL beside it."""

from pathlib import Path

from alembic import op

revision = "0015"  # it takes the place of fifteen, and a database that has been through them goes on from here
down_revision = None


def upgrade() -> None:
    statements = Path(__file__).with_suffix(".sql").read_text("utf-8").split("\n\n")[1:]
    for statement in statements:
        op.get_bind().exec_driver_sql(statement.strip().removesuffix(";").replace("%", "%%"))
