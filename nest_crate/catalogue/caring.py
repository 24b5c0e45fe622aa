"""Care for many samples: names by template, loudness matched, silence trimmed, duplicates, gaps.

What changes samples is planned first and shown; the same plan is then carried out.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from nest_crate.catalogue.accounts import CurrentAccount, field_error
from nest_crate.catalogue.editing import (
    bin_samples,
    change_each,
    mark_changed,
    record_change,
    samples_for,
)
from nest_crate.catalogue.errors import NotPossible
from nest_crate.catalogue.libraries import require_library
from nest_crate.catalogue.measuring import measure_into
from nest_crate.catalogue.models import Sample
from nest_crate.catalogue.search import SampleIndex
from nest_crate.catalogue.shared_models import Comment
from nest_crate.catalogue.templates import fill_template
from nest_crate.core.analysis.features import feature_distances
from nest_crate.core.dsp.loudness import integrated_loudness_lufs, true_peak_db
from nest_crate.core.dsp.trimming import SoundEdits, apply_edits, silence_around
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage import AudioStore

__all__ = [
    "Gap",
    "Likeness",
    "LoudnessPlan",
    "duplicates_in",
    "gaps_in",
    "match_loudness",
    "merge_samples",
    "rename_samples",
    "set_edits",
    "trim_samples",
]

_LONGEST_NAME = 120
# Vectors nearer than this are of sounds that hardly anybody tells apart.
_NEAR = 0.35
_MOST_COMPARED = 4000


def rename_samples(
    session: Session,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    template: str,
    *,
    apply: bool,
) -> tuple[list[tuple[int, str, str]], str | None]:
    """What each sample is called and would be called; the gesture, where it was done.

    Raises
    ------
    DocumentError
        at ``template``: what is wrong with it, or that a name would be empty or too long.
    """
    samples = samples_for(session, account, sample_ids, "sample.edit")
    names = {}
    for number, sample in enumerate(samples, 1):
        name = " ".join(fill_template(template, sample, number).split())
        if not name or len(name) > _LONGEST_NAME:
            raise field_error(
                "template", f"{sample.name!r} would get a name of {len(name)} letters"
            )
        names[sample.id] = name
    plan = [(one.id, one.name, names[one.id]) for one in samples]
    if not apply:
        return plan, None
    gesture, _ = change_each(
        session,
        account,
        sample_ids,
        lambda sample: {"name": names[sample.id]},
        label=f"Renamed by {template}",
    )
    return plan, gesture


@dataclass(frozen=True)
class LoudnessPlan:
    """A sample's loudness now and after; ``held_back`` where the ceiling allows no more."""

    sample_id: int
    name: str
    from_lufs: float
    to_lufs: float
    gain_db: float
    held_back: bool


def match_loudness(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    *,
    target_lufs: float,
    ceiling_dbtp: float,
    apply: bool,
) -> tuple[list[LoudnessPlan], str | None]:
    """Bring samples to one loudness by gain alone, as far as the true peak allows.

    The files stay as they are; the gain is one of the sample's edits.
    """
    plans, edits = [], {}
    for sample in samples_for(session, account, sample_ids, "sample.edit"):
        signal, rate = decode_wav(store.get(sample.file_digest))
        own = SoundEdits.of(sample.edits)
        plain = SoundEdits(own.start_s, own.end_s, own.fade_in_s, own.fade_out_s)
        heard = apply_edits(signal, rate, plain)
        loudness, peak_db = integrated_loudness_lufs(heard, rate), true_peak_db(heard)
        silent = not np.any(heard)
        wanted = 0.0 if silent else target_lufs - loudness
        gain_db = round(min(wanted, ceiling_dbtp - peak_db) if not silent else 0.0, 2)
        edits[sample.id] = SoundEdits(
            own.start_s, own.end_s, own.fade_in_s, own.fade_out_s, gain_db
        )
        plans.append(
            LoudnessPlan(
                sample.id,
                sample.name,
                sample.loudness_lufs,
                loudness + gain_db,
                gain_db,
                held_back=not silent and gain_db < wanted - 0.01,
            )
        )
    if not apply:
        return plans, None
    return plans, _apply_edits(session, store, account, edits, f"Matched to {target_lufs:g} LUFS")


