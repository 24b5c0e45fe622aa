"""How each kind of processor works on a signal; a new kind is one entry in one of these."""

from nest_crate.core.engine.context import ProcessorWork
from nest_crate.core.engine.effects import (
    delays,
    distortion,
    dynamics,
    filters,
    placement,
    routing,
    spaces,
)

__all__ = ["PROCESSORS"]

PROCESSORS: dict[str, ProcessorWork] = {
    **filters.EFFECTS,
    **distortion.EFFECTS,
    **dynamics.EFFECTS,
    **delays.EFFECTS,
    **spaces.EFFECTS,
    **placement.EFFECTS,
    **routing.EFFECTS,
}
