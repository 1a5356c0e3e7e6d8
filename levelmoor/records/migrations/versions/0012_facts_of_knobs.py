"""Each fact of a knob is a field by itself: what was a list of knobs becomes `coil table` and the like."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    networks = sa.table("tuner_network", sa.column("id", sa.Integer), sa.column("knobs", sa.JSON))
    connection = op.get_bind()
    for row in connection.execute(sa.select(networks.c.id, networks.c.knobs)).all():
        knobs = json.loads(row.knobs) if isinstance(row.knobs, str) else row.knobs
        if isinstance(knobs, list):
            connection.execute(networks.update().where(networks.c.id == row.id).values(knobs=_facts(knobs)))


def _facts(knobs: list[dict[str, Any]]) -> dict[str, Any]:
    facts: dict[str, Any] = {}
    for k in knobs:
        table = [list(pair) for pair in zip(k["dial"], k["value"], strict=True)]
        own = {**{name: k[name] for name in ("name", "low", "high", "steps")}, "table": table}
        facts |= {f"{k['part']} {name}": value for name, value in own.items()}
    return facts
