"""What a batch plan declares, and its JSON Schema."""

from __future__ import annotations

from typing import Any

from nest_crate.core.families.document import (
    BATCH_VERSION,
    Axis,
    BatchPlan,
    MemberRules,
    PlannedSound,
    Spread,
)
from nest_crate.core.sound.kinds import defaults_of, describe

__all__ = ["batch_declarations", "batch_schema"]


def batch_declarations() -> dict[str, Any]:
    """Every number and choice of a plan, and the defaults of its parts."""
    planned = PlannedSound(id="a")
    axis = Axis(kind="velocity", values=(100,))
    return {
        "numbers": {
            "batch": describe(BatchPlan),
            "sound": describe(PlannedSound),
            "members": describe(MemberRules),
        },
        "defaults": {
            "batch": defaults_of(BatchPlan(name="New", sounds=(planned,)), {"name", "sounds"}),
            "sound": defaults_of(planned, {"id"}),
            "axis": defaults_of(axis, {"kind", "values"}),
            "spread": defaults_of(Spread(target="a.b", low=0, high=1), {"target", "low", "high"}),
            "members": defaults_of(MemberRules(), set()),
        },
    }


def batch_schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of the batch plan."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:nest-crate:batch:{BATCH_VERSION}",
        **BatchPlan.model_json_schema(),
    }
