"""The index against plain loops over the rows, and words against a plain definition."""

from __future__ import annotations

import math
import random
from datetime import timedelta
from functools import cache
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import select
from sqlalchemy.orm import make_transient

from nest_crate.catalogue.db.models import Sample, utc_now
from nest_crate.catalogue.search import SampleIndex, SampleQuery
from nest_crate.catalogue.search.words import edit_distance, likely_words, words_of
from nest_crate.core.analysis.features.features import FEATURE_COUNT

WORDS = ["kiln", "door", "kick", "bell", "brass", "latch", "hiss", "pollen"]
CATEGORIES = ["drum", "tonal", "machine"]
TAGS = ["dry", "low", "far", "old"]


def plain_distance(a, b):
    """Restricted Damerau distance as it is defined, by recursion."""

    @cache
    def far(i, j):
        if i == 0 or j == 0:
            return i + j
        found = min(
            far(i - 1, j) + 1, far(i, j - 1) + 1, far(i - 1, j - 1) + (a[i - 1] != b[j - 1])
        )
        if i > 1 and j > 1 and a[i - 1] == b[j - 2] and a[i - 2] == b[j - 1]:
            found = min(found, far(i - 2, j - 2) + 1)
        return found

    return far(len(a), len(b))


letters = st.text(alphabet="abcd", max_size=7)


class TestWords:
    @given(letters, letters, st.integers(0, 3))
    @settings(max_examples=300, deadline=None)
    def test_distance_is_that_of_the_definition_up_to_its_limit(self, a, b, most):
        assert edit_distance(a, b, most) == min(plain_distance(a, b), most + 1)

    @pytest.mark.parametrize(
        ("text", "found"),
        [
            ("Kiln door_kick-02", ["kiln", "door", "kick", "02"]),
            ("C#2 Ümlaut, été", ["c#2", "umlaut", "ete"]),
            ("  ", []),
        ],
    )
    def test_words_are_small_and_without_accents(self, text, found):
        assert words_of(text) == found

    @pytest.mark.parametrize(
        ("typed", "found"),
        [
            ("kick", {"kick"}),
            ("la", {"latch", "lantern"}),
            ("ltch", {"latch"}),
            ("lantrn", {"lantern"}),
            ("lnatenr", {"lantern"}),
            ("kik", set()),
            ("zzzz", set()),
        ],
    )
    def test_typos_are_forgiven_only_where_nothing_begins_so(self, typed, found):
        assert set(likely_words(typed, ["kick", "latch", "lantern", "bell"])) == found

    def test_an_exact_word_fits_best_and_a_typo_least(self):
        fits = [
            likely_words(typed, ["lantern"])["lantern"]
            for typed in ("lantern", "lanter", "lantenr")
        ]
        assert fits == sorted(fits, reverse=True)


@pytest.fixture
def filled(store):
    """Three hundred samples drawn by chance, and an index of them."""
    chance = random.Random(3)
    rows = []
    with store.database.session() as session:
        for n in range(300):
            sample = Sample(
                library_id=store.library_id,
                name=f"{chance.choice(WORDS).title()} {chance.choice(WORDS)} {n:03}",
                category=chance.choice(["", *CATEGORIES]),
                subcategory="",
                tags=sorted(chance.sample(TAGS, chance.randint(0, 3))),
                description=chance.choice(["", "for the greenhouse", "an old brass one"]),
                status=chance.choice(["draft", "approved"]),
                file_digest="0" * 64,
                length_s=10 ** chance.uniform(-2, 1),
                channels=chance.choice([1, 2]),
                sample_rate=48000,
                peak_db=-1.0,
                true_peak_db=-1.0,
                loudness_lufs=chance.uniform(-40, -5),
                fundamental_hz=chance.choice([None, 55.0, 440.0]),
                note=chance.choice([None, "A1", "A4"]),
                several_notes=n % 7 == 0,
                brightness_hz=10 ** chance.uniform(2, 4),
                decay_s=10 ** chance.uniform(-2, 0),
                noisiness=chance.random(),
                low_share_db=chance.uniform(-30, 0),
                features=np.random.default_rng(n)
                .normal(size=FEATURE_COUNT)
                .astype(np.float32)
                .tobytes(),
                outline=b"",
                deleted=utc_now() if chance.random() < 0.1 else None,
                created_by_id=store.account.id,
            )
            session.add(sample)
            rows.append(sample)
        session.flush()
    index = SampleIndex()
    with store.database.session() as session:
        assert index.refresh(session) == 300
    return store, index, rows


def noted(row):
    """What the facet of notes counts a row as."""
    return "several" if row.several_notes else row.note


