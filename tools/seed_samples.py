"""Fills a library with made-up samples, for measuring how a large catalogue answers.

    NEST_CRATE_DATABASE_URL=... python tools/seed_samples.py --count 100000

The rows are as plausible as chance makes them, and share one short audio file; the features are
drawn around a few hundred kinds of sound, so that likeness has something to find.
"""

from __future__ import annotations

import argparse
from datetime import timedelta

import numpy as np
from sqlalchemy import insert

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Sample, utc_now
from nest_crate.catalogue.people.accounts import account_by_handle
from nest_crate.catalogue.people.libraries import create_library
from nest_crate.catalogue.people.vocabulary import load_vocabulary
from nest_crate.core.analysis.features.features import FEATURE_COUNT
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.units import note_name
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore

_FIRST = [
    "kiln",
    "brass",
    "moss",
    "lantern",
    "copper",
    "fern",
    "willow",
    "cistern",
    "amber",
    "cobble",
    "thistle",
    "bellows",
]
_SECOND = [
    "door",
    "latch",
    "vane",
    "pane",
    "gear",
    "valve",
    "root",
    "hinge",
    "wheel",
    "pod",
    "lamp",
    "spout",
    "ladder",
    "clock",
]
_TAGS = [
    "dry",
    "wet",
    "near",
    "far",
    "soft",
    "hard",
    "bright",
    "dark",
    "rusty",
    "hollow",
    "old",
    "new",
    "kitchen",
    "attic",
    "yard",
]
_KINDS = 300
_AT_ONCE = 2000


def seed(database: Database, store: AudioStore, count: int) -> int:
    """So many samples in a library of their own, owned by the demo's owner; answers its id."""
    chance = np.random.default_rng(11)
    digest = store.put(encode_wav(np.zeros((1, 480)), 48000, sample_format="float32"))
    vocabulary = load_vocabulary()
    pairs = [(c, s) for c, subs in vocabulary.categories.items() for s in subs]
    kinds = chance.normal(size=(_KINDS, FEATURE_COUNT)) * 2.0
    outline = bytes(chance.integers(0, 256, 320, dtype=np.uint8))
    with database.session() as session:
        account = account_by_handle(session, "demo")
        library_id = create_library(session, account, name=f"Attic of {count}").id
    now = utc_now() - timedelta(hours=1)
    for begin in range(0, count, _AT_ONCE):
        rows = []
        for n in range(begin, min(count, begin + _AT_ONCE)):
            kind = int(chance.integers(_KINDS))
            category, subcategory = pairs[kind % len(pairs)]
            hz = float(40.0 * 2.0 ** chance.uniform(0.0, 6.0)) if chance.random() < 0.7 else None
            note = None if hz is None else min(127, round(69 + 12 * np.log2(hz / 440.0)))
            vector = (kinds[kind] + chance.normal(size=FEATURE_COUNT) * 0.3).astype(np.float32)
            first, second = chance.choice(_FIRST), chance.choice(_SECOND)
            rows.append(
                {
                    "library_id": library_id,
                    "name": f"{first.title()} {second} {subcategory} {n % 997:03}",
                    "category": category,
                    "subcategory": subcategory,
                    "tags": [str(one) for one in chance.choice(_TAGS, 3, replace=False)],
                    "status": str(chance.choice(["draft", "in_review", "approved"])),
                    "file_digest": digest,
                    "length_s": float(10 ** chance.uniform(-1.5, 1.0)),
                    "channels": int(chance.integers(1, 3)),
                    "sample_rate": 48000,
                    "peak_db": -1.0,
                    "true_peak_db": -0.8,
                    "loudness_lufs": float(chance.normal(-18.0, 5.0)),
                    "fundamental_hz": hz,
                    "note": None if note is None else note_name(note),
                    "cents": None if note is None else 0.0,
                    "decay_s": float(10 ** chance.uniform(-2.0, 0.8)),
                    "brightness_hz": float(10 ** chance.uniform(2.0, 4.0)),
                    "noisiness": float(chance.beta(1, 6)),
                    "low_share_db": float(chance.uniform(-40.0, 0.0)),
                    "features": vector.tobytes(),
                    "outline": outline,
                    "created": now - timedelta(seconds=count - n),
                    "changed": now,
                    "created_by_id": account.id,
                }
            )
        with database.session() as session:
            session.execute(insert(Sample), rows)
    return library_id


def main() -> None:
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("--count", type=int, default=100_000)
    settings = Settings()
    database = Database(settings.database_url)
    count = parser.parse_args().count
    print("library", seed(database, AudioStore(settings.audio_url), count))


if __name__ == "__main__":
    main()
