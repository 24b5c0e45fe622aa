"""Buses: where layers meet on their way to the output, whole or split in a low and a high part."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.processors import Chain, Identifier

__all__ = ["MAX_BUSES", "MAX_SENDS", "OUTPUTS", "Bus", "Destination", "Send"]

MAX_BUSES = 6
MAX_SENDS = 32
# Where a way may end: at the main chain, behind it at the output, or nowhere but in sends.
OUTPUTS = ("main", "output", "none")

Destination = Annotated[Identifier, Field(title="Output")]


class Bus(DocumentModel):
    """Layers and other buses meet here. Split, its low and its high part have a chain each.

    ``chain`` works on the whole, or on the high part where the bus is split.
    """

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=60, title="Name")]
    to: Destination = "main"
    mute: bool = Field(default=False, title="Mute")
    each_note: bool = Field(
        default=False,
        title="Each note apart",
        description="Its chain works on each note by itself, with that note's movers and key; "
        "otherwise it hears all notes together.",
    )
    split: bool = Field(
        default=False,
        title="Split",
        description="Low and high part have a chain each and are summed in phase.",
    )
    crossover_hz: float = number(
        150.0,
        20.0,
        8000.0,
        label="Crossover",
        unit="Hz",
        scale="log",
        step=5.0,
        followed=True,
    )
    low_db: float = number(0.0, -72.0, 12.0, label="Low part", unit="dB", step=0.5, followed=True)
    high_db: float = number(0.0, -72.0, 12.0, label="High part", unit="dB", step=0.5, followed=True)
    level_db: float = number(
        0.0, -72.0, 12.0, label="Bus level", unit="dB", step=0.5, followed=True
    )
    chain: Chain = ()
    low_chain: Chain = ()


class Send(DocumentModel):
    """A further way of what comes out of a layer, a processor or a bus, at a level of its own."""

    id: Identifier
    source: Identifier
    to: Destination
    on: bool = Field(default=True, title="On")
    level_db: float = number(
        0.0, -72.0, 12.0, label="Send level", unit="dB", step=0.5, followed=True
    )