def trim_samples(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    *,
    fade_in_s: float,
    fade_out_s: float,
    apply: bool,
) -> tuple[list[tuple[Sample, SoundEdits]], str | None]:
    """Leave out the silence before and behind, and set fades; the files stay as they are."""
    plans = []
    for sample in samples_for(session, account, sample_ids, "sample.edit"):
        signal, rate = decode_wav(store.get(sample.file_digest))
        start_s, end_s = silence_around(signal, rate)
        whole = end_s >= signal.shape[1] / rate - 1e-9
        own = SoundEdits.of(sample.edits)
        edits = SoundEdits(start_s, 0.0 if whole else end_s, fade_in_s, fade_out_s, own.gain_db)
        plans.append((sample, edits))
    if not apply:
        return plans, None
    wanted = {sample.id: edits for sample, edits in plans}
    return plans, _apply_edits(session, store, account, wanted, "Trimmed")


def set_edits(
    session: Session, store: AudioStore, account: CurrentAccount, sample_id: int, edits: SoundEdits
) -> str:
    """Start, end, fades and gain of one sample; its figures are measured anew."""
    sample = samples_for(session, account, [sample_id], "sample.edit")[0]
    signal, rate = decode_wav(store.get(sample.file_digest))
    length_s = signal.shape[1] / rate
    end_s = edits.end_s or length_s
    if not 0.0 <= edits.start_s < end_s <= length_s + 1e-6:
        raise field_error("end_s", f"the part must lie within 0 to {length_s:.3f} s")
    return _apply_edits(session, store, account, {sample_id: edits}, "Start, end, fades and gain")


def _apply_edits(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    edits: dict[int, SoundEdits],
    label: str,
) -> str:
    gesture, _ = change_each(
        session,
        account,
        list(edits),
        lambda sample: {"edits": edits[sample.id].as_dict()},
        label=label,
    )
    for sample in samples_for(session, account, list(edits)):
        signal, rate = decode_wav(store.get(sample.file_digest))
        measure_into(sample, Audio(apply_edits(signal, rate, edits[sample.id]), rate))
    mark_changed(samples_for(session, account, list(edits)))
    return gesture


@dataclass(frozen=True)
class Likeness:
    """Samples that are the same bytes (``exact``), or hardly to be told apart."""

    exact: bool
    sample_ids: tuple[int, ...]


def duplicates_in(
    session: Session, account: CurrentAccount, index: SampleIndex, library_id: int
) -> list[Likeness]:
    """Groups of exact and of near duplicates in a library, the exact first."""
    require_library(session, account, library_id)
    index.refresh(session)
    query = (
        select(Sample.id, Sample.file_digest, Sample.edits)
        .where(Sample.library_id == library_id, Sample.deleted.is_(None))
        .order_by(Sample.id)
    )
    by_bytes: dict[tuple[str, str], list[int]] = defaultdict(list)
    for identifier, digest, edits in session.execute(query):
        by_bytes[digest, repr(sorted((edits or {}).items()))].append(identifier)
    exact = [Likeness(True, tuple(ids)) for ids in by_bytes.values() if len(ids) > 1]
    # Of what is the same one stands for all.
    single = [ids[0] for ids in by_bytes.values()][:_MOST_COMPARED]
    return exact + _near(single, index)


