"""What is typical of the kind that is compared, in the library it is of."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlalchemy.orm import Session

from nest_crate.catalogue.comparing.sides import FoundSide
from nest_crate.catalogue.search import SampleIndex

__all__ = ["FIGURES", "TypicalFigures", "typical_figures"]

FIGURES = ("loudness_lufs", "length_s", "decay_s", "brightness_hz", "low_share_db")
# Of fewer, quartiles say nothing.
_LEAST_SAMPLES = 4


@dataclass(frozen=True)
class TypicalFigures:
    """Quartiles by figure over ``count`` samples; nothing where there are too few of a kind."""

    name: str = ""
    count: int = 0
    quartiles: Mapping[str, tuple[float, float, float]] = field(default_factory=dict)


def typical_figures(
    session: Session, index: SampleIndex, sides: Sequence[FoundSide]
) -> TypicalFigures:
    """Of the kind of the first side that is in a library and has one: its subcategory there, or its
    category where that has too few samples. The account may see the sides by then."""
    kind = next((one for one in sides if one.library_id is not None and one.category), None)
    if kind is None or kind.library_id is None:
        return TypicalFigures()
    index.refresh(session)
    for subcategory in dict.fromkeys((kind.subcategory, "")):
        found = {
            name: index.quartiles(
                name,
                libraries=[kind.library_id],
                category=kind.category,
                subcategory=subcategory,
            )
            for name in FIGURES
        }
        count = min(count for _, count in found.values())
        if count >= _LEAST_SAMPLES:
            name = " / ".join(filter(None, (kind.category, subcategory)))
            return TypicalFigures(name, count, {key: one for key, (one, _) in found.items()})
    return TypicalFigures()
