"""A try-out as one file with what it uses, and back: sounds, samples, recordings."""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.samples.imports import ImportRules, import_sample
from nest_crate.catalogue.sounds.files import catalogue_recording
from nest_crate.catalogue.sounds.sounds import create_sound
from nest_crate.catalogue.tryouts.playing import Played
from nest_crate.catalogue.tryouts.tryouts import create_tryout
from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.core.tryout import TryOut, dump_tryout, load_tryout
from nest_crate.core.tryout.loading import MAX_TRYOUT_BYTES
from nest_crate.storage import AudioStore
from nest_crate.storage.archives import DAMAGED_ARCHIVE, zip_pieces
from nest_crate.storage.decoder import decode_file
from nest_crate.storage.unpacker import unpacked

__all__ = ["import_tryout", "tryout_archive"]

_DOCUMENT = "tryout.json"
_MOST_FILES = 3000


def tryout_archive(store: AudioStore, tryout: TryOut, played: Played) -> Iterator[bytes]:
    """The pieces of an archive: the document, sounds by key, samples as they are heard, and the
    recordings that the sounds use. What is missing is left out."""

    def files() -> Iterator[tuple[str, bytes]]:
        names = {f"{key}": one.name for key, one in sorted(played.samples.items())}
        whole = {"tryout": dump_tryout(tryout), "sample_names": names}
        yield _DOCUMENT, _text(whole)
        recordings: set[str] = set()
        for key, sound in sorted(played.sounds.items()):
            recordings |= recordings_in(sound.document)
            yield f"sounds/{key}.json", _text(sound.document)
        for identifier, sample in sorted(played.samples.items()):
            signal, rate = decode_wav(store.get(sample.digest))
            heard = apply_edits(signal, rate, SoundEdits.of(sample.edits))
            yield f"samples/{identifier}.wav", encode_wav(heard, rate, sample_format="float32")
        for digest in sorted(recordings):
            if store.exists(digest):
                yield f"recordings/{digest}.wav", store.get(digest)

    return zip_pieces(files())


def _text(value: Any) -> bytes:
    return f"{json.dumps(value, indent=1, ensure_ascii=False)}\n".encode()


def import_tryout(
    database: Database, store: AudioStore, account: CurrentAccount, library_id: int, file: Path
) -> int:
    """A try-out from its archive, with the sounds and samples that it uses put into the library;
    answers its id.

    Raises
    ------
    FormatError
        where it is no such archive, damaged, or a recording is not what it says.
    DocumentError
        where a document is not valid.
    """
    with database.session() as session:
        require_library(session, account, library_id, "tryout.edit")
        require_library(session, account, library_id, "sample.add")
        require_library(session, account, library_id, "sound.edit")
    whole, sounds, names = _documents_in(file)
    tryout = load_tryout(whole.get("tryout"))
    loaded = {key: load_sound(document) for key, document in sounds.items()}
    sample_names = whole.get("sample_names")
    titles = sample_names if isinstance(sample_names, dict) else {}
    wanted = [f"samples/{key}.wav" for key in _sample_keys(tryout)]
    digests = set().union(*(recordings_in(document) for document in sounds.values()), set())
    wanted += [f"recordings/{digest}.wav" for digest in sorted(digests)]
    with unpacked(file, [name for name in wanted if name in names]) as files:
        kept = {}
        for digest in sorted(digests):
            path = files.get(f"recordings/{digest}.wav")
            if path is None:
                continue
            with path.open("rb") as content:
                if hashlib.file_digest(content, "sha256").hexdigest() != digest:
                    raise FormatError(f"The recording {digest[:12]}… does not match its name")
            kept[digest] = (decode_file(path), path.read_bytes())
        samples = {}
        for key in _sample_keys(tryout):
            path = files.get(f"samples/{key}.wav")
            if path is not None:
                name = str(titles.get(key, "Sample"))[:120] or "Sample"
                samples[int(key)] = import_sample(
                    database,
                    store,
                    account,
                    library_id,
                    name=name,
                    path=path,
                    rules=ImportRules(once=True),
                ).sample_id
    for _, data in kept.values():
        store.put(data)
    with database.session() as session:
        for digest, (decoded, _) in kept.items():
            catalogue_recording(session, account, digest, decoded, tryout.name)
        made = {
            key: create_sound(session, account, library_id=library_id, document=document).id
            for key, document in loaded.items()
        }
        document = load_tryout(_with_new_keys(dump_tryout(tryout), made, samples))
        return create_tryout(session, account, library_id=library_id, document=document).id


def _sample_keys(tryout: TryOut) -> list[str]:
    found: dict[str, None] = {}
    for part in dump_tryout(tryout)["parts"]:
        plays = part["plays"]
        for one in plays.get("samples") or ([plays["sample"]] if "sample" in plays else []):
            found[f"{one}"] = None
    return list(found)


# A key that no thing ever has: what the archive did not hold is missing here as well.
_NOTHING = 2_000_000_000


def _with_new_keys(
    data: dict[str, Any], sounds: dict[str, int], samples: dict[int, int]
) -> dict[str, Any]:
    """The document with the keys that sounds and samples have here; each sound's own draft."""
    parts = []
    for part in data["parts"]:
        plays = dict(part["plays"])
        if plays["kind"] == "sound":
            revision = plays["revision"]
            key = f"{plays['sound']}" if revision is None else f"{plays['sound']}.{revision}"
            plays |= {"sound": sounds.get(key, _NOTHING), "revision": None}
        elif plays["kind"] == "group":
            plays["samples"] = [samples.get(one, _NOTHING) for one in plays["samples"]]
        else:
            plays["sample"] = samples.get(plays["sample"], _NOTHING)
        parts.append({**part, "plays": plays})
    return {**data, "parts": parts}


def _documents_in(file: Path) -> tuple[dict[str, Any], dict[str, Any], set[str]]:
    """The try-out's own text, the sounds by key, and the names of all files."""
    try:
        with zipfile.ZipFile(file) as archive:
            entries = archive.infolist()
            if len(entries) > _MOST_FILES:
                raise FormatError("The archive contains more than a try-out needs")
            sizes = {one.filename: one.file_size for one in entries}
            if _DOCUMENT not in sizes:
                raise FormatError(f"The archive contains no {_DOCUMENT}")
            texts = {
                name: size
                for name, size in sizes.items()
                if name == _DOCUMENT or (name.startswith("sounds/") and name.endswith(".json"))
            }
            if sum(texts.values()) > 8 * MAX_TRYOUT_BYTES:
                raise FormatError("The documents of this archive are too large")
            read = {name: json.loads(archive.read(name)) for name in texts}
    except (*DAMAGED_ARCHIVE, RecursionError) as error:
        raise FormatError("This file is not a try-out archive, or it is damaged") from error
    whole = read.pop(_DOCUMENT)
    if not isinstance(whole, dict):
        raise FormatError(f"{_DOCUMENT} contains no try-out")
    sounds = {name.removeprefix("sounds/").removesuffix(".json"): one for name, one in read.items()}
    return whole, sounds, set(sizes)
