"""What is asked of the catalogue, and what is answered."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

__all__ = ["CHOICES", "RANGES", "Found", "RangeFacet", "SampleQuery", "Sort"]

# Numbers with a range each, and whether the range has a logarithmic scale.
RANGES: dict[str, bool] = {
    "length_s": True,
    "root_hz": True,
    "brightness_hz": True,
    "decay_s": True,
    "loudness_lufs": False,
    "noisiness": False,
}
# Facets of which one or several are chosen.
CHOICES = (
    "category",
    "subcategory",
    "status",
    "library",
    "maker",
    "note",
    "tag",
    "channels",
    "folder",
)

Sort = Literal[
    "best", "name", "newest", "length_s", "loudness_lufs", "brightness_hz", "decay_s", "rating"
]
_Bound = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]


class SampleQuery(BaseModel):
    """Words, facets and ranges; everything that is left out does not matter."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    words: str = Field(default="", max_length=200)
    libraries: list[int] = Field(default_factory=list, max_length=200)
    categories: list[str] = Field(default_factory=list, max_length=100)
    subcategories: list[str] = Field(default_factory=list, max_length=100)
    statuses: list[str] = Field(default_factory=list, max_length=10)
    makers: list[int] = Field(default_factory=list, max_length=100)
    notes: list[str] = Field(default_factory=list, max_length=128)
    tags: list[str] = Field(default_factory=list, max_length=40)
    folders: list[str] = Field(default_factory=list, max_length=100)
    channels: list[int] = Field(default_factory=list, max_length=2)
    group: str = Field(default="", max_length=80)
    sound_id: int | None = None
    like: int | None = Field(default=None, description="Id of a sample; the nearest come first")
    binned: bool = False
    ranges: dict[str, tuple[_Bound | None, _Bound | None]] = Field(default_factory=dict)
    sort: Sort = "best"
    descending: bool = False

    @model_validator(mode="after")
    def _ranges_are_known(self) -> SampleQuery:
        for name, (low, high) in self.ranges.items():
            if name not in RANGES:
                raise ValueError(f"ranges: {name!r} has no range; use {', '.join(RANGES)}")
            if low is not None and high is not None and low > high:
                raise ValueError(f"ranges.{name}: {low} lies above {high}")
        return self


class RangeFacet(BaseModel):
    """Lowest and highest of what is found, and how many lie in each of equal parts between."""

    low: float
    high: float
    logarithmic: bool
    counts: list[int]


class Found(BaseModel):
    """Ids of one page in order, the number of all, and counts by facet of what is found.

    A facet's counts are those without its own choice, so that another can be added.
    """

    ids: list[int]
    total: int
    choices: dict[str, dict[str, int]]
    ranges: dict[str, RangeFacet]
    read_as: dict[str, list[str]]
