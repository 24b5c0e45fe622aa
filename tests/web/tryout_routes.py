"""A request to each route that is about a try-out of a library."""

import io
import json
import zipfile

__all__ = ["tryout_removal", "tryout_requests"]


def _archive(document):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("tryout.json", json.dumps({"tryout": document}))
    return out.getvalue()


def tryout_requests(world, file_of):
    """As ``requests_of``, of try-outs; the one that takes it away is apart."""
    library, sample, sound = world["library"], world["sample"], world["sound"]
    one = f"/api/tryouts/{world['tryout']}"
    document = {"name": "Other groove"}
    version = {"base_version": 1, "document": document}
    mix = {**version, "library_id": library, "name": "Mix"}
    yield from (
        ("tryouts.open_tryout", "library.see", "GET", one, {}),
        ("tryout_files.mix_file", "library.see", "GET", f"{one}/mix", {}),
        ("tryout_files.stem_files", "library.see", "GET", f"{one}/stems.zip", {}),
        ("tryout_files.kit_files", "library.see", "GET", f"{one}/kit.zip", {}),
        ("tryout_files.midi_file", "library.see", "GET", f"{one}/midi", {}),
        ("tryout_files.tryout_file", "library.see", "GET", f"{one}/file", {}),
        ("tryout_files.made_of", "library.see", "GET", f"/api/samples/{sample}/mix", {}),
        ("links.link_tryout", "share.make", "POST", f"{one}/links", {"json": {}}),
        (
            "tryouts.new_tryout",
            "tryout.edit",
            "POST",
            "/api/tryouts",
            {"json": {"library_id": library, "document": document}},
        ),
        (
            "tryouts.begin_tryout",
            "tryout.edit",
            "POST",
            f"/api/sounds/{sound}/tryouts",
            {"json": {"pattern": "broken"}},
        ),
        ("tryouts.copy_tryout", "tryout.edit", "POST", f"{one}/copies", {}),
        (
            "tryouts.change_library_of_tryout",
            "tryout.edit",
            "PUT",
            f"{one}/library",
            {"json": {"library_id": library}},
        ),
        ("tryout_files.keep_as_sample", "tryout.edit", "POST", f"{one}/mixes", {"json": mix}),
        ("tryouts.save_tryout", "tryout.edit", "PUT", f"{one}/draft", {"json": version}),
        (
            "tryout_files.import_tryout_file",
            "tryout.edit",
            "POST",
            f"/api/libraries/{library}/tryouts",
            {"data": file_of(_archive(document), "A.zip")},
        ),
    )


def tryout_removal(world):
    """The request that puts the try-out into the bin."""
    path = f"/api/tryouts/{world['tryout']}/bin"
    return ("tryouts.bin_one_tryout", "tryout.edit", "PUT", path, {"json": {"binned": True}})
