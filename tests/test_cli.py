import json

import numpy as np
import pytest
from click.testing import CliRunner

from nest_crate.cli import main
from nest_crate.core.engine import render
from nest_crate.core.formats.wav import decode_wav
from nest_crate.demo import SOUNDS_FOLDER

KICK = str(SOUNDS_FOLDER / "kiln-door-kick.json")


def run(*arguments):
    return CliRunner().invoke(main, list(arguments))


def test_render_writes_the_samples_of_a_take(tmp_path, kick):
    path = tmp_path / "kick.wav"
    result = run("render", KICK, "--note", "G1", "-o", str(path))
    assert result.exit_code == 0, result.output
    samples, rate = decode_wav(path.read_bytes())
    assert rate == 48000
    np.testing.assert_allclose(samples, render(kick).samples, atol=2**-23)


def test_render_follows_its_options(tmp_path, kick):
    path = tmp_path / "kick.wav"
    options = ["--note", "C2", "--velocity", "50", "--rate", "44100", "--format", "float32"]
    assert run("render", KICK, *options, "-o", str(path)).exit_code == 0
    samples, rate = decode_wav(path.read_bytes())
    assert rate == 44100
    assert 0 < np.abs(samples).max() < np.abs(render(kick).samples).max()


@pytest.mark.parametrize(
    ("content", "options", "words"),
    [
        ("{}", [], "name"),
        ('{"name": "x", "tempo_bpm": 1}', [], "tempo_bpm: 1 is out of range"),
        ('{"name": "x"}', ["--note", "H1"], "no note name"),
    ],
)
def test_render_says_what_is_wrong(tmp_path, content, options, words):
    path = tmp_path / "bad.json"
    path.write_text(content)
    result = run("render", str(path), *options, "-o", str(tmp_path / "x.wav"))
    assert result.exit_code == 1
    assert words in result.output
    assert not (tmp_path / "x.wav").exists()


def test_exported_contract_is_json(tmp_path):
    assert run("export-contract", "--folder", str(tmp_path)).exit_code == 0
    assert json.loads((tmp_path / "openapi.json").read_text())["info"]["title"] == "Nest Crate"
