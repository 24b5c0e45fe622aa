"""Names read by a template, the other way round than they are made."""

import time

import pytest

from nest_crate.catalogue.samples.name_patterns import PATTERN_FIELDS, name_pattern
from nest_crate.catalogue.samples.name_templates import TEMPLATE_FIELDS
from nest_crate.core.errors import DocumentError


@pytest.mark.parametrize(
    ("template", "path", "wanted"),
    [
        (
            "{category}_{name}_{variation}",
            "drum_kiln_kick_03",
            {"category": "drum", "name": "kiln kick", "variation": 3},
        ),
        (
            "{category}/{subcategory}/{name} {note}",
            "Tonal/Bell/Moth bell F#4",
            {"category": "tonal", "subcategory": "bell", "name": "Moth bell", "root_note": 66},
        ),
        (
            "{name:snake}-{tempo}bpm",
            "deep/er/rake_loop-96.5BPM",
            {"name": "rake loop", "tempo_bpm": 96.5},
        ),
        (
            "{author} - {name}",
            "Wren Halloway - a - b",
            {"author": "Wren Halloway", "name": "a - b"},
        ),
        (
            "{group}.{variation:02}",
            "rain.on.tin.12",
            {"variation_group": "rain.on.tin", "variation": 12},
        ),
        ("{number}_{tag}_{name}", "001_wet_Gate", {"tags": ["wet"], "name": "Gate"}),
        ("x{{y}}{name}", "X{y}tick", {"name": "tick"}),
        ("{category}_{name}", "no separator", None),
        ("{category}/{name}", "name alone", None),
        ("{name}_{variation}", "kick_x", None),
        ("{name}_{note}", "kick_H9", None),
        ("{name}", "x" * 500, None),
    ],
)
def test_what_is_read(template, path, wanted):
    assert name_pattern(template).read(path) == wanted


@pytest.mark.parametrize(
    ("template", "words"),
    [
        ("plain", "at least one"),
        ("{nothing}", r"there is no \{nothing\}"),
        ("{name}{variation}", "put something between"),
        ("{name}_{name}", "twice"),
        ("{name", "not closed"),
        ("{name!r}", "there is no"),
        ("{name}" + "x" * 200, "at most 200"),
        ("_".join(f"{{{one}}}" for one in PATTERN_FIELDS), "at most 8"),
    ],
)
def test_what_cannot_be_read_says_why(template, words):
    with pytest.raises(DocumentError, match=words) as refused:
        name_pattern(template)
    assert refused.value.problems[0].path == "template"


def test_long_names_of_separators_alone_take_no_time():
    pattern = name_pattern("{category}_{group}_{name}_{tag}_{author}_{subcategory}x{variation}")
    began = time.perf_counter()
    assert pattern.read("_" * 400) is None
    assert pattern.read("a_" * 199 + "!") is None
    assert time.perf_counter() - began < 2.0


def test_templates_read_what_templates_make():
    shared = set(PATTERN_FIELDS) & set(TEMPLATE_FIELDS)
    assert {"name", "category", "subcategory", "group", "variation", "note", "tempo"} <= shared
