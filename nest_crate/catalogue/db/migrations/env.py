"""Alembic's entrance: runs on the connection that ``database.migrate`` hands over."""

from alembic import context

import nest_crate.catalogue.db.all_tables  # noqa: F401  (what is migrated)
from nest_crate.catalogue.db.models import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    compare_type=True,
)
with context.begin_transaction():
    context.run_migrations()
