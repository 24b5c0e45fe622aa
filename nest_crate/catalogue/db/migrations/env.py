"""Alembic's entrance: runs on the connection that ``database.migrate`` hands over."""

from alembic import context

import nest_crate.catalogue.db.job_models
import nest_crate.catalogue.db.shared_models
import nest_crate.catalogue.db.tryout_models  # noqa: F401  (its tables)
from nest_crate.catalogue.db.models import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    compare_type=True,
)
with context.begin_transaction():
    context.run_migrations()
