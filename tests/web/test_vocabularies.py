"""A library's own vocabulary: who may change it, what it holds, and where it counts."""

import pytest

from tests.web.samples import bring, send_file, wav

CSV = "category,subcategory,words\nship,bell,bell\nship,horn,horn fog\nsea,,\n"


def vocabulary_at(people):
    return f"/api/libraries/{people.library_id}/vocabulary"


def categories(client, **query):
    return client.get("/api/vocabulary", query_string=query).json["categories"]


def test_without_one_it_has_the_servers(people):
    there = people.owner.get(vocabulary_at(people)).json
    assert there["own"] is False
    assert {"category": "drum", "subcategory": "snare", "words": ["snare"]} in there["rows"]
    assert categories(people.owner, library_id=people.library_id) == categories(people.owner)


def test_an_owner_gives_it_one_and_takes_it_back(people):
    made = people.owner.put(vocabulary_at(people), json={"csv": CSV}).json
    assert made["own"] is True
    assert [(row["category"], row["subcategory"], row["words"]) for row in made["rows"]] == [
        ("ship", "bell", ["bell"]),
        ("ship", "horn", ["horn", "fog"]),
        ("sea", "", []),
    ]
    assert categories(people.owner, library_id=people.library_id) == {
        "ship": ["bell", "horn"],
        "sea": [],
    }
    # Others have the server's as before.
    assert "drum" in categories(people.owner)
    # What was exported is imported as the same.
    again = people.owner.put(vocabulary_at(people), json={"csv": made["csv"]}).json
    assert again["rows"] == made["rows"]
    back = people.owner.put(vocabulary_at(people), json={"csv": None}).json
    assert back["own"] is False
    assert "drum" in categories(people.owner, library_id=people.library_id)


@pytest.mark.parametrize("who", ["editor", "reviewer", "listener"])
def test_others_read_it_alone(people, who):
    client = getattr(people, who)
    assert client.get(vocabulary_at(people)).status_code == 200
    assert client.put(vocabulary_at(people), json={"csv": CSV}).status_code == 403


@pytest.mark.parametrize(
    ("csv", "words"),
    [
        ("", "line 1"),
        ("category;subcategory;words\n", "line 1"),
        ("category,subcategory,words\n,bell,\n", "line 2"),
        ("category,subcategory,words\n" + "a" * 41 + ",,\n", "line 2"),
    ],
)
def test_a_wrong_line_is_named_at_the_field_and_nothing_changes(people, csv, words):
    people.owner.put(vocabulary_at(people), json={"csv": CSV})
    refused = people.owner.put(vocabulary_at(people), json={"csv": csv})
    assert refused.status_code == 422
    (problem,) = refused.json["problems"]
    assert problem["path"] == "csv"
    assert words in problem["message"]
    assert "ship" in categories(people.owner, library_id=people.library_id)


def test_samples_keep_their_words_new_ones_need_the_new_and_care_lists_the_old(people):
    sample = bring(people.owner, people.library_id, "Fog horn", category="drum")
    people.owner.put(vocabulary_at(people), json={"csv": CSV})
    base = f"/api/samples/{sample['id']}"

    def change(**changes):
        version = people.owner.get(base).json["version"]
        body = {"base_version": version, "changes": changes}
        return people.owner.patch(base, json=body)

    assert change(description="Heard at noon").json["category"] == "drum"
    refused = change(category="drum", subcategory="snare")
    assert refused.status_code == 422
    assert "ship, sea" in refused.json["detail"] + str(refused.json["problems"])
    gaps = people.owner.get(f"/api/libraries/{people.library_id}/gaps").json["gaps"]
    assert [one["ids"] for one in gaps if one["code"] == "other_words"] == [[sample["id"]]]
    assert change(category="ship", subcategory="horn").json["subcategory"] == "horn"
    gaps = people.owner.get(f"/api/libraries/{people.library_id}/gaps").json["gaps"]
    assert [one for one in gaps if one["code"] == "other_words"] == []


def test_names_hint_at_its_categories_on_import(people):
    people.owner.put(vocabulary_at(people), json={"csv": CSV})
    url = f"/api/libraries/{people.library_id}/samples"
    made = send_file(people.owner, url, wav(), name="Old fog signal.wav")
    assert (made.json["category"], made.json["subcategory"]) == ("ship", "horn")
