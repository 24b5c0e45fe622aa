"""Every route of the API for every role: what the one table says, and nothing else."""

import re

import pytest

from nest_crate.catalogue.people.permissions import PERMISSIONS, ROLES
from tests.web.every_route import file_of, requests_of
from tests.web.samples import wav

# Open to nobody in particular: signing in, links with a secret of their own, what is declared.
OPEN = {"session", "shared", "reference", "openapi"}
# For every signed-in account: rendering what it sends, and what is its own.
SIGNED_IN = {
    "auditions.audition",
    "batch_plans.plan_figures",
    "batch_plans.probe_plan",
    "batch_plans.suggest_spreads",
    "batches.list_batches",
    "chains.chains",
    "chains.keep",
    "chains.remove",
    "exports.fetch",
    "imports.read_names",
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
    "presence.look",
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
    "tryout_figures.game_run",
    "tryout_figures.matched",
    "tryout_figures.mix_figures",
    "tryout_figures.overlap_of_parts",
    "tryout_files.read_midi",
    "tryouts.list_tryouts",
    "tryouts.stock_patterns",
    "tryouts_played.plan",
    "tryouts_played.play_bed",
    "tryouts_played.play_placed_hit",
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
