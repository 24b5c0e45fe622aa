"""Views of try-outs: documents, what is played live, figures, files."""

from nest_crate.web.tryouts import documents, figures, files, playing

__all__ = ["APIS"]

APIS = [documents.api, figures.api, files.api, playing.api]