def fits(row, query):
    """The definition of a query, for one row at a time; its words without typos."""
    said = {
        *words_of(row.name),
        *words_of(f"{row.category} {' '.join(row.tags)}"),
        *words_of(row.description),
    }
    values = {
        "length_s": row.length_s,
        "root_hz": row.fundamental_hz,
        "brightness_hz": row.brightness_hz,
        "loudness_lufs": row.loudness_lufs,
    }
    return (
        (row.deleted is not None) == query.binned
        and all(any(one.startswith(word) for one in said) for word in words_of(query.words))
        and (not query.categories or row.category in query.categories)
        and (not query.statuses or row.status in query.statuses)
        and (not query.channels or row.channels in query.channels)
        and (not query.notes or noted(row) in query.notes)
        and all(tag in row.tags for tag in query.tags)
        and all(
            values[name] is not None
            and (low is None or values[name] >= low)
            and (high is None or values[name] <= high)
            for name, (low, high) in query.ranges.items()
        )
    )


def drawn_query(chance):
    some = lambda values: chance.sample(values, chance.randint(0, 2))  # noqa: E731
    ranges = {}
    if chance.random() < 0.5:
        ranges["length_s"] = (0.05, chance.choice([None, 2.0]))
    if chance.random() < 0.3:
        ranges["root_hz"] = (None, 100.0)
    if chance.random() < 0.3:
        ranges["loudness_lufs"] = (-30.0, -10.0)
    return SampleQuery(
        words=" ".join(chance.sample([*WORDS, "gree", "bra"], chance.randint(0, 2))),
        categories=some(CATEGORIES),
        statuses=some(["draft", "approved"]),
        channels=chance.choice([[], [1], [2]]),
        notes=chance.choice([[], ["A1"], ["several"]]),
        tags=some(TAGS),
        ranges=ranges,
        binned=chance.random() < 0.2,
    )


def test_searches_find_what_the_definition_says_and_count_it(filled):
    store, index, rows = filled
    chance = random.Random(4)
    found_any = 0
    for _ in range(200):
        query = drawn_query(chance)
        wanted = {row.id for row in rows if fits(row, query)}
        found = index.search(query, [store.library_id], limit=200)
        assert found.total == len(wanted)
        assert set(found.ids) == wanted if len(wanted) <= 200 else True
        assert index.ids(query, [store.library_id]) == found.ids[:200] or len(wanted) > 200
        found_any += bool(wanted)
        without = query.model_copy(update={"categories": []})
        counts = {
            name: sum(fits(row, without) and row.category == name for row in rows)
            for name in CATEGORIES
        }
        assert found.choices["category"] == {key: n for key, n in counts.items() if n}
        lengths = [row.length_s for row in rows if fits(row, _without_range(query, "length_s"))]
        if lengths:
            assert found.ranges["length_s"].low == pytest.approx(min(lengths), rel=1e-5)
            assert sum(found.ranges["length_s"].counts) == len(lengths)
    assert found_any > 80


def _without_range(query, name):
    ranges = {key: value for key, value in query.ranges.items() if key != name}
    return query.model_copy(update={"ranges": ranges})


@pytest.mark.parametrize("sort", ["name", "newest", "length_s", "loudness_lufs"])
@pytest.mark.parametrize("descending", [False, True])
def test_order_is_that_of_the_values(filled, sort, descending):
    store, index, rows = filled
    query = SampleQuery(sort=sort, descending=descending)
    found = index.search(query, [store.library_id], limit=300).ids
    keys = {
        "name": lambda row: row.name.lower(),
        "newest": lambda row: -row.created.timestamp(),
        "length_s": lambda row: row.length_s,
        "loudness_lufs": lambda row: row.loudness_lufs,
    }
    by_id = {row.id: keys[sort](row) for row in rows}
    values = [by_id[one] for one in found]
    assert values == sorted(values, reverse=descending) or (
        sort not in ("name", "newest")
        and all(
            (a >= b) if descending else (a <= b) or math.isclose(a, b, rel_tol=1e-6)
            for a, b in pairwise(values)
        )
    )


def test_likeness_is_the_distance_of_the_vectors(filled):
    store, index, rows = filled
    here = [row for row in rows if row.deleted is None]
    vectors = np.stack([np.frombuffer(row.features, np.float32) for row in here])
    wanted = here[7]
    far = np.linalg.norm(vectors - vectors[7], axis=1)
    expected = [here[n].id for n in np.argsort(far, kind="stable")]
    found = index.search(SampleQuery(like=wanted.id), [store.library_id], limit=300).ids
    assert found == expected


def test_a_sample_is_the_nearest_to_itself_also_beside_its_like(filled):
    store, index, rows = filled
    pair = [row.id for row in rows if row.deleted is None][3:5]
    with store.database.session() as session:
        first = session.get(Sample, pair[0])
        session.get(Sample, pair[1]).features = first.features
        for one in pair:
            session.get(Sample, one).changed = utc_now()
    with store.database.session() as session:
        index.refresh(session)
    for limit in (5, 300):
        for wanted, other in (pair, pair[::-1]):
            found = index.search(SampleQuery(like=wanted), [store.library_id], limit=limit).ids
            assert found[:2] == [wanted, other]


