"""The batch plan: sounds, axes that multiply, spreads that scatter, and what every member gets."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.parameters import DocumentModel, number

__all__ = [
    "BATCH_VERSION",
    "MAX_MEMBERS",
    "Axis",
    "AxisKind",
    "BatchPlan",
    "Centre",
    "MemberRules",
    "PlannedSound",
    "Spread",
    "SpreadShape",
]

BATCH_VERSION: Literal[1] = 1
# Of one plan: what a sheet shows and a worker's tables hold.
MAX_MEMBERS = 20_000
MAX_SPREADS = 48

AxisKind = Literal["note", "velocity", "hold", "hit", "macro", "rate"]
SpreadShape = Literal["even", "bell", "low", "high"]
Identifier = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
Target = Annotated[str, Field(min_length=1, max_length=120)]

# Lowest, highest, whole numbers only.
_RANGES: dict[AxisKind, tuple[float, float, bool]] = {
    "note": (0, 127, True),
    "velocity": (1, 127, True),
    "hold": (0.0, 60.0, False),
    "hit": (1, 1_000_000, True),
    "macro": (0.0, 1.0, False),
    "rate": (8000, 192_000, True),
}


class Axis(DocumentModel):
    """One thing that is varied in steps; axes multiply. Either ``values``, or all from ``first``
    to ``last`` by ``step``."""

    kind: AxisKind
    macro: str = Field(default="", max_length=40, exclude_if=lambda value: not value)
    """Which macro, by id."""
    values: Annotated[tuple[float, ...], Field(max_length=512)] = ()
    first: float | None = None
    last: float | None = None
    step: float = Field(default=1.0, gt=0.0, le=1_000_000.0)

    def steps(self) -> tuple[float, ...]:
        """The values in their order."""
        if self.first is None or self.last is None:
            return self.values
        return tuple(self.first + n * self.step for n in range(self.count))

    @property
    def count(self) -> int:
        """How many values there are, without making them."""
        if self.first is None or self.last is None:
            return len(self.values)
        return int((self.last - self.first) / self.step + 1e-9) + 1

    @model_validator(mode="after")
    def _in_range(self) -> Self:
        if (self.first is None) != (self.last is None):
            raise ValueError("first and last belong together")
        if self.first is not None and self.values:
            raise ValueError("give either values, or first and last")
        if self.first is not None and self.last is not None and self.last < self.first:
            raise ValueError(f"last {self.last:g} lies below first {self.first:g}")
        if self.count == 0:
            raise ValueError("an axis needs at least one value")
        low, high, whole = _RANGES[self.kind]
        ends = self.values if self.first is None else (self.first, self._last())
        for value in ends:
            if not low <= value <= high:
                raise ValueError(f"{value:g} is not between {low:g} and {high:g}")
        looked_at = self.values if self.first is None else (self.first, self.step)
        if whole and any(value != int(value) for value in looked_at):
            raise ValueError(f"{self.kind}s are whole numbers")
        if (self.kind == "macro") != bool(self.macro):
            raise ValueError("a macro's axis names its macro, and no other does")
        if self.first is None and len(set(self.values)) < len(self.values):
            raise ValueError("a value stands twice")
        return self

    def _last(self) -> float:
        return (self.first or 0.0) + (self.count - 1) * self.step


class Spread(DocumentModel):
    """A number that is scattered between ``low`` and ``high``, in its own unit."""

    target: Target
    """As a link names it: ``body.cutoff_hz``."""
    low: float
    high: float
    shape: SpreadShape = Field(
        default="bell",
        description="Even, a bell around the middle, or towards an end.",
    )
    together: str = Field(default="", max_length=20)
    """Spreads of one name are drawn alike: high with high, low with low."""

    @model_validator(mode="after")
    def _has_width(self) -> Self:
        if self.high < self.low:
            raise ValueError(f"high {self.high:g} lies below low {self.low:g}")
        return self


class Centre(DocumentModel):
    """A member around which, or away from which, is drawn: its values by target."""

    values: Annotated[dict[Target, float], Field(max_length=MAX_SPREADS)] = Field(
        default_factory=dict
    )


class PlannedSound(DocumentModel):
    """A sound of the plan: one of a library by its id, at a revision, or one that stands here."""

    id: Identifier
    sound: Annotated[int, Field(ge=1)] | None = None
    revision: Annotated[int, Field(ge=1)] | None = None
    """None: the draft when a round is run, which is kept as a revision then."""
    document: dict[str, Any] | None = Field(default=None, exclude_if=lambda value: value is None)
    """The sound itself, so that the plan can be run without a library."""
    axes: Annotated[tuple[Axis, ...], Field(max_length=8)] = ()
    spreads: Annotated[tuple[Spread, ...], Field(max_length=MAX_SPREADS)] = ()
    draws: int = number(
        1, 1, MAX_MEMBERS, label="Draws", step=1, whole=True, text="For each step of the axes."
    )

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        axes = [(one.kind, one.macro) for one in self.axes]
        if len(set(axes)) < len(axes):
            raise ValueError("an axis stands twice")
        targets = [one.target for one in self.spreads]
        if len(set(targets)) < len(targets):
            raise ValueError("a number is spread twice")
        return self


class MemberRules(DocumentModel):
    """What every member gets when it is finished and kept."""

    loudness_lufs: float | None = Field(default=None, ge=-60.0, le=0.0, title="Loudness")
    """Integrated; None: each as loud as it comes."""
    ceiling_db: float = number(
        -1.0, -24.0, 0.0, label="Ceiling", unit="dB", step=0.1, text="True peak of every member."
    )
    trim: bool = Field(default=True, title="Trim end")
    fade_s: float = number(0.005, 0.0, 5.0, label="Fade", unit="s", scale="time", step=0.001)
    name: str = Field(default="{sound} {number:02}", min_length=1, max_length=120, title="Name")
    group: str = Field(default="", max_length=80, title="Group")
    """The variation group; empty: the plan's name."""
    category: str = Field(default="", max_length=40, title="Category")
    tags: Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=24)] = ()


class BatchPlan(DocumentModel):
    """A plan of a family; the same plan and engine give the same bytes."""

    schema_version: Literal[1] = BATCH_VERSION
    name: str = Field(min_length=1, max_length=120)
    seed: int = number(1, 0, 2**31 - 1, label="Seed", step=1, whole=True)
    difference: float = number(
        1.0,
        0.0,
        4.0,
        label="How different",
        unit="percent",
        step=0.05,
        text="Scales every spread around the value that the sound has.",
    )
    sounds: Annotated[tuple[PlannedSound, ...], Field(min_length=1, max_length=8)]
    members: MemberRules = MemberRules()
    around: Annotated[tuple[Centre, ...], Field(max_length=5)] = ()
    """A later round draws around these."""
    away: Annotated[tuple[Centre, ...], Field(max_length=5)] = ()
    """And far from these."""
    narrow: float = number(
        0.4,
        0.02,
        1.0,
        label="Narrower",
        unit="percent",
        step=0.05,
        text="Width of the spreads around picked members, of that around the original.",
    )

    @model_validator(mode="after")
    def _ids_differ(self) -> Self:
        ids = [one.id for one in self.sounds]
        if len(set(ids)) < len(ids):
            raise ValueError("two sounds have the same id")
        return self
