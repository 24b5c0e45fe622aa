"""Views of samples and comments."""

from nest_crate.web.samples import comments, imports, samples

__all__ = ["APIS"]

APIS = [comments.api, imports.api, samples.api]
