"""Shapes of requests and answers; the front end's types are made from them."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = [
    "AuditionBody",
    "AuditionRequest",
    "ComparisonBody",
    "DetailsBody",
    "DetailsRequest",
    "DocumentBody",
    "DraftBody",
    "DraftRequest",
    "FileDetails",
    "HoldOutlineBody",
    "LayerDetailsBody",
    "LibraryBody",
    "LibraryChangeRequest",
    "LibraryRequest",
    "MidiBody",
    "NewSoundRequest",
    "OutlineBody",
    "PhraseRequest",
    "PhrasesBody",
    "ProbeBody",
    "ProposalBody",
    "ProposalRequest",
    "RecipeBody",
    "RecordingBody",
    "RecordingsBody",
    "RepeatsBody",
    "RevisionBody",
    "RevisionRequest",
    "RingingBody",
    "SampleBody",
    "SavedChainBody",
    "SavedChainRequest",
    "SavedChainsBody",
    "ShapeBody",
    "ShapeRequest",
    "ShapesBody",
    "SoundBody",
    "SourceLookBody",
    "SourceRequest",
    "TakeRequest",
    "WavetableBody",
    "WavetablesBody",
]


class _Request(BaseModel):
    model_config = ConfigDict(extra="forbid")


class LibraryRequest(_Request):
    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    description: str = Field(default="", max_length=4000)
    visibility: Literal["private", "shared", "public"] = "shared"


class LibraryChangeRequest(_Request):
    """What is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=120, pattern=r"\S")
    description: str | None = Field(default=None, max_length=4000)
    visibility: Literal["private", "shared", "public"] | None = None


class LibraryBody(BaseModel):
    """A library, the account's role in it with what that allows, and its number of samples."""

    id: int
    name: str
    description: str
    visibility: str
    role: str
    may: list[str]
    samples: int


class NewSoundRequest(_Request):
    library_id: int
    document: dict[str, Any]


class SoundBody(BaseModel):
    """A sound in the list."""

    id: int
    name: str
    category: str
    tags: list[str]
    description: str
    takes: int = Field(description="Samples that were made from it")
    deleted: bool
    library_id: int
    library_name: str
    changed: str
    revision: int = Field(description="Number of the newest revision, 0 where none was kept")


class DraftBody(SoundBody):
    """A sound with its draft."""

    version: int = Field(description="Name it as base_version when saving")
    document: dict[str, Any]


class DocumentBody(_Request):
    document: dict[str, Any]


class DraftRequest(_Request):
    base_version: int
    document: dict[str, Any]


class RevisionRequest(DraftRequest):
    note: str = Field(default="", max_length=500)


class RevisionBody(BaseModel):
    """One kept state of a sound."""

    number: int
    note: str
    created: str
    created_by: str
    document: dict[str, Any]


class TakeRequest(DraftRequest):
    hit: dict[str, Any]
    library_id: int
    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    count: int = Field(
        default=1, ge=1, le=64, description="Hits from the given number on, each one take"
    )
    sample_rate: Literal[44100, 48000, 88200, 96000, 192000] = 48000


class SampleBody(BaseModel):
    """A catalogued sample. ``outline`` is base64 of int8 pairs (lowest, highest)."""

    id: int
    library_id: int
    library_name: str
    name: str
    version: int = Field(description="Name it as base_version when changing")
    category: str
    subcategory: str
    tags: list[str]
    description: str
    licence: str
    author: str
    rating: int
    status: str
    variation_group: str
    variation: int | None
    follows_key: bool
    root_note: int | None
    tempo_bpm: float | None
    loop_start_s: float | None
    loop_end_s: float | None
    edits: dict[str, float]
    file_digest: str
    length_s: float
    channels: int
    sample_rate: int
    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    fundamental_hz: float | None
    note: str | None
    cents: float | None
    decay_s: float
    brightness_hz: float
    noisiness: float
    low_share_db: float
    suggested_tags: list[str]
    outline: str
    details: FileDetails
    deleted: bool
    created: str
    changed: str
    created_by: str
    sound_id: int | None
    sound_revision: int | None
    hit: dict[str, Any] | None
    engine_version: int | None


class AuditionRequest(_Request):
    document: dict[str, Any]
    hit: dict[str, Any] | None = Field(default=None, description="The sound's own where null")
    quality: Literal["draft", "final"] = "final"
    sample_rate: int = 48000


class DetailsRequest(AuditionRequest):
    holds: bool = Field(default=True, description="A tap and a long hold are rendered too")


class ListenRequest(AuditionRequest):
    listen_at: str | None = Field(
        default=None, description="Id of a step to listen at instead of the output"
    )
    sound_id: int | None = Field(
        default=None, description="The sound it is, for comparing it with what its library holds"
    )


class OutlineBody(BaseModel):
    """base64 of int8 pairs (lowest, highest) a column; 127 stands for ``scale``."""

    scale: float
    data: str


