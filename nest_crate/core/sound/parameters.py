"""The one declaration of a parameter: name, unit, range, default, scale and step.

Validation, the JSON Schema, the screens and the documents all read what is declared here.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic.fields import FieldInfo

__all__ = [
    "MAX_BEATS",
    "DocumentModel",
    "Parameter",
    "Scale",
    "Timed",
    "Unit",
    "declared_parameters",
    "number",
    "times_of",
]

MAX_BEATS = 400.0
# Of a time that counts from a beat.
_MOST_SECONDS = 600.0

Unit = Literal[
    "", "Hz", "s", "st", "cent", "dB", "deg", "percent", "note", "beat", "bpm", "octave", "m"
]
Scale = Literal["linear", "log", "time"]


class DocumentModel(BaseModel):
    """Base of every part of a document: frozen, closed, finite, defaults checked too."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        validate_default=True,
        allow_inf_nan=False,
        strict=False,
        # Read in the schema as the field's own words.
        use_attribute_docstrings=True,
    )


@dataclass(frozen=True)
class Parameter:
    """What a screen or a document needs to know about one number."""

    name: str
    label: str
    unit: Unit
    minimum: float
    maximum: float
    default: float
    scale: Scale
    step: float
    whole: bool
    help: str
    followed: bool = False
    """Moved all through a hit; else once, by what its mover says at the start of the hit."""
    octaves: bool = False
    """Links move it in octaves, unless they are set to move it in its own unit."""

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


def number(
    default: float,
    low: float,
    high: float,
    *,
    label: str,
    unit: Unit = "",
    scale: Scale = "linear",
    step: float = 0.01,
    whole: bool = False,
    text: str = "",
    followed: bool = False,
    octaves: bool | None = None,
) -> Any:
    """Declare a number once.

    Parameters
    ----------
    default, low, high
        in ``unit``; a percentage is stored as a fraction (0.5 is 50 %).
    scale
        how the screen spreads the range: linear, log (frequency) or time (fine near 0).
    step
        one nudge, in ``unit`` (of the stored number).
    followed
        whether links move it all through a hit, or only once, at its start.
    octaves
        whether links multiply it by octaves; where nothing is stated, frequencies above 0 Hz and
        what is itself in octaves.
    """
    return Field(
        default=default,
        ge=low,
        le=high,
        title=label,
        description=text or None,
        json_schema_extra={
            "unit": unit,
            "scale": scale,
            "step": step,
            "whole": whole,
            "followed": followed,
            "octaves": (unit == "octave" or (unit == "Hz" and low > 0.0))
            if octaves is None
            else octaves,
        },
    )


def _bound(info: FieldInfo, attribute: str) -> float:
    for mark in info.metadata:
        value = getattr(mark, attribute, None)
        if value is not None:
            return float(value)
    raise LookupError(f"{info.title} declares no bound {attribute!r}")


@lru_cache(maxsize=256)
def declared_parameters(model: type[BaseModel]) -> tuple[Parameter, ...]:
    """Every number declared on a document part, in the order of its declaration."""
    found: list[Parameter] = []
    for name, info in model.model_fields.items():
        extra = info.json_schema_extra
        if not isinstance(extra, dict) or "scale" not in extra:
            continue
        found.append(
            Parameter(
                name=name,
                label=info.title or name,
                unit=extra["unit"],  # type: ignore[arg-type]
                minimum=_bound(info, "ge"),
                maximum=_bound(info, "le"),
                default=float(info.default),
                scale=extra["scale"],  # type: ignore[arg-type]
                step=float(extra["step"]),  # type: ignore[arg-type]
                whole=bool(extra["whole"]),
                help=info.description or "",
                followed=bool(extra["followed"]),
                octaves=bool(extra["octaves"]),
            )
        )
    return tuple(found)


@lru_cache(maxsize=256)
def times_of(model: type[BaseModel]) -> frozenset[str]:
    """Names of a part's times, which may be kept as beats."""
    return frozenset(one.name for one in declared_parameters(model) if one.unit == "s")


class Timed(DocumentModel):
    """A part with times: each is in seconds, or in beats that are seconds at the sound's tempo."""

    in_beats: dict[str, Annotated[float, Field(ge=0.0, le=MAX_BEATS)]] = Field(
        default_factory=dict, exclude_if=lambda value: not value
    )
    """Times that are kept as beats, by name; the seconds beside them follow the tempo."""
    and_seconds: dict[str, Annotated[float, Field(ge=-_MOST_SECONDS, le=_MOST_SECONDS)]] = Field(
        default_factory=dict, exclude_if=lambda value: not value
    )
    """Seconds that lie between those beats and the time: two beats after an attack of 5 ms."""

    def with_seconds(self, **seconds: float) -> Self:
        """A copy with these times in seconds, whatever they were kept as."""
        beats = {name: one for name, one in self.in_beats.items() if name not in seconds}
        more = {name: one for name, one in self.and_seconds.items() if name not in seconds}
        return self.model_copy(update={**seconds, "in_beats": beats, "and_seconds": more})

    @model_validator(mode="after")
    def _beats_are_of_times(self) -> Self:
        for name in self.in_beats:
            if name not in times_of(type(self)):
                raise ValueError(f"in_beats: {name!r} is no time of this part")
        for name in self.and_seconds:
            if name not in self.in_beats:
                raise ValueError(f"and_seconds: {name!r} is not kept as beats")
        return self
