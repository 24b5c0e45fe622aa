"""Names, templates, vocabularies: what people type is taken as words and never as more."""

from __future__ import annotations

import string

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nest_crate.catalogue.db.errors import NotPossible, NotSignedIn
from nest_crate.catalogue.db.models import Library, Sample, utc_now
from nest_crate.catalogue.people.accounts import create_account, sign_in
from nest_crate.catalogue.people.vocabulary import load_vocabulary, parse_vocabulary
from nest_crate.catalogue.samples.fields import SampleChanges, clean_tag, tags_among
from nest_crate.catalogue.samples.name_templates import TEMPLATE_FIELDS, clean_path, fill_template
from nest_crate.catalogue.samples.statuses import MOVES, STATUSES, action_of_move
from nest_crate.core.errors import DocumentError, FormatError


def sample(**changes):
    facts = {
        "id": 7,
        "name": "Kiln door Kick",
        "category": "drum",
        "subcategory": "kick",
        "variation": 3,
        "variation_group": "Kiln kick",
        "root_note": 31,
        "fundamental_hz": 48.9,
        "length_s": 0.55,
        "tempo_bpm": 96.0,
        "author": "Wren",
        "library": Library(name="Glasshouse"),
        "created": utc_now(),
    }
    return Sample(**{**facts, **changes})


class TestTemplates:
    @pytest.mark.parametrize(
        ("template", "made"),
        [
            ("{category}_{name}_{variation:02}", "drum_Kiln door Kick_03"),
            ("{name:snake}", "kiln_door_kick"),
            ("{name:kebab}-{note}", "kiln-door-kick-G1"),
            ("{name:upper} {number:3}", "KILN DOOR KICK   5"),
            ("{{{hz}}} {length_ms} ms {tempo}", "{49} 550 ms 96"),
            ("{library}/{group} {id}", "Glasshouse/Kiln kick 7"),
            ("plain", "plain"),
        ],
    )
    def test_fields_are_filled_in(self, template, made):
        assert fill_template(template, sample(), 5) == made

    def test_what_is_not_known_has_a_word_of_its_own(self):
        bare = sample(
            category="", subcategory="", variation=None, variation_group="", root_note=None,
            fundamental_hz=None, tempo_bpm=None, author="",
        )  # fmt: skip
        made = fill_template(
            "{category} {subcategory} {variation} {group} {note} {author}", bare, 1
        )
        assert made == "uncategorised other 1 Kiln door Kick none unknown"

    @given(st.text(alphabet="{}:!.[]()0_ " + string.ascii_lowercase, max_size=40))
    @settings(max_examples=400, deadline=None)
    def test_nothing_but_a_text_or_a_clear_error_comes_of_it(self, template):
        refused: list[str] = []
        made = ""
        try:
            made = fill_template(template, sample(), 1)
        except DocumentError as error:
            refused = [problem.path for problem in error.problems]
        assert refused in ([], ["template"])
        # No width is so large that a name becomes a burden.
        assert len(made) <= len(template) * 20 + 20

    def test_every_field_can_be_used(self):
        for name in TEMPLATE_FIELDS:
            assert fill_template(f"{{{name}}}", sample(), 1)


class TestPaths:
    @given(st.text(max_size=80))
    @settings(max_examples=400, deadline=None)
    def test_a_path_stays_below_its_folder_on_any_system(self, text):
        parts = clean_path(text).split("/")
        assert parts
        for part in parts:
            assert part not in ("", ".", "..")
            assert not set(part) & set('<>:"|?*\\')
            assert part == part.strip(" .")
            assert all(ord(one) >= 32 for one in part)
            assert len(part) <= 101
        # It is clean already the second time.
        assert clean_path("/".join(parts)) == "/".join(parts)

    @pytest.mark.parametrize(
        ("text", "path"),
        [
            ("../../etc/passwd", "etc/passwd"),
            ("/abs/olute", "abs/olute"),
            ("C:\\x\\y", "C_/x/y"),
            ("aux", "_aux"),
            ("com1.wav", "_com1.wav"),
            ("...", "sample"),
            ("a" * 300, "a" * 100),
        ],
    )
    def test_examples(self, text, path):
        assert clean_path(text) == path


