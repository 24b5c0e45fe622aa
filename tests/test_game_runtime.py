"""The game's stand-in: what it plays of a pulled release."""

import hashlib
import itertools
import json
import subprocess
import sys
from collections import Counter

import numpy as np
import pytest
import soundfile

from tests.program import PROJECT
from tools.game_runtime import GameRuntime, RuntimeFault

RATE = 48000


@pytest.fixture
def folder(tmp_path):
    """A release as it is pulled: a group of four, and a sound alone."""
    rows = []
    names = [*(("Wing flutter", n) for n in (1, 2, 3, 4)), ("", None)]
    for place, (group, number) in enumerate(names):
        path = f"nature/wing {number}.wav" if group else "Gong.wav"
        (tmp_path / "nature").mkdir(exist_ok=True)
        tone = np.full(2400, 0.01 * (place + 1))
        soundfile.write(tmp_path / path, tone, RATE, subtype="PCM_24")
        digest = hashlib.sha256((tmp_path / path).read_bytes()).hexdigest()
        row = {"path": path, "sha256": digest, "name": path, "variation": number}
        rows.append(row | {"variation_group": group, "name": "Gong" if not group else path})
    (tmp_path / ".nest-crate-release.json").write_text(json.dumps({"files": rows}))
    return tmp_path


@pytest.mark.parametrize("seed", range(20))
def test_no_variation_repeats_and_all_come_as_often(folder, seed):
    runtime = GameRuntime(folder, seed=seed)
    played = [runtime.trigger("Wing flutter") for _ in range(400)]
    assert all(one != other for one, other in itertools.pairwise(played))
    assert set(Counter(played).values()) == {100}
    assert played == [one for one in played if one.startswith("nature/")]


def test_the_same_seed_plays_the_same(folder):
    first, again, other = (GameRuntime(folder, seed=seed) for seed in (3, 3, 4))
    wanted = [first.trigger("Wing flutter") for _ in range(50)]
    assert [again.trigger("Wing flutter") for _ in range(50)] == wanted
    assert [other.trigger("Wing flutter") for _ in range(50)] != wanted


def test_what_is_heard_are_the_files_at_their_times(folder):
    runtime = GameRuntime(folder)
    played, heard, rate = runtime.play("Wing flutter", 5, 0.1)
    assert rate == RATE
    assert heard.shape == (4 * 4800 + 2400, 2)
    for n, path in enumerate(played):
        level = 0.01 * int(path.removesuffix(".wav").split()[-1])
        assert heard[n * 4800 + 100] == pytest.approx([level] * 2, abs=1e-6)
        assert not heard[n * 4800 + 2500 : (n + 1) * 4800].any()


def test_a_sound_alone_plays_as_it_is(folder):
    runtime = GameRuntime(folder)
    assert [runtime.trigger("Gong") for _ in range(3)] == ["Gong.wav"] * 3


def test_what_is_wrong_is_said(folder):
    with pytest.raises(RuntimeFault, match="no 'Moth'; it holds Gong, Wing flutter"):
        GameRuntime(folder).trigger("Moth")
    file = folder / "Gong.wav"
    file.write_bytes(file.read_bytes()[:-1] + b"x")
    with pytest.raises(RuntimeFault, match="not as it was released"):
        GameRuntime(folder)
    file.unlink()
    with pytest.raises(RuntimeFault, match="missing"):
        GameRuntime(folder)
    with pytest.raises(RuntimeFault, match="no pulled release"):
        GameRuntime(folder / "nature")


def test_from_the_command_line(folder, tmp_path):
    command = [sys.executable, str(PROJECT / "tools" / "game_runtime.py"), str(folder)]
    listed = subprocess.run(command, capture_output=True, text=True, check=True, timeout=60)
    assert listed.stdout == "Gong: 1\nWing flutter: 4\n"
    out = tmp_path / "heard.wav"
    play = [*command, "--play", "Wing flutter", "--times", "4", "-o", str(out)]
    played = subprocess.run(play, capture_output=True, text=True, check=True, timeout=60)
    assert len(set(played.stdout.split("\n")[:4])) == 4
    assert soundfile.info(out).frames == round(3 * 0.4 * RATE) + 2400
    wrong = subprocess.run([*command, "--play", "x"], capture_output=True, text=True, timeout=60)
    assert wrong.returncode == 1
    assert "The game does not start" in wrong.stderr
