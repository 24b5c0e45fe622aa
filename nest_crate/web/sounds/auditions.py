"""Auditions: rendered here and now, without a queue; audio fetched by digest."""

from __future__ import annotations

import base64
import hashlib
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from numpy.typing import NDArray
from pydantic import BaseModel

from nest_crate.catalogue.db.errors import DatabaseGone, NotFound
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.search.typical import TypicalLowEnd, typical_low_end
from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.low_end import check_low_end
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.pictures.outlines import (
    FLOOR_DB,
    Outline,
    Spectrogram,
    outline,
    spectrogram,
)
from nest_crate.core.engine import Rendering, RenderSettings, StageMemory, render_with_trace
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import Hit, Sound
from nest_crate.storage import FileMissing
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.sounds.sound_request import asked_sound

__all__ = ["api"]

api = APIBlueprint("auditions", __name__, url_prefix="/api/auditions", abp_tags=[Tag(name="bench")])

_helpers = ThreadPoolExecutor(4, thread_name_prefix="drawing")

_RESULT_COLUMNS = 2048
_LAYER_COLUMNS = 2048
_SPECTROGRAM = {"rows": 96, "columns": 288}


class AudioPath(BaseModel):
    digest: str


@api.post("", responses={200: bodies.AuditionBody})
def audition(body: bodies.ListenRequest) -> Response:
    """Render one hit and answer with its measures, checks and drawing data."""
    account = current_account()
    sound, hit, settings = asked_sound(body)
    typical = None
    if body.sound_id is not None and body.quality == "final" and not body.listen_at:
        typical = _typical(account, body.sound_id, sound.name)
    answer, data = make_audition(sound, hit, settings, services().stages, body.listen_at, typical)
    services().auditions.put(answer.digest, data)
    return make_response(answer.model_dump())


def _typical(account: CurrentAccount, sound_id: int, name: str) -> TypicalLowEnd | None:
    """What its library holds of the same kind; nothing where the database is away, for a sound is
    rendered all the same."""
    try:
        with services().database.session() as session:
            return typical_low_end(
                session, account, services().index, services().vocabulary, sound_id, name
            )
    except (DatabaseGone, NotFound):
        return None


@api.get("/<string:digest>.wav")
def audio(path: AudioPath) -> Response:
    """The audio of an audition, float WAV; gone after a while (ask for the audition again)."""
    current_account()
    data = services().auditions.get(path.digest)
    if data is None:
        raise FileMissing("This audition is no longer kept; render it again")
    response = make_response(data)
    response.headers["Content-Type"] = "audio/wav"
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


def make_audition(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    memory: StageMemory,
    listen_at: str | None = None,
    typical: TypicalLowEnd | None = None,
) -> tuple[bodies.AuditionBody, bytes]:
    """The answer to an audition, and the audio as WAV bytes."""
    began = time.perf_counter()
    rendering = render_with_trace(sound, hit, settings, memory=memory, listen_at=listen_at)
    samples, rate = rendering.audio.samples, rendering.audio.sample_rate
    data = encode_wav(samples, rate, sample_format="float32")
    rendered = time.perf_counter()
    # Measuring and drawing let go of Python's lock most of the time, so they go side by side.
    drawing = _helpers.submit(_draw, rendering)
    measures = measure(samples, rate)
    # What is listened at on the way is no whole sound, of which checks could speak.
    remarks = [] if listen_at else check_sound(sound, rendering, measures, hit, memory=memory)
    if typical is not None:
        thin = check_low_end(sound, measures, **asdict(typical))
        remarks = [*([thin] if thin else []), *remarks]
    measured = time.perf_counter()
    whole, lanes, image = drawing.result()
    drawn = time.perf_counter()
    answer = bodies.AuditionBody(
        digest=hashlib.sha256(data).hexdigest(),
        sample_rate=rate,
        frames=samples.shape[1],
        end_reason=rendering.audio.end_reason,
        measures=bodies.MeasuresBody(**measures.as_dict()),
        remarks=[bodies.RemarkBody(**remark.as_dict()) for remark in remarks],
        outline=whole,
        layers=lanes,
        levels_db=rendering.levels_db,
        spectrogram=_spectrogram_body(image),
        took=bodies.TookBody(
            render_ms=1e3 * (rendered - began),
            measure_ms=1e3 * (measured - rendered),
            draw_ms=1e3 * (drawn - measured),
            total_ms=1e3 * (drawn - began),
            stages=len(rendering.stage_seconds),
            remembered=sum(took == 0.0 for took in rendering.stage_seconds.values()),
        ),
    )
    return answer, data


def _draw(
    rendering: Rendering,
) -> tuple[bodies.OutlineBody, dict[str, bodies.OutlineBody], Spectrogram]:
    """Outlines of the whole and of each layer, and the spectrogram."""
    samples = rendering.audio.samples
    lanes = {
        key: _outline_body(outline(signal, _LAYER_COLUMNS))
        for key, signal in rendering.layers.items()
    }
    image = spectrogram(samples, rendering.audio.sample_rate, **_SPECTROGRAM)
    return _outline_body(outline(samples, _RESULT_COLUMNS)), lanes, image


def _base64(array: NDArray) -> str:  # type: ignore[type-arg]
    return base64.b64encode(array.tobytes()).decode()


def _outline_body(drawn: Outline) -> bodies.OutlineBody:
    return bodies.OutlineBody(scale=drawn.scale, data=_base64(drawn.data))


def _spectrogram_body(drawn: Spectrogram) -> bodies.SpectrogramBody:
    rows, columns = drawn.data.shape
    return bodies.SpectrogramBody(
        rows=rows,
        columns=columns,
        low_hz=drawn.low_hz,
        high_hz=drawn.high_hz,
        floor_db=FLOOR_DB,
        data=_base64(drawn.data),
    )
