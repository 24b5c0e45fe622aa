"""Struck bodies: modes where the books have them, ringing as long as is set, level in hand."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.signal import hilbert

from nest_crate.core.dsp.bodies.exciters import contact_s, noise_burst, pulse
from nest_crate.core.dsp.bodies.exciters import sweep as sweep_of
from nest_crate.core.dsp.bodies.modes import decay_times_s, modal_signal, mode_ratios, stiffened
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.sources.struck import body_modes
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Sound, StruckSource, load_sound
from nest_crate.core.sound.recipe import recipe

RATE = 48000
ONCE = {"points": [{"time_s": 0, "value": 1}]}
BODIES = ("bar", "plate", "membrane", "tube", "stopped_tube", "string", "set", "string_loop")


def struck(hold_s: float = 0.25, **source: object) -> Sound:
    layer = {"id": "a", "name": "A", "source": {"kind": "struck", **source}, "level": ONCE}
    hit = {"note": 69, "hold_s": hold_s}
    return load_sound({"name": "Body", "layers": [layer], "hit": hit})


def rendered(sound: Sound, **settings: float) -> NDArray[np.float64]:
    return render(sound, settings=RenderSettings(**settings)).samples  # type: ignore[arg-type]


def loudest_hz(signal: NDArray[np.float64], low: float, high: float) -> float:
    """The strongest frequency between two, by a parabola through the padded spectrum."""
    count = 1 << 20
    size = np.abs(np.fft.rfft(signal * np.hanning(signal.size), count))
    first, last = int(low * count / RATE), int(high * count / RATE)
    k = first + int(size[first:last].argmax())
    a, b, c = np.log(size[k - 1 : k + 2])
    return float((k + 0.5 * (a - c) / (a - 2 * b + c)) * RATE / count)


class TestModes:
    @pytest.mark.parametrize(
        ("body", "known"),
        [
            # Fletcher and Rossing: table 2.1 and figure 3.6; a string and tubes by definition.
            ("bar", [1.0, 2.756, 5.404, 8.933]),
            ("membrane", [1.0, 1.593, 2.136, 2.295, 2.653, 2.917]),
            ("string", [1.0, 2.0, 3.0, 4.0]),
            ("tube", [1.0, 2.0, 3.0, 4.0]),
            ("stopped_tube", [1.0, 3.0, 5.0, 7.0]),
        ],
    )
    def test_lie_where_the_books_have_them(self, body: str, known: list[float]) -> None:
        ratios, _ = mode_ratios(body, len(known), position=0.3, aspect=1.0)
        assert ratios == pytest.approx(known, abs=6e-4)

    def test_of_a_square_plate_are_sums_of_squares(self) -> None:
        ratios, _ = mode_ratios("plate", 6, position=0.3, aspect=1.0)
        assert ratios * 2.0 == pytest.approx([2, 5, 5, 8, 10, 10])

    def test_spread_by_stiffness_as_a_string_does(self) -> None:
        b = 0.001
        made = stiffened(np.arange(1.0, 20.0), b)
        assert made[9] / made[0] == pytest.approx(10 * np.sqrt((1 + 100 * b) / (1 + b)))

    def test_struck_at_a_node_stay_silent(self) -> None:
        _, strikes = mode_ratios("string", 4, position=1.0, aspect=1.0)
        assert abs(strikes[1]) < 1e-9
        assert abs(strikes[0]) == pytest.approx(1.0)
        _, bar = mode_ratios("bar", 4, position=1.0, aspect=1.0)
        assert abs(bar[1]) < 1e-6  # its middle is a node of the second mode

    def test_ring_as_decaying_sines(self) -> None:
        """Against the closed form, for one blow and for two."""
        exciter = np.zeros(400)
        exciter[0], exciter[300] = 1.0, -0.5
        hz, t60 = np.array([220.0, 1234.5, 9000.0]), np.array([1.0, 0.3, 0.05])
        gains = np.array([[0.3, 0.2, 0.1], [0.1, 0.2, 0.3]])
        made = modal_signal(
            exciter, frames=RATE, frequencies_hz=hz, decays_s=t60, gains=gains, sample_rate=RATE
        )
        time_s = np.arange(RATE) / RATE
        wanted = np.zeros((2, RATE))
        for at, size in ((0, 1.0), (300, -0.5)):
            since = time_s[: RATE - at]
            for k in range(3):
                ring = 10 ** (-3 * since / t60[k]) * np.sin(2 * np.pi * hz[k] * since)
                wanted[:, at:] += size * gains[:, k, np.newaxis] * ring
        assert np.abs(made - wanted).max() < 1e-6

    def test_moved_by_nothing_are_the_same(self) -> None:
        exciter = noise_burst(0.01, 0.8, RATE, seed=1, part="a", hit_number=0)
        given = {
            "frames": 9000,
            "frequencies_hz": np.array([200.0, 555.0, 3210.0]),
            "decays_s": np.array([0.2, 0.1, 0.1]),
            "gains": np.ones((1, 3)),
            "sample_rate": RATE,
        }
        still = modal_signal(exciter, **given)  # type: ignore[arg-type]
        moved = modal_signal(exciter, **given, shift=np.ones(9000))  # type: ignore[arg-type]
        assert np.abs(still - moved).max() < 1e-9

    def test_follow_a_glide(self) -> None:
        shift = np.exp2(-np.arange(RATE) / RATE)
        made = modal_signal(
            np.ones(1),
            frames=RATE,
            frequencies_hz=np.array([1000.0]),
            decays_s=np.array([1e6]),
            gains=np.ones((1, 1)),
            sample_rate=RATE,
            shift=shift,
        )[0]
        wanted = np.sin(2 * np.pi * np.cumsum(1000.0 * shift / RATE))
        # The same sine but for a constant phase.
        together = np.abs(np.mean(made * np.exp(1j * 2 * np.pi * np.cumsum(1000 * shift / RATE))))
        assert together == pytest.approx(0.5, abs=1e-3)
        assert np.abs(made).max() == pytest.approx(np.abs(wanted).max(), abs=1e-3)

    def test_decay_shorter_each_octave(self) -> None:
        assert decay_times_s(np.array([1.0, 2.0, 4.0]), 2.0, 1.0) == pytest.approx([2.0, 1.0, 0.5])


class TestExciters:
    @pytest.mark.parametrize("hardness", [0.0, 0.3, 0.77, 1.0])
    def test_a_blow_sums_to_one_at_any_hardness(self, hardness: float) -> None:
        made = pulse(hardness, RATE)
        assert made.sum() == pytest.approx(1.0)
        assert made.size == int(np.ceil(contact_s(hardness) * RATE))

    def test_a_softer_one_is_duller(self) -> None:
        centroids = []
        for hardness in (0.2, 0.5, 0.8):
            power = np.abs(np.fft.rfft(pulse(hardness, RATE), 8192)) ** 2
            centroids.append(float((power * np.arange(power.size)).sum() / power.sum()))
        assert centroids[0] < 0.5 * centroids[1] < 0.25 * centroids[2]

    def test_bursts_and_sweeps_have_the_same_energy(self) -> None:
        burst = noise_burst(0.02, 0.6, RATE, seed=3, part="x", hit_number=1)
        sweep = sweep_of(0.02, 0.6, RATE)
        assert np.sum(burst**2) == pytest.approx(1.0)
        assert np.sum(sweep**2) == pytest.approx(1.0)
        for from_hz, to_hz in ((200.0, 4000.0), (8000.0, 100.0), (700.0, 700.0)):
            set_so = sweep_of(0.1, 0.6, RATE, from_hz=from_hz, to_hz=to_hz)
            assert np.sum(set_so**2) == pytest.approx(1.0)
            turns = np.unwrap(np.angle(hilbert(set_so)))
            hz = np.diff(turns) * RATE / (2.0 * np.pi)
            for share in (0.2, 0.5, 0.8):
                wanted = from_hz * (to_hz / from_hz) ** share
                found = np.median(hz[int(share * hz.size) - 60 : int(share * hz.size) + 60])
                assert found == pytest.approx(wanted, rel=0.03)
        again = noise_burst(0.02, 0.6, RATE, seed=3, part="x", hit_number=2)
        assert not np.array_equal(burst, again)


class TestBody:
    @pytest.mark.parametrize("body", [one for one in BODIES if one != "string_loop"])
    def test_is_in_tune_within_a_cent(self, body: str) -> None:
        made = rendered(struck(body=body, decay_s=3.0, damping=0.3), length_s=2.0)[0]
        for ratio in body_modes(StruckSource(body=body)).ratios[:3]:  # type: ignore[arg-type]
            wanted = 440.0 * ratio
            if abs(made[:RATE] @ np.exp(2j * np.pi * wanted * np.arange(RATE) / RATE)) < 50:
                continue  # struck where this mode stands still
            found = loudest_hz(made, wanted / 1.02, wanted * 1.02)
            assert 1200 * abs(np.log2(found / wanted)) < 1.0

    @pytest.mark.parametrize("note", [33, 57, 81])
    def test_a_string_loop_is_in_tune_within_two_cents(self, note: int) -> None:
        sound = struck(body="string_loop", decay_s=4.0, damping=0.3)
        sound = sound.model_copy(update={"hit": sound.hit.model_copy(update={"note": note})})
        wanted = 440.0 * 2 ** ((note - 69) / 12)
        found = loudest_hz(rendered(sound, length_s=2.0)[0], wanted / 1.03, wanted * 1.03)
        assert 1200 * abs(np.log2(found / wanted)) < 2.0

    @pytest.mark.parametrize(("decay_s", "damping"), [(0.5, 0.0), (1.5, 0.6), (3.0, 1.0)])
    def test_rings_as_long_as_is_set(self, decay_s: float, damping: float) -> None:
        sound = struck(body="bar", modes=1, decay_s=decay_s, damping=damping)
        made = rendered(sound, length_s=decay_s)[0]
        level = 20 * np.log10(np.abs(made[: made.size // 480 * 480].reshape(-1, 480)).max(axis=1))
        middle = slice(level.size // 10, level.size * 8 // 10)
        slope = np.polyfit(np.arange(level.size)[middle] * 0.01, level[middle], 1)[0]
        assert -60.0 / slope == pytest.approx(decay_s, rel=0.03)

    def test_a_string_loop_rings_as_long_as_is_set(self) -> None:
        made = rendered(struck(body="string_loop", decay_s=1.0, damping=0.0), length_s=1.0)[0]
        turn = np.exp(-2j * np.pi * 440.0 * np.arange(made.size) / RATE)
        parts = np.abs((made * turn)[: made.size // 4800 * 4800].reshape(-1, 4800).sum(axis=1))
        slope = np.polyfit(np.arange(parts.size)[1:] * 0.1, 20 * np.log10(parts[1:]), 1)[0]
        assert -60.0 / slope == pytest.approx(1.0, rel=0.05)

    def test_twice_as_large_is_an_octave_lower_and_rings_twice_as_long(self) -> None:
        small, large = struck(decay_s=0.5), struck(decay_s=0.5, size=2.0)
        assert loudest_hz(rendered(large, length_s=1.0)[0], 200, 240) == pytest.approx(
            220, rel=1e-3
        )
        assert render(large).length_s > 1.6 * render(small).length_s

    def test_changed_by_hand(self) -> None:
        changes = [
            {"mode": 1, "mute": True},
            {"mode": 2, "shift_cent": 100.0, "level_db": 6.0, "ring": 3.0},
        ]
        plain, made = body_modes(StruckSource()), body_modes(StruckSource(changes=changes))  # type: ignore[arg-type]
        assert made.heard.tolist()[:2] == [False, True]
        assert made.ratios[1] / plain.ratios[1] == pytest.approx(2 ** (1 / 12))
        assert made.decays_s[1] == pytest.approx(3.0 * plain.decays_s[1])
        heard = rendered(struck(changes=changes, decay_s=2.0), length_s=1.0)[0]
        power = np.abs(np.fft.rfft(heard * np.hanning(heard.size)))
        assert power[430:450].max() < 1e-3 * power.max()

    def test_a_mode_changed_twice_is_refused(self) -> None:
        with pytest.raises(DocumentError, match="changed twice"):
            struck(changes=[{"mode": 3}, {"mode": 3, "mute": True}])

    @pytest.mark.parametrize("body", BODIES)
    @pytest.mark.parametrize("exciter", ["impulse", "noise", "sweep"])
    def test_stays_near_full_scale_whatever_is_set(self, body: str, exciter: str) -> None:
        for more in ({}, {"hardness": 0.2, "decay_s": 8.0, "damping": 0.0}, {"position": 1.0}):
            made = rendered(struck(body=body, exciter=exciter, **more), length_s=0.5)
            assert 0.05 < np.abs(made).max() < 3.0

    def test_ends_by_itself_although_its_level_never_falls(self) -> None:
        audio = render(struck(decay_s=0.3))
        assert audio.end_reason == "silence"
        assert audio.length_s < 1.0
        assert np.abs(audio.samples[:, -1]).max() == 0.0

    def test_starts_without_a_click(self) -> None:
        made = rendered(struck(body="membrane", hardness=0.4))[0]
        assert abs(made[0]) < 0.02

    @pytest.mark.parametrize("note", [0, 127])
    def test_at_the_ends_of_the_keyboard(self, note: int) -> None:
        for body in BODIES:
            sound = struck(body=body, size=0.25 if note else 4.0)
            sound = sound.model_copy(update={"hit": sound.hit.model_copy(update={"note": note})})
            made = rendered(sound, length_s=0.2)
            assert np.all(np.isfinite(made))
            assert np.abs(made).max() < 4.0

    def test_a_knock_is_heard_beside_it(self) -> None:
        without, beside = (
            rendered(struck(), length_s=0.2),
            rendered(struck(knock=0.5), length_s=0.2),
        )
        count = pulse(0.7, RATE).size
        assert np.abs((beside - without)[0, :count]).max() == pytest.approx(0.5)
        assert np.array_equal(beside[:, count:], without[:, count:])

    def test_noise_may_be_another_each_hit(self) -> None:
        for again in (False, True):
            sound = struck(exciter="noise", new_each_hit=again)
            later = sound.model_copy(update={"hit": sound.hit.model_copy(update={"number": 2})})
            same = np.array_equal(rendered(sound, length_s=0.1), rendered(later, length_s=0.1))
            assert same is not again


def moved_mode(target, amount, **source):
    """A bar of which a macro moves one mode."""
    layer = {"id": "a", "name": "A", "source": {"kind": "struck", "modes": 4, **source}}
    links = [{"mover": "m", "target": f"a.source.{target}", "amount": amount}]
    movers = [{"id": "m", "kind": "macro", "name": "M", "value": 1.0}]
    return load_sound({"name": "S", "layers": [layer], "movers": movers, "links": links})


@pytest.mark.parametrize(
    ("target", "amount", "change"),
    [
        ("mode2.shift_cent", 150.0, {"shift_cent": 150.0}),
        ("mode3.level_db", -30.0, {"level_db": -30.0}),
        ("mode1.ring", 2.0, {"ring": 3.0}),
    ],
)
def test_a_moved_mode_sounds_like_one_changed_by_hand(target, amount, change):
    moved = render(moved_mode(target, amount)).samples
    mode = int(target.split(".")[0].removeprefix("mode"))
    by_hand = moved_mode(target, 0.0, changes=[{"mode": mode, **change}])
    np.testing.assert_array_equal(moved, render(by_hand).samples)
    assert not np.array_equal(moved, render(moved_mode(target, 0.0)).samples)


def test_a_link_to_a_mode_outlives_a_body_with_fewer_and_ends_beyond_the_last():
    kept = moved_mode("mode9.level_db", -6.0)
    assert np.array_equal(render(kept).samples, render(moved_mode("mode8.ring", 1.0)).samples)
    assert "mode 9, Level" in recipe(kept)
    with pytest.raises(DocumentError, match="no parameter"):
        moved_mode("mode65.level_db", -6.0)