class TestVocabulary:
    def test_ours_has_subcategories_and_hints(self):
        words = load_vocabulary()
        assert "kick" in words.categories["drum"]
        assert words.guess("Kiln door kick") == ("drum", "kick")
        assert words.guess("Boiler room drone") == ("atmosphere", "drone")
        assert words.guess("Zzz") == ("", "")
        assert words.of_genre("Drum / Kick") == ("drum", "kick")
        assert words.of_genre("drum / unheard of") == ("drum", "")
        assert words.of_genre("Someone else's") is None

    def test_a_team_brings_its_own(self, tmp_path):
        file = tmp_path / "own.csv"
        file.write_text("category,subcategory,words\nShip,Bell,bell\nship,horn,horn\nSea,,\n")
        words = load_vocabulary(str(file))
        assert words.categories == {"ship": ("bell", "horn"), "sea": ()}
        words.require("ship", "horn")
        words.require("", "")
        with pytest.raises(DocumentError, match="not in the vocabulary"):
            words.require("drum", "")
        with pytest.raises(DocumentError, match="is not of"):
            words.require("sea", "horn")

    @pytest.mark.parametrize(
        ("text", "words"),
        [
            ("a,b\n1,2\n", "line 1"),
            ("category,subcategory,words\n,x,\n", "line 2"),
            (f"category,subcategory,words\n{'x' * 41},,\n", "line 2"),
            ("category,subcategory,words\n", "no category"),
            ("", "line 1"),
            ("category,subcategory,words\ndrum,kick,kick,more\n", "line 2"),
            ("category,subcategory,words\n" + "drum,kick,kick\n" * 2001, "2000 rows"),
        ],
    )
    def test_a_wrong_line_is_named(self, tmp_path, text, words):
        file = tmp_path / "wrong.csv"
        file.write_text(text)
        with pytest.raises(FormatError, match=words):
            load_vocabulary(str(file))

    def test_it_comes_back_from_its_own_csv(self):
        ours = load_vocabulary()
        again = parse_vocabulary(ours.as_csv())
        assert again == ours
        odd = parse_vocabulary('category,subcategory,words\n"Wind, rain",Gust,gust Böe\nsea,,\n')
        assert odd.categories == {"wind, rain": ("gust",), "sea": ()}
        assert parse_vocabulary(odd.as_csv()) == odd

    def test_a_missing_file_is_told(self, tmp_path):
        with pytest.raises(FormatError, match="cannot be read"):
            load_vocabulary(str(tmp_path / "none.csv"))


class TestFields:
    @pytest.mark.parametrize(
        ("tag", "made"), [(" Low  End ", "low end"), ("C#2", "c#2"), ("Überlaut", "überlaut")]
    )
    def test_tags_are_small_and_tidy(self, tag, made):
        assert clean_tag(tag) == made

    @pytest.mark.parametrize("tag", ["", "a/b", "x" * 41, "a\nb<", "{x}", "a;b"])
    def test_what_is_no_tag_is_refused(self, tag):
        with pytest.raises(ValueError, match="use 1 to 40"):
            clean_tag(tag)
        assert tags_among([tag, "fine"]) == ["fine"]

    def test_only_what_was_given_is_changed_and_some_may_be_emptied(self):
        assert SampleChanges(name=" a  b ").given() == {"name": "a b"}
        assert SampleChanges(tags=["A", "a"]).given() == {"tags": ["a"]}
        assert SampleChanges(tempo_bpm=None, name=None).given() == {"tempo_bpm": None}
        assert SampleChanges().given() == {}


def test_the_moves_of_a_status_are_those_declared():
    for before in STATUSES:
        for after in STATUSES:
            if (before, after) in MOVES:
                assert MOVES[before, after] in action_of_move(before, after)
            else:
                with pytest.raises(NotPossible, match="cannot become"):
                    action_of_move(before, after)


class TestPasswords:
    def test_they_are_stored_as_argon2_tells_and_checked(self, store):
        from nest_crate.catalogue.db.models import Account

        with store.database.session() as session:
            made = create_account(session, handle="Pim", name="Pim Alder", password="copper-kettle")
            assert made.handle == "pim"
            row = session.get(Account, made.id)
            assert row.password_hash.startswith("$argon2id$")
            assert sign_in(session, handle="PIM ", password="copper-kettle").id == made.id
            for password in ("copper-kettlE", "", "x" * 5000):
                with pytest.raises(NotSignedIn, match="Wrong name or password"):
                    sign_in(session, handle="pim", password=password)

    def test_an_account_without_a_password_opens_for_nobody(self, store):
        with store.database.session() as session:
            create_account(session, handle="pim", name="Pim")
            with pytest.raises(NotSignedIn, match="Wrong name or password"):
                sign_in(session, handle="pim", password="nobody has this password")

    @pytest.mark.parametrize("handle", ["p", "a b", "-x", "x" * 41, "ümlaut", "../x", "a@b"])
    def test_names_to_sign_in_with_are_plain(self, store, handle):
        with (
            store.database.session() as session,
            pytest.raises(DocumentError, match="use 2 to 40"),
        ):
            create_account(session, handle=handle, name="X", password="copper-kettle")


@pytest.mark.parametrize("mark", "\u202e\u202a\u2066\u2069\u200f\u200b\ufeff\x85\u2028")
def test_marks_that_turn_text_are_in_no_name_of_a_file(mark):
    assert clean_path(f"Gong {mark}gnp.exe") == "Gong _gnp.exe"
