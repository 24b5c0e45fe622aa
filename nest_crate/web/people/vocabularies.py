"""The vocabulary of a library, which its owners may replace."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.vocabularies import set_vocabulary
from nest_crate.catalogue.people.vocabulary import LONGEST_VOCABULARY
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, LibraryPath
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("vocabularies", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])


class VocabularyRowBody(BaseModel):
    category: str
    subcategory: str
    words: list[str] = Field(description="Words of names that hint at it")


class VocabularyBody(BaseModel):
    """The vocabulary of a library by its rows, and the same as CSV."""

    rows: list[VocabularyRowBody]
    csv: str
    own: bool = Field(description="Whether it is the library's own; the server's otherwise")


class VocabularyRequest(Form):
    csv: str | None = Field(
        max_length=LONGEST_VOCABULARY,
        description="The new one as CSV; null takes the server's again",
    )


@api.get(
    "/libraries/<library:library_id>/vocabulary", responses={200: VocabularyBody, 404: Problem}
)
def vocabulary_of(path: LibraryPath) -> Response:
    """The categories of a library, and the words that hint at them."""
    with services().database.session() as session:
        return _answer(session, current_account(), path.library_id)


@api.put(
    "/libraries/<library:library_id>/vocabulary",
    responses={200: VocabularyBody, 403: Problem, 422: Problem},
)
def put_vocabulary(path: LibraryPath, body: VocabularyRequest) -> Response:
    """Give a library a vocabulary of its own, or the server's again. Samples stay as they are."""
    with services().database.session() as session:
        set_vocabulary(session, current_account(), path.library_id, body.csv)
        return _answer(session, current_account(), path.library_id)


def _answer(session: Session, account: CurrentAccount, library_id: int) -> Response:
    library = require_library(session, account, library_id)
    vocabulary = services().vocabularies.of(session, library_id)
    rows = [
        VocabularyRowBody(category=category, subcategory=subcategory, words=list(words))
        for category, subcategory, words in vocabulary.rows()
    ]
    own = library.vocabulary is not None
    return make_response(VocabularyBody(rows=rows, csv=vocabulary.as_csv(), own=own).model_dump())
