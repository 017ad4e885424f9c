"""Alembic's entry: migrates the connection that the workshop hands over."""

from alembic import context

from roundstone.store.tables import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, transactional_ddl=True)
with context.begin_transaction():
    context.run_migrations()
