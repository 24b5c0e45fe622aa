"""The sample at work: which part of its recording is read how fast, with its loop or in grains."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.byte_memory import ByteMemory
from nest_crate.core.dsp.oscillators.oscillator import Voice
from nest_crate.core.dsp.resampling.playback import (
    Line,
    Loop,
    aligned_places,
    grain_signal,
    line_of,
    line_speeds,
    looped,
    nearest_crossing,
    read_into,
)
from nest_crate.core.dsp.util.randomness import uniform_numbers
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.sources.context import SourceContext, own_pitch_hz
from nest_crate.core.engine.sources.voices import unison_sum
from nest_crate.core.sound import SampleSource

__all__ = ["PlayedPart", "played_part", "played_span", "sample_source", "start_offset_s"]

Numbers = NDArray[np.float64]

_SNAP_S = 0.005
# Pattern notes are numbered so far apart (``notes._NUMBER_STRIDE``).
_STRIDE = 1_000_003
_SHORTEST_LOOP_FRAMES = 4
# Where the part that is read begins or ends in the middle of a wave, it is faded so long.
_EDGE_S = 0.0005
_KEPT_BYTES = 120_000_000
# Frames that are read at a time for all voices.
_STRETCH = 32768


@dataclass(frozen=True)
class PlayedPart:
    """The part of a recording that is played, in the order in which it is, and its loop."""

    samples: Signal
    sample_rate: int
    loop: Loop | None
    start_s: float
    end_s: float


def played_span(source: SampleSource, settings: RenderSettings) -> tuple[int, int, int] | None:
    """First frame, the one behind the last, and rate of what is played of a recording; None where
    there is none, or nothing is left of it."""
    if source.recording is None:
        return None
    recording = settings.recording(source.recording)
    samples, rate = recording.samples, recording.sample_rate
    total = samples.shape[1]
    start = min(source.start_s * rate, float(total))
    end = min(source.end_s * rate, float(total)) if source.end_s > 0.0 else float(total)
    if source.snap:
        reach = _SNAP_S * rate
        start = nearest_crossing(samples, start, reach) if start > 0.0 else start
        end = nearest_crossing(samples, end, reach) if end < total else end
    first, last = int(np.ceil(start - 1e-9)), int(np.floor(end + 1e-9))
    return (first, last, rate) if last > first else None


def played_part(source: SampleSource, settings: RenderSettings) -> PlayedPart | None:
    """What a source plays of its recording; None where it has none, or the part is empty."""
    span = played_span(source, settings)
    if span is None or source.recording is None:
        return None
    first, last, rate = span
    samples = settings.recording(source.recording).samples
    part = samples[:, first:last]
    if source.reverse:
        part = part[:, ::-1]
    cut = (first > 0, last < samples.shape[1])
    part = _edged(part, round(_EDGE_S * rate), *cut, source.reverse)
    part, loop = _loop(source, part, rate)
    return PlayedPart(part, rate, loop, first / rate, last / rate)


def _edged(part: Signal, frames: int, cut_start: bool, cut_end: bool, reverse: bool) -> Signal:
    """A copy without a step where it was cut out of a longer one."""
    made = np.ascontiguousarray(part).copy()
    count = min(frames, made.shape[1] // 2)
    if count:
        rise = 0.5 - 0.5 * np.cos(np.pi * (np.arange(count) + 0.5) / count)
        first, last = (cut_end, cut_start) if reverse else (cut_start, cut_end)
        if first:
            made[:, :count] *= rise
        if last:
            made[:, -count:] *= rise[::-1]
    return made


def _loop(source: SampleSource, part: Signal, rate: int) -> tuple[Signal, Loop | None]:
    """The loop of a part, in its frames; back and forth, its way back is made a part of it."""
    if source.loop == "off":
        return part, None
    begin = min(source.loop_start_s * rate, part.shape[1] - 1.0)
    end = source.loop_end_s * rate if source.loop_end_s > 0.0 else float(part.shape[1])
    end = min(end, float(part.shape[1]))
    if end - begin < _SHORTEST_LOOP_FRAMES:
        return part, None
    first, last = round(begin), round(end)
    if source.loop_way == "back_and_forth":
        way = part[:, first:last]
        unrolled = np.concatenate([part[:, :last], way[:, -2:0:-1]], axis=1)
        return unrolled, Loop(first, unrolled.shape[1], 0.0)
    return part, Loop(first, last, source.crossfade_s * rate)


def start_offset_s(context: SourceContext, source: SampleSource) -> float:
    """How much later than its start a hit begins: by its number, and by chance."""
    turn = (context.hit_number - 1) % _STRIDE + (context.hit_number - 1) // _STRIDE
    offset_s = source.advance_s * turn
    if source.random_start_s > 0.0:
        part = f"{context.layer.id}.start"
        stray = uniform_numbers(1, seed=context.seed, part=part, hit_number=context.hit_number)
        offset_s += source.random_start_s * 0.5 * (1.0 + float(stray[0]))
    return offset_s


# Of its pitch, where another layer bends it.
_SLOWEST = 1e-3
# Grains are moved so far at most, to go on in phase.
_ALIGNED_S = 0.012


class _Lines:
    """Lines that were made, the last used of them kept, so that a change elsewhere needs none."""

    def __init__(self) -> None:
        self._kept: ByteMemory[tuple[object, ...], Line] = ByteMemory(
            _KEPT_BYTES, lambda line: line.levels.nbytes, keep_larger=True
        )

    def of(self, key: tuple[object, ...], samples: Signal, low: float, high: float) -> Line:
        whole = (*key, *line_speeds(low, high, samples.size).tolist())
        line = self._kept.get(whole)
        if line is None:
            line = line_of(samples, low, high)
            self._kept.put(whole, line)
        return line


_LINES = _Lines()


# What of a source decides which samples its line holds.
_CUT_BY = {
    "recording",
    "start_s",
    "end_s",
    "snap",
    "reverse",
    "loop",
    "loop_way",
    "loop_start_s",
    "loop_end_s",
}


def sample_source(context: SourceContext, source: SampleSource) -> Signal:
    """A recording with all its voices, shape (1 or 2, frames)."""
    part = played_part(source, context.settings)
    if part is None or not context.frames:
        return np.zeros((1, context.frames))
    reader = _Reader(source, part, context.settings.sample_rate)
    return unison_sum(context, source, source.unison, 0.0, reader.read)


def _bent_hz(context: SourceContext, pitch_hz: Signal) -> Signal:
    """The pitch as other layers bend it; a phase that moves is a frequency, and a recording is
    never read backwards."""
    share = np.zeros(1) if context.frequency_share is None else context.frequency_share
    if context.phase_cycles is not None:
        cycles_a_frame = np.diff(context.phase_cycles, prepend=context.phase_cycles[:1])
        share = share + cycles_a_frame * context.settings.sample_rate / pitch_hz
    if not np.any(share):
        return pitch_hz
    return np.asarray(pitch_hz * np.maximum(1.0 + share, _SLOWEST))


@dataclass(frozen=True)
class _Reader:
    """Reads a part with some of its voices."""

    source: SampleSource
    part: PlayedPart
    rate: int

    def read(self, context: SourceContext, pitch_hz: Signal, voices: tuple[Voice, ...]) -> Signal:
        own_hz = own_pitch_hz(self.source)
        pitch_hz = _bent_hz(context, pitch_hz)
        speed = pitch_hz * (self.part.sample_rate / self.rate / own_hz)
        ratios = [voice.ratio for voice in voices]
        low, high = float(speed.min()) * min(ratios), float(speed.max()) * max(ratios)
        line, loop_line = self._lines(low, high)
        channels = max(len(voices[0].gains), self.part.samples.shape[0])
        total = np.zeros((channels, context.frames))
        release = self._release(context)
        states = []
        for voice in voices:
            same = len(voice.gains) == channels
            gains = voice.gains if same else voice.gains * channels
            begin = self._begin(context) + (voice.phase % 1.0) * self.part.sample_rate / own_hz
            if self.source.reading == "grains":
                total += _grains(
                    context, self.source, self.part, line, speed * voice.ratio, begin, gains
                )
            else:
                states.append((voice.ratio, gains, begin, False))
        # All voices of one stretch after the other: what they read and write stays in the cache.
        for first in range(0, context.frames if states else 0, _STRETCH):
            stretch = slice(first, first + _STRETCH)
            steady = bool((speed[stretch] == speed[first]).all())
            for n, (ratio, gains, begin, circling) in enumerate(states):
                reached = read_into(
                    total[:, stretch],
                    line,
                    speed[stretch],
                    ratio=ratio,
                    start=begin,
                    circling=circling,
                    gains=gains,
                    loop_line=loop_line,
                    loop=self.part.loop,
                    release_frame=-1 if release == -1 else max(0, release - first),
                    steady=steady,
                )
                states[n] = (ratio, gains, *reached)
        return total

    def _lines(self, low: float, high: float) -> tuple[Line, Line | None]:
        """The part as a line, and the same with its loop closed."""
        source, part = self.source, self.part
        key = (*source.model_dump(include=_CUT_BY).values(), self.rate)
        line = _LINES.of(("line", *key), part.samples, low, high)
        if part.loop is None:
            return line, None
        round_trip = looped(part.samples, part.loop)
        return line, _LINES.of(("loop", source.crossfade_s, *key), round_trip, low, high)

    def _begin(self, context: SourceContext) -> float:
        """The frame of the part at which this hit begins, always before its end or its loop."""
        begin = start_offset_s(context, self.source) * self.part.sample_rate
        loop = self.part.loop
        end = loop.start if loop is not None else float(self.part.samples.shape[1])
        return begin % max(end, 1.0)

    def _release(self, context: SourceContext) -> int:
        """The frame at which the loop is left; back and forth there is no way on from it."""
        stays = self.source.loop == "always" or self.source.loop_way == "back_and_forth"
        return -1 if stays else round(context.hold_s * self.rate)


def _grains(
    context: SourceContext,
    source: SampleSource,
    part: PlayedPart,
    line: Line,
    speed: Numbers,
    begin: float,
    gains: tuple[float, ...],
) -> Signal:
    """The part at its own pace, whatever its pitch: overlapping grains, each a little astray."""
    rate = context.settings.sample_rate
    hop = max(8, round(0.5 * source.grain_s * rate))
    count = context.frames // hop + 2
    starts: Numbers = np.arange(count, dtype=np.float64) * hop
    pace = context.moved_number("speed", source.speed)
    pace = np.broadcast_to(np.asarray(pace), (context.frames,))
    walked = np.concatenate([[0.0], np.cumsum(pace)]) * part.sample_rate / rate
    places = begin + walked[np.minimum(starts.astype(np.int64), context.frames)]
    stray = uniform_numbers(
        count, seed=context.seed, part=f"{context.layer.id}.spray", hit_number=context.hit_number
    )
    places = places + source.spray_s * part.sample_rate * stray
    if part.loop is not None:
        length = part.loop.end - part.loop.start
        inside = part.loop.start + (places - part.loop.start) % length
        places = np.where(places >= part.loop.start, inside, places)
    if source.spray_s > 0.0:
        places = np.abs(places)
    if context.frames:
        at = np.minimum(starts.astype(np.int64), context.frames - 1)
        near = round(_ALIGNED_S * part.sample_rate)
        places = aligned_places(
            part.samples,
            places,
            hop * speed[at],
            reach=near,
            compared=near,
            # What is sprayed shall not just go on.
            onward=near if source.spray_s == 0.0 else 0,
        )
    return grain_signal(line, speed, places, hop=hop, start_after=starts, gains=gains)
