"""Errors of all layers as answers of HTTP."""

import pytest

from nest_crate.catalogue.db.errors import DatabaseBusy, DatabaseGone, NotAllowed, NotFound
from nest_crate.core.errors import DocumentError, DocumentTooLarge, FieldProblem, NestCrateError
from nest_crate.storage.files import FileMissing, StorageError
from nest_crate.web.infra.problems import problem_of


class Unlisted(NotFound):
    """An error of a kind that the table does not name."""


@pytest.mark.parametrize(
    ("error", "status"),
    [
        (NestCrateError("x"), 400),
        (NotAllowed("x"), 403),
        (NotFound("x"), 404),
        (Unlisted("x"), 404),
        (FileMissing("x"), 404),
        (DatabaseBusy("x"), 409),
        (DocumentTooLarge([FieldProblem("", "x", "y")]), 413),
        (DocumentError([FieldProblem("", "x", "y")]), 422),
        (DatabaseGone("x"), 503),
        (StorageError("x"), 507),
    ],
)
def test_an_error_has_the_status_of_its_nearest_class(error, status):
    problem = problem_of(error)
    assert problem.status == status
    assert (problem.code, problem.title) == (error.code, error.title)
