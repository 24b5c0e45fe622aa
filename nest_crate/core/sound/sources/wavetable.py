"""The wavetable: many cycles in a row, and a place among them that moves."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.sources.base import PartialSet, RecordingId, TunedSource, Unison

__all__ = [
    "MAX_TABLE_FRAMES",
    "DrawnTable",
    "ImportedTable",
    "PartialTable",
    "SlicedTable",
    "StockTable",
    "WaveTableOrigin",
    "WavetableSource",
]

MAX_TABLE_FRAMES = 256
_MAX_KEYS = 16
_Level = Annotated[float, Field(ge=-1.0, le=1.0)]


class StockTable(DocumentModel):
    """A table that comes with the program."""

    origin: Literal["stock"] = "stock"
    name: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9-]+$")] = "even-odd"


class PartialTable(DocumentModel):
    """Sets of partials, evenly spread over the table, with what lies between mixed."""

    origin: Literal["partials"] = "partials"
    keys: Annotated[tuple[PartialSet, ...], Field(min_length=1, max_length=_MAX_KEYS)] = (
        PartialSet(),
    )
    frames: int = number(64, 1, MAX_TABLE_FRAMES, label="Frames", step=1, whole=True)


class DrawnTable(DocumentModel):
    """Cycles drawn by hand, as levels from -1 to 1, evenly spread over the table."""

    origin: Literal["drawn"] = "drawn"
    keys: Annotated[
        tuple[Annotated[tuple[_Level, ...], Field(min_length=8, max_length=256)], ...],
        Field(min_length=1, max_length=_MAX_KEYS),
    ]
    frames: int = number(64, 1, MAX_TABLE_FRAMES, label="Frames", step=1, whole=True)


class ImportedTable(DocumentModel):
    """Cycles one behind the other in a stored recording."""

    origin: Literal["imported"] = "imported"
    recording: RecordingId
    name: Annotated[str, Field(max_length=120)] = ""
    cycle_frames: int = number(
        2048, 256, 4096, label="Frames a cycle", step=1, whole=True, text="Samples of one cycle."
    )


class SlicedTable(DocumentModel):
    """Single periods cut from a stored recording at even distances."""

    origin: Literal["sliced"] = "sliced"
    recording: RecordingId
    name: Annotated[str, Field(max_length=120)] = ""
    hz: float = number(
        110.0,
        10.0,
        8000.0,
        label="Pitch of the sample",
        unit="Hz",
        scale="log",
        step=1.0,
        text="One period of it is one frame.",
    )
    start_s: float = number(0.0, 0.0, 600.0, label="From", unit="s", scale="time", step=0.01)
    end_s: float = number(
        0.0, 0.0, 600.0, label="To", unit="s", scale="time", step=0.01, text="0: the sample's end."
    )
    frames: int = number(64, 1, MAX_TABLE_FRAMES, label="Frames", step=1, whole=True)


WaveTableOrigin = Annotated[
    StockTable | PartialTable | DrawnTable | ImportedTable | SlicedTable,
    Field(discriminator="origin"),
]


class WavetableSource(TunedSource):
    """Cycles read at a pitch, one after the other or wherever the position is moved to."""

    kind: Literal["wavetable"] = "wavetable"
    table: WaveTableOrigin = Field(default_factory=StockTable)
    position: float = number(
        0.0,
        0.0,
        1.0,
        label="Position",
        unit="percent",
        text="0 % the first frame, 100 % the last.",
        followed=True,
    )
    skew: float = number(
        0.0,
        -1.0,
        1.0,
        label="Skew",
        text="Moves the middle of each cycle later or earlier.",
    )
    bend: float = number(
        0.0,
        -1.0,
        1.0,
        label="Cycle bend",
        unit="percent",
        text="Crowds each cycle towards its ends, below 0 towards its middle.",
    )
    fold: float = number(
        0.0,
        0.0,
        1.0,
        label="Fold",
        unit="percent",
        text="Raises each cycle and folds it back at full scale.",
    )
    reading: Literal["smooth", "stepped"] = Field(default="smooth", title="Frame interpolation")
    scan: Literal["still", "forwards", "backwards", "back_and_forth"] = Field(
        default="still", title="Scan"
    )
    scan_s: float = number(
        1.0,
        0.005,
        60.0,
        label="Scan time",
        unit="s",
        scale="time",
        step=0.05,
        text="From the first frame to the last.",
    )
    phase_deg: float = number(0.0, 0.0, 360.0, label="Start phase", unit="deg", step=1.0)
    phase_random: float = number(0.0, 0.0, 1.0, label="Random phase", unit="percent")
    unison: Unison = Field(default_factory=Unison)
