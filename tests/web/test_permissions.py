"""Every route of the API for every role: what the one table says, and nothing else."""

import io
import json
import re

import pytest

from nest_crate.catalogue.db.shared_models import ShareLink
from nest_crate.catalogue.people.permissions import PERMISSIONS, ROLES
from tests.web.samples import bring, wav

# Open to nobody in particular: signing in, links with a secret of their own, what is declared.
OPEN = {"session", "shared", "reference", "openapi"}
# For every signed-in account: rendering what it sends, and what is its own.
SIGNED_IN = {
    "auditions.audition",
    "chains.chains",
    "chains.keep",
    "chains.remove",
    "exports.fetch",
    "jobs.forget",
    "jobs.list_jobs",
    "jobs.one_job",
    "jobs.render_file",
    "jobs.renders",
    "jobs.replace",
    "jobs.stop",
    "judging.contributions",
    "judging.look_closely",
    "judging.compare",
    "judging.probe",
    "judging.look_at",
    "judging.as_list",
    "judging.over_the_keys",
    "judging.repeats",
    "libraries.list_libraries",
    "libraries.new_library",
    "libraries.for_new_sounds",
    "libraries.saved_searches",
    "libraries.new_search",
    "libraries.drop_search",
    "libraries.words",
    "playing.play_hit",
    "playing.phrases",
    "playing.play_phrase",
    "recordings.recordings",
    "recordings.bring_in",
    "recordings.recording_file",
    "recordings.midi",
    "samples.search",
    "samples.all_ids",
    "samples.undo",
    "shapes.shapes",
    "shapes.keep",
    "shapes.remove",
    "sounds.list_sounds",
    "sources.look",
    "sources.propose",
    "sources.beside_the_reference",
    "sources.starting_sounds",
    "sources.wavetables",
    "works.look",
    "works.stop",
}
ADMINISTRATORS = {
    "people.list_accounts",
    "people.close_account",
    "people.list_invitations",
    "people.new_invitation",
    "people.drop_invitation",
    "people.new_password_link",
}


def file_of(data, name):
    return {"file": (io.BytesIO(data), name)}


