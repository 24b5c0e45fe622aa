"""A remark on a low end that is thin beside what a library holds of the same kind."""

from __future__ import annotations

from nest_crate.core.analysis.checks.effect_checks import appended, free_id
from nest_crate.core.analysis.checks.remarks import Remark
from nest_crate.core.analysis.measures.figures import Measures
from nest_crate.core.sound import Sound
from nest_crate.core.sound.processors import EqualiserProcessor
from nest_crate.core.sound.processors.equaliser import EqualiserBand

__all__ = ["check_low_end"]

# A median of fewer says little, and of a kind without low end nothing.
_FEWEST = 3
_LOW_KIND_DB = -12.0
_LACKING_DB = 6.0
_MOST_DB = 9.0


def check_low_end(
    sound: Sound, measures: Measures, *, median_db: float, count: int, kind: str
) -> Remark | None:
    """A remark where less lies below 120 Hz, re all, than in half of the ``count`` samples of a
    kind, by 6 dB and more; ``median_db`` is theirs."""
    own_db = measures.stereo.low_share_db
    lacking_db = median_db - own_db
    silent = measures.peak_db < -80.0
    if silent or count < _FEWEST or median_db < _LOW_KIND_DB or lacking_db < _LACKING_DB:
        return None
    text = (
        f"Thin: {round(own_db)} dB of it lies below 120 Hz; half of the library's {count} {kind}s "
        f"have {round(median_db)} dB or more"
    ).replace("-", "−")
    gain_db = round(min(_MOST_DB, lacking_db), 1)
    band = EqualiserBand(response="low_shelf", frequency_hz=120.0, gain_db=gain_db, sharpness=0.707)
    shelf = EqualiserProcessor(id=free_id(sound, "equaliser"), band_2=band)
    fixes = appended(sound, f"Raise it by {gain_db:g} dB", shelf)
    return Remark("thin_low_end", "warn", text, fixes=fixes)
