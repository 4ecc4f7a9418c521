"""Alembic's environment: it runs on the connection it is given."""

from alembic import context

from yardstick.store.models import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, transactional_ddl=True)
with context.begin_transaction():
    context.run_migrations()
