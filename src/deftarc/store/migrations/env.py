"""Alembic's entry: runs the migrations on the connection it is handed."""

from alembic import context

from deftarc.store.tables import Base

connection = context.config.attributes["connection"]
# SQLite takes changes of tables back like any others; the tool is only told so.
context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True, transactional_ddl=True)
with context.begin_transaction():
    context.run_migrations()
