"""What sources share: pitch, unison, and sets of partials."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, Timed, number

__all__ = [
    "BENDING",
    "MAX_EDITED_PARTIALS",
    "WORKING",
    "PartialSet",
    "PitchedSource",
    "RecordingId",
    "TunedSource",
    "Unison",
]

MAX_EDITED_PARTIALS = 64

# A stored recording is known by the hash of its file.
RecordingId = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class PartialSet(DocumentModel):
    """Partials drawn by hand: partial k has ``amplitudes[k - 1]`` and ``phases_deg[k - 1]``.

    Partials beyond the end of a list have amplitude 0 and phase 0.
    """

    amplitudes: Annotated[
        tuple[Annotated[float, Field(ge=0.0, le=1.0)], ...],
        Field(max_length=MAX_EDITED_PARTIALS),
    ] = (1.0,)
    phases_deg: Annotated[
        tuple[Annotated[float, Field(ge=0.0, le=360.0)], ...],
        Field(max_length=MAX_EDITED_PARTIALS),
    ] = ()
    tilt_db: float = number(
        0.0, -24.0, 12.0, label="Tilt", unit="dB", step=0.5, text="Per octave above the first."
    )
    odd_even: float = number(
        0.0,
        -1.0,
        1.0,
        label="Odd/even balance",
        unit="percent",
        text="Below 0 the even partials are lowered, above 0 the odd ones from the third on.",
    )
    comb: int = number(
        0,
        0,
        16,
        label="Remove every nth partial",
        step=1,
        whole=True,
        text="Removes every nth partial; 0 and 1 remove none.",
    )


class Unison(DocumentModel):
    """The same tone several times at once, slightly apart."""

    voices: int = number(1, 1, 16, label="Voices", step=1, whole=True)
    detune_cent: float = number(
        12.0,
        0.0,
        200.0,
        label="Detune",
        unit="cent",
        step=1.0,
        text="Of the outermost voices.",
        followed=True,
    )
    width: float = number(0.5, 0.0, 1.0, label="Stereo width", unit="percent")
    phase_spread: float = number(1.0, 0.0, 1.0, label="Phase spread", unit="percent")
    balance: float = number(
        0.5,
        0.0,
        1.0,
        label="Centre/side balance",
        unit="percent",
        text="0 % the innermost voices only, 50 % all alike, 100 % the outermost only.",
    )


# How another layer may act on a source: bend it, or work on what it makes.
BENDING = ("phase", "frequency", "sync")
WORKING = ("ring", "amplitude")


class PitchedSource(Timed):
    """What has a pitch, that curves, slides and movers may take elsewhere."""

    modulations: ClassVar[tuple[str, ...]] = (*BENDING, *WORKING)
    follows_note: bool = Field(default=True, title="Key tracking")
    ratio: float = number(
        1.0,
        0.25,
        32.0,
        label="Ratio",
        scale="log",
        step=0.01,
        text="Times the pitch.",
        followed=True,
    )
    octave: int = number(0, -4, 4, label="Octave", step=1, whole=True)
    transpose_st: float = number(
        0.0, -60.0, 60.0, label="Transpose", unit="st", step=1.0, followed=True
    )
    fine_cent: float = number(
        0.0, -100.0, 100.0, label="Fine pitch", unit="cent", step=1.0, followed=True
    )
    vibrato_hz: float = number(
        5.0,
        0.05,
        50.0,
        label="Vibrato rate",
        unit="Hz",
        scale="log",
        step=0.1,
        followed=True,
    )
    vibrato_st: float = number(0.0, 0.0, 12.0, label="Vibrato", unit="st", step=0.1, followed=True)


class TunedSource(PitchedSource):
    """A pitched source that stands at a fixed pitch where it doesn't follow the note."""

    fixed_hz: float = number(
        110.0,
        1.0,
        20000.0,
        label="Fixed pitch",
        unit="Hz",
        scale="log",
        step=1.0,
        followed=True,
    )
