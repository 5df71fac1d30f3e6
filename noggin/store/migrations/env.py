"""Runs migrations on the connection that the engine hands over, each in its own transaction."""

from alembic import context
from sqlmodel import SQLModel

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=SQLModel.metadata,
    render_as_batch=True,
    transaction_per_migration=True,
)
with context.begin_transaction():
    context.run_migrations()
