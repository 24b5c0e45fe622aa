"""Renders for requests: handed to the render workers, never made in this process."""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Callable, Generator, Iterator
from contextlib import closing
from dataclasses import dataclass, replace
from typing import Any

from cachetools import TTLCache
from flask import Response, request
from flask_login import current_user

from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.sounds.hearing import may_hear
from nest_crate.core.engine import Audio, RenderSettings
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.engine.settings import missing_recording
from nest_crate.core.errors import NestCrateError
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import Hit, Sound, dump_sound, load_hit, load_sound
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.errors import RenderersBusy
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.requests import NOBODY, RenderRequest
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.packing import packed_pieces, packs_gzip
from nest_crate.web.infra.problems import problem_of

__all__ = [
    "CLOSER",
    "HEARD",
    "SEEN",
    "Asked",
    "ask",
    "asked",
    "audio_in",
    "audio_of",
    "client_left",
    "heard_of",
    "json_of",
    "multipart_of",
    "of_sound",
    "require_heard",
]

# The order in which several people's work is done: what is heard, what is seen of it, the rest.
HEARD, SEEN, CLOSER = 0, 1, 2

_BUSY_PAUSE_S = 0.5


@dataclass(frozen=True)
class Asked:
    """A sound that is valid, the hit of it, and what one render is expected to take."""

    sound: Sound
    hit: Hit
    settings: RenderSettings
    given: dict[str, Any]
    seconds: float

    def step(self, task: str, priority: int = CLOSER, **given: Any) -> RenderRequest:
        """A request of one step."""
        return RenderRequest(
            account=_account(),
            sound=self.sound.name,
            steps=[Step(task, priority)],
            given={**self.given, **given},
            cost_s=self.seconds,
        )


def asked(body: bodies.AuditionRequest, *, times: float = 1.0, looped: bool = False) -> Asked:
    """What a request about a sound asks for; ``NotSignedIn`` where nobody is signed in.

    Parameters
    ----------
    times
        how many renders it is about.
    looped
        whether the hit's loop is made; what is measured and drawn is the hit from its start.
    """
    account = current_account()
    sound = load_sound(body.document)
    require_heard(account, body.document)
    hit = sound.hit if body.hit is None else load_hit(body.hit)
    if not looped:
        hit = hit.with_seconds(loop_s=0.0)
    return of_sound(sound, hit, sample_rate=body.sample_rate, quality=body.quality, times=times)


# Of accounts and digests, what may be heard was looked up not long ago: a drag asks many times.
_heard: TTLCache[tuple[int, str], bool] = TTLCache(20_000, ttl=60.0)
_heard_lock = threading.Lock()


def require_heard(account: CurrentAccount, document: Any) -> None:
    """Refuse a document that names a recording which the account may not hear, as one that is not
    there."""
    with _heard_lock:
        wanted = {
            digest for digest in recordings_in(document) if (account.id, digest) not in _heard
        }
    if not wanted:
        return
    with services().database.session() as session:
        found = may_hear(session, account, wanted)
    with _heard_lock:
        _heard.update({(account.id, digest): True for digest in found})
    for digest in sorted(wanted - found):
        raise missing_recording(digest)


def of_sound(
    sound: Sound, hit: Hit, *, sample_rate: int = 48000, quality: Any = "final", times: float = 1.0
) -> Asked:
    """As ``asked``, of a sound that was read already."""
    settings = RenderSettings(
        sample_rate=sample_rate, quality=quality, recordings=services().recordings
    )
    given = {
        "document": dump_sound(sound),
        "hit": hit.model_dump(mode="json"),
        "sample_rate": sample_rate,
        "quality": quality,
    }
    seconds = times * expected_cost(sound, hit, settings).seconds
    return Asked(sound, hit, settings, given, seconds)


def _account() -> str:
    account = getattr(current_user, "account", None)
    return NOBODY if account is None else f"account {account.id}"


