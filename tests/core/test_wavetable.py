"""Wavetables: any table at any pitch without aliasing, read where it is said."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import pytest

from nest_crate.core.dsp.oscillators.wavetables import (
    WaveTable,
    cycles_of_partials,
    partials_of_cycles,
    scan_signal,
    spread_keys,
)
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.engine.sources.wavetable import table_of
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.sources.wavetable import SlicedTable
from nest_crate.core.tables import stock_cycles, stock_names

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
RATE = 48000
ONCE = {"points": [{"time_s": 0, "value": 1}]}


def scanned(note: int = 57, **source: object) -> Sound:
    layer = {"id": "a", "name": "A", "source": {"kind": "wavetable", **source}, "level": ONCE}
    return load_sound({"name": "Table", "layers": [layer], "hit": {"note": note, "hold_s": 1.0}})


def sawtooths(frames: int = 2) -> WaveTable:
    cycle = 1.0 - 2.0 * (np.arange(2048) + 0.5) / 2048
    return WaveTable(partials_of_cycles(np.repeat(cycle[np.newaxis], frames, axis=0)))


def test_cycles_and_partials_are_the_same_thing() -> None:
    cycles = np.random.default_rng(1).normal(size=(3, 512))
    cycles -= cycles.mean(axis=1, keepdims=True)
    back = cycles_of_partials(partials_of_cycles(cycles), 512)
    # But for the one partial that has no phase.
    spectrum = np.abs(np.fft.rfft(back - cycles, axis=1))
    assert spectrum[:, :-1].max() < 1e-9


@pytest.mark.parametrize("moved", [False, True])
def test_no_alias_product_above_minus_90_dbc(moved: bool) -> None:
    """A sawtooth at 5 kHz, still and sweeping, beside the sum of its partials."""
    # Within the range where the same four partials have room.
    sweep = np.linspace(-0.04, 0.2, RATE) if moved else np.zeros(RATE)
    hz = 5003.0 * np.exp2(sweep)
    made = scan_signal(hz, sawtooths(), np.zeros(RATE), sample_rate=RATE)[0]
    turn = 2 * np.pi * np.concatenate([[0.0], np.cumsum(hz[:-1])]) / RATE
    # What is left when the partials that belong there are fitted and removed.
    basis = np.stack([f(k * turn) for k in (1, 2, 3, 4) for f in (np.sin, np.cos)], axis=1)
    fit, *_ = np.linalg.lstsq(basis, made, rcond=None)
    rest = made - basis @ fit
    assert 10 * np.log10(np.mean(rest**2) / np.mean(made**2)) < -90.0


def test_pitch_within_a_twentieth_of_a_cent() -> None:
    made = render(scanned(note=45, table={"origin": "stock", "name": "folded"})).samples[0, :RATE]
    spectrum = np.fft.rfft(made[: RATE // 2] * np.hanning(RATE // 2), 1 << 21)
    k = int(np.abs(spectrum[: 1 << 14]).argmax())
    a, b, c = np.log(np.abs(spectrum[k - 1 : k + 2]))
    hz = (k + 0.5 * (a - c) / (a - 2 * b + c)) * RATE / (1 << 21)
    partial = round(hz / 110.0)
    assert 1200 * abs(np.log2(hz / (110.0 * partial))) < 0.05


def test_position_mixes_neighbours() -> None:
    cycles = np.zeros((3, 256))
    phase = 2 * np.pi * np.arange(256) / 256
    cycles[0], cycles[1], cycles[2] = np.sin(phase), np.sin(2 * phase), np.sin(3 * phase)
    table = WaveTable(partials_of_cycles(cycles))
    hz, turn = np.full(RATE, 100.0), 2 * np.pi * 100.0 * np.arange(RATE) / RATE
    for place, shares in ((0.0, (1, 0, 0)), (0.25, (0.75, 0.25, 0)), (1.5, (0, 0.5, 0.5))):
        made = scan_signal(hz, table, np.full(RATE, place), sample_rate=RATE)[0]
        wanted = sum(share * np.sin((k + 1) * turn) for k, share in enumerate(shares))
        assert np.abs(made - wanted).max() < 1e-5


def test_scans_there_and_back_and_in_steps() -> None:
    keys = [{"amplitudes": [1.0]}, {"amplitudes": [0.0, 1.0]}]
    table = {"origin": "partials", "keys": keys, "frames": 2}
    levels = {}
    for scan in ("forwards", "backwards", "back_and_forth"):
        start = 1.0 if scan == "backwards" else 0.0
        sound = scanned(table=table, scan=scan, scan_s=0.25, position=start)
        made = render(sound, settings=RenderSettings(length_s=0.5)).samples[0]
        turn = np.exp(-2j * np.pi * 220.0 * np.arange(made.size) / RATE)
        levels[scan] = [
            abs((made * turn)[round(at * RATE) :][:4364].mean()) * 2 for at in (0.0, 0.2, 0.4)
        ]
    # Of the first partial, while the table goes over to the second.
    assert levels["forwards"] == pytest.approx([0.82, 0.05, 0.0], abs=0.07)
    assert levels["backwards"] == pytest.approx([0.18, 0.95, 1.0], abs=0.07)
    assert levels["back_and_forth"] == pytest.approx([0.82, 0.05, 0.78], abs=0.07)
    stepped = scanned(table=table, scan="forwards", scan_s=0.25, reading="stepped")
    made = render(stepped, settings=RenderSettings(length_s=0.5)).samples[0]
    turn = np.exp(-2j * np.pi * 220.0 * np.arange(made.size) / RATE)
    early, late = (abs((made * turn)[s : s + 4364].mean()) * 2 for s in (0, 7000))
    assert early == pytest.approx(1.0, abs=0.01)
    assert late < 0.01


def test_every_table_of_ours_is_what_the_script_makes() -> None:
    import make_tables

    assert stock_names() == tuple(sorted(make_tables.TABLES))
    for name in stock_names():
        made = np.round(make_tables.cycles(name) * 32768) / 32768
        assert np.abs(stock_cycles(name).ravel() - made).max() < 1e-4
        assert stock_cycles(name).shape == (32, 1024)
        sound = scanned(table={"origin": "stock", "name": name}, scan="forwards")
        heard = render(sound, settings=RenderSettings(length_s=0.3)).samples
        assert 0.1 < np.abs(heard).max() < 1.6


def test_imported_cycles_are_read_one_behind_the_other() -> None:
    phase = 2 * np.pi * np.arange(256) / 256
    samples = np.concatenate([np.sin(k * phase) for k in (1, 2, 5)])[np.newaxis]
    settings = RenderSettings(recordings={"a" * 64: Audio(samples, 44100)}, length_s=0.5)
    table = {"origin": "imported", "recording": "a" * 64, "cycle_frames": 256}
    made = render(scanned(table=table, position=1.0), settings=settings).samples[0]
    spectrum = np.abs(np.fft.rfft(made * np.hanning(made.size)))
    assert abs(int(spectrum.argmax()) - 550) <= 1  # the fifth partial of 220 Hz in 0.5 s


def test_slices_hold_single_periods_begun_alike() -> None:
    time_s = np.arange(RATE) / RATE
    samples = (np.sin(2 * np.pi * 100 * time_s + 1.0) * (1 - time_s))[np.newaxis]
    settings = RenderSettings(recordings={"b" * 64: Audio(samples, RATE)})
    origin = SlicedTable(recording="b" * 64, hz=100.0, frames=4)
    cycles = table_of(origin, settings).cycles(512)
    sine = np.sin(2 * np.pi * np.arange(512) / 512)
    assert np.abs(cycles[0] - sine).max() < 0.02
    assert np.abs(cycles[3]).max() < 0.05


def test_a_missing_table_or_recording_is_told_at_its_field() -> None:
    with pytest.raises(DocumentError, match="no wavetable is called"):
        render(scanned(table={"origin": "stock", "name": "nowhere"}))
    with pytest.raises(DocumentError, match="is not here"):
        render(scanned(table={"origin": "imported", "recording": "c" * 64}))


def test_silence_and_single_frames_stay_finite() -> None:
    table = {"origin": "drawn", "keys": [[0.0] * 8], "frames": 1}
    assert not render(scanned(table=table)).samples.any()
    keys = spread_keys(np.ones((1, 4), dtype=np.complex128), 3)
    assert keys.shape == (3, 4)


@pytest.mark.parametrize("way", ["phase", "frequency", "ring", "amplitude", "sync"])
def test_is_modulated_like_a_tone(way: str) -> None:
    """A table of one sine against the tone's own sine, under every way of modulation."""
    made = []
    for source in (
        {"kind": "tone"},
        {"kind": "wavetable", "table": {"origin": "partials", "frames": 2}},
    ):
        other = {"id": "b", "name": "B", "source": {"kind": "tone", "ratio": 1.5}, "mute": True}
        layer = {
            "id": "a",
            "name": "A",
            "source": source,
            "level": ONCE,
            "modulation": {"by": "b", "way": way, "amount": 0.5},
        }
        sound = load_sound({"name": "M", "layers": [layer, {**other, "level": ONCE}]})
        made.append(render(sound, settings=RenderSettings(length_s=0.25)).samples[0, :9600])
    assert np.abs(made[0] - made[1]).max() < 2e-3


