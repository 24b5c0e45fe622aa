"""One member as audio: rendered as its sound is, then finished by edits that leave it whole."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from nest_crate.core.analysis.checks.clicks import ends_with_click, starts_with_click
from nest_crate.core.analysis.features.features import Features, features
from nest_crate.core.analysis.measures.figures import Measures, measure
from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.analysis.pictures.outlines import outline, spectrogram
from nest_crate.core.dsp.dynamics.loudness import measured_loudness, true_peak_db
from nest_crate.core.dsp.util.signals import Signal, peak
from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits, silence_around
from nest_crate.core.engine import Audio, RenderSettings, StageMemory, render
from nest_crate.core.families.document import MemberRules
from nest_crate.core.families.members import Member
from nest_crate.core.families.overrides import overridden
from nest_crate.core.sound import Sound

__all__ = ["MadeMember", "finishing", "made_of", "render_member"]

_SILENT_DB = -80.0
# As wide as that of a sample, which a member may become.
OUTLINE_COLUMNS = 160
STRIP_ROWS, STRIP_COLUMNS = 16, 64


@dataclass(frozen=True)
class MadeMember:
    """A member: the render itself, the edits that finish it, figures of what is heard with them.

    ``figures`` hold plain numbers; ``flags`` what is wrong, as codes; ``outline`` and ``strip`` are
    small pictures, bytes row by row.
    """

    audio: Audio
    edits: SoundEdits
    figures: dict[str, Any]
    flags: tuple[str, ...]
    measures: Measures
    features: Features
    outline: bytes
    strip: bytes


def render_member(
    sounds: Mapping[str, Sound],
    member: Member,
    settings: RenderSettings,
    memory: StageMemory | None = None,
) -> Audio:
    """The member as the engine renders it, at its own rate, in the numbers of its file: so what is
    finished from the render and what is finished from the file are the same."""
    sound = overridden(sounds[member.sound], member.values)
    own = replace(settings, sample_rate=member.sample_rate)
    audio = render(sound, member.hit, own, memory=memory)
    stored = audio.samples.astype(np.float32).astype(np.float64)
    return Audio(stored, audio.sample_rate, audio.end_reason)


def finishing(audio: Audio, rules: MemberRules) -> SoundEdits:
    """The edits by which a member gets its end, its fade, its loudness and its ceiling.

    Silence is left as it is. The ceiling goes before loudness: a member that would pass it stays
    as much softer as that takes.
    """
    edits = _ends(audio, rules)
    heard = apply_edits(audio.samples, audio.sample_rate, edits)
    if _is_silent(heard):
        return edits
    loudness = 0.0
    if rules.loudness_lufs is not None:
        loudness = measured_loudness(heard, audio.sample_rate).integrated_lufs
    return replace(edits, gain_db=_gain_db(rules, loudness, true_peak_db(heard)))


def _is_silent(signal: Signal) -> bool:
    return bool(signal.shape[1] == 0 or peak(signal) <= 10.0 ** (_SILENT_DB / 20.0))


def _ends(audio: Audio, rules: MemberRules) -> SoundEdits:
    """Trimmed end and fade, without a gain."""
    signal, rate = audio.samples, audio.sample_rate
    if _is_silent(signal):
        return SoundEdits()
    end_s = silence_around(signal, rate)[1] if rules.trim else 0.0
    whole = signal.shape[1] / rate
    return SoundEdits(end_s=end_s if end_s < whole else 0.0, fade_out_s=rules.fade_s)


def _gain_db(rules: MemberRules, loudness_lufs: float, top_db: float) -> float:
    wanted = 0.0 if rules.loudness_lufs is None else rules.loudness_lufs - loudness_lufs
    return wanted - max(0.0, top_db + wanted - rules.ceiling_db)


def made_of(audio: Audio, rules: MemberRules) -> MadeMember:
    """Everything about a member that was rendered."""
    rate = audio.sample_rate
    edits = _ends(audio, rules)
    heard = apply_edits(audio.samples, rate, edits)
    track = pitch_track(heard, rate)
    # Measured once, before the gain, by which levels move and nothing else does.
    plain = measure(heard, rate, track=track)
    if not _is_silent(heard):
        gain_db = _gain_db(rules, plain.loudness_lufs, plain.true_peak_db)
        edits = replace(edits, gain_db=gain_db)
    measured = _louder(plain, edits.gain_db)
    found = features(heard, rate, track=track)
    strip = spectrogram(heard, rate, rows=STRIP_ROWS, columns=STRIP_COLUMNS)
    figures = {
        "length_s": measured.length_s,
        "peak_db": measured.peak_db,
        "true_peak_db": measured.true_peak_db,
        "loudness_lufs": measured.loudness_lufs,
        "crest_db": measured.crest_db,
        "pitch_hz": measured.fundamental_hz,
        "note": measured.note,
        "cents": measured.cents,
        "brightness_hz": found.brightness_hz,
        "decay_s": found.decay_s,
        "noisiness": found.noisiness,
        "gain_db": edits.gain_db,
        "rendered_peak_db": _peak_db(audio.samples),
    }
    return MadeMember(
        audio=audio,
        edits=edits,
        figures=figures,
        flags=tuple(_flags(audio, heard, rules, figures)),
        measures=measured,
        features=found,
        outline=outline(heard, OUTLINE_COLUMNS).data.tobytes(),
        strip=strip.data.tobytes(),
    )


def _louder(plain: Measures, gain_db: float) -> Measures:
    """The measures of a sound that is so much louder."""
    names = ("peak_db", "true_peak_db", "loudness_lufs", "momentary_lufs", "short_term_lufs")
    return replace(
        plain,
        offset_db=plain.offset_db + gain_db,
        **{name: getattr(plain, name) + gain_db for name in names},
    )


def _peak_db(signal: Signal) -> float:
    top = peak(signal) if signal.size else 0.0
    return 20.0 * float(np.log10(max(top, 1e-9)))


def _flags(
    audio: Audio, heard: Signal, rules: MemberRules, figures: Mapping[str, Any]
) -> list[str]:
    if figures["rendered_peak_db"] <= _SILENT_DB:
        return ["silent"]
    found = []
    if figures["rendered_peak_db"] > 0.0:
        found.append("over")
    if audio.end_reason == "limit":
        found.append("endless")
    if starts_with_click(heard, audio.sample_rate):
        found.append("click_start")
    if ends_with_click(heard, audio.sample_rate):
        found.append("click_end")
    wanted = rules.loudness_lufs
    if wanted is not None and figures["loudness_lufs"] < wanted - 0.5:
        found.append("soft")
    return found
