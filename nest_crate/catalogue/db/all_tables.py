"""Imports every table, so that the metadata is always complete."""

import nest_crate.catalogue.db.batch_models
import nest_crate.catalogue.db.job_models
import nest_crate.catalogue.db.shared_models
import nest_crate.catalogue.db.tryout_models  # noqa: F401  (their tables)

__all__: list[str] = []