@pytest.mark.parametrize(
    "query",
    [
        SampleQuery(),
        SampleQuery(words="kiln"),
        SampleQuery(sort="name", descending=True),
        SampleQuery(sort="rating", descending=True),
        SampleQuery(sort="length_s"),
        "like",
    ],
)
def test_pages_one_after_the_other_are_the_whole_list(filled, query):
    store, index, rows = filled
    if query == "like":
        # Many that lie at the same distance: they have one order nevertheless.
        with store.database.session() as session:
            for row in rows[::3]:
                kept = session.get(Sample, row.id)
                kept.features, kept.changed = rows[0].features, utc_now()
        with store.database.session() as session:
            index.refresh(session)
        query = SampleQuery(like=rows[0].id)
    whole = index.search(query, [store.library_id], limit=300).ids
    size = 7
    pages = [
        index.search(query, [store.library_id], offset=begin, limit=size).ids
        for begin in range(0, len(whole), size)
    ]
    assert [one for page in pages for one in page] == whole
    assert index.ids(query, [store.library_id]) == whole


def test_changes_are_read_anew_and_others_libraries_are_not_seen(filled):
    store, index, rows = filled
    row = next(one for one in rows if one.deleted is None)
    with store.database.session() as session:
        kept = session.get(Sample, row.id)
        kept.name, kept.tags = "Quite unlike", ["other"]
        kept.changed = utc_now()
    with store.database.session() as session:
        assert index.refresh(session) == 1
        assert index.refresh(session) == 0
    found = index.search(SampleQuery(words="unlike", tags=["other"]), [store.library_id])
    assert found.ids == [row.id]
    assert index.search(SampleQuery(words=row.name), [store.library_id]).total <= 1
    assert index.search(SampleQuery(), []).total == 0
    assert index.search(SampleQuery(), [store.library_id + 1]).total == 0


class TestCheck:
    """What is written past the services: with times of long ago, or taken out of the table."""

    def test_nothing_is_read_where_nothing_differs(self, filled):
        store, index, _ = filled
        with store.database.session() as session:
            assert index.check(session) == 0

    def test_an_index_that_was_never_read_has_nothing_to_check(self, store):
        with store.database.session() as session:
            assert SampleIndex().check(session) == 0

    def test_rows_dated_long_ago_are_found(self, filled):
        store, index, rows = filled
        here = [one for one in rows if one.deleted is None]
        with store.database.session() as session:
            kept = session.get(Sample, here[0].id)
            kept.name, kept.changed = "Late arrival", utc_now() - timedelta(days=400)
        with store.database.session() as session:
            assert index.refresh(session) == 0
            assert index.check(session) == 1
            assert index.check(session) == 0
        found = index.search(SampleQuery(words="arrival"), [store.library_id])
        assert found.ids == [here[0].id]

    def test_rows_that_are_gone_are_found_no_more_and_may_come_back(self, filled):
        store, index, rows = filled
        total = index.search(SampleQuery(), [store.library_id]).total
        row = next(one for one in rows if one.deleted is None)
        with store.database.session() as session:
            session.delete(session.get(Sample, row.id))
        with store.database.session() as session:
            assert index.check(session) == 1
            assert index.check(session) == 0
        assert index.search(SampleQuery(), [store.library_id]).total == total - 1
        with store.database.session() as session:
            make_transient(row)
            session.add(row)
        with store.database.session() as session:
            assert index.check(session) == 1
        assert index.search(SampleQuery(), [store.library_id]).total == total

    def test_who_read_earlier_does_not_bring_back_what_was(self, filled):
        store, index, rows = filled
        row = next(one for one in rows if one.deleted is None)
        with store.database.session() as before:
            before.execute(select(Sample.id).limit(1))
            with store.database.session() as session:
                kept = session.get(Sample, row.id)
                kept.name, kept.changed = "Quite unlike", utc_now()
            with store.database.session() as session:
                assert index.refresh(session) == 1
            # This one sees the table as it was before the change.
            assert index.refresh(before) == 0
        found = index.search(SampleQuery(words="quite unlike"), [store.library_id])
        assert found.ids == [row.id]


def test_rows_without_features_are_found_but_like_nothing(store, filled):
    _, index, rows = filled
    row = next(one for one in rows if one.deleted is None)
    with store.database.session() as session:
        kept = session.get(Sample, row.id)
        kept.features, kept.fundamental_hz, kept.length_s = b"short", None, 0.0
        kept.changed = utc_now()
    with store.database.session() as session:
        index.refresh(session)
    assert np.all(index.vectors([row.id]) == 0.0)
    ranges = index.search(SampleQuery(), [store.library_id]).ranges
    # A length of nothing has no place on a scale of logarithms.
    assert ranges["length_s"].low > 0.0


def test_medians_are_those_of_the_rows(filled):
    store, index, rows = filled
    values = [r.low_share_db for r in rows if r.category == "drum" and r.deleted is None]
    median, count = index.median(
        "low_share_db", libraries=[store.library_id], category="drum", subcategory=""
    )
    assert count == len(values)
    assert median == pytest.approx(float(np.median(values)), rel=1e-5)
    nothing = index.median("low_share_db", libraries=[], category="drum", subcategory="")
    assert nothing == (0.0, 0)