class TestShapedCycles:
    """A table's cycles skewed, bent and folded, against the same done to a plain sine in time."""

    def cycle(self, **shape):
        table = {"origin": "partials", "keys": [{"amplitudes": [1.0]}], "frames": 1}
        source = {"kind": "wavetable", "table": table, "follows_note": False, "fixed_hz": 100.0}
        hold = {"points": [{"time_s": 0, "value": 1}], "release": [{"time_s": 0, "value": 0}]}
        layers = [{"id": "a", "name": "A", "source": {**source, **shape}, "level": hold}]
        settings = RenderSettings(sample_rate=96000, length_s=0.2)
        made = render(
            load_sound({"name": "S", "hit": {"hold_s": 1}, "layers": layers}), None, settings
        )
        # The tenth cycle, of 960 frames.
        return made.samples[0, 9600:10560]

    def same_shape(self, found, wanted):
        """Apart from level and offset, below 6 kHz."""
        spectra = [np.fft.rfft(one - one.mean())[:60] for one in (found, wanted)]
        scale = np.vdot(spectra[1], spectra[0]) / np.vdot(spectra[1], spectra[1])
        rest = np.linalg.norm(spectra[0] - scale * spectra[1])
        assert abs(np.angle(scale)) < 0.02
        assert rest < 0.01 * np.linalg.norm(spectra[0])

    @pytest.mark.parametrize("bend", [-0.8, 0.4, 0.9])
    def test_bend_crowds_the_phase(self, bend):
        u = np.arange(960) / 960
        phase = u - 0.95 * bend * np.sin(4 * np.pi * u) / (4 * np.pi)
        self.same_shape(self.cycle(bend=bend), np.sin(2 * np.pi * phase))

    @pytest.mark.parametrize("fold", [0.1, 0.5, 1.0])
    def test_fold_is_a_sine_of_the_cycle(self, fold):
        x = np.sin(2 * np.pi * np.arange(960) / 960)
        folded = np.sin((1 + 4 * fold) * 0.5 * np.pi * x)
        share = min(1.0, 4 * fold)
        self.same_shape(self.cycle(fold=fold), (1 - share) * x + share * folded)

    @pytest.mark.parametrize("skew", [-0.6, 0.5])
    def test_skew_moves_the_middle(self, skew):
        u, middle = np.arange(960) / 960, 0.5 + 0.48 * skew
        phase = np.where(u < middle, 0.5 * u / middle, 0.5 + 0.5 * (u - middle) / (1 - middle))
        self.same_shape(self.cycle(skew=skew), np.sin(2 * np.pi * phase))

    def test_nothing_changes_at_0(self):
        np.testing.assert_array_equal(self.cycle(), self.cycle(skew=0.0, bend=0.0, fold=0.0))
