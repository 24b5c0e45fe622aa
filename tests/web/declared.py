"""Holds answers against the OpenAPI document: is each status and media type of a route declared?"""

from flask import request

__all__ = ["Declared"]


class Declared:
    """What routes answered in tests that their description does not say."""

    def __init__(self, app):
        self.missing = set()
        document = app.api_doc
        self._shared = document["components"]["responses"]
        self._operations = {
            operation["operationId"]: operation
            for operations in document["paths"].values()
            for operation in operations.values()
        }
        app.after_request(self._look)

    def _look(self, response):
        operation = self._operations.get((request.endpoint or "").replace(".", "_"))
        if operation is not None and request.method != "OPTIONS":
            self._compare(operation, response)
        return response

    def _compare(self, operation, response):
        name, status = operation["operationId"], f"{response.status_code}"
        answer = operation["responses"].get(status)
        if answer is None:
            self.missing.add(f"{name} answered {status}")
            return
        if "$ref" in answer:
            answer = self._shared[answer["$ref"].rpartition("/")[2]]
        kinds = answer.get("content", {})
        if kinds and response.mimetype not in kinds:
            self.missing.add(f"{name} answered {status} as {response.mimetype}")
        if not kinds and status not in ("204", "304"):
            self.missing.add(f"{name} says nothing of what {status} holds")
