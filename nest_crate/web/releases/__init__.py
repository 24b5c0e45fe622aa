"""Views of exports, releases and links."""

from nest_crate.web.releases import exports, links, releases, shared

__all__ = ["APIS"]

APIS = [exports.api, links.api, releases.api, shared.api]
