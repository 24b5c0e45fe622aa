"""Documents of earlier versions, as they were kept, are read as the present ones."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.sound.document import SCHEMA_VERSION
from nest_crate.core.sound.upgrades import UPGRADES
from nest_crate.demo.sounds import SOUNDS_FOLDER

KEPT = sorted((Path(__file__).parent / "kept").glob("version-*/*.json"))


def test_every_version_has_its_upgrade_and_kept_documents():
    assert sorted(UPGRADES) == list(range(1, SCHEMA_VERSION))
    assert {path.parent.name for path in KEPT} == {f"version-{one}" for one in UPGRADES}


@pytest.mark.parametrize("path", KEPT, ids=[path.stem for path in KEPT])
def test_kept_document_is_that_of_today(path):
    old = json.loads(path.read_text())
    upgraded = load_sound(old)
    today = load_sound(json.loads((SOUNDS_FOLDER / path.name).read_text()))
    assert dump_sound(upgraded)["schema_version"] == SCHEMA_VERSION
    for name in ("layers", "movers", "main", "buses"):
        assert getattr(upgraded, name) == getattr(today, name)
    settings = RenderSettings(length_s=0.5)
    np.testing.assert_array_equal(
        render(upgraded, settings=settings).samples, render(today, settings=settings).samples
    )


def test_upgrading_leaves_what_it_was_given():
    old = json.loads(KEPT[0].read_text())
    before = json.dumps(old)
    load_sound(old)
    assert json.dumps(old) == before
