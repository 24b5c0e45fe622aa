"""What each kind of part is called on screens and in lists, and how menus group processors."""

from __future__ import annotations

from typing import get_args

from nest_crate.core.sound.processors import Processor, ProcessorName

__all__ = ["MOVER_NAMES", "PROCESSOR_NAMES", "SOURCE_NAMES", "processor_name"]


# In the order in which menus list them.
PROCESSOR_NAMES: dict[str, ProcessorName] = {
    kind.model_fields["kind"].default: kind.called for kind in get_args(get_args(Processor)[0])
}

SOURCE_NAMES = {
    "tone": "Tone",
    "wavetable": "Wavetable",
    "noise": "Noise",
    "struck": "Struck body",
    "sample": "Sample",
}

MOVER_NAMES = {
    "lfo": "LFO",
    "curve": "Curve",
    "steps": "Steps",
    "random": "Random",
    "note": "Note",
    "velocity": "Velocity",
    "hold": "Hold",
    "follower": "Follower",
    "voice": "Voice",
    "macro": "Macro",
}


def processor_name(kind: str) -> str:
    """As it stands on screens: ``Limiter``."""
    return PROCESSOR_NAMES[kind].name
