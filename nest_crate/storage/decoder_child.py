"""The process that decodes one audio file: ``decoder_child.py IN OUT``.

Reads a file, writes its samples as float WAV, and prints what it found as one line of JSON. It is
run by its path and loads little, for it is started again for each file.
"""

from __future__ import annotations

import json
import resource
import sys
from pathlib import Path
from typing import Any

_LONGEST_S = 600.0
_MOST_SAMPLES = 60_000_000
_LOWEST_RATE, _HIGHEST_RATE = 8000, 192000
_TIME_S = 90
_MEMORY_BYTES = 3_000_000_000
_MOST_WRITTEN_BYTES = 600_000_000
# Formats with a public description.
_FORMATS = ("WAV", "WAVEX", "FLAC", "OGG", "AIFF", "W64", "RF64", "CAF", "AU", "MP3")
_READ_BY_DECODER = ("W64", "CAF", "AU")
_BROKEN = "This is no audio file that can be read; WAV, AIFF, FLAC, Ogg and MP3 are"
_HEAVY = "The file takes more time or memory to read than is allowed"


def _decode(path: Path, out: Path) -> dict[str, Any]:
    """In the other process: read, check, write; answers what was found, or the problem."""
    import numpy as np
    import soundfile

    from nest_crate.core.formats.float_wav import float_wav
    from nest_crate.core.formats.metadata import read_facts

    try:
        with soundfile.SoundFile(path) as file:
            problem = _refused(file)
            if problem:
                return {"problem": problem}
            rate = int(file.samplerate)
            # Of kinds of files that are not read here, what the decoder knows.
            others = file.format in _READ_BY_DECODER
            words = (file.title[:200], file.comment[:1000]) if others else ("", "")
            # What a header promises is not believed beyond what is allowed.
            most = min(int(_LONGEST_S * rate), _MOST_SAMPLES // file.channels) + 1
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
        facts = read_facts(raw, frames.shape[0], rate)
    out.write_bytes(float_wav(frames, rate))
    found: dict[str, Any] = {
        "channels": frames.shape[1],
        "sample_rate": rate,
        "length_s": frames.shape[0] / rate,
        "root_note": facts.root_note,
        "root_cent": facts.root_cent,
        "author": facts.author,
        "licence": facts.licence,
        "genre": facts.genre,
        "tags": facts.tags,
        "tempo_bpm": facts.tempo_bpm,
        "variation_group": facts.variation_group,
        "variation": facts.variation,
        "follows_key": facts.follows_key,
        "key": facts.key,
        "date": facts.date,
        "reference": facts.reference,
        "marks": [(mark.at_s, mark.label) for mark in facts.marks],
        "ixml": facts.ixml,
        "title": facts.title or words[0].strip("\x00 \n"),
        "comment": facts.description or words[1].strip("\x00 \n"),
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
    most = "10 minutes" if length_s >= _LONGEST_S - 1.0 else f"{length_s:.0f} s at its rate"
    return f"The file lasts longer than {most}, which is the most that can be used"


def _main() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (_TIME_S, _TIME_S + 5))
    resource.setrlimit(resource.RLIMIT_FSIZE, (_MOST_WRITTEN_BYTES, _MOST_WRITTEN_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    print(json.dumps(_decode(Path(sys.argv[1]), Path(sys.argv[2]))))


if __name__ == "__main__":
    _main()
