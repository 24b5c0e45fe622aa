"""Releases: chosen samples frozen under a number, never changed afterwards."""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Select, func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound, NotPossible
from nest_crate.catalogue.db.models import Sample, utc_now
from nest_crate.catalogue.db.shared_models import (
    Release,
    ReleaseFormat,
    ReleaseFormatItem,
    ReleaseItem,
)
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import lock_library, require_library
from nest_crate.catalogue.releases.exports import (
    FilePlan,
    SaidBeside,
    file_of,
    paths_of,
    said_beside,
)
from nest_crate.catalogue.releases.manifests import Demo, demo_row, manifest_row
from nest_crate.catalogue.samples.name_templates import clean_path
from nest_crate.catalogue.samples.takes import WITH_LINEAGE, WITHOUT_PICTURES
from nest_crate.catalogue.work.progress import Progress, counted, unwatched
from nest_crate.storage import AudioStore

__all__ = [
    "Change",
    "changes_between",
    "changes_since_last",
    "make_release",
    "release_by_number",
    "release_files",
    "release_holds",
    "release_manifest",
    "release_sizes",
    "releases_of",
]

_NUMBER = re.compile(r"^(0|[1-9]\d{0,4})\.(0|[1-9]\d{0,4})\.(0|[1-9]\d{0,4})$")
_MOST = 50_000
# Each file with original rate and width, as little changed as a format for all allows.
_AS_IT_IS = FilePlan(file_format="wav24", sample_rate=0)
# A difference here counts as a change of details, not of the audio.
_SAID = ("category", "subcategory", "tags", "description", "author", "licence", "root_note")


@dataclass(frozen=True)
class Change:
    """What became of one sample from a release to another: added, removed, sound (the audio
    differs), words (the details differ) or renamed. Items are None where it is not in one."""

    kind: str
    sample_id: int
    before: dict[str, Any] | None
    after: dict[str, Any] | None


def _number_key(number: str) -> tuple[int, ...]:
    return tuple(int(part) for part in number.split("."))


def releases_of(session: Session, account: CurrentAccount, library_id: int) -> Sequence[Release]:
    """The releases of a library, the highest number first."""
    require_library(session, account, library_id)
    query = (
        select(Release)
        .where(Release.library_id == library_id)
        .options(joinedload(Release.created_by))
    )
    return sorted(session.scalars(query), key=lambda one: _number_key(one.number), reverse=True)


def release_sizes(session: Session, releases: Sequence[Release]) -> dict[int, tuple[int, int]]:
    """How many files and how many bytes each release holds, by its id."""
    query = (
        select(ReleaseItem.release_id, func.count(), func.sum(ReleaseItem.size_bytes))
        .where(ReleaseItem.release_id.in_([one.id for one in releases]))
        .group_by(ReleaseItem.release_id)
    )
    return {key: (count, int(total)) for key, count, total in session.execute(query)}


def release_holds(session: Session, release: Release, digest: str) -> bool:
    """Whether a release holds a file."""
    query = select(ReleaseItem.position).where(
        ReleaseItem.release_id == release.id, ReleaseItem.file_digest == digest
    )
    if session.scalar(query.limit(1)) is not None:
        return True
    formats = (
        select(ReleaseFormatItem.position)
        .join(ReleaseFormat, ReleaseFormat.id == ReleaseFormatItem.format_id)
        .where(ReleaseFormat.release_id == release.id, ReleaseFormatItem.file_digest == digest)
    )
    return session.scalar(formats.limit(1)) is not None


def release_by_number(
    session: Session, account: CurrentAccount, library_id: int, number: str
) -> Release:
    """A release of a library; ``latest`` names the one with the highest number."""
    releases = releases_of(session, account, library_id)
    for release in releases:
        if number in (release.number, "latest"):
            return release
    library = require_library(session, account, library_id)
    if not releases:
        raise NotFound(f"{library.name} has no release yet")
    raise NotFound(f"{library.name} has no release {number}; the last is {releases[0].number}")


def _in_order(library_id: int) -> Select[Sample]:
    """The samples of a library by name, with all that a manifest tells of them."""
    here = select(Sample).where(Sample.library_id == library_id, Sample.deleted.is_(None))
    return here.options(*WITH_LINEAGE, *WITHOUT_PICTURES).order_by(Sample.name, Sample.id)


def _chosen(
    session: Session,
    account: CurrentAccount,
    library_id: int,
    sample_ids: Sequence[int] | None,
) -> list[Sample]:
    """The samples to release: those named, or all that are approved."""
    query = _in_order(library_id)
    if sample_ids is None:
        query = query.where(Sample.status == "approved")
    else:
        query = query.where(Sample.id.in_(list(sample_ids)))
    samples = list(session.scalars(query))
    missing = set(sample_ids or ()) - {one.id for one in samples}
    if missing:
        raise NotFound(f"There is no sample {min(missing)} in this library")
    open_ones = [one.name for one in samples if one.status != "approved"]
    if open_ones:
        raise NotPossible(
            f"Only approved samples can be released; {open_ones[0]!r} is not approved"
            + (f", nor are {len(open_ones) - 1} more" if len(open_ones) > 1 else "")
        )
    if not samples:
        raise NotPossible("No sample of this library is approved yet")
    if len(samples) > _MOST:
        raise NotPossible(f"A release holds at most {_MOST} samples")
    return samples