class SpectrogramBody(BaseModel):
    """base64 of uint8, row by row from the lowest; 0 is ``floor_db``, 255 is 0 dB."""

    rows: int
    columns: int
    low_hz: float
    high_hz: float
    floor_db: float
    data: str


class StereoBody(BaseModel):
    """``side_db`` is the sides re the middle below 120 Hz, to 500 Hz, to 2 kHz and above."""

    correlation: float
    low_correlation: float
    side_db: list[float]
    mono_loss_db: float
    low_share_db: float


class MeasuresBody(BaseModel):
    length_s: float
    channels: int
    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    offset_db: float
    fundamental_hz: float | None
    note: str | None
    cents: float | None
    stereo: StereoBody


class EditBody(BaseModel):
    path: str
    value: Any


class MendBody(BaseModel):
    label: str
    edits: list[EditBody]


class RemarkBody(BaseModel):
    code: str
    severity: Literal["good", "warn", "bad"]
    text: str
    at_s: float | None
    layer: str | None
    mends: list[MendBody]


class TookBody(BaseModel):
    """Milliseconds of each part of the work."""

    render_ms: float
    measure_ms: float
    draw_ms: float
    total_ms: float
    stages: int = Field(description="Steps of the render that were looked at")
    remembered: int = Field(description="Of these, taken from memory instead of made anew")


class AuditionBody(BaseModel):
    """A rendered hit: fetch its audio by ``digest``."""

    digest: str
    sample_rate: int
    frames: int
    end_reason: Literal["silence", "length", "limit"]
    measures: MeasuresBody
    remarks: list[RemarkBody]
    outline: OutlineBody
    layers: dict[str, OutlineBody]
    levels_db: dict[str, float]
    spectrogram: SpectrogramBody
    took: TookBody


class PhraseBody(BaseModel):
    name: str
    label: str


class PhrasesBody(BaseModel):
    phrases: list[PhraseBody]


class PhraseRequest(_Request):
    document: dict[str, Any]
    phrase: str = Field(max_length=40)
    sample_rate: int = 48000


class RingingBody(BaseModel):
    """Seconds from the start: the loudest moment, the last ones within 20, 40 and 60 dB of it."""

    loudest_s: float
    falls_s: list[float]
    ring_s: float


class LayerDetailsBody(BaseModel):
    """``track`` is (seconds, semitones from ``base_hz``), as measured on the render."""

    track: list[list[float]]
    base_hz: float | None
    landing_hz: float | None
    note: str | None
    cents: float | None
    ringing: RingingBody | None
    held_st: float | None = Field(description="Semitones from its own pitch at the hold's end")
    bands_db: list[list[float]] = Field(
        description="Peak level over time below 120 Hz, to 500 Hz, to 2 kHz and above"
    )


class HoldOutlineBody(BaseModel):
    name: str
    hold_s: float
    length_s: float
    end_reason: Literal["silence", "length", "limit"]
    ringing: RingingBody | None
    outline: OutlineBody


class DetailsBody(BaseModel):
    layers: dict[str, LayerDetailsBody]
    ringing: RingingBody | None
    holds: list[HoldOutlineBody]
    moved: dict[str, list[list[float]]] = Field(
        description="By target: (seconds, value in its own unit), as it is reached"
    )
    held: dict[str, float] = Field(description="By target: the value at the end of the hold")
    loudness_lufs: dict[str, float] = Field(description="After each step of the path, by its id")


class ProbeStepBody(BaseModel):
    where: str
    layer: str | None
    level_db: float | None
    silent: bool
    reason: str
    mends: list[MendBody]


class ProbeBody(BaseModel):
    steps: list[ProbeStepBody]


class RepeatsBody(BaseModel):
    """``difference_db`` is the largest difference signal re the first hit's level."""

    hits: int
    identical: bool
    difference_db: float
    peak_spread_db: float
    loudness_spread_db: float
    low_spread_db: float


class ProcessorRequest(AuditionRequest):
    processor: str = Field(max_length=40, description="Id of the processor")


class StepFiguresBody(BaseModel):
    """Levels at one place of the path; ``spectrum_db`` at the frequencies of the look."""

    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    transient_db: float | None
    spectrum_db: list[float]
    low_tail_db: float


class GainCurveBody(BaseModel):
    """Gain over the hit; ``band`` is empty for the whole."""

    band: str
    time_s: list[float]
    gain_db: list[float]


class ResonanceBody(BaseModel):
    hz: float
    level_db: float
    over_db: float


class ProcessorLookBody(BaseModel):
    """What goes into a processor, what comes out, and what it does meanwhile."""

    before: StepFiguresBody
    after: StepFiguresBody
    spectrum_hz: list[float]
    change_db: float
    gains: list[GainCurveBody]
    resonances: list[ResonanceBody]


class SourceRequest(AuditionRequest):
    layer: str = Field(max_length=40, description="Id of the layer")


class LookedModeBody(BaseModel):
    """One mode of a body: level re the loudest, ``decay_s`` to -60 dB."""

    mode: int
    hz: float
    level_db: float
    decay_s: float
    heard: bool


