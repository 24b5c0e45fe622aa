"""Mixes of try-outs as files of a release."""

from __future__ import annotations

from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.releases.manifests import Demo
from nest_crate.catalogue.tryouts.tryouts import require_tryout
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.tagged import SoundFacts
from nest_crate.core.tryout import load_tryout
from nest_crate.web.infra.context import services
from nest_crate.web.tryouts.requests import mix_audio, played_by

__all__ = ["demo_of"]


def demo_of(account: CurrentAccount, tryout_id: int) -> Demo:
    """The mix of a try-out that the account may see, as it is now."""
    with services().database.session() as session:
        tryout = load_tryout(require_tryout(session, account, tryout_id).draft)
    audio = mix_audio(account, tryout, played_by(account, tryout), 48000)
    figures = measure(audio.samples, audio.sample_rate)
    data = broadcast_wav(
        audio.samples, audio.sample_rate, numbers="pcm24", facts=SoundFacts(title=tryout.name)
    )
    return Demo(
        tryout_id=tryout_id,
        name=tryout.name,
        data=data,
        length_s=figures.length_s,
        tempo_bpm=tryout.tempo_bpm,
        loudness_lufs=figures.loudness_lufs,
        true_peak_db=figures.true_peak_db,
    )
