import copy
import json
import math

import pytest

from nest_crate.core.errors import DocumentError, DocumentTooLarge
from nest_crate.core.sound import dump_sound, load_hit, load_sound, load_sound_text
from nest_crate.core.sound.kinds import KINDS, declarations
from nest_crate.core.sound.schema import sound_schema


def document(**changes):
    """A small valid document with values put at dotted paths."""
    data = {
        "name": "Test",
        "layers": [
            {"id": "a", "name": "A", "source": {"kind": "tone"}},
            {"id": "b", "name": "B", "source": {"kind": "noise"}},
        ],
        "main": {"chain": [{"id": "f", "kind": "filter"}, {"id": "d", "kind": "drive"}]},
    }
    for path, value in changes.items():
        node = data
        *parents, last = path.split("__")
        for key in parents:
            node = node[int(key)] if isinstance(node, list) else node.setdefault(key, {})
        node[int(last) if isinstance(node, list) else last] = value
    return data


BAD = [
    ("layers__0__source", {"kind": "gong"}, "layers.0.source.kind", "union_tag_invalid"),
    ("layers__0__source__shape", 3.5, "layers.0.source.shape", "less_than_equal"),
    ("layers__0__level_db", math.nan, "layers.0.level_db", "finite_number"),
    ("layers__0__level_db", math.inf, "layers.0.level_db", "finite_number"),
    ("layers__0__level_db", "loud", "layers.0.level_db", "float_parsing"),
    ("layers__0__colour", "red", "layers.0.colour", "extra_forbidden"),
    ("layers__0__id", "A b", "layers.0.id", "string_pattern_mismatch"),
    ("layers__1__id", "a", "", "value_error"),
    ("layers__0__level", {"points": []}, "layers.0.level.points", "too_short"),
    ("main__chain__0__cutoff_hz", 5, "main.chain.0.cutoff_hz", "greater_than_equal"),
    ("main__chain__0__kind", "fuzz", "main.chain.0.kind", "union_tag_invalid"),
    ("hit__note", 128, "hit.note", "less_than_equal"),
    ("name", "", "name", "string_too_short"),
    ("schema_version", 99, "schema_version", "version"),
    ("schema_version", True, "schema_version", "version"),
    ("layers", [{"id": f"l{n}", "name": "L"} for n in range(9)], "layers", "too_long"),
]


@pytest.mark.parametrize(("change", "value", "path", "code"), BAD)
def test_what_is_wrong_is_named_with_its_path(change, value, path, code):
    with pytest.raises(DocumentError) as caught:
        load_sound(document(**{change: value}))
    assert (path, code) in [(p.path, p.code) for p in caught.value.problems]


@pytest.mark.parametrize(
    ("level", "words"),
    [
        ([{"time_s": 0.2}, {"time_s": 0.1}], "back in time"),
        ([{"time_s": 0, "value": 1.5}], "amplitudes from 0 to 1"),
    ],
)
def test_level_curve_rules(level, words):
    with pytest.raises(DocumentError, match=words):
        load_sound(document(layers__0__level={"points": level}))


@pytest.mark.parametrize("loop", [{"start": 1, "end": 1}, {"start": 0, "end": 5}])
def test_loop_must_lie_on_points(loop):
    points = [{"time_s": 0}, {"time_s": 1}]
    with pytest.raises(DocumentError, match="loop"):
        load_sound(document(layers__0__level={"points": points, "loop": loop}))


def test_loop_without_length_is_refused():
    points = [{"time_s": 1}, {"time_s": 1}]
    loop = {"start": 0, "end": 1}
    with pytest.raises(DocumentError, match="no length"):
        load_sound(document(layers__0__level={"points": points, "loop": loop}))


@pytest.mark.parametrize("text", ["", "[]", "{", '"x"', "null", "[" * 100_000])
def test_text_that_is_no_document_is_refused(text):
    with pytest.raises(DocumentError, match=r"is not JSON|is a JSON object"):
        load_sound_text(text)


def test_document_over_a_megabyte_is_refused():
    with pytest.raises(DocumentTooLarge, match="bytes"):
        load_sound(document(name="x" * 1_000_001))
    with pytest.raises(DocumentTooLarge, match="1,000,001 bytes"):
        load_sound_text(" " * 1_000_001)


def test_hit_problems_carry_their_path():
    with pytest.raises(DocumentError) as caught:
        load_hit({"velocity": 0})
    assert caught.value.problems[0].path == "hit.velocity"
    with pytest.raises(DocumentError, match="a hit is a JSON object"):
        load_hit([])


def test_what_is_dumped_loads_as_the_same_sound():
    sound = load_sound(document())
    again = load_sound(json.loads(json.dumps(dump_sound(sound))))
    assert again == sound


def test_loading_leaves_the_given_data_alone():
    data = document()
    before = copy.deepcopy(data)
    load_sound(data)
    assert data == before


def test_every_number_is_declared_with_unit_range_and_scale():
    parts = declarations()
    flat = [parts["layer"], parts["hit"], parts["main"]]
    flat += [*parts["sources"].values(), *parts["processors"].values()]
    for parameter in (p for part in flat for p in part["parameters"]):
        assert parameter["label"]
        assert parameter["minimum"] <= parameter["default"] <= parameter["maximum"]
        assert parameter["step"] > 0
        if parameter["scale"] == "log":
            assert parameter["minimum"] > 0


def test_schema_carries_units_and_all_kinds():
    schema = sound_schema()
    assert schema["$defs"]["FilterProcessor"]["properties"]["cutoff_hz"]["unit"] == "Hz"
    kinds = {
        d["properties"]["kind"]["const"]
        for d in schema["$defs"].values()
        if "kind" in d.get("properties", {})
    }
    assert kinds == KINDS