def client_left() -> Callable[[], bool]:
    """Whether the client of this request has closed its connection, where the server knows."""
    known = request.environ.get("waitress.client_disconnected")
    return known if callable(known) else lambda: False


def ask(wanted: RenderRequest) -> Generator[Frame, None, None]:
    """The parts of an answer as they are made."""
    try:
        yield from services().renderers.ask(wanted, client_left())
    except RenderersBusy:
        # A client that ignores Retry-After and asks again at once is slowed down by this pause.
        time.sleep(_BUSY_PAUSE_S)
        raise


def _one(wanted: RenderRequest) -> Frame:
    (frame,) = ask(wanted)
    return frame


def json_of(wanted: RenderRequest) -> Response:
    """The answer of a task that gives one part of JSON."""
    frame = _one(wanted)
    return Response(frame.body, mimetype="application/json")


def audio_of(sound: Sound, hit: Hit, *, sample_rate: int = 48000) -> Audio:
    """A hit of a sound, rendered behind what people listen to."""
    wanted = replace(of_sound(sound, hit, sample_rate=sample_rate).step("play"), behind=True)
    return audio_in(wanted)


def audio_in(wanted: RenderRequest) -> Audio:
    """The answer of a task that gives one part of audio, decoded."""
    frame = _one(wanted)
    return Audio(*decode_wav(frame.body), end_reason=frame.head["end_reason"])


def heard_of(wanted: RenderRequest) -> Response:
    """The answer of a task that gives one part of audio, in the form that the client accepts."""
    frame = _one(_in_form(wanted))
    response = Response(frame.body, mimetype=frame.head["type"])
    response.vary.add("Accept")
    return response


def _in_form(wanted: RenderRequest) -> RenderRequest:
    """A request that answers with FLAC of 16 or 24 bit where the client says so, as one does on a
    slow line (``Accept: audio/flac; bits=16``); with float WAV where not."""
    for kind, quality in request.accept_mimetypes:
        name, _, bits = kind.replace(" ", "").partition(";bits=")
        if name == "audio/flac" and quality > 0:
            form = "flac16" if bits == "16" else "flac24"
            return replace(wanted, given={**wanted.given, "audio_form": form})
    return wanted


def multipart_of(wanted: RenderRequest) -> Response:
    """All parts of an answer as they are made (multipart/mixed, RFC 2046). What fails before the
    first is a problem as always; later, a part named "problem"."""
    wanted = _in_form(wanted)
    frames = ask(wanted)
    first = next(frames)
    boundary = secrets.token_hex(12)

    def written() -> Iterator[bytes]:
        with closing(frames):
            yield _part(first, boundary)
            try:
                for frame in frames:
                    yield _part(frame, boundary)
            except NestCrateError as error:
                yield _part(_problem(error), boundary)
            yield f"--{boundary}--\r\n".encode()

    # Who takes FLAC has a slow line, and is served sooner by packing figures and pictures too; on a
    # quick one packing takes longer than sending.
    packs = "audio_form" in wanted.given and packs_gzip()
    pieces = packed_pieces(written()) if packs else written()
    response = Response(pieces, mimetype=f"multipart/mixed; boundary={boundary}")
    response.vary.update(["Accept", "Accept-Encoding"])
    if packs:
        response.headers["Content-Encoding"] = "gzip"
    return response


def _problem(error: NestCrateError) -> Frame:
    data = problem_of(error).model_dump_json().encode()
    return Frame({"part": "problem", "type": "application/problem+json"}, data)


def _part(frame: Frame, boundary: str) -> bytes:
    head = frame.head
    ending = head["type"].rpartition("/")[2]
    digest = f'; filename="{head["digest"]}.{ending}"' if "digest" in head else ""
    lines = (
        f"--{boundary}",
        f"Content-Type: {head['type']}",
        f'Content-Disposition: inline; name="{head["part"]}"{digest}',
        f"Content-Length: {len(frame.body)}",
    )
    return "\r\n".join(lines).encode() + b"\r\n\r\n" + frame.body + b"\r\n"
