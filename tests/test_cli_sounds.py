"""Headless work on sounds and files: many at once, as JSON, through streams, with exit codes."""

import json
import subprocess
import sys
from pathlib import Path

import mutagen.flac
import numpy as np
import pytest
import soundfile
from click.testing import CliRunner
from jsonschema import Draft202012Validator

from nest_crate.cli import main
from nest_crate.core.engine import render
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.file_formats import FILE_FORMATS
from nest_crate.core.formats.tagged import SoundFacts
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.demo.sounds import SOUNDS_FOLDER

KICK = SOUNDS_FOLDER / "kiln-door-kick.json"
NEST_CRATE = Path(sys.executable).parent / "nest-crate"


def run(*arguments, stdin=None):
    return CliRunner().invoke(main, [str(one) for one in arguments], input=stdin)


def found(result):
    """What a command said as JSON."""
    return json.loads(result.stdout)


@pytest.fixture
def folder(tmp_path, kick):
    """Two sounds and one that is none, one folder down."""
    below = tmp_path / "sounds" / "drums"
    below.mkdir(parents=True)
    for name in ("Kiln kick", "Kiln tick"):
        document = dump_sound(kick.model_copy(update={"name": name}))
        (below / f"{name}.json").write_text(json.dumps(document))
    (below / "broken.json").write_text('{"name": "x", "tempo_bpm": 1}')
    return tmp_path / "sounds"


class TestRender:
    def test_a_folder_in_every_note_and_velocity(self, folder, tmp_path, kick):
        out = tmp_path / "out"
        options = ("--note", "C1..C2/6", "--velocity", "40,127", "--format", "wav32", "--json")
        result = run("render", folder, *options, "-o", out)
        # The broken one is said and ends nothing else.
        assert result.exit_code == 1
        said = found(result)
        assert [one["about"] for one in said["errors"]] == [str(folder / "drums" / "broken.json")]
        assert len(said["done"]) == 2 * 3 * 2
        assert {one["note"] for one in said["done"]} == {"C1", "F#1", "C2"}
        assert sorted(path.name for path in out.iterdir())[0] == "Kiln kick C1 v127.wav"
        samples, _ = decode_wav((out / "Kiln tick F#1 v40.wav").read_bytes())
        hit = kick.hit.model_copy(update={"note": 30, "velocity": 40})
        np.testing.assert_array_equal(samples, render(kick, hit).samples.astype(np.float32))

    def test_hits_in_a_row(self, tmp_path):
        result = run("render", KICK, "--hit-number", "1..3", "-o", tmp_path / "hits")
        assert result.exit_code == 0, result.output
        assert len(list((tmp_path / "hits").glob("* 0?.wav"))) == 3

    @pytest.mark.parametrize("kind", FILE_FORMATS)
    def test_every_format_is_read_by_another_program(self, tmp_path, kind, kick):
        out = tmp_path / f"kick.{kind.rstrip('0123456789')}"
        assert run("render", KICK, "--format", kind, "--rate", "44100", "-o", out).exit_code == 0
        samples, rate = soundfile.read(out, always_2d=True)
        assert rate == 44100
        assert 0.1 < np.abs(samples).max() <= 1.0

    def test_through_streams(self, tmp_path, kick):
        made = subprocess.run(
            [NEST_CRATE, "render", "-", "--format", "wav32", "-o", "-"],
            input=KICK.read_bytes(),
            capture_output=True,
            check=True,
            timeout=300,
        )
        samples, _ = decode_wav(made.stdout)
        np.testing.assert_array_equal(samples, render(kick).samples.astype(np.float32))

    @pytest.mark.parametrize(
        ("options", "words"),
        [
            (["--note", "C3..C1"], "is no range"),
            (["--note", "H1"], "is not a note name"),
            (["--velocity", "0"], "not between 1 and 127"),
            (["--velocity", "1..x"], "no whole number"),
            (["--note", "C1,D1", "-o", "-"], "standard output"),
            (["--note", "C1,D1", "-o", "kicks.wav"], "named like a file"),
            (["--hit-number", "1..5000"], "too many"),
        ],
    )
    def test_what_is_not_understood_ends_with_2(self, tmp_path, options, words):
        result = run("render", KICK, "-o", tmp_path / "out", *options)
        assert result.exit_code == 2
        assert words in result.output

    def test_a_folder_without_sounds_says_so(self, tmp_path):
        (tmp_path / "empty").mkdir()
        result = run("render", tmp_path / "empty", "-o", tmp_path / "out")
        assert result.exit_code == 1
        assert "holds no sound documents" in result.output


class TestAnalyse:
    def test_figures_are_those_of_the_signal(self, tmp_path):
        t = np.arange(48000) / 48000
        tone = 0.5 * np.sin(2 * np.pi * 440.0 * t)[np.newaxis]
        (tmp_path / "tone.wav").write_bytes(encode_wav(tone, 48000))
        soundfile.write(tmp_path / "tone.flac", tone.T, 48000)
        (tmp_path / "text.wav").write_text("no audio")
        result = run("analyse", tmp_path, "--json")
        assert result.exit_code == 1
        said = found(result)
        assert [Path(one["about"]).name for one in said["errors"]] == ["text.wav"]
        assert len(said["done"]) == 2
        for one in said["done"]:
            assert one["length_s"] == pytest.approx(1.0)
            assert one["peak_db"] == pytest.approx(-6.02, abs=0.01)
            assert (one["note"], one["channels"]) == ("A4", 1)
            # A sine of one channel at -6 dB: its power is -9.03 dB, 0.691 lower, and K-weighted.
            assert one["loudness_lufs"] == pytest.approx(-9.03 - 0.691 + 0.0, abs=0.75)

    def test_a_line_for_each_file(self, tmp_path):
        (tmp_path / "tone.wav").write_bytes(encode_wav(np.zeros((2, 4800)), 48000))
        result = run("analyse", tmp_path / "tone.wav")
        assert result.exit_code == 0
        assert "0.100 s, stereo" in result.output