def _near(ids: list[int], index: SampleIndex) -> list[Likeness]:
    """Groups of which each is near to the first."""
    if not ids:
        return []
    vectors = index.vectors(ids)
    free = np.any(vectors != 0.0, axis=1)
    found = []
    for n in range(len(ids)):
        if not free[n]:
            continue
        near = (feature_distances(vectors, vectors[n]) < _NEAR) & free
        near[: n + 1] = False
        if near.any():
            found.append(Likeness(False, (ids[n], *(ids[k] for k in np.flatnonzero(near)))))
            free &= ~near
    return found


def merge_samples(
    session: Session, account: CurrentAccount, keep_id: int, other_ids: Sequence[int]
) -> None:
    """One sample takes over tags, comments and what it lacks from others, which go to the bin."""
    if keep_id in other_ids:
        raise NotPossible("A sample cannot be merged into itself")
    kept, *others = samples_for(session, account, [keep_id, *other_ids], "sample.edit", lock=True)
    if len({one.library_id for one in (kept, *others)}) > 1:
        raise NotPossible("Only samples of one library can be merged")
    values: dict[str, object] = {
        "tags": list(dict.fromkeys(tag for one in (kept, *others) for tag in one.tags))
    }
    for name in ("category", "subcategory", "description", "licence", "author"):
        texts = [getattr(one, name) for one in (kept, *others)]
        values[name] = next((text for text in texts if text), "")
    if values["category"] != kept.category:
        values["subcategory"] = next(
            (one.subcategory for one in others if one.category == values["category"]), ""
        )
    record_change(session, account, kept, values, gesture="merge", label="Merged with duplicates")
    ids = [one.id for one in others]
    session.execute(update(Comment).where(Comment.sample_id.in_(ids)).values(sample_id=keep_id))
    bin_samples(session, account, ids)


@dataclass(frozen=True)
class Gap:
    """What is missing or odd, and the samples of which it is."""

    code: str
    text: str
    sample_ids: tuple[int, ...]


def gaps_in(session: Session, account: CurrentAccount, library_id: int) -> list[Gap]:
    """Missing and odd metadata of a library; empty where all is well."""
    require_library(session, account, library_id)
    query = select(Sample).where(Sample.library_id == library_id, Sample.deleted.is_(None))
    samples = session.scalars(query.order_by(Sample.id)).all()
    names: dict[str, int] = defaultdict(int)
    for one in samples:
        names[one.name.lower()] += 1
    rules = (
        ("no_category", "have no category", lambda s: not s.category),
        ("no_tags", "have no tags", lambda s: not s.tags),
        ("no_licence", "say nothing of a licence", lambda s: not s.licence),
        ("same_name", "share their name with another", lambda s: names[s.name.lower()] > 1),
        ("silent", "are silent", lambda s: s.peak_db <= -144.0),
        ("over", "pass full scale", lambda s: s.true_peak_db > 0.0),
        ("group_without_number", "are in a group without a number", _unnumbered),
        ("odd_loop", "have a loop that lies outside the sound", _odd_loop),
        ("root_far", "sound a semitone or more off their root note", _far_from_root),
    )
    found = []
    for code, text, odd in rules:
        ids = tuple(one.id for one in samples if odd(one))
        if ids:
            found.append(Gap(code, text, ids))
    return found


def _unnumbered(sample: Sample) -> bool:
    return bool(sample.variation_group) and sample.variation is None


def _odd_loop(sample: Sample) -> bool:
    start, end = sample.loop_start_s, sample.loop_end_s
    if start is None and end is None:
        return False
    return start is None or end is None or not 0.0 <= start < end <= sample.length_s + 1e-6


def _far_from_root(sample: Sample) -> bool:
    """Only of what follows the keys does it matter."""
    if not sample.follows_key or sample.root_note is None or not sample.fundamental_hz:
        return False
    sounded = 69.0 + 12.0 * float(np.log2(sample.fundamental_hz / 440.0))
    # Which octave is heard as the pitch is a matter of taste.
    off = (sounded - sample.root_note + 6.0) % 12.0 - 6.0
    return abs(off) >= 1.0
