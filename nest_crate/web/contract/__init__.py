"""The OpenAPI document: what the routes declare, completed by what holds for all of them."""

from nest_crate.web.contract.completed import DescribedApp

__all__ = ["DescribedApp"]