def requests_of(world):
    """(endpoint, action, method, path, options) for each route that is about a library; what takes
    something away comes last."""
    library, sample, made = world["library"], world["sample"], world["made"]
    sound, wish, link = world["sound"], world["wish"], world["link"]
    ids, document = {"ids": [sample]}, world["document"]
    base = f"/api/libraries/{library}"
    release = f"{base}/releases/1.0.0"
    version = {"base_version": 1, "document": document}
    take = {**version, "hit": document["hit"], "library_id": library, "name": "Again"}

    def sent(body):
        return {"json": body}

    yield from (
        ("libraries.map_of", "library.see", "GET", f"{base}/map", {}),
        ("libraries.gaps", "library.see", "GET", f"{base}/gaps", {}),
        ("libraries.duplicates", "library.see", "GET", f"{base}/duplicates", {}),
        ("care.outdated", "library.see", "GET", f"{base}/outdated", {}),
        ("people.list_members", "member", "GET", f"{base}/members", {}),
        ("releases.list_releases", "library.see", "GET", f"{base}/releases", {}),
        ("releases.pending", "library.see", "GET", f"{base}/releases/changes", {}),
        ("releases.manifest", "library.see", "GET", release, {}),
        ("releases.download", "library.see", "GET", f"{release}.zip", {}),
        ("releases.changes_of", "library.see", "GET", f"{release}/changes", {}),
        ("releases.one_file", "library.see", "GET", f"{release}/files/{world['digest']}", {}),
        ("talking.list_wishes", "library.see", "GET", f"{base}/wishes", {}),
        ("talking.list_comments", "library.see", "GET", f"/api/samples/{sample}/comments", {}),
        ("samples.one_sample", "library.see", "GET", f"/api/samples/{sample}", {}),
        ("samples.file", "library.see", "GET", f"/api/samples/{sample}/file", {}),
        ("samples.history", "library.see", "GET", f"/api/samples/{sample}/history", {}),
        ("samples.sample_recipe", "library.see", "GET", f"/api/samples/{made}/recipe", {}),
        ("samples.listed", "library.see", "POST", "/api/samples/listed", sent(ids)),
        ("exports.plan", "library.see", "POST", "/api/exports", sent({"sample_ids": [sample]})),
        ("sounds.open_sound", "library.see", "GET", f"/api/sounds/{sound}", {}),
        ("sounds.list_revisions", "library.see", "GET", f"/api/sounds/{sound}/revisions", {}),
        ("sound_files.take_away", "library.see", "GET", f"/api/sounds/{sound}/file", {}),
        ("links.list_links", "share.make", "GET", f"{base}/links", {}),
        ("links.link_release", "share.make", "POST", f"{release}/links", sent({})),
        ("links.link_sample", "share.make", "POST", f"/api/samples/{sample}/links", sent({})),
        ("links.link_sound", "share.make", "POST", f"/api/sounds/{sound}/links", sent({})),
        (
            "talking.new_comment",
            "sample.comment",
            "POST",
            f"/api/samples/{sample}/comments",
            sent({"text": "x"}),
        ),
        ("talking.new_wish", "wish.make", "POST", f"{base}/wishes", sent({"title": "A gong"})),
        (
            "talking.answer",
            "wish.answer",
            "POST",
            f"/api/wishes/{wish}/answer",
            sent({"sample_id": sample}),
        ),
        ("talking.put_state", "wish.answer", "PUT", f"/api/wishes/{wish}", sent({"state": "open"})),
        (
            "samples.bring_in_sample",
            "sample.add",
            "POST",
            f"{base}/samples",
            {"data": file_of(wav(), "A.wav")},
        ),
        (
            "sound_files.bring_in",
            "sound.edit",
            "POST",
            f"{base}/sounds",
            {"data": file_of(json.dumps(document).encode(), "A.json")},
        ),
        (
            "sounds.new_sound",
            "sound.edit",
            "POST",
            "/api/sounds",
            sent({"library_id": library, "document": document}),
        ),
        (
            "sounds.describe",
            "sound.edit",
            "PATCH",
            f"/api/sounds/{sound}",
            sent({"description": "x"}),
        ),
        ("sounds.duplicate", "sound.edit", "POST", f"/api/sounds/{sound}/copies", {}),
        (
            "sounds.move",
            "sound.edit",
            "PUT",
            f"/api/sounds/{sound}/library",
            sent({"library_id": library}),
        ),
        ("sounds.save", "sound.edit", "PUT", f"/api/sounds/{sound}/draft", sent(version)),
        (
            "sounds.new_revision",
            "sound.edit",
            "POST",
            f"/api/sounds/{sound}/revisions",
            sent(version),
        ),
        ("sounds.take", "sample.add", "POST", f"/api/sounds/{sound}/takes", sent(take)),
        (
            "samples.change",
            "sample.rate",
            "PATCH",
            f"/api/samples/{made}",
            sent({"base_version": 1, "changes": {"rating": 4}}),
        ),
        (
            "samples.change",
            "sample.edit",
            "PATCH",
            f"/api/samples/{sample}",
            sent({"base_version": world["version"], "changes": {"description": "x"}}),
        ),
        ("samples.change_many", "sample.edit", "POST", "/api/samples/change", sent(ids)),
        (
            "care.rename",
            "sample.edit",
            "POST",
            "/api/samples/rename",
            sent({**ids, "template": "{name}"}),
        ),
        (
            "care.loudness",
            "sample.edit",
            "POST",
            "/api/samples/loudness",
            sent({**ids, "target_lufs": -20}),
        ),
        ("care.trim", "sample.edit", "POST", "/api/samples/trim", sent(ids)),
        (
            "care.edits",
            "sample.edit",
            "PUT",
            f"/api/samples/{sample}/edits",
            sent({"base_version": 1}),
        ),
        (
            "jobs.rerender",
            "sample.edit",
            "POST",
            "/api/samples/rerender",
            sent({"ids": [made], "newest": True}),
        ),
        (
            "samples.move",
            "sample.submit",
            "POST",
            "/api/samples/move",
            sent({**ids, "status": "in_review"}),
        ),
        (
            "libraries.change",
            "library.change",
            "PATCH",
            base,
            sent({"description": "x"}),
        ),
        (
            "people.put_member",
            "members.manage",
            "PUT",
            f"{base}/members",
            sent({"handle": "ferns", "role": "listener"}),
        ),
        (
            "people.drop_member",
            "members.manage",
            "DELETE",
            f"{base}/members/{world['member']}",
            {},
        ),
        ("releases.new_release", "release.make", "POST", f"{base}/releases", sent(world["next"])),
        (
            "links.take_over_link",
            "members.manage",
            "POST",
            f"/api/links/{world['ended']}/keep",
            {},
        ),
        ("links.drop_link", "share.make", "DELETE", f"/api/links/{link}", {}),
        ("talking.drop_comment", "owner", "DELETE", f"/api/comments/{world['comment']}", {}),
        ("samples.put_in_bin", "sample.edit", "POST", "/api/samples/bin", sent(ids)),
        ("samples.restore", "sample.edit", "POST", "/api/samples/restore", sent(ids)),
        (
            "care.merge",
            "sample.edit",
            "POST",
            "/api/samples/merge",
            sent({"ids": [world["other"]], "keep": sample}),
        ),
        ("sounds.put_in_bin", "sound.edit", "PUT", f"/api/sounds/{sound}/bin", sent({"binned": 1})),
    )


