"""What a try-out's parts declare, and its JSON Schema."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from nest_crate.core.sound.kinds import defaults_of, describe
from nest_crate.core.tryout.document import (
    TRYOUT_VERSION,
    Duck,
    GameTest,
    Part,
    PlacedHit,
    PlaysBed,
    PlaysGroup,
    PlaysSample,
    PlaysSound,
    TryOut,
)

__all__ = ["tryout_declarations", "tryout_schema"]

_PLAYS: dict[str, type[BaseModel]] = {
    "sound": PlaysSound,
    "sample": PlaysSample,
    "group": PlaysGroup,
    "bed": PlaysBed,
}


def tryout_declarations() -> dict[str, Any]:
    """Every number and choice of a try-out's parts, and the defaults of new parts."""
    sample = PlaysSample(sample=1)
    return {
        "numbers": {
            "tryout": describe(TryOut),
            "part": describe(Part),
            "hit": describe(PlacedHit),
            "duck": describe(Duck),
            "game": describe(GameTest),
            **{kind: describe(model) for kind, model in _PLAYS.items()},
        },
        "defaults": {
            "tryout": defaults_of(TryOut(name="New"), {"name"}),
            "part": defaults_of(Part(id="new", name="New", plays=sample), {"id", "name", "plays"}),
            "hit": defaults_of(PlacedHit(), {"at_s"}),
            "duck": defaults_of(Duck(part="a", by="b"), {"part", "by"}),
            "game": defaults_of(GameTest(part="a"), {"part"}),
            "sound": defaults_of(PlaysSound(sound=1), {"sound"}),
            "sample": defaults_of(sample, {"sample"}),
            "group": defaults_of(PlaysGroup(samples=(1,)), {"samples"}),
            "bed": defaults_of(PlaysBed(sample=1), {"sample"}),
        },
    }


def tryout_schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of the try-out document."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:nest-crate:try-out:{TRYOUT_VERSION}",
        **TryOut.model_json_schema(),
    }
