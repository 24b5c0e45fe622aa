"""Views of samples and comments."""

from nest_crate.web.samples import comments, samples

__all__ = ["APIS"]

APIS = [comments.api, samples.api]
