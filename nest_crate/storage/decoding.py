"""Audio files decoded apart from the web process, with limits of time and memory.

Run as a program it is the other process: ``python -m nest_crate.storage.decoding IN OUT`` reads a
file, writes its samples as float WAV, and prints what it found as one line of JSON.
"""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from nest_crate.core.errors import FormatError

__all__ = ["LONGEST_S", "DecodedFile", "decode_file"]

LONGEST_S = 600.0
_MOST_SAMPLES = 60_000_000
_LOWEST_RATE, _HIGHEST_RATE = 8000, 192000
_TIME_S = 90.0
_MEMORY_BYTES = 3_000_000_000
# Formats with a public description.
_FORMATS = ("WAV", "WAVEX", "FLAC", "OGG", "AIFF", "W64", "RF64", "CAF", "AU", "MP3")
_BROKEN = "This is no audio file that can be read; WAV, AIFF, FLAC, Ogg and MP3 are"
_HEAVY = "The file takes more time or memory to read than is allowed"


@dataclass(frozen=True)
class DecodedFile:
    """A file's samples as the bytes of a float WAV, and what it says about itself."""

    data: bytes
    channels: int
    sample_rate: int
    length_s: float
    root_note: int | None = None
    root_cent: float = 0.0
    loop_start_s: float | None = None
    loop_end_s: float | None = None
    title: str = ""
    comment: str = ""

    def details(self) -> dict[str, Any]:
        """What it says about itself, as plain values."""
        facts = asdict(self)
        return {key: facts[key] for key in _DETAILS if facts[key] not in (None, "")}


_DETAILS = ("root_note", "root_cent", "loop_start_s", "loop_end_s", "title", "comment")


def decode_file(path: Path, *, time_s: float = _TIME_S) -> DecodedFile:
    """Decode a file in a process of its own.

    Raises
    ------
    FormatError
        naming what is wrong with the file; nothing is left behind.
    """
    with tempfile.TemporaryDirectory(prefix="nest-crate-") as folder:
        out = Path(folder) / "out.wav"
        command = [sys.executable, "-m", "nest_crate.storage.decoding"]
        command += [str(path.resolve()), str(out)]
        try:
            done = subprocess.run(
                command, capture_output=True, timeout=time_s, check=False, cwd=folder
            )
        except subprocess.TimeoutExpired as error:
            raise FormatError(_HEAVY) from error
        # What kills the other process leaves no line, or half of one.
        try:
            found = json.loads(done.stdout.decode() or "{}")
        except ValueError:
            found = {}
        if "problem" in found:
            raise FormatError(found["problem"])
        if done.returncode < 0:
            raise FormatError(_HEAVY)
        if done.returncode != 0 or "channels" not in found:
            raise FormatError(_BROKEN)
        return DecodedFile(data=out.read_bytes(), **found)


def _decode(path: Path, out: Path) -> dict[str, Any]:
    """In the other process: read, check, write; answers what was found, or the problem."""
    import numpy as np
    import soundfile

    from nest_crate.core.formats.metadata import read_facts
    from nest_crate.core.formats.wav import encode_wav

    try:
        with soundfile.SoundFile(path) as file:
            problem = _refused(file)
            if problem:
                return {"problem": problem}
            rate = int(file.samplerate)
            words = {"title": file.title[:200], "comment": file.comment[:1000]}
            # What a header promises is not believed beyond what is allowed.
            most = min(int(LONGEST_S * rate), _MOST_SAMPLES // file.channels) + 1
            frames = file.read(most, dtype="float32", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError, ValueError, TypeError):
        return {"problem": _BROKEN}
    except MemoryError:
        return {"problem": _HEAVY}
    if frames.shape[0] == 0:
        return {"problem": "The file holds no sound"}
    if frames.shape[0] == most:
        return {"problem": _too_long(most / rate)}
    if not np.all(np.isfinite(frames)):
        return {"problem": "The file holds numbers that are no samples (NaN or infinity)"}
    with path.open("rb") as raw:
        facts = read_facts(raw, frames.shape[0])
    samples = np.ascontiguousarray(frames.T, dtype=np.float64)
    out.write_bytes(encode_wav(samples, rate, sample_format="float32"))
    found: dict[str, Any] = {
        "channels": samples.shape[0],
        "sample_rate": rate,
        "length_s": samples.shape[1] / rate,
        "root_note": facts.root_note,
        "root_cent": facts.root_cent,
        **{key: value.strip("\x00 \n") for key, value in words.items()},
    }
    if facts.loop_start is not None and facts.loop_end is not None:
        found |= {"loop_start_s": facts.loop_start / rate, "loop_end_s": facts.loop_end / rate}
    return found


def _refused(file: Any) -> str | None:
    """What is wrong with a file, from its header."""
    rate, channels = int(file.samplerate), int(file.channels)
    if file.format not in _FORMATS:
        return f"{file.format} files cannot be used; WAV, AIFF, FLAC, Ogg and MP3 can"
    if channels > 2:
        return f"The file has {channels} channels; one or two can be used"
    if not _LOWEST_RATE <= rate <= _HIGHEST_RATE:
        return f"The file's rate of {rate} Hz lies outside 8 to 192 kHz"
    return None


def _too_long(length_s: float) -> str:
    most = "10 minutes" if length_s >= LONGEST_S - 1.0 else f"{length_s:.0f} s at its rate"
    return f"The file lasts longer than {most}, which is the most that can be used"


def _main() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (round(_TIME_S), round(_TIME_S) + 5))
    resource.setrlimit(resource.RLIMIT_FSIZE, (600_000_000, 600_000_000))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    print(json.dumps(_decode(Path(sys.argv[1]), Path(sys.argv[2]))))


if __name__ == "__main__":
    _main()
