"""What requests about a try-out have in common: the document, what it plays, the render."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.tryouts.playing import Played, what_is_played
from nest_crate.core.engine import Audio, RenderSettings
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.tryout import Event, PlaysSound, TryOut, dump_tryout, load_tryout, placed
from nest_crate.core.tryout.rendering import event_hit
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.requests import NOBODY, RenderRequest
from nest_crate.web.infra.context import services
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.rendering import CLOSER, audio_in, require_heard

__all__ = [
    "DraftSound",
    "TryOutPath",
    "TryOutRequest",
    "loaded",
    "mix_audio",
    "played_by",
    "render_of",
    "sample_given",
]

_MOST_DRAFTS = 4
# What laying hits and measuring a second of mix takes at the least.
_SECONDS_OF_MIX = 0.01


class TryOutPath(BaseModel):
    tryout_id: int


class DraftSound(Form):
    """A sound that is being edited and not saved yet."""

    sound_id: int
    document: dict[str, Any]


class TryOutRequest(Form):
    """A try-out as it is on the page, with sounds that are being edited."""

    document: dict[str, Any]
    drafts: list[DraftSound] = Field(default_factory=list, max_length=_MOST_DRAFTS)


def played_by(
    account: CurrentAccount, tryout: TryOut, drafts: list[DraftSound] | None = None
) -> Played:
    """What the parts play for an account; drafts are checked as saved ones are."""
    read = {}
    for one in drafts or []:
        require_heard(account, one.document)
        read[one.sound_id] = dump_sound(load_sound(one.document))
    with services().database.session() as session:
        return what_is_played(session, account, tryout, read)


def sample_given(played: Played, identifier: int) -> dict[str, Any]:
    """A sample as a render worker reads it."""
    sample = played.samples[identifier]
    return {"digest": sample.digest, "edits": sample.edits}


def render_of(
    account: CurrentAccount | None,
    tryout: TryOut,
    played: Played,
    task: str,
    *,
    sample_rate: int = 48000,
    stream: str = "",
    behind: bool = False,
    **given: Any,
) -> RenderRequest:
    """A request to the render workers that is about a whole try-out; None is who opens a link."""
    return RenderRequest(
        account=NOBODY if account is None else f"account {account.id}",
        sound=f"try-out {tryout.name}",
        steps=[Step(task, CLOSER)],
        given={
            "tryout": dump_tryout(tryout),
            "sounds": {key: one.document for key, one in played.sounds.items()},
            "samples": {f"{key}": sample_given(played, key) for key in played.samples},
            "sample_rate": sample_rate,
            **given,
        },
        cost_s=_cost_s(tryout, played, sample_rate),
        stream=stream,
        behind=behind,
    )


def _cost_s(tryout: TryOut, played: Played, sample_rate: int) -> float:
    """What all different hits take by their plans; each sound's plan is looked at once."""
    settings = RenderSettings(sample_rate=sample_rate, recordings=services().recordings)
    different: dict[str, dict[object, Event]] = {}
    for event in placed(tryout):
        key = (event.notes, event.velocity, event.hold_s, event.macros)
        different.setdefault(event.part, {}).setdefault(key, event)
    total = _SECONDS_OF_MIX * tryout.length_s * (1 + len(tryout.parts))
    for part in tryout.parts:
        hits = list(different.get(part.id, {}).values())
        found = played.sounds.get(part.plays.key) if isinstance(part.plays, PlaysSound) else None
        if hits and found is not None:
            sound = load_sound(found.document)
            total += len(hits) * expected_cost(*event_hit(sound, hits[0]), settings).seconds
    return total


def loaded(body: TryOutRequest) -> TryOut:
    """The document of a request, valid."""
    return load_tryout(body.document)


def mix_audio(
    account: CurrentAccount | None, tryout: TryOut, played: Played, sample_rate: int
) -> Audio:
    """The mix of the first round, rendered behind what people hear."""
    wanted = render_of(
        account,
        tryout,
        played,
        "tryout_mix",
        sample_rate=sample_rate,
        behind=True,
        audio=True,
        figures=False,
    )
    return audio_in(wanted)