class CyclesBody(BaseModel):
    """base64 of int8, ``frames`` rows of ``columns``; 127 stands for 1."""

    frames: int
    columns: int
    data: str


class SourceLookBody(BaseModel):
    """What there is to see of a source; what its kind does not have is empty."""

    kind: str
    modes: list[LookedModeBody]
    loop_gain: float | None
    cycles: CyclesBody | None
    places: list[float]
    places_s: float
    outline: OutlineBody | None
    length_s: float
    start_s: float
    end_s: float
    begins_s: float


class WavetableBody(BaseModel):
    """A table that comes with the program, with some of its cycles."""

    name: str
    cycles: CyclesBody


class WavetablesBody(BaseModel):
    wavetables: list[WavetableBody]


class StarterBody(BaseModel):
    """A sound to start from, what it is for and what it is made of."""

    category: str
    words: str
    document: dict[str, Any]


class StartersBody(BaseModel):
    starters: list[StarterBody]


class ProposalRequest(BaseModel):
    recording: str = Field(pattern=r"^[0-9a-f]{64}$")
    name: str = Field(default="From a file", min_length=1, max_length=120)


class DistanceBody(BaseModel):
    """Mean differences from a reference; ``bands_db`` ours less the reference at ``bands_hz``."""

    level_db: float
    pitch_cent: float | None
    bands_mean_db: float
    bands_hz: list[float]
    bands_db: list[float]


class ProposalBody(BaseModel):
    """A first sound for a reference, what was found in it, and how near the sound is."""

    document: dict[str, Any]
    distance: DistanceBody
    found: list[str]


class BandLevelsBody(BaseModel):
    name: str
    ours_db: list[float]
    reference_db: list[float]


class StandingPeaksBody(BaseModel):
    """Of a gliding reference: its mean outline, and the peaks that do not move with the pitch."""

    hz: list[float]
    outline_db: list[float]
    peaks_hz: list[float]
    glide_hz: list[float]


class ComparisonBody(BaseModel):
    """A sound beside its reference, which is moved by ``shift_s`` to meet it."""

    shift_s: float
    reference_length_s: float
    outline: OutlineBody
    step_s: float
    bands: list[BandLevelsBody]
    distance: DistanceBody
    standing: StandingPeaksBody | None


class RegisterReadingBody(BaseModel):
    """One note of a sound: how loud, how much of it lies from 2 to 6 kHz and below 120 Hz."""

    note: int
    loudness_lufs: float
    harsh_db: float
    low_db: float
    fundamental_db: float | None


class RegisterBody(BaseModel):
    readings: list[RegisterReadingBody]
    mends: list[MendBody]


class DifferenceRequest(AuditionRequest):
    other: dict[str, Any] = Field(description="The document that it is compared with")


class DifferenceBody(BaseModel):
    """``change_db`` is the largest change in any short time and band; loudness this less other."""

    change_db: float
    loudness_db: float


class ContributionBody(BaseModel):
    kind: Literal["layer", "processor", "link"]
    id: str = Field(description="Of the layer or processor; the target of a link")
    name: str = Field(description="Of a layer; kind of a processor; mover of a link")
    owner: str = Field(description="Whose chain a processor stands in; id of a link's mover")
    change_db: float
    loudness_db: float
    mend: MendBody


class ContributionsBody(BaseModel):
    parts: list[ContributionBody]


class RecipeBody(BaseModel):
    text: str


class ShapeRequest(_Request):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    curve_name: Literal["level", "pitch", "partials"]
    curve: dict[str, Any]


class ShapeBody(BaseModel):
    """A shape of one's own."""

    id: int
    name: str
    curve_name: Literal["level", "pitch", "partials"]
    curve: dict[str, Any]


class StockShapeBody(BaseModel):
    name: str
    curve: dict[str, Any]


class ShapesBody(BaseModel):
    stock: list[StockShapeBody]
    own: list[ShapeBody]


class SavedChainRequest(_Request):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    chain: list[dict[str, Any]] = Field(min_length=1)


class SavedChainBody(BaseModel):
    """A chain of processors under a name."""

    id: int
    name: str
    chain: list[dict[str, Any]]


class SavedChainsBody(BaseModel):
    chains: list[SavedChainBody]


class FileDetails(BaseModel):
    """What a file that was brought in said about itself."""

    root_note: int | None = None
    root_cent: float = 0.0
    loop_start_s: float | None = None
    loop_end_s: float | None = None
    title: str = ""
    comment: str = ""


class MidiNoteBody(BaseModel):
    note: int
    velocity: int
    at_s: float
    hold_s: float


class MidiBody(BaseModel):
    """Notes of a MIDI file in the order in which they begin."""

    notes: list[MidiNoteBody]


class RecordingBody(BaseModel):
    """A recording brought in; sounds refer to it by ``digest``."""

    id: int
    name: str
    digest: str
    length_s: float
    channels: int
    sample_rate: int
    details: FileDetails


class RecordingsBody(BaseModel):
    recordings: list[RecordingBody]