class TestConvert:
    def test_words_loops_and_places_stay(self, tmp_path):
        below = tmp_path / "in" / "bells"
        below.mkdir(parents=True)
        facts = SoundFacts(
            title="Brass bell",
            description="Struck on the rim",
            author="Isolde Marrow",
            tags=("bright", "long"),
            root_note=72,
            tempo_bpm=120.0,
            loop_start_s=0.25,
            loop_end_s=0.5,
        )
        tone = 0.5 * np.sin(2 * np.pi * 440.0 * np.arange(48000) / 48000)[np.newaxis]
        file = broadcast_wav(tone, 48000, numbers="pcm24", facts=facts)
        (below / "bell.wav").write_bytes(file)
        options = ("--format", "flac16", "--rate", "44100", "--no-dither")
        result = run("convert", tmp_path / "in", *options, "-o", tmp_path / "out")
        assert result.exit_code == 0, result.output
        made = tmp_path / "out" / "bells" / "bell.flac"
        samples, rate = soundfile.read(made)
        t = np.arange(samples.size) / 44100
        assert rate == 44100
        middle = slice(2000, -2000)
        expected = 0.5 * np.sin(2 * np.pi * 440.0 * t)
        assert np.abs(samples - expected)[middle].max() < 1e-4
        tags = mutagen.flac.FLAC(made)
        assert tags["title"] == ["Brass bell"]
        assert "Struck on the rim" in json.dumps(dict(tags.items()))
        back = run("convert", made, "--format", "wav24", "-o", tmp_path / "back")
        assert back.exit_code == 0, back.output
        seen = run("analyse", tmp_path / "back" / "bell.wav", "--json")
        assert found(seen)["done"][0]["note"] == "A4"

    def test_a_file_is_never_written_over_itself(self, tmp_path):
        data = encode_wav(np.ones((1, 480)) * 0.1, 48000)
        (tmp_path / "a.wav").write_bytes(data)
        result = run("convert", tmp_path / "a.wav", "--format", "wav16", "-o", tmp_path)
        assert result.exit_code == 1
        assert "over itself" in result.output
        assert (tmp_path / "a.wav").read_bytes() == data

    def test_two_that_would_be_one_file(self, tmp_path):
        for kind in ("wav", "flac"):
            soundfile.write(tmp_path / f"a.{kind}", np.zeros(480) + 0.1, 48000)
        result = run("convert", tmp_path / "a.wav", tmp_path / "a.flac", "-o", tmp_path / "out")
        assert result.exit_code == 1
        assert "another file goes to" in result.output


class TestChecks:
    @pytest.fixture
    def loud(self, tmp_path, kick):
        document = dump_sound(kick)
        document["main"]["level_db"] = 12.0
        path = tmp_path / "loud.json"
        path.write_text(json.dumps(document))
        return path

    def test_what_is_wrong_ends_with_1(self, loud):
        result = run("checks", KICK, loud, "--json")
        assert result.exit_code == 1
        said = found(result)
        codes = {one["document"]: {r["code"] for r in one["remarks"]} for one in said["done"]}
        assert "over" in codes[str(loud)]
        assert "over" not in codes[str(KICK)]
        assert run("checks", KICK).exit_code == 0
        assert run("checks", loud, "--fail-on", "never").exit_code == 0

    def test_fixes_are_applied_until_nothing_is_wrong(self, loud, tmp_path):
        out = tmp_path / "fixed.json"
        result = run("fix", loud, "-o", out)
        assert result.exit_code == 0, result.output
        assert run("checks", out).exit_code == 0
        fixed = load_sound(json.loads(out.read_text()))
        assert np.abs(render(fixed).samples).max() <= 1.0

    def test_one_remark_alone_and_through_streams(self, loud):
        result = run("fix", "-", "--code", "silent", "-o", "-", stdin=loud.read_text())
        assert result.exit_code == 0
        assert json.loads(result.stdout)["main"]["level_db"] == 12.0


class TestPrinted:
    @pytest.mark.parametrize("kind", ["sound", "tryout", "batch"])
    def test_schemas_are_schemas(self, kind):
        result = run("schema", kind)
        assert result.exit_code == 0
        Draft202012Validator.check_schema(json.loads(result.stdout))

    def test_the_schema_of_sounds_takes_a_sound(self):
        schema = json.loads(run("schema").stdout)
        Draft202012Validator(schema).validate(json.loads(KICK.read_text()))

    def test_declarations(self):
        assert "processors" in json.loads(run("schema", "declarations").stdout)

    @pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
    def test_completion_names_the_program(self, shell):
        result = run("completion", shell)
        assert result.exit_code == 0
        assert "_NEST_CRATE_COMPLETE" in result.stdout

    def test_bash_completes_commands(self):
        script = 'eval "$(nest-crate completion bash)"; type _nest_crate_completion >/dev/null'
        path = f"{NEST_CRATE.parent}:/usr/bin:/bin"
        subprocess.run(["bash", "-c", script], env={"PATH": path}, check=True, timeout=120)
        completed = subprocess.run(
            [NEST_CRATE],
            env={
                "PATH": path,
                "_NEST_CRATE_COMPLETE": "bash_complete",
                "COMP_WORDS": "nest-crate ana",
                "COMP_CWORD": "1",
            },
            capture_output=True,
            text=True,
            timeout=120,
        )
        assert "plain,analyse" in completed.stdout
