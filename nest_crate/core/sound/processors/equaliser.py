"""The equaliser: eight bands."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.processors.base import EQ, ProcessorBase, ProcessorName

__all__ = ["EQUALISER_BANDS", "EqualiserBand", "EqualiserProcessor"]


class EqualiserBand(DocumentModel):
    """One band: a bell, a shelf, a cut or a notch."""

    on: bool = Field(default=True, title="On")
    response: Literal["peak", "low_shelf", "high_shelf", "low_cut", "high_cut", "notch"] = Field(
        default="peak", title="Response"
    )
    frequency_hz: float = number(
        1000.0,
        20.0,
        20000.0,
        label="Frequency",
        unit="Hz",
        scale="log",
        step=10.0,
        followed=True,
    )
    gain_db: float = number(
        0.0,
        -24.0,
        24.0,
        label="Gain",
        unit="dB",
        step=0.5,
        text="Of a bell or a shelf.",
        followed=True,
    )
    sharpness: float = number(
        0.9,
        0.1,
        40.0,
        label="Q",
        scale="log",
        step=0.1,
        text="Quality factor Q; of a shelf 4 at most.",
        followed=True,
    )


def _band(
    frequency_hz: float,
    response: Literal["peak", "low_shelf", "high_shelf", "low_cut", "high_cut"] = "peak",
    *,
    on: bool = True,
) -> EqualiserBand:
    sharpness = 0.9 if response == "peak" else 0.707
    return EqualiserBand(on=on, response=response, frequency_hz=frequency_hz, sharpness=sharpness)


class EqualiserProcessor(ProcessorBase):
    """Eight bands; one that neither cuts nor raises anything costs nothing."""

    kind: Literal["equaliser"] = "equaliser"
    called: ClassVar = ProcessorName("Equaliser", EQ, "eq bands bell shelf cut notch tone")
    band_1: EqualiserBand = _band(30.0, "low_cut", on=False)
    band_2: EqualiserBand = _band(110.0, "low_shelf")
    band_3: EqualiserBand = _band(250.0)
    band_4: EqualiserBand = _band(700.0)
    band_5: EqualiserBand = _band(1800.0)
    band_6: EqualiserBand = _band(4500.0)
    band_7: EqualiserBand = _band(9000.0, "high_shelf")
    band_8: EqualiserBand = _band(16000.0, "high_cut", on=False)

    @property
    def bands(self) -> dict[str, EqualiserBand]:
        """The bands by their names."""
        return {name: getattr(self, name) for name in EQUALISER_BANDS}


EQUALISER_BANDS = tuple(f"band_{n}" for n in range(1, 9))
