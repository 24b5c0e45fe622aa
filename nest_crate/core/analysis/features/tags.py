"""Words for a sample that its measurement suggests; people take them over or not."""

from __future__ import annotations

from collections.abc import Iterator

__all__ = ["suggested_tags"]

_SHORT_S, _LONG_S = 0.15, 2.0
_DARK_HZ, _BRIGHT_HZ = 400.0, 4000.0
_TONAL, _NOISY = 0.03, 0.25
_LOW_DB = -3.0
_LOUD_LUFS, _QUIET_LUFS = -12.0, -30.0


def suggested_tags(
    *,
    length_s: float,
    channels: int,
    note: str | None,
    brightness_hz: float,
    noisiness: float,
    low_share_db: float,
    loudness_lufs: float,
    loopable: bool,
) -> list[str]:
    """Tags in plain words, in the order in which one would say them."""

    def words() -> Iterator[str]:
        if length_s < _SHORT_S:
            yield "short"
        elif length_s > _LONG_S:
            yield "long"
        if note is not None and noisiness < _NOISY:
            yield note.lower().replace("#", "-sharp")
        if brightness_hz < _DARK_HZ:
            yield "dark"
        elif brightness_hz > _BRIGHT_HZ:
            yield "bright"
        if noisiness > _NOISY:
            yield "noisy"
        elif noisiness < _TONAL and note is not None:
            yield "tonal"
        if low_share_db > _LOW_DB:
            yield "low"
        if loudness_lufs > _LOUD_LUFS:
            yield "loud"
        elif loudness_lufs < _QUIET_LUFS:
            yield "quiet"
        if loopable:
            yield "loop"
        yield "mono" if channels == 1 else "stereo"

    return list(words())
