"""A request to each route that is about a batch of a library."""

__all__ = ["batch_removal", "batch_requests"]


def batch_requests(world):
    """As ``requests_of``, of batches; the one that takes it away is apart."""
    library, sound = world["library"], world["sound"]
    one, made = f"/api/batches/{world['batch']}", f"/api/rounds/{world['round']}"
    document = {"name": "Other family", "sounds": [{"id": "a", "sound": sound}]}
    version = {"base_version": 1, "document": document}
    new = {"library_id": library, "document": document}

    def sent(body):
        return {"json": body}

    yield from (
        ("batches.open_batch", "library.see", "GET", one, {}),
        ("rounds.list_rounds", "library.see", "GET", f"{one}/rounds", {}),
        ("rounds.one_round", "library.see", "GET", made, {}),
        ("rounds.judge_round", "library.see", "GET", f"{made}/judged", {}),
        ("rounds.thin_round", "library.see", "POST", f"{made}/thin", sent({"count": 1})),
        ("members.sheet", "library.see", "GET", f"{made}/members", {}),
        ("members.pictures", "library.see", "GET", f"{made}/pictures?first=1&last=2", {}),
        ("members.one_member", "library.see", "GET", f"{made}/members/1", {}),
        ("members.member_audio", "library.see", "GET", f"{made}/members/1/audio", {}),
        ("family_kept.plan_file", "library.see", "GET", f"{made}/plan", {}),
        ("batches.new_batch", "batch.edit", "POST", "/api/batches", sent(new)),
        ("batches.begin_one_batch", "batch.edit", "POST", f"/api/sounds/{sound}/batches", sent({})),
        ("rounds.workers_ready", "batch.edit", "POST", f"{one}/ready", {}),
        ("batches.copy_batch", "batch.edit", "POST", f"{one}/copies", {}),
        (
            "batches.change_library_of_batch",
            "batch.edit",
            "PUT",
            f"{one}/library",
            sent({"library_id": library}),
        ),
        (
            "rounds.judge_members",
            "batch.edit",
            "PUT",
            f"{made}/verdicts",
            sent({"changes": [{"number": 1, "verdict": "kept"}]}),
        ),
        (
            "family_kept.member_as_sound",
            "batch.edit",
            "POST",
            f"{made}/members/1/sound",
            {},
        ),
        (
            "family_kept.keep_as_samples",
            "batch.edit",
            "POST",
            f"{made}/keep",
            sent({"numbers": [1], "library_id": library}),
        ),
        ("rounds.draw_others", "batch.edit", "POST", f"{made}/redraw", sent({"numbers": [2]})),
        ("rounds.stop_one_round", "batch.edit", "POST", f"{made}/stop", {}),
        ("rounds.go_on_with_round", "batch.edit", "POST", f"{made}/go-on", {}),
        ("rounds.run_round", "batch.edit", "POST", f"{one}/rounds", sent(version)),
        ("batches.save_batch", "batch.edit", "PUT", f"{one}/draft", sent(version)),
    )


def batch_removal(world):
    path = f"/api/batches/{world['batch']}/bin"
    return "batches.bin_one_batch", "batch.edit", "PUT", path, {"json": {"binned": True}}
