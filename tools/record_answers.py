"""Write the examples of answers in the OpenAPI document, from a program with the demo's data:
``python -m tools.record_answers http://127.0.0.1:8080``. It signs in as the demo's owner."""

from __future__ import annotations

import json
import sys
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any
from urllib.request import HTTPCookieProcessor, OpenerDirector, Request, build_opener

from nest_crate.web.contract.examples import REQUESTS

WRITTEN = Path("nest_crate/web/contract/answers.json")

# By operation: method and path; {library} and the like stand for the first that the demo has.
ASKED = {
    "care_outdated": ("GET", "/api/libraries/{library}/outdated"),
    "exports_plan": ("POST", "/api/exports"),
    "jobs_list_jobs": ("GET", "/api/jobs"),
    "libraries_duplicates": ("GET", "/api/libraries/{library}/duplicates"),
    "libraries_gaps": ("GET", "/api/libraries/{library}/gaps"),
    "libraries_list_libraries": ("GET", "/api/libraries"),
    "libraries_map_of": ("GET", "/api/libraries/{library}/map"),
    "libraries_saved_searches": ("GET", "/api/searches"),
    "libraries_words": ("GET", "/api/vocabulary"),
    "members_sheet": ("GET", "/api/rounds/{round}/members"),
    "people_list_accounts": ("GET", "/api/accounts"),
    "people_list_members": ("GET", "/api/libraries/{library}/members"),
    "reference_health": ("GET", "/api/health"),
    "releases_changes_of": ("GET", "/api/libraries/{library}/releases/{release}/changes"),
    "releases_list_releases": ("GET", "/api/libraries/{library}/releases"),
    "releases_manifest": ("GET", "/api/libraries/{library}/releases/{release}"),
    "releases_pending": ("GET", "/api/libraries/{library}/releases/changes"),
    "samples_all_ids": ("POST", "/api/samples/ids"),
    "samples_history": ("GET", "/api/samples/{sample}/history"),
    "samples_one_sample": ("GET", "/api/samples/{sample}"),
    "samples_search": ("POST", "/api/samples/search"),
    "session_list_tokens": ("GET", "/api/session/tokens"),
    "session_who": ("GET", "/api/session"),
    "sounds_list_revisions": ("GET", "/api/sounds/{sound}/revisions"),
    "sounds_list_sounds": ("GET", "/api/sounds"),
    "sounds_open_sound": ("GET", "/api/sounds/{sound}"),
    "talking_list_comments": ("GET", "/api/samples/{sample}/comments"),
    "talking_list_wishes": ("GET", "/api/libraries/{library}/wishes"),
    "tryouts_list_tryouts": ("GET", "/api/tryouts"),
    "tryouts_open_tryout": ("GET", "/api/tryouts/{tryout}"),
    "batches_list_batches": ("GET", "/api/batches"),
    "vocabularies_vocabulary_of": ("GET", "/api/libraries/{library}/vocabulary"),
}
_MOST_ENTRIES = 2
# Pictures and the like, which say nothing to a reader; a multiple of four stays base64.
_LONGEST_TEXT = 160


def shortened(value: Any) -> Any:
    """The same shape with few entries of each list and no long text."""
    if isinstance(value, dict):
        return {key: shortened(one) for key, one in value.items()}
    if isinstance(value, list):
        return [shortened(one) for one in value[:_MOST_ENTRIES]]
    if isinstance(value, str) and len(value) > _LONGEST_TEXT:
        return value[:_LONGEST_TEXT]
    return value


class _Server:
    def __init__(self, url: str) -> None:
        self._url, self._opener = url, build_opener(HTTPCookieProcessor(CookieJar()))

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json"}
        request = Request(self._url + path, data, headers, method=method)
        opener: OpenerDirector = self._opener
        with opener.open(request) as answer:
            return json.load(answer)


def record(url: str) -> dict[str, Any]:
    """The answers of a program, by operation."""
    server = _Server(url)
    people = server.ask("GET", "/api/session")["demo_people"]
    owner = {key: people[0][key] for key in ("handle", "password")}
    server.ask("POST", "/api/session", owner)
    library = server.ask("GET", "/api/libraries")["libraries"][0]["id"]
    batch = server.ask("GET", "/api/batches")["batches"][0]["id"]
    releases = server.ask("GET", f"/api/libraries/{library}/releases")["releases"]
    samples = server.ask("POST", "/api/samples/search", REQUESTS["samples_search"])["samples"]
    first = {
        "library": library,
        "release": releases[-1]["number"],
        "round": server.ask("GET", f"/api/batches/{batch}/rounds")["rounds"][0]["id"],
        "sample": samples[0]["id"],
        "sound": server.ask("GET", "/api/sounds")["sounds"][0]["id"],
        "tryout": server.ask("GET", "/api/tryouts")["tryouts"][0]["id"],
    }
    return {
        name: shortened(server.ask(method, path.format(**first), _body(name, method)))
        for name, (method, path) in sorted(ASKED.items())
    }


def _body(name: str, method: str) -> Any:
    if method == "GET":
        return None
    return REQUESTS.get(name, {"query": {}, "offset": 0, "limit": 5})


def main() -> None:
    """Write them."""
    WRITTEN.write_text(json.dumps(record(sys.argv[1]), indent=1, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    main()
