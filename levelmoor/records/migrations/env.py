"""Alembic's entry: runs the migrations on the database it is given."""

from alembic import context
from sqlalchemy import create_engine

from levelmoor.records.tables import Base

engine = create_engine(context.config.attributes["url"])
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
