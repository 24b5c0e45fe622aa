"""The kinds of audio files that the program writes, by name."""

from __future__ import annotations

from typing import Literal, get_args

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.formats.aiff import aiff_file
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.packed_files import flac_file, ogg_file
from nest_crate.core.formats.tagged import SoundFacts

__all__ = ["FILE_FORMATS", "FileFormat", "audio_file", "ending_of"]

FileFormat = Literal["wav16", "wav24", "wav32", "flac16", "flac24", "ogg", "aiff16", "aiff24"]
FILE_FORMATS: tuple[FileFormat, ...] = get_args(FileFormat)


def ending_of(file_format: FileFormat) -> str:
    """What the names of such files end in, without the dot."""
    return file_format.rstrip("0123456789")


def audio_file(
    signal: Signal, sample_rate: int, file_format: FileFormat, facts: SoundFacts, *, dither: bool
) -> bytes:
    """A file of a signal (1 or 2, frames) with what is known of it.

    Parameters
    ----------
    dither
        for 16 bit; 24 bits lie below the noise of any listening.
    """
    if file_format == "ogg":
        return ogg_file(signal, sample_rate, facts=facts)
    if file_format == "wav32":
        return broadcast_wav(signal, sample_rate, numbers="float32", facts=facts)
    bits: Literal[16, 24] = 16 if file_format.endswith("16") else 24
    dither = dither and bits == 16
    if file_format.startswith("flac"):
        return flac_file(signal, sample_rate, bits=bits, facts=facts, dither=dither)
    if file_format.startswith("aiff"):
        return aiff_file(signal, sample_rate, bits=bits, facts=facts, dither=dither)
    numbers: Literal["pcm16", "pcm24"] = "pcm16" if bits == 16 else "pcm24"
    return broadcast_wav(signal, sample_rate, numbers=numbers, facts=facts, dither=dither)
