"""Lists of exported files: what each is, its sum, and its sample's details."""

from __future__ import annotations

import csv
import hashlib
import io
import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from nest_crate import __version__
from nest_crate.catalogue.db.models import Sample

__all__ = ["Demo", "ExportedFile", "demo_row", "instrument_row", "manifest_row", "manifests"]


@dataclass(frozen=True)
class ExportedFile:
    """A file of an export, and the sample that it is of; None for lists."""

    path: str
    data: bytes
    sample: Sample | None = None

    @property
    def digest(self) -> str:
        return hashlib.sha256(self.data).hexdigest()


@dataclass(frozen=True)
class Demo:
    """The mix of a try-out as a file of a release."""

    tryout_id: int
    name: str
    data: bytes
    length_s: float
    tempo_bpm: float
    loudness_lufs: float
    true_peak_db: float


def manifest_row(sample: Sample, path: str, digest: str, size: int) -> dict[str, Any]:
    """One file of a manifest: path, sum, and the sample's details."""
    take = sample.take
    return {
        "path": path,
        "sha256": digest,
        "bytes": size,
        "id": sample.id,
        "name": sample.name,
        "category": sample.category,
        "subcategory": sample.subcategory,
        "tags": list(sample.tags),
        "description": sample.description,
        "author": sample.author,
        "licence": sample.licence,
        "length_s": round(sample.length_s, 6),
        "note": sample.note,
        "root_note": sample.root_note,
        "tempo_bpm": sample.tempo_bpm,
        "loudness_lufs": round(sample.loudness_lufs, 2),
        "true_peak_db": round(sample.true_peak_db, 2),
        "variation_group": sample.variation_group,
        "variation": sample.variation,
        "follows_key": bool(sample.follows_key),
        "loop_start_s": sample.loop_start_s,
        "loop_end_s": sample.loop_end_s,
        "sound_id": take.revision.sound_id if take else None,
        "sound_revision": take.revision.number if take else None,
        # What is heard, however it is written: the stored file with its edits.
        "audio": f"{sample.file_digest[:32]}{_edits_key(sample)}",
    }


# As in the row of a sample, in its order.
_NO_DETAILS: dict[str, Any] = {
    "id": 0,
    "name": "",
    "category": "",
    "subcategory": "",
    "tags": [],
    "description": "",
    "author": "",
    "licence": "",
    "length_s": None,
    "note": None,
    "root_note": None,
    "tempo_bpm": None,
    "loudness_lufs": None,
    "true_peak_db": None,
    "variation_group": "",
    "variation": None,
    "follows_key": False,
    "loop_start_s": None,
    "loop_end_s": None,
    "sound_id": None,
    "sound_revision": None,
    "audio": "",
}


def demo_row(demo: Demo, path: str, digest: str) -> dict[str, Any]:
    """One mix of a try-out in a manifest; its id is below 0, for it is no sample."""
    head = {"path": path, "sha256": digest, "bytes": len(demo.data)}
    return {
        **head,
        **_NO_DETAILS,
        "id": -demo.tryout_id,
        "name": demo.name,
        "category": "demo",
        "tags": ["demo"],
        "description": "Mix of a try-out",
        "length_s": round(demo.length_s, 6),
        "tempo_bpm": demo.tempo_bpm,
        "loudness_lufs": round(demo.loudness_lufs, 2),
        "true_peak_db": round(demo.true_peak_db, 2),
        "audio": digest[:32],
    }


def instrument_row(name: str, path: str, digest: str, size: int) -> dict[str, Any]:
    """One instrument (SFZ) in a manifest; its id is 0, for it is no sample."""
    head = {"path": path, "sha256": digest, "bytes": size}
    return {**head, **_NO_DETAILS, "name": name, "category": "instrument", "tags": ["sfz"]}


def _edits_key(sample: Sample) -> str:
    """Nothing where a sample has no edits, else a digest of them."""
    if not sample.edits:
        return ""
    text = json.dumps(sample.edits, sort_keys=True)
    return f"-{hashlib.sha256(text.encode()).hexdigest()[:16]}"


def manifests(rows: list[dict[str, Any]], wanted: str) -> Iterator[ExportedFile]:
    """A list of all files as CSV, as JSON, or both."""
    if wanted in ("json", "both"):
        text = json.dumps(
            {"made_by": f"Nest Crate {__version__}", "files": rows}, indent=1, ensure_ascii=False
        )
        yield ExportedFile("manifest.json", f"{text}\n".encode())
    if wanted in ("csv", "both") and rows:
        out = io.StringIO()
        # Lines end as RFC 4180 says; what holds either of the two signs is then put in quotes.
        table = csv.writer(out, lineterminator="\r\n")
        table.writerow(rows[0])
        for row in rows:
            table.writerow([_cell(value) for value in row.values()])
        yield ExportedFile("manifest.csv", out.getvalue().encode())


def _cell(value: Any) -> Any:
    if isinstance(value, list):
        value = "; ".join(value)
    # A table program takes what begins so for a formula; an apostrophe keeps it a text.
    if isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t", "\r")):
        return f"'{value}"
    return value
