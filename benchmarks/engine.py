"""Prints the engine's time for the demo kick and a heavier sound, per stage and as a whole.

Run: .venv/bin/python benchmarks/engine.py
Medians of many runs on one core; the sound's own length stands beside them.
"""

from __future__ import annotations

import statistics

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.pictures.outlines import spectrogram
from nest_crate.core.engine import RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.sound import Sound, load_sound, load_sound_text
from nest_crate.demo.sounds import SOUNDS_FOLDER
from timing import median_ms


def heavier_sound() -> Sound:
    """Eight sawtooth and pulse layers through two filters and two drives, one second."""
    held = {
        "points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": 1}],
        "release": [{"time_s": 0.1, "value": 0, "bend": 3}],
    }
    pitch = {"points": [{"time_s": 0, "value": 24}, {"time_s": 0.5, "value": 0, "bend": 3}]}
    layers = [
        {
            "id": f"l{n}",
            "name": f"Layer {n}",
            "level_db": -18,
            "pan": n / 4 - 1,
            "source": {"kind": "tone", "shape": 2 + n % 2, "fine_cent": n},
            "level": held,
            "pitch": pitch,
        }
        for n in range(8)
    ]
    kinds = ["filter", "drive", "filter", "drive"]
    chain = [{"id": f"p{n}", "kind": kind} for n, kind in enumerate(kinds)]
    hit = {"note": 45, "hold_s": 0.85}
    return load_sound({"name": "Heavier", "layers": layers, "main": {"chain": chain}, "hit": hit})


def three_layers_of_seven_voices() -> Sound:
    """Three sawtooth layers of seven voices each, a fall of an octave, one second."""
    level = {"points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": 1}]}
    level["points"].append({"time_s": 0.9, "value": 0, "bend": 3})
    pitch = {"points": [{"time_s": 0, "value": 12}, {"time_s": 0.3, "value": 0, "bend": 3}]}
    source = {"kind": "tone", "shape": 2, "unison": {"voices": 7}}
    layers = [
        {"id": f"l{n}", "name": f"Layer {n}", "source": source, "level": level, "pitch": pitch}
        for n in range(3)
    ]
    return load_sound({"name": "Three layers of seven voices", "layers": layers})


def six_layers_twelve_links() -> Sound:
    """Six layers, four moved filters in layers, on a bus and on main, twelve links, one second."""
    level = {"points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": 1}]}
    level["points"].append({"time_s": 0.9, "value": 0, "bend": 3})
    layers = [
        {
            "id": f"l{n}",
            "name": f"Layer {n}",
            "level_db": -15,
            "source": {"kind": "tone", "shape": 2, "unison": {"voices": 2, "width": 0.5}}
            if n < 5
            else {"kind": "noise", "colour_db": -3},
            "level": level,
            "to": "bus" if n < 3 else "main",
            "chain": [{"id": f"f{n}", "kind": "filter", "slope_db": 24}] if n < 2 else [],
        }
        for n in range(6)
    ]
    bus = {"id": "bus", "name": "Bus", "chain": [{"id": "f2", "kind": "filter"}]}
    movers = [
        {"id": "lfo", "name": "LFO", "kind": "lfo"},
        {"id": "curve", "name": "Curve", "kind": "curve"},
        {"id": "steps", "name": "Steps", "kind": "steps"},
        {"id": "random", "name": "Random", "kind": "random"},
    ]
    filters = [
        {"mover": ("lfo", "curve")[n % 2], "target": f"f{n}.cutoff_hz", "amount": 2}
        for n in range(4)
    ]
    levels = [{"mover": "steps", "target": f"l{n}.level_db", "amount": -6} for n in range(3)]
    pitches = [{"mover": "random", "target": f"l{n}.pitch_st", "amount": 1} for n in range(3)]
    others = [
        {"mover": "curve", "target": "lfo.rate_hz", "amount": 2},
        {"mover": "lfo", "target": "main.level_db", "amount": -3},
    ]
    return load_sound(
        {
            "name": "Six layers, four moved filters, twelve links",
            "layers": layers,
            "buses": [bus],
            "main": {"chain": [{"id": "f3", "kind": "filter"}]},
            "movers": movers,
            "links": filters + levels + pitches + others,
        }
    )


def six_effects() -> Sound:
    """One second of stereo through compressor, drive, chorus, delay, room and ceiling."""
    level = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.4, "value": 0, "bend": 3}]}
    source = {"kind": "tone", "shape": 2, "unison": {"voices": 2, "width": 1}}
    chain = [
        {"id": "compressor", "kind": "compressor"},
        {"id": "drive", "kind": "drive"},
        {"id": "chorus", "kind": "chorus"},
        {"id": "delay", "kind": "delay", "time_s": 0.05, "feedback": 0.2},
        {"id": "room", "kind": "room", "decay_s": 0.3},
        {"id": "ceiling", "kind": "ceiling"},
    ]
    layer = {"id": "a", "name": "A", "source": source, "level": level}
    return load_sound({"name": "Six effects", "layers": [layer], "main": {"chain": chain}})


def report(sound: Sound) -> None:
    audio = render(sound)
    length_ms = 1e3 * audio.length_s
    print(f"\n{sound.name}: {length_ms:.0f} ms of sound, {audio.samples.shape[0]} channel(s)")
    for quality in ("final", "draft"):
        settings = RenderSettings(quality=quality)
        whole = median_ms(lambda settings=settings: render(sound, settings=settings))
        faster = length_ms / whole
        print(f"  render {quality:5} {whole:7.2f} ms   {faster:6.1f} x faster than it sounds")
    stages: dict[str, list[float]] = {}
    for _ in range(31):
        for name, seconds in render_with_trace(sound).stage_seconds.items():
            stages.setdefault(name, []).append(seconds)
    for name, seconds_of in stages.items():
        print(f"    {name:18} {1e3 * statistics.median(seconds_of):7.2f} ms")
    memory = StageMemory()
    render(sound, memory=memory)
    level = iter(range(10_000))

    def change_last() -> None:
        last = sound.main.chain[-1].model_copy(update={"level_db": -0.001 * next(level)})
        main = sound.main.model_copy(update={"chain": (*sound.main.chain[:-1], last)})
        render(sound.model_copy(update={"main": main}), memory=memory)

    if sound.main.chain:
        print(f"  last processor changed {median_ms(change_last):7.2f} ms")
    samples, rate = audio.samples, audio.sample_rate
    print(f"  measures               {median_ms(lambda: measure(samples, rate)):7.2f} ms")
    drawn = median_ms(lambda: spectrogram(samples, rate, rows=96, columns=288))
    print(f"  spectrogram            {drawn:7.2f} ms")


if __name__ == "__main__":
    report(load_sound_text((SOUNDS_FOLDER / "kiln-door-kick.json").read_bytes()))
    report(heavier_sound())
    report(three_layers_of_seven_voices())
    report(six_layers_twelve_links())
    report(six_effects())
