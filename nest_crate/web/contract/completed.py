"""Completes the OpenAPI document (OpenAPI 3.1) with what holds for all routes: who may ask, what
errors look like, short lasting names."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from flask_openapi3 import OpenAPI

from nest_crate.web.contract.examples import REQUESTS, answers
from nest_crate.web.contract.words import ABOUT, GROUPS, PARAMETERS

__all__ = ["DescribedApp"]

_PROBLEM = "application/problem+json"

# Open to everybody: signing in, links and invitations with a secret of their own, what is declared.
_OPEN = {
    "reference_declared",
    "reference_health",
    "reference_schema",
    "session_accept",
    "session_enter",
    "session_leave",
    "session_look_at_invitation",
    "session_who",
}
_OPEN_GROUP = "shared_"

# Answered in parts too, where the client accepts that.
_IN_PARTS = {"auditions_audition"}

_SCHEMES = {
    "token": {
        "type": "http",
        "scheme": "bearer",
        "description": "A token of an account, from its menu or POST /api/session/tokens",
    },
    "session": {
        "type": "apiKey",
        "in": "cookie",
        "name": "nest_crate_session",
        "description": "What signing in sets in a browser",
    },
}

# By status: the name under which it is described once, an example of a code, and when it comes.
_ERRORS = {
    400: ("BadRequest", "unknown_host", "The body is no JSON, or the host is unknown"),
    401: ("NotSignedIn", "not_signed_in", "Nobody is signed in, or the token is wrong"),
    403: ("NotAllowed", "not_allowed", "The account or its token may not do this"),
    404: ("NotFound", "not_found", "It is not there, or the account may not see it"),
    409: ("Conflict", "stale_save", "Somebody else was faster, or its state does not allow it"),
    413: ("TooLarge", "document_too_large", "The body is larger than the server reads"),
    422: ("Invalid", "document_invalid", "A field does not fit; `problems` names each"),
    429: ("TooManyTries", "too_many_tries", "Too often; ask again after `Retry-After`"),
    500: ("Fault", "internal", "A fault of the server, which its log describes"),
    503: (
        "Busy",
        "renderers_busy",
        "Database, store or workers are away; ask again later",
    ),
    507: ("DiskFull", "storage_failed", "The server's disk is full"),
}
_WAITING = {429, 503}
_WRITING = {"post", "put", "patch", "delete"}


class DescribedApp(OpenAPI):
    """An application whose OpenAPI document is complete."""

    @property
    def api_doc(self) -> dict[str, Any]:
        made: bool = bool(self.spec_json)
        document: dict[str, Any] = super().api_doc
        if not made:
            self._complete(document)
        return document

    def _complete(self, document: dict[str, Any]) -> None:
        document["info"] |= {"description": ABOUT, "license": {"name": "MIT", "identifier": "MIT"}}
        document["servers"] = [{"url": "/", "description": "Where this document comes from"}]
        document["security"] = [{"token": []}, {"session": []}]
        for group in document["tags"]:
            group["description"] = GROUPS[group["name"]]
        components = document["components"]
        components["securitySchemes"] = _SCHEMES
        components["responses"] = {name: _error(status) for status, (name, _, _) in _ERRORS.items()}
        names = self._names()
        for path, method, operation in _operations(document):
            operation["operationId"] = names[path, method]
            _complete_operation(method, operation)

    def _names(self) -> dict[tuple[str, str], str]:
        """By path and method: the group of routes and the function, which stay as they are."""
        found = {}
        for rule in self.url_map.iter_rules():
            path = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule.rule)
            for method in rule.methods or ():
                found[path, method.lower()] = rule.endpoint.replace(".", "_")
        return found


def _operations(document: dict[str, Any]) -> Iterator[tuple[str, str, dict[str, Any]]]:
    for path, operations in document["paths"].items():
        for method, operation in operations.items():
            yield path, method, operation


def _complete_operation(method: str, operation: dict[str, Any]) -> None:
    name = operation["operationId"]
    is_open = name in _OPEN or name.startswith(_OPEN_GROUP)
    if is_open:
        operation["security"] = []
    for parameter in operation.get("parameters", ()):
        parameter.setdefault("description", PARAMETERS.get(parameter["name"], ""))
    body = operation.get("requestBody")
    if name in REQUESTS and body:
        body["content"]["application/json"]["example"] = REQUESTS[name]
    if name in _IN_PARTS:
        parts = {"schema": {"type": "string", "format": "binary"}}
        operation["responses"]["200"]["content"]["multipart/mixed"] = parts
    in_path = any(one["in"] == "path" for one in operation.get("parameters", ()))
    comes = {
        500: True,
        503: True,
        401: not is_open,
        404: in_path,
        422: bool(operation.get("parameters")),
    }
    # A token that only reads, somebody who saved in the same moment, a disk without room.
    comes |= {403: True, 409: True, 507: True} if method in _WRITING else {403: not is_open}
    if body:
        # Bodies name things by their numbers too.
        comes |= dict.fromkeys((400, 404, 413, 422), True)
    given_answers = operation["responses"]
    if name in answers():
        given_answers["200"]["content"]["application/json"]["example"] = answers()[name]
    given = {int(status) for status in given_answers}
    for status, (name, _, _) in _ERRORS.items():
        # What the library below adds to all is described as what it is not.
        if status == 422 and not _is_problem(given_answers.get("422")) and not comes[422]:
            given_answers.pop("422", None)
        elif comes.get(status) or status in given:
            given_answers[f"{status}"] = {"$ref": f"#/components/responses/{name}"}
    operation["responses"] = dict(sorted(given_answers.items()))


def _is_problem(answer: dict[str, Any] | None) -> bool:
    """Whether a route itself declared it."""
    schema = (answer or {}).get("content", {}).get("application/json", {}).get("schema", {})
    return str(schema.get("$ref", "")).endswith("/Problem")


def _error(status: int) -> dict[str, Any]:
    _, code, words = _ERRORS[status]
    example = {
        "type": "about:blank",
        "title": words.partition(";")[0],
        "status": status,
        "detail": words,
        "code": code,
        "problems": [],
        "details": {},
    }
    answer: dict[str, Any] = {
        "description": words,
        "content": {
            _PROBLEM: {"schema": {"$ref": "#/components/schemas/Problem"}, "example": example}
        },
    }
    if status in _WAITING:
        answer["headers"] = {
            "Retry-After": {"schema": {"type": "integer"}, "description": "Seconds to wait"}
        }
    return answer