@pytest.fixture
def world(people, kick_document):
    """One of everything that a library holds, made by its owner, who is an administrator too."""
    from nest_crate.catalogue.people.accounts import create_account

    owner, library = people.owner, people.library_id
    with people.store.database.session() as session:
        member = create_account(
            session, handle="ferns", name="Fern Oster", password="a fern in a frame"
        ).id
    base = f"/api/libraries/{library}"
    owner.put(f"{base}/members", json={"handle": "ferns", "role": "listener"})
    approved = bring(owner, library, "Gong")["id"]
    for status in ("in_review", "approved"):
        owner.post("/api/samples/move", json={"ids": [approved], "status": status})
    assert owner.post(f"{base}/releases", json={"number": "1.0.0"}).status_code == 201
    digest = owner.get(f"{base}/releases/1.0.0").json["files"][0]["sha256"]
    sound = {"library_id": library, "document": kick_document}
    sound = owner.post("/api/sounds", json=sound).json["id"]
    take = {
        "base_version": 1,
        "document": kick_document,
        "hit": kick_document["hit"],
        "library_id": library,
        "name": "Kick",
    }
    made = owner.post(f"/api/sounds/{sound}/takes", json=take).json["sample"]["id"]
    sample = bring(owner, library, "Bell", wav(hz=700.0))
    comment = owner.post(f"/api/samples/{sample['id']}/comments", json={"text": "Hm"}).json["id"]
    link = owner.post(f"/api/samples/{sample['id']}/links", json={}).json["id"]
    ended = owner.post(f"/api/samples/{sample['id']}/links", json={}).json["id"]
    with people.store.database.session() as session:
        gone = session.get_one(ShareLink, ended)
        gone.revoked, gone.ended_because = True, "its maker left"
    return {
        "ended": ended,
        "library": library,
        "sample": sample["id"],
        "version": sample["version"],
        "other": bring(owner, library, "Bell too", wav(hz=700.0))["id"],
        "made": made,
        "sound": sound,
        "document": kick_document,
        "wish": owner.post(f"{base}/wishes", json={"title": "A gong"}).json["id"],
        "comment": comment,
        "link": link,
        "member": member,
        "digest": digest,
        "next": {"number": "1.1.0", "sample_ids": [approved]},
    }


def allowed(action, role):
    if action == "member":
        return role != "visitor"
    if action == "owner":
        return role == "owner"
    return role in PERMISSIONS[action]


@pytest.mark.parametrize("role", [*ROLES, "stranger"])
def test_every_route_is_for_the_roles_of_the_table_alone(people, world, role):
    client = people.stranger if role in ("visitor", "stranger") else people.of(role)
    if role == "visitor":
        base = f"/api/libraries/{world['library']}"
        assert people.owner.patch(base, json={"visibility": "public"}).status_code == 204
    for endpoint, action, method, path, options in requests_of(world):
        answer = client.open(path, method=method, **options)
        shown = (endpoint, answer.status_code, answer.json if answer.is_json else None)
        if role == "stranger":
            # An account that cannot see a library does not learn that it exists.
            assert answer.status_code == 404, shown
        elif allowed(action, role):
            assert answer.status_code < 300, shown
        else:
            assert answer.status_code == 403, shown
        answer.close()


def test_no_route_is_forgotten(people, world):
    listed = {endpoint for endpoint, *_ in requests_of(world)} | SIGNED_IN | ADMINISTRATORS
    routes = {
        rule.endpoint
        for rule in people.app.url_map.iter_rules()
        if str(rule).startswith("/api/") and rule.endpoint.split(".")[0] not in OPEN
    }
    assert routes == listed


def rules_of(app, endpoints):
    for rule in app.url_map.iter_rules():
        if rule.endpoint in endpoints:
            for method in rule.methods - {"HEAD", "OPTIONS"}:
                yield method, re.sub(r"<[^>]+>", "1", str(rule))


def test_accounts_are_for_administrators(people):
    bodies = {"PUT": {"disabled": True}, "POST": {}}
    for method, url in rules_of(people.app, ADMINISTRATORS):
        for name in ("editor", "reviewer", "listener", "stranger"):
            code = people.of(name).open(url, method=method, json=bodies.get(method)).status_code
            assert code == 403, (method, url, name)


def test_what_is_ones_own_is_nobody_elses(people, kick_document):
    curve = kick_document["layers"][0]["level"]
    recording = people.owner.post("/api/recordings", data=file_of(wav(), "Own.wav")).json
    for kept, path in (
        ({"name": "Mine", "curve_name": "level", "curve": curve}, "/api/shapes"),
        ({"name": "Mine", "chain": [{"id": "d", "kind": "drive"}]}, "/api/chains"),
        ({"name": "Mine", "query": {}}, "/api/searches"),
    ):
        made = people.owner.post(path, json=kept)
        assert made.status_code == 201, made.json
        assert people.editor.delete(f"{path}/{made.json['id']}").status_code == 404, path
        assert people.owner.delete(f"{path}/{made.json['id']}").status_code == 204, path
    assert recording["digest"] in people.owner.get("/api/recordings").text
    assert recording["digest"] not in people.editor.get("/api/recordings").text
