"""How each kind of processor works on a signal; a new kind is one entry in one of these."""

from nest_crate.core.engine.context import ProcessorWork
from nest_crate.core.engine.effects import copying, dynamics, filtering, placing, shaping, spaces

__all__ = ["PROCESSORS"]

PROCESSORS: dict[str, ProcessorWork] = {
    **filtering.EFFECTS,
    **shaping.EFFECTS,
    **dynamics.EFFECTS,
    **copying.EFFECTS,
    **spaces.EFFECTS,
    **placing.EFFECTS,
}
