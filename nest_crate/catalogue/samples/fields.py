"""The fields of a sample that people change, each with its rule; read by services and views."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

__all__ = ["FIELDS", "MOST_TAGS", "SampleChanges", "Tag", "TagList", "clean_tag", "tags_among"]

_TAG = re.compile(r"^[\w#+&.' -]{1,40}$")
MOST_TAGS = 40

# As they are called on screen and in the history.
FIELDS: dict[str, str] = {
    "name": "name",
    "category": "category",
    "subcategory": "subcategory",
    "tags": "tags",
    "description": "description",
    "licence": "licence",
    "author": "author",
    "rating": "rating",
    "variation_group": "variation group",
    "variation": "variation",
    "follows_key": "follows the key",
    "root_note": "root note",
    "tempo_bpm": "tempo",
    "loop_start_s": "loop start",
    "loop_end_s": "loop end",
    "folder": "folder",
    "status": "status",
    "edits": "start, end, fades and gain",
    "file_digest": "audio",
    "take_id": "take",
    "binned": "in the bin",
    "comments": "comments",
}


def clean_tag(tag: str) -> str:
    """A tag in small letters without spaces around; ``ValueError`` where it is no tag."""
    tag = " ".join(tag.lower().split())
    if not _TAG.match(tag):
        raise ValueError("use 1 to 40 letters, digits or # + & . ' - _")
    return tag


def tags_among(words: Iterable[str]) -> list[str]:
    """Those of some words that can be tags, each once."""
    found: list[str] = []
    for word in words:
        try:
            found.append(clean_tag(word))
        except ValueError:
            continue
    return _unique(found)[:MOST_TAGS]


def _unique(tags: list[str]) -> list[str]:
    return list(dict.fromkeys(tags))


def _one_line(text: str) -> str:
    text = " ".join(text.split())
    if not text:
        raise ValueError("enter at least one character")
    return text


Tag = Annotated[str, AfterValidator(clean_tag)]
TagList = Annotated[list[Tag], Field(max_length=MOST_TAGS), AfterValidator(_unique)]
_Time = Annotated[float, Field(ge=0.0, le=600.0, allow_inf_nan=False)]


class SampleChanges(BaseModel):
    """New values of some fields; what is left out stays."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    name: Annotated[str, Field(max_length=120), AfterValidator(_one_line)] | None = None
    category: str | None = Field(default=None, max_length=40)
    subcategory: str | None = Field(default=None, max_length=40)
    tags: TagList | None = None
    description: str | None = Field(default=None, max_length=4000)
    licence: str | None = Field(default=None, max_length=120)
    author: str | None = Field(default=None, max_length=120)
    rating: int | None = Field(default=None, ge=0, le=5)
    variation_group: str | None = Field(default=None, max_length=80)
    folder: str | None = Field(default=None, max_length=255)
    variation: int | None = Field(default=None, ge=1, le=9999)
    follows_key: bool | None = None
    root_note: int | None = Field(default=None, ge=0, le=127)
    tempo_bpm: float | None = Field(default=None, ge=20.0, le=400.0)
    loop_start_s: _Time | None = None
    loop_end_s: _Time | None = None

    def given(self) -> dict[str, Any]:
        """The values that were given, an explicit null of a field that may be empty among them."""
        values = self.model_dump(include=self.model_fields_set)
        return {
            name: value
            for name, value in values.items()
            if value is not None or name in _MAY_BE_EMPTY
        }


_MAY_BE_EMPTY = {"variation", "root_note", "tempo_bpm", "loop_start_s", "loop_end_s"}
