"""How long a try-out's mix takes, cold and once its hits are rendered.

    .venv/bin/python -m benchmarks.tryout

Sixteen parts with sixteen hits each over sixteen seconds; sounds of the demo of about a second.
"""

from __future__ import annotations

import statistics
import time

from nest_crate.core.engine import Audio, RenderSettings, StageMemory, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.sound import Hit, Sound, load_sound_text
from nest_crate.core.tryout import PlaysSound, TryOut, load_tryout, render_tryout
from nest_crate.demo.sounds import SOUNDS_FOLDER

_PARTS, _HITS, _LENGTH_S, _TIMES = 16, 16, 16.0, 9


class _Shelf:
    def __init__(self, sounds: list[Sound]) -> None:
        self._sounds = sounds

    def sound(self, plays: PlaysSound) -> Sound:
        return self._sounds[plays.sound - 1]

    def sample(self, identifier: int) -> Audio:
        raise KeyError(identifier)


def _sounds() -> list[Sound]:
    """The demo's sounds whose own hit lasts between half a second and a second and a half."""
    found = []
    for path in sorted(SOUNDS_FOLDER.glob("*.json")):
        sound = load_sound_text(path.read_bytes())
        settings = RenderSettings()
        try:
            length_s = render(sound, sound.hit, settings).samples.shape[1] / 48000
        except NestCrateError:
            # One that uses a recording is left out.
            continue
        if 0.5 <= length_s <= 1.5:
            found.append(sound)
    return found


def _tryout(sounds: list[Sound]) -> TryOut:
    step = _LENGTH_S / _HITS
    parts = [
        {
            "id": f"p{n}",
            "name": f"Part {n}",
            "plays": {"kind": "sound", "sound": n % len(sounds) + 1},
            "low_cut_hz": 40.0 if n % 2 else 20.0,
            "hits": [
                {"at_s": step * k + 0.03 * n, "velocity": (80, 100, 120)[k % 3]}
                for k in range(_HITS)
            ],
        }
        for n in range(_PARTS)
    ]
    ducks = [{"part": f"p{n}", "by": "p0"} for n in range(1, 5)]
    return load_tryout({"name": "Many", "length_s": _LENGTH_S, "parts": parts, "ducks": ducks})


def main() -> None:
    sounds = _sounds()
    tryout = _tryout(sounds)
    shelf = _Shelf(sounds)
    cold, warm = [], []
    for _ in range(_TIMES):
        hits: dict[tuple[str, str], Audio] = {}
        stages = StageMemory()

        def remembered(
            sound: Sound,
            hit: Hit,
            settings: RenderSettings,
            hits: dict[tuple[str, str], Audio] = hits,
            stages: StageMemory = stages,
        ) -> Audio:
            key = (sound.name, hit.model_dump_json())
            if key not in hits:
                hits[key] = render(sound, hit, settings, memory=stages)
            return hits[key]

        for times in (cold, warm):
            began = time.perf_counter()
            render_tryout(tryout, shelf, render_hit=remembered, keep_stems=False)
            times.append(time.perf_counter() - began)
    print(f"{_PARTS} parts, {_PARTS * _HITS} hits, {_LENGTH_S:.0f} s; {len(sounds)} sounds")
    print(f"cold                 {statistics.median(cold) * 1e3:7.0f} ms")
    print(f"hits rendered before {statistics.median(warm) * 1e3:7.0f} ms")


if __name__ == "__main__":
    main()
