"""What each kind of part is called on screens and in lists, and how menus group processors."""

from __future__ import annotations

from typing import NamedTuple

__all__ = ["MOVER_NAMES", "PROCESSOR_NAMES", "SOURCE_NAMES", "ProcessorName", "processor_name"]


class ProcessorName(NamedTuple):
    name: str
    group: str
    words: str
    """Other words that people search for."""


_EQ = "EQ and filters"
_DISTORTION = "Distortion and shift"
_DYNAMICS = "Dynamics and level"
_MODULATION = "Modulation and delay"
_SPACE = "Space and stereo"

# In the order in which menus list them.
PROCESSOR_NAMES = {
    "equaliser": ProcessorName("Equaliser", _EQ, "eq bands bell shelf cut notch tone"),
    "filter": ProcessorName("Filter", _EQ, "low-pass high-pass band-pass notch resonance cutoff"),
    "formant": ProcessorName("Formant filter", _EQ, "vowel voice throat"),
    "comb": ProcessorName("Comb filter", _EQ, "tuned delay feedback"),
    "resonators": ProcessorName("Resonators", _EQ, "strings chord tuned ring"),
    "drive": ProcessorName(
        "Drive", _DISTORTION, "distortion saturation tube clip fold rectify waveshaper overdrive"
    ),
    "reducer": ProcessorName(
        "Bit and rate reduction", _DISTORTION, "bitcrusher reducer lo-fi decimate downsample"
    ),
    "shifter": ProcessorName("Frequency shifter", _DISTORTION, "ring modulator modulation"),
    "compressor": ProcessorName("Compressor", _DYNAMICS, "dynamics duck sidechain squeeze"),
    "multiband": ProcessorName("Multiband", _DYNAMICS, "compressor three bands upward downward"),
    "transient": ProcessorName("Transient shaper", _DYNAMICS, "attack sustain punch"),
    "gate": ProcessorName("Gate", _DYNAMICS, "noise expander"),
    "gain": ProcessorName("Gain", _DYNAMICS, "volume level pan polarity invert phase"),
    "fade": ProcessorName("Fade", _DYNAMICS, "in out length"),
    "ceiling": ProcessorName("Limiter", _DYNAMICS, "ceiling true peak brickwall"),
    "chorus": ProcessorName("Chorus", _MODULATION, "ensemble detune"),
    "flanger": ProcessorName("Flanger", _MODULATION, "jet sweep"),
    "phaser": ProcessorName("Phaser", _MODULATION, "all-pass notches"),
    "vibrato": ProcessorName("Vibrato", _MODULATION, "pitch modulation"),
    "delay": ProcessorName("Delay", _MODULATION, "echo beats dotted ping-pong"),
    "pitch_delay": ProcessorName("Pitch delay", _MODULATION, "echo climbing shift"),
    "room": ProcessorName("Reverb", _SPACE, "room hall tail"),
    "shimmer": ProcessorName("Shimmer", _SPACE, "reverb octave tail"),
    "convolution": ProcessorName(
        "Convolution", _SPACE, "impulse body box spring plate speaker reverb"
    ),
    "blur": ProcessorName("Spectral blur", _SPACE, "haze spectrum cloud freeze spread"),
    "width": ProcessorName("Width", _SPACE, "stereo mono mid side"),
    "reverse": ProcessorName("Reverse", _SPACE, "backwards"),
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
