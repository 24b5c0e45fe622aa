"""Care for many samples: names by template, loudness matched, silence trimmed, edits set.

What changes samples is planned first and shown; the same plan is then carried out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.samples.edits import (
    change_each,
    mark_changed,
    require_current,
    samples_for,
)
from nest_crate.catalogue.samples.measurement import measure_into
from nest_crate.catalogue.samples.name_templates import fill_template
from nest_crate.catalogue.work.progress import Progress, counted, unwatched
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs, true_peak_db
from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits, silence_around
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage import AudioStore

__all__ = ["LoudnessPlan", "match_loudness", "rename_samples", "set_edits", "trim_samples"]

_LONGEST_NAME = 120


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
    names, versions = {}, {one.id: one.version for one in samples}
    for number, sample in enumerate(samples, 1):
        name = " ".join(fill_template(template, sample, number).split())
        if not name or len(name) > _LONGEST_NAME:
            raise field_error(
                "template", f"{sample.name!r} would get a name of {len(name)} characters"
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
        as_read=versions,
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
    progress: Progress = unwatched,
) -> tuple[list[LoudnessPlan], str | None]:
    """Bring samples to one loudness by gain alone, as far as the true peak allows.

    The files stay as they are; the gain is one of the sample's edits.
    """
    plans, edits = [], {}
    samples = samples_for(session, account, sample_ids, "sample.edit")
    versions = {one.id: one.version for one in samples}
    for sample in counted(samples, progress):
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
    label = f"Matched to {target_lufs:g} LUFS"
    return plans, _apply_edits(session, store, account, edits, versions, label, progress)


def trim_samples(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    *,
    fade_in_s: float,
    fade_out_s: float,
    apply: bool,
    progress: Progress = unwatched,
) -> tuple[list[tuple[Sample, SoundEdits]], str | None]:
    """Leave out the silence before and behind, and set fades; the files stay as they are."""
    plans = []
    samples = samples_for(session, account, sample_ids, "sample.edit")
    versions = {one.id: one.version for one in samples}
    for sample in counted(samples, progress):
        signal, rate = decode_wav(store.get(sample.file_digest))
        start_s, end_s = silence_around(signal, rate)
        whole = end_s >= signal.shape[1] / rate - 1e-9
        own = SoundEdits.of(sample.edits)
        edits = SoundEdits(start_s, 0.0 if whole else end_s, fade_in_s, fade_out_s, own.gain_db)
        plans.append((sample, edits))
    if not apply:
        return plans, None
    wanted = {sample.id: edits for sample, edits in plans}
    return plans, _apply_edits(session, store, account, wanted, versions, "Trimmed", progress)


def set_edits(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    sample_id: int,
    edits: SoundEdits,
    *,
    base_version: int,
) -> tuple[str, int]:
    """Start, end, fades and gain of one sample that was read at ``base_version``; its figures are
    measured again. Answers the gesture to undo it by, and the version now.

    Raises
    ------
    StaleSave
        where someone changed them in between, with both; see ``change_sample``.
    """
    sample = samples_for(session, account, [sample_id], "sample.edit", lock=True)[0]
    signal, rate = decode_wav(store.get(sample.file_digest))
    length_s = signal.shape[1] / rate
    end_s = edits.end_s or length_s
    if not 0.0 <= edits.start_s < end_s <= length_s + 1e-6:
        raise field_error("end_s", f"the part must be within 0 to {length_s:.3f} s")
    require_current(session, sample, {"edits": edits.as_dict()}, base_version)
    label, versions = "Start, end, fades and gain", {sample_id: sample.version}
    gesture = _apply_edits(session, store, account, {sample_id: edits}, versions, label)
    return gesture, sample.version


def _apply_edits(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    edits: dict[int, SoundEdits],
    versions: dict[int, int],
    label: str,
    progress: Progress = unwatched,
) -> str:
    gesture, _ = change_each(
        session,
        account,
        list(edits),
        lambda sample: {"edits": edits[sample.id].as_dict()},
        label=label,
        as_read=versions,
    )
    for sample in counted(samples_for(session, account, list(edits)), progress):
        signal, rate = decode_wav(store.get(sample.file_digest))
        measure_into(sample, Audio(apply_edits(signal, rate, edits[sample.id]), rate))
    mark_changed(samples_for(session, account, list(edits)))
    return gesture
