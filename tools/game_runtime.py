"""A stand-in for a game: loads a pulled release and plays its variation groups as games do.

    python tools/game_runtime.py FOLDER                                  what there is to play
    python tools/game_runtime.py FOLDER --play "Wing flutter" --times 16 -o heard.wav

A group is played in random order without a repeat: each variation once, in an order drawn anew for
each round, and never the last of one round first in the next. The same seed plays the same.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import random
import sys
from collections import defaultdict
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import soundfile
from numpy.typing import NDArray

_MANIFEST = ".nest-crate-release.json"
_AUDIO = (".wav", ".flac", ".ogg", ".aiff")


class RuntimeFault(Exception):
    """What a game could not start with, in a plain sentence."""


@dataclass
class Bag:
    """The variations of a group, drawn until it is empty and then filled again."""

    paths: list[str]
    chance: random.Random
    _left: list[str] = field(default_factory=list)
    _last: str | None = None

    def draw(self) -> str:
        if not self._left:
            self._left = self.chance.sample(self.paths, len(self.paths))
            if len(self.paths) > 1 and self._left[-1] == self._last:
                self._left[0], self._left[-1] = self._left[-1], self._left[0]
        self._last = self._left.pop()
        return self._last


class GameRuntime:
    """A release in memory: groups by name, and sounds without variations as groups of one."""

    def __init__(self, folder: Path, *, seed: int = 1) -> None:
        self.folder = folder
        rows = [row for row in _rows(folder) if Path(row["path"]).suffix in _AUDIO]
        groups: dict[str, list[dict[str, Any]]] = defaultdict(list)
        for row in rows:
            groups[row["variation_group"] or row["name"]].append(row)
        chance = random.Random(seed)
        self.bags = {
            name: Bag(
                [one["path"] for one in sorted(members, key=lambda row: row["variation"] or 0)],
                random.Random(chance.random()),
            )
            for name, members in sorted(groups.items())
        }
        self._sounds: dict[str, tuple[NDArray[np.float64], int]] = {}
        for row in rows:
            data = (folder / row["path"]).read_bytes()
            if hashlib.sha256(data).hexdigest() != row["sha256"]:
                raise RuntimeFault(f"{row['path']} is not as it was released; pull again")

    def trigger(self, group: str) -> str:
        """The file that plays when the game asks for a group."""
        bag = self.bags.get(group)
        if bag is None:
            known = ", ".join(self.bags) or "nothing"
            raise RuntimeFault(f"The release holds no {group!r}; it holds {known}")
        return bag.draw()

    def sound(self, path: str) -> tuple[NDArray[np.float64], int]:
        """A file's samples (frames, channels) and its rate."""
        if path not in self._sounds:
            self._sounds[path] = soundfile.read(self.folder / path, always_2d=True)
        return self._sounds[path]

    def play(
        self, group: str, times: int, interval_s: float
    ) -> tuple[list[str], NDArray[np.float64], int]:
        """The files that were played, and what is heard (frames, 2) at a rate."""
        played = [self.trigger(group) for _ in range(times)]
        rate = self.sound(played[0])[1]
        starts = [round(n * interval_s * rate) for n in range(times)]
        frames = max(
            at + self.sound(path)[0].shape[0] for at, path in zip(starts, played, strict=True)
        )
        heard = np.zeros((frames, 2))
        for at, path in zip(starts, played, strict=True):
            samples, own = self.sound(path)
            if own != rate:
                raise RuntimeFault(f"{path} has another rate than the rest of {group!r}")
            heard[at : at + samples.shape[0]] += samples
        return played, heard, rate


def _rows(folder: Path) -> list[dict[str, Any]]:
    try:
        rows: list[dict[str, Any]] = json.loads((folder / _MANIFEST).read_text())["files"]
    except (OSError, ValueError, KeyError) as error:
        raise RuntimeFault(f"{folder} holds no pulled release") from error
    for row in rows:
        if not (folder / row["path"]).is_file():
            raise RuntimeFault(f"{row['path']} is missing; pull again")
    return rows


def main() -> int:
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("folder", type=Path, help="where a release was pulled to")
    parser.add_argument("--play", metavar="GROUP")
    parser.add_argument("--times", type=int, default=8)
    parser.add_argument("--interval", type=float, default=0.4, help="seconds")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("-o", "--output", type=Path, help="what is heard, as WAV")
    given = parser.parse_args()
    try:
        runtime = GameRuntime(given.folder, seed=given.seed)
        if given.play is None:
            for name, bag in runtime.bags.items():
                print(f"{name}: {len(bag.paths)}")
            return 0
        played, heard, rate = runtime.play(given.play, max(1, given.times), given.interval)
    except RuntimeFault as error:
        print(f"The game does not start: {error}", file=sys.stderr)
        return 1
    print("\n".join(played))
    if given.output is not None:
        soundfile.write(given.output, np.clip(heard, -1.0, 1.0), rate, subtype="PCM_24")
    return 0


if __name__ == "__main__":
    sys.exit(main())
