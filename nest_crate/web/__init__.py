"""The web application: thin views over the catalogue's services and the engine."""

from nest_crate.web.app import create_app

__all__ = ["create_app"]