def make_release(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    library_id: int,
    *,
    number: str,
    note: str,
    template: str = "{category}/{name}",
    sample_ids: Sequence[int] | None = None,
    demos: Sequence[Demo] = (),
    progress: Progress = unwatched,
) -> int:
    """Freeze samples under a number; answers the release's id.

    Every file is made and stored before the rows, which come all at once: whatever dies in
    between leaves no release. What was changed while the files were made is refused.

    Raises
    ------
    DocumentError
        at ``number``: no number, taken, or not above the last one.
    """
    with database.session() as session:
        require_library(session, account, library_id, "release.make")
        _require_number(number)
        _require_higher(session, account, library_id, number)
        samples = _chosen(session, account, library_id, sample_ids)
        versions = {one.id: one.version for one in samples}
        beside = said_beside(session, samples)
    paths = paths_of(samples, template)
    rows = []
    for sample in counted(samples, progress):
        data = file_of(store, sample, _AS_IT_IS, beside.get(sample.id, SaidBeside()))
        path, digest, size = paths[sample.id], store.put(data), len(data)
        rows.append((path, digest, size, manifest_row(sample, path, digest, size)))
    rows += _demo_rows(store, demos)
    with database.session() as session:
        lock_library(session, library_id)
        require_library(session, account, library_id, "release.make")
        _require_higher(session, account, library_id, number)
        _require_unchanged(session, versions)
        release = Release(
            library_id=library_id,
            number=number,
            note=note.strip(),
            manifest_digest=_digest(number, note.strip(), [row for *_, row in rows]),
            created_by_id=account.id,
            created=utc_now(),
        )
        session.add(release)
        try:
            session.flush()
        except IntegrityError as error:
            raise field_error("number", f"{number} was released in the meantime") from error
        session.add_all(
            ReleaseItem(
                release_id=release.id,
                position=position,
                sample_id=row["id"],
                path=path,
                file_digest=digest,
                size_bytes=size,
                facts=row,
            )
            for position, (path, digest, size, row) in enumerate(rows)
        )
        session.flush()
        return release.id


def _demo_rows(
    store: AudioStore, demos: Sequence[Demo]
) -> list[tuple[str, str, int, dict[str, Any]]]:
    """The mixes of try-outs in a folder of their own, no two of one name."""
    taken: set[str] = set()
    found = []
    for demo in demos:
        plain = clean_path(demo.name).replace("/", "_")
        path, turn = f"demos/{plain}.wav", 1
        while path.lower() in taken:
            turn += 1
            path = f"demos/{plain}_{turn}.wav"
        taken.add(path.lower())
        digest = store.put(demo.data)
        found.append((path, digest, len(demo.data), demo_row(demo, path, digest)))
    return found


def _require_number(number: str) -> None:
    if not _NUMBER.match(number):
        raise field_error("number", "use a number of three parts, such as 1.0.0")


def _require_higher(
    session: Session, account: CurrentAccount, library_id: int, number: str
) -> None:
    releases = releases_of(session, account, library_id)
    if releases and _number_key(number) <= _number_key(releases[0].number):
        raise field_error("number", f"must be higher than {releases[0].number}, the last release")


def _require_unchanged(session: Session, versions: dict[int, int]) -> None:
    query = select(Sample.id, Sample.version, Sample.name).where(Sample.id.in_(list(versions)))
    for identifier, version, name in session.execute(query.with_for_update()):
        if versions[identifier] != version:
            raise NotPossible(f"{name!r} changed while the release was made; release again")


def _digest(number: str, note: str, rows: list[dict[str, Any]]) -> str:
    text = json.dumps([number, note, rows], sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def release_manifest(release: Release, library_name: str) -> dict[str, Any]:
    """All that a program needs to fetch and to verify a release."""
    return {
        "format": "nest-crate-release",
        "version": 1,
        "library": library_name,
        "number": release.number,
        "note": release.note,
        "created": f"{release.created.isoformat()}Z",
        "digest": release.manifest_digest,
        "files": [item.facts for item in release.items],
    }


def release_files(
    store: AudioStore, release: Release, library_name: str
) -> Iterator[tuple[str, bytes]]:
    """The files of a release with its manifest, one after the other."""
    for item in release.items:
        yield item.path, store.get(item.file_digest)
    text = json.dumps(release_manifest(release, library_name), indent=1, ensure_ascii=False)
    yield "manifest.json", f"{text}\n".encode()


def changes_between(
    before: Sequence[dict[str, Any]], after: Sequence[dict[str, Any]]
) -> list[Change]:
    """What became of each sample, those that changed alone; a sample may change in two ways."""
    old = {row["id"]: row for row in before}
    new = {row["id"]: row for row in after}
    found = [Change("added", key, None, new[key]) for key in new if key not in old]
    found += [Change("removed", key, old[key], None) for key in old if key not in new]
    for key in new:
        if key not in old:
            continue
        a, b = old[key], new[key]
        if a["name"] != b["name"] or a["path"] != b["path"]:
            found.append(Change("renamed", key, a, b))
        if a["audio"] != b["audio"]:
            found.append(Change("sound", key, a, b))
        elif any(a[name] != b[name] for name in _SAID):
            found.append(Change("words", key, a, b))
    return found


def changes_since_last(
    session: Session,
    account: CurrentAccount,
    library_id: int,
    *,
    template: str = "{category}/{name}",
) -> tuple[str | None, list[Change]]:
    """What a release of all approved samples would change re the last one, and its number."""
    releases = releases_of(session, account, library_id)
    samples = list(session.scalars(_in_order(library_id).where(Sample.status == "approved")))
    paths = paths_of(samples, template)
    after = [manifest_row(one, paths[one.id], "", 0) for one in samples]
    items = releases[0].items if releases else []
    # Demos are chosen anew for each release.
    before = [item.facts for item in items if item.sample_id > 0]
    return (releases[0].number if releases else None), changes_between(before, after)
