"""A unison at work: its voices, moved alike or each in its own way."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from nest_crate.core.dsp.oscillators.oscillator import Voice
from nest_crate.core.dsp.oscillators.unison import unison_voices
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.sources.context import SourceContext, pitch_signal
from nest_crate.core.sound.sources import PitchedSource, Source, Unison

__all__ = ["VoiceReader", "unison_sum", "voice_ratios"]

# From the context, the pitch at each frame, and voices that follow it at their ratios.
VoiceReader = Callable[[SourceContext, Signal, tuple[Voice, ...]], Signal]


def unison_sum(
    context: SourceContext,
    source: PitchedSource,
    unison: Unison,
    phase: float,
    read: VoiceReader,
) -> Signal:
    """All voices of a unison, the first of which starts at ``phase`` in cycles."""
    voices = unison_voices(
        unison.voices,
        detune_cent=unison.detune_cent,
        width=unison.width,
        phase_spread=unison.phase_spread,
        balance=unison.balance,
        phase=phase,
    )
    places = [2.0 * n / max(1, len(voices) - 1) - 1.0 for n in range(len(voices))]
    by_voice = context.voices_apart or bool(context.by_voice or context.on_voice)
    if len(voices) > 1 and (context.moved.differ_by_voice or by_voice):
        made = [
            _alone(context, source, unison, (n, place, voice), read)
            for n, (place, voice) in enumerate(zip(places, voices, strict=True))
        ]
        if context.voices_apart:
            return np.concatenate(made)
        total = np.zeros((len(voices[0].gains), context.frames))
        for one in made:
            total += one
        return total
    return _moved_alike(context, source, unison, voices, places, read)


def _alone(
    context: SourceContext,
    source: PitchedSource,
    unison: Unison,
    numbered: tuple[int, float, Voice],
    read: VoiceReader,
) -> Signal:
    """One voice as it is moved and as the other layer's voice acts on it; where voices stay apart
    at full scale and in mono."""
    n, place, voice = numbered
    moved = context.moved.at_voice(place)
    own = replace(context, moved=moved)
    late = moved.wanted("source.phase_deg", 0.0)
    if not isinstance(late, float) and late.size:
        voice = replace(voice, phase=voice.phase + float(late[0]) / 360.0)
    if context.voices_apart:
        voice = replace(voice, gains=(1.0,))
    for bend in context.by_voice:
        own = bend(own, n)
    made = _moved_alike(own, source, unison, [voice], [place], read)
    for work in context.on_voice:
        made = work(made, n)
    return made


def voice_ratios(source: Source) -> Signal:
    """How far each voice of a source's unison lies from its pitch, shape (voices, 1)."""
    unison: Unison = getattr(source, "unison", Unison())
    voices = unison_voices(
        unison.voices, detune_cent=unison.detune_cent, width=0.0, phase_spread=0.0, balance=0.5
    )
    return np.array([[voice.ratio] for voice in voices])


def _moved_alike(
    context: SourceContext,
    source: PitchedSource,
    unison: Unison,
    voices: list[Voice],
    places: list[float],
    read: VoiceReader,
) -> Signal:
    """Voices that are moved alike, at their places from -1 to 1 in the unison."""
    pitch_hz = pitch_signal(context, source)[0]
    detune = context.moved_number("unison.detune_cent", unison.detune_cent)
    if isinstance(detune, float) or unison.voices == 1:
        return read(context, pitch_hz, tuple(voices))
    # Moved apart, each voice has a pitch of its own.
    total = np.zeros((len(voices[0].gains), context.frames))
    for place, voice in zip(places, voices, strict=True):
        own_hz = pitch_hz * np.exp2(place * detune / 1200.0)
        total += read(context, own_hz, (replace(voice, ratio=1.0),))
    return total
