"""The fork: one signal through several chains side by side, summed again."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.processors.base import ROUTING, Identifier, ProcessorBase, ProcessorName

__all__ = ["MAX_BRANCHES", "MAX_FORK_DEPTH", "Branch", "ForkProcessor"]

MAX_BRANCHES = 4
# Forks within forks.
MAX_FORK_DEPTH = 2


class Branch(DocumentModel):
    """One way through a fork; without processors it is the dry signal."""

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=60, title="Name")] = "Branch"
    on: bool = Field(default=True, title="On")
    level_db: float = number(
        0.0, -72.0, 12.0, label="Branch level", unit="dB", step=0.5, followed=True
    )
    chain: Chain = ()  # type: ignore[name-defined]  # noqa: F821 - completed in the package


class ForkProcessor(ProcessorBase):
    """Parallel chains: the input goes through each branch, and their outputs are summed."""

    kind: Literal["fork"] = "fork"
    called: ClassVar = ProcessorName("Fork", ROUTING, "parallel branches split dry wet layers")
    branches: Annotated[tuple[Branch, ...], Field(max_length=MAX_BRANCHES)] = ()
