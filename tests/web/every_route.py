"""A request to each route that is about a library."""

import io
import json

from tests.web.batch_routes import batch_removal, batch_requests
from tests.web.samples import wav
from tests.web.tryout_routes import tryout_removal, tryout_requests

__all__ = ["file_of", "requests_of"]


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

    side = {"kind": "sample", "id": sample}
    sides = {"sides": [side, {"kind": "sound", "id": sound}]}

    def sent(body):
        return {"json": body}

    yield from tryout_requests(world, file_of)
    yield from batch_requests(world)
    yield from (
        ("libraries.map_of", "library.see", "GET", f"{base}/map", {}),
        ("libraries.gaps", "library.see", "GET", f"{base}/gaps", {}),
        ("vocabularies.vocabulary_of", "library.see", "GET", f"{base}/vocabulary", {}),
        (
            "vocabularies.put_vocabulary",
            "library.change",
            "PUT",
            f"{base}/vocabulary",
            sent({"csv": "category,subcategory,words\ndrum,kick,kick\n"}),
        ),
        ("libraries.duplicates", "library.see", "GET", f"{base}/duplicates", {}),
        ("comparisons.compare", "library.see", "POST", "/api/comparisons", sent(sides)),
        ("comparisons.names", "library.see", "POST", "/api/comparisons/names", sent(sides)),
        ("comparisons.typical", "library.see", "POST", "/api/comparisons/typical", sent(sides)),
        ("comparisons.audio", "library.see", "POST", "/api/comparisons/audio", sent(side)),
        ("blind_tests.list_tests", "library.see", "POST", "/api/blind-tests/of-sides", sent(sides)),
        (
            "blind_tests.keep_test",
            "test.make",
            "POST",
            "/api/blind-tests",
            sent({**sides, "answers": [{"was": 0, "said": 1}]}),
        ),
        ("care.outdated", "library.see", "GET", f"{base}/outdated", {}),
        ("people.list_members", "member", "GET", f"{base}/members", {}),
        ("releases.list_releases", "library.see", "GET", f"{base}/releases", {}),
        ("releases.pending", "library.see", "GET", f"{base}/releases/changes", {}),
        ("releases.manifest", "library.see", "GET", release, {}),
        ("releases.download", "library.see", "GET", f"{release}.zip", {}),
        ("releases.changes_of", "library.see", "GET", f"{release}/changes", {}),
        ("releases.one_file", "library.see", "GET", f"{release}/files/{world['digest']}", {}),
        (
            "releases.ask_for_format",
            "library.see",
            "POST",
            f"{release}/formats",
            sent({"file_format": "ogg"}),
        ),
        (
            "releases.manifest_of_format",
            "library.see",
            "GET",
            f"{release}/formats/{world['format']}",
            {},
        ),
        ("talking.list_wishes", "library.see", "GET", f"{base}/wishes", {}),
        ("talking.list_comments", "library.see", "GET", f"/api/samples/{sample}/comments", {}),
        ("samples.one_sample", "library.see", "GET", f"/api/samples/{sample}", {}),
        ("samples.file", "library.see", "GET", f"/api/samples/{sample}/file", {}),
        ("samples.history", "library.see", "GET", f"/api/samples/{sample}/history", {}),
        ("samples.sample_recipe", "library.see", "GET", f"/api/samples/{made}/recipe", {}),
        ("samples.listed", "library.see", "POST", "/api/samples/listed", sent(ids)),
        ("exports.plan", "library.see", "POST", "/api/exports", sent({"sample_ids": [sample]})),
        ("sounds.open_sound", "library.see", "GET", f"/api/sounds/{sound}", {}),
        ("sounds.look_of", "library.see", "GET", f"/api/sounds/{sound}/look", {}),
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
            "imports.bring_in_sample",
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
        tryout_removal(world),
        batch_removal(world),
        ("sounds.put_in_bin", "sound.edit", "PUT", f"/api/sounds/{sound}/bin", sent({"binned": 1})),
    )
