"""Runs migrations against the URL that ``bindu.store.database.migrate`` gives."""

from alembic import context

from bindu.store.database import engine_at
from bindu.store.models import Base

with engine_at(context.config.attributes["url"]).connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
