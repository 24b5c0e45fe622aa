"""What a file says of itself, as it is said in another format."""

from __future__ import annotations

from nest_crate.core.formats.metadata import FileFacts
from nest_crate.core.formats.tagged import SoundFacts

__all__ = ["copied_facts"]

_LENGTH_OF_DAY = len("2026-11-27")


def copied_facts(found: FileFacts, sample_rate: int) -> SoundFacts:
    """The facts of a file of a rate, for a copy of it."""
    category, _, subcategory = found.genre.partition(" / ")
    loops = (found.loop_start, found.loop_end)
    start_s, end_s = (None if one is None else one / sample_rate for one in loops)
    return SoundFacts(
        title=found.title,
        description=found.description,
        author=found.author,
        licence=found.licence,
        date=found.date if len(found.date) == _LENGTH_OF_DAY else "",
        category=category,
        subcategory=subcategory,
        tags=found.tags,
        root_note=found.root_note,
        root_cent=found.root_cent,
        tempo_bpm=found.tempo_bpm,
        loop_start_s=start_s,
        loop_end_s=end_s,
        variation_group=found.variation_group,
        variation=found.variation,
        follows_key=found.follows_key,
        key=found.key,
        source_reference=found.reference,
        marks=found.marks,
        ixml=found.ixml,
    )
