"""Projects, their history, assets and render jobs in SQLite through SQLAlchemy; migrations by Alembic.

An edit is acknowledged only when it is committed (WAL, synchronous=FULL).
"""
