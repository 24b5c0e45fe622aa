"""Try-out as a designer uses it: what is played is the core's mix, edits are heard from the next
hit on, parts that cover each other get a way out, a group is triggered as a game would."""

import io
import json
import re
import zipfile

import numpy as np
import pytest
from playwright.sync_api import expect
from scipy.signal import correlate

from nest_crate.core.formats.wav import decode_wav, encode_wav
from tests.e2e import bench
from tests.e2e.loop_recorder import (
    RATE,
    prepare,
    recorded,
    recorded_clicks,
    wait_until_placed,
)
from tests.e2e.windows import eventually, open_context

# A level of 0.1 dB off leaves a difference of -39 dB; rounding to 32-bit numbers one of -140.
EQUAL_DB = -100.0


@pytest.fixture
def recording(browser, running):
    """Opens a page that plays into a recording of so many seconds."""
    opened = []

    def open_page(seconds):
        context = open_context(browser, running.url)
        prepare(context, seconds)
        opened.append(context)
        page = context.new_page()
        page.problems = []
        page.on("pageerror", lambda error: page.problems.append(str(error)))
        return page

    yield open_page
    for context in opened:
        assert [one.problems for one in context.pages] == [[]]
        context.close()


def open_tryout(page, name):
    page.goto("/tryout")
    page.get_by_role("link", name=name).click()
    expect(page.get_by_role("heading", name="Mix")).to_be_visible()
    return int(page.url.rsplit("/", 1)[1])


def made(page, document):
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    body = {"library_id": library, "document": document}
    answer = page.request.post("/api/tryouts", data=body)
    assert answer.status == 201, answer.text()
    return answer.json()["id"]


def mix_of(page, identifier):
    answer = page.request.get(f"/api/tryouts/{identifier}/mix?file_format=wav32")
    return decode_wav(answer.body())[0]


def begun(page, name="Play"):
    page.get_by_role("button", name=name, exact=True).click()
    wait_until_placed(page)


def lag_of(heard, mix):
    """The frame at which a mix begins in what was heard."""
    head = mix[0, : heard.shape[1] - RATE // 2]
    across = correlate(heard[0], head, mode="valid", method="fft")
    return int(np.argmax(across))


def difference_db(heard, mix):
    wanted = float(np.square(mix).sum())
    return 10 * np.log10(max(float(np.square(heard - mix).sum()), 1e-20) / wanted)


def saved(page):
    expect(page.get_by_text("all changes saved")).to_be_visible()


def sample_of(page, signal, name):
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    wav = encode_wav(np.atleast_2d(signal), RATE, sample_format="float32")
    file = {"name": f"{name}.wav", "mimeType": "audio/wav", "buffer": wav}
    url = f"/api/libraries/{library}/samples"
    answer = page.request.post(url, multipart={"file": file})
    assert answer.status == 201, answer.text()
    return answer.json()["id"]


class TestWhatIsPlayed:
    @pytest.mark.parametrize(("name", "seconds"), [("Clockwork groove", 10), ("Boiler scene", 20)])
    def test_it_is_the_mix_of_the_core(self, recording, name, seconds):
        page = recording(seconds + 2)
        identifier = open_tryout(page, name)
        begun(page)
        heard = recorded(page, seconds + 2)
        mix = mix_of(page, identifier)
        first = lag_of(heard, mix)
        count = seconds * RATE
        found = heard[:, first : first + count]
        assert difference_db(found, mix[:, :count]) < EQUAL_DB

    def test_hits_stay_on_the_grid_for_five_minutes(self, recording):
        page = recording(303)
        page.goto("/tryout")
        click = np.zeros(64)
        click[0] = 1.0
        plays = {"kind": "sample", "sample": sample_of(page, click, "One click")}
        # A round that is no whole number of frames long.
        hits = [{"at_s": 0, "in_beats": {"at_s": n}} for n in range(7)]
        part = {"id": "a", "name": "A", "plays": plays, "hits": hits}
        length = {"length_s": 1, "in_beats": {"length_s": 7}}
        identifier = made(page, {"name": "Clicks", "tempo_bpm": 97, **length, "parts": [part]})
        page.goto(f"/tryout/{identifier}")
        begun(page)
        clicks = recorded_clicks(page, 303)
        frames = np.array([frame for frame, _ in clicks])
        values = np.array([value for _, value in clicks])
        assert np.abs(values - np.cos(np.pi / 4)).max() < 1e-6
        ideal = frames[0] + np.arange(frames.size) * 60 / 97 * RATE
        assert frames.size >= 485
        assert np.abs(frames - ideal).max() <= 1.0

    def test_a_change_is_heard_from_the_next_hit_on_without_a_gap(self, recording):
        page = recording(12)
        identifier = open_tryout(page, "Clockwork groove")
        before = mix_of(page, identifier)
        page.get_by_role("button", name="Kiln door kick", exact=True).click()
        page.evaluate(
            """() => window.addEventListener('test-action', () =>
                 [...document.querySelectorAll('label')]
                   .find((one) => one.textContent.includes('Invert polarity'))
                   .querySelector('input').click())"""
        )
        begun(page)
        heard = recorded(page, 12, [{"at": 3.0, "name": "invert"}])
        saved(page)
        after = mix_of(page, identifier)
        first = lag_of(heard, before)
        until, then = int(2.9 * RATE), int(4.9 * RATE)
        assert difference_db(heard[:, first : first + until], before[:, :until]) < EQUAL_DB
        late = heard[:, first + then : first + 10 * RATE]
        assert difference_db(late, after[:, then : 10 * RATE]) < EQUAL_DB
        assert difference_db(late, before[:, then : 10 * RATE]) > -20.0
        # In between the ticks go on: no stretch of 20 ms is silent for more than a beat.
        between = heard[0, first + until : first + then]
        loud = np.abs(between[: between.size // 960 * 960]).reshape(-1, 960).max(axis=1) > 1e-4
        gaps = np.diff(np.flatnonzero(loud))
        assert gaps.max() * 0.02 < 60 / 96
        page.get_by_role("button", name="Undo").click()
        saved(page)

    def test_a_sound_that_is_edited_on_the_bench_is_heard_in_the_loop(self, recording):
        page = recording(12)
        page.goto("/tryout")
        groove = open_tryout(page, "Clockwork groove")
        before = mix_of(page, groove)
        kick = bench.open_sound(page, "Kiln door kick")
        page.evaluate(
            """() => window.addEventListener('test-action', () =>
                 document.querySelector('[aria-label="Mute Body"]').click())"""
        )
        page.evaluate(f"() => localStorage.setItem('nest-crate:context:{kick}', '{groove}')")
        page.get_by_role("button", name="In context").click()
        wait_until_placed(page)
        heard = recorded(page, 12, [{"at": 3.0, "name": "mute"}])
        saved(page)
        after = mix_of(page, groove)
        first = lag_of(heard, before)
        until, then = int(2.9 * RATE), int(4.9 * RATE)
        assert difference_db(heard[:, first : first + until], before[:, :until]) < EQUAL_DB
        late = heard[:, first + then : first + 10 * RATE]
        assert difference_db(late, after[:, then : 10 * RATE]) < EQUAL_DB
        page.get_by_role("button", name="Undo").click()
        saved(page)

    def test_the_tempo_is_changed_while_it_plays(self, recording):
        page = recording(12)
        identifier = open_tryout(page, "Clockwork groove")
        before = mix_of(page, identifier)
        page.evaluate(
            """() => window.addEventListener('test-action', () => {
                 const field = document.querySelector('#tryout-tempo');
                 const set = Object.getOwnPropertyDescriptor(
                   HTMLInputElement.prototype, 'value').set;
                 field.focus();
                 set.call(field, '120');
                 field.dispatchEvent(new Event('input', { bubbles: true }));
                 field.blur();
               })"""
        )
        begun(page)
        at_s = 3.0
        heard = recorded(page, 12, [{"at": at_s, "name": "tempo", "waitMs": 4000}])
        saved(page)
        after = mix_of(page, identifier)
        first = lag_of(heard[:, : int(4 * RATE)], before[:, : int(2.9 * RATE)])
        until = int(2.9 * RATE)
        assert difference_db(heard[:, first : first + until], before[:, :until]) < EQUAL_DB
        # It goes on at the same beat: the rest of the round is that of the new tempo, found by
        # itself a beat after the change.
        piece = after[0, int(4.5 * RATE) : int(7.5 * RATE)]
        across = correlate(heard[0], piece, mode="valid", method="fft")
        place = int(np.argmax(across))
        assert difference_db(heard[0, place : place + piece.size], piece) < -40.0
        turned = (first / RATE + at_s) + (4.5 / 8.0 - at_s / 10.0) * 8.0
        assert place / RATE == pytest.approx(turned, abs=0.2)
        page.get_by_role("button", name="Undo").click()
        saved(page)


class TestByHand:
    def test_a_try_out_is_made_from_nothing(self, page):
        page.goto("/tryout")
        page.get_by_role("button", name="New try-out").click()
        page.get_by_role("button", name="Sound", exact=True).click()
        page.get_by_label("Search").fill("kiln door")
        page.get_by_role("button", name="Kiln door kick Glasshouse").click()
        lane = page.get_by_role("group", name=re.compile("^Hits of Kiln door kick"))
        expect(lane).to_have_attribute("data-hits", "1")
        box = lane.bounding_box()
        page.mouse.dblclick(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        expect(lane).to_have_attribute("data-hits", "2")
        expect(page.get_by_role("tab", name="Hit")).to_have_attribute("aria-selected", "true")
        page.get_by_label("At", exact=True).fill("6 beats")
        page.get_by_label("At", exact=True).press("Enter")
        expect(page.get_by_role("button", name="2.3", exact=True)).to_be_visible()
        # The same by keys: a step of the grid on, then removed, then undone.
        lane.focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("button", name="2.3.25", exact=True)).to_be_visible()
        page.keyboard.press("Delete")
        expect(lane).to_have_attribute("data-hits", "1")
        page.keyboard.press("Control+z")
        expect(lane).to_have_attribute("data-hits", "2")
        saved(page)

    def test_what_is_wrong_is_said_where_it_is(self, page):
        identifier = made(page_at(page), bad_document(page))
        page.goto(f"/tryout/{identifier}")
        expect(
            page.get_by_text(re.compile("Lost bell is silent: The sample is in the bin"))
        ).to_be_visible()
        page.get_by_label("Tempo", exact=True).fill("2")
        page.get_by_label("Tempo", exact=True).press("Enter")
        expect(page.get_by_role("alert").filter(has_text="20 to 400")).to_be_visible()

    def test_two_people_edit_one_try_out(self, page):
        identifier = made(page_at(page), {"name": "Shared pulse"})
        page.goto(f"/tryout/{identifier}")
        expect(page.get_by_role("heading", name="Mix")).to_be_visible()
        theirs = page.request.get(f"/api/tryouts/{identifier}").json()
        body = {"base_version": 1, "document": {**theirs["document"], "tempo_bpm": 77}}
        assert page.request.put(f"/api/tryouts/{identifier}/draft", data=body).status == 200
        page.get_by_role("button", name="Loop").click()
        page.get_by_role("button", name="Use theirs").click()
        expect(page.get_by_label("Tempo", exact=True)).to_have_value("77")


def page_at(page):
    """A page of the program, for requests need its address."""
    page.goto("/tryout")
    return page


def bad_document(page):
    gone = {"kind": "sample", "sample": 999_999}
    return {"name": "With a gap", "parts": [{"id": "a", "name": "Lost bell", "plays": gone}]}


def test_what_is_changed_while_leaving_is_saved(page):
    hurried = made(page_at(page), {"name": "Left in a hurry"})
    page.goto(f"/tryout/{hurried}")
    tempo = page.get_by_label("Tempo", exact=True)
    tempo.fill("104")
    tempo.press("Enter")
    page.goto("about:blank")

    def saved_tempo():
        found = page.request.get(f"/api/tryouts/{hurried}").json()
        return found["document"]["tempo_bpm"]

    eventually(page, saved_tempo, 104)


class TestInContext:
    def test_a_kick_is_heard_with_others_and_gets_a_way_out(self, page):
        bench.open_sound(page, "Kiln door kick")
        page.get_by_role("button", name="In context").click()
        strip = page.get_by_role("region", name="In context")
        strip.get_by_role("button", name="Another…").click()
        page.get_by_role("button", name=re.compile("^Clockwork groove")).click()
        expect(strip.get_by_role("link", name="Clockwork groove")).to_be_visible()
        expect(strip.get_by_role("button", name="Stop the loop")).to_be_visible()
        expect(page.get_by_role("img", name="Level of the other parts")).to_be_visible()
        strip.get_by_role("button", name="Overlap").click()
        panel = page.get_by_role("region", name="Overlap in context")
        expect(panel.get_by_text(re.compile("Both fill"))).to_be_visible()
        attack = panel.get_by_role("button", name=re.compile("^Take: Undergrowth bass: attack"))
        panel.get_by_role("button", name=re.compile("^Hear: Undergrowth bass: attack")).click()
        attack.click()
        # What helped is no longer offered; undone, it is again.
        expect(attack).to_have_count(0)
        strip.get_by_role("button", name=re.compile("^Undo: Undergrowth bass: attack")).click()
        attack.click()
        expect(attack).to_have_count(0)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="In context").click()
        expect(strip).to_have_count(0)
        groove = next(
            one
            for one in page.request.get("/api/tryouts").json()["tryouts"]
            if one["name"] == "Clockwork groove"
        )
        page.wait_for_timeout(1500)
        parts = page.request.get(f"/api/tryouts/{groove['id']}").json()["document"]["parts"]
        assert parts[1]["attack_s"] > 0.0

    def test_the_sound_itself_takes_a_longer_attack(self, page):
        sound_id = bench.new_sound(page, "Context tone")
        bench.settled(page)
        page.keyboard.press("c")
        page.get_by_role("button", name=re.compile("^Four on the floor")).click()
        strip = page.get_by_role("region", name="In context")
        expect(strip.get_by_role("button", name="Stop the loop")).to_be_visible()
        names = page.request.get("/api/tryouts").json()["tryouts"]
        mine = next(one for one in names if sound_id in one["sound_ids"])
        assert mine["name"] == "Context tone, four on the floor"


def test_a_group_is_triggered_as_a_game_would(page):
    open_tryout(page, "Moth house")
    page.get_by_role("button", name="Game test").click()
    expect(page.get_by_text(re.compile(r"of 199 neighbours are nearer than 1"))).to_be_visible()
    expect(page.get_by_text(re.compile("made the same way would hold 12"))).to_be_visible()
    page.get_by_role("button", name="Tap yourself").click()
    tap = page.get_by_role("button", name="Tap", exact=True)
    for _ in range(3):
        tap.dispatch_event("pointerdown")
    page.get_by_role("region", name="Game test and kit").get_by_role(
        "button", name="Stop", exact=True
    ).click()
    with page.expect_download() as waiting:
        page.get_by_role("button", name="Cue sheet").click()
    lines = waiting.value.path().read_text().splitlines()
    assert lines[1] == "number,seconds,file,sample,pitch_semitones,gain_db"
    assert len(lines) == 5
    assert all("Moth-wing flutter" in line for line in lines[2:])


def test_a_kit_goes_out_with_its_samples(page):
    open_tryout(page, "Clockwork groove")
    page.get_by_role("button", name="Kit", exact=True).click()
    expect(page.get_by_role("group", name="Pads").get_by_role("button")).to_have_count(5)
    page.get_by_role("button", name="Match loudness").click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Mix, stems, kit…").click()
    page.get_by_label("What").select_option("kit.zip")
    with page.expect_download() as waiting:
        page.get_by_role("button", name="Export", exact=True).click()
    files = zipfile.ZipFile(io.BytesIO(waiting.value.path().read_bytes()))
    (text,) = [files.read(one).decode() for one in files.namelist() if one.endswith(".sfz")]
    regions = re.findall(r"<region>.*sample=(\S+)", text)
    assert regions
    assert set(regions) <= set(files.namelist())
    assert len(re.findall(r"group=1 off_by=1 off_mode=fast", text)) == 2


def test_letters_play_the_pads_of_a_kit(page):
    open_tryout(page, "Clockwork groove")
    page.get_by_role("button", name="Kit", exact=True).click()
    expect(page.get_by_role("group", name="Pads").get_by_role("button")).to_have_count(5)
    page.wait_for_timeout(3000)
    page.evaluate("window.heard.length = 0")
    for key in ("z", "x", "z"):
        page.keyboard.press(key)
        page.wait_for_timeout(300)
    bench.wait_for_count(page, 3)
    kick, bass, again = bench.heard(page)[:3]
    assert np.array_equal(kick, again)
    assert not np.array_equal(kick[:1000], bass[:1000])


def test_pads_are_played_by_a_midi_device(page):
    open_tryout(page, "Clockwork groove")
    page.get_by_role("button", name="Kit", exact=True).click()
    pads = page.get_by_role("group", name="Pads").get_by_role("button")
    expect(pads).to_have_count(5)
    page.get_by_role("button", name="MIDI").click()
    page.get_by_role("menuitem", name="Use the simulated keyboard").click()
    expect(page.get_by_role("button", name="MIDI: Simulated keyboard")).to_be_visible()
    # The device begins with each pad once, from the lowest key up.
    bench.wait_for_count(page, 5)
    first = bench.heard(page)[:5]
    page.evaluate("window.heard.length = 0")
    send = "dispatchEvent(new CustomEvent('nest-crate:simulated-midi', {detail: %s}))"
    # The second pad by its key; a key without a pad is silent.
    page.evaluate(send % "[[35, 100, 0, 100], [37, 100, 50, 100]]")
    bench.wait_for_count(page, 1)
    page.evaluate(send % "[[37, 25, 0, 100]]")
    bench.wait_for_count(page, 2)
    strong, weak = bench.heard(page)
    assert any(np.array_equal(strong, one) for one in first)
    assert not np.array_equal(weak, strong), "a sound hears its velocity"


def test_a_mix_is_kept_with_what_made_it_and_shared(page):
    identifier = open_tryout(page, "Clockwork groove")
    page.get_by_role("button", name="Keep mix").click()
    page.get_by_label("Name", exact=True).last.fill("Groove of the kept mix")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("is a sample now")).to_be_visible()
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Share link").click()
    link = page.get_by_label("Link", exact=True).input_value()
    page.goto(link)
    expect(page.get_by_text("Clockwork groove").first).to_be_visible()
    secret = link.rsplit("/", 1)[1]
    answer = page.request.get(f"/api/shared/{secret}/tryout.wav")
    assert np.array_equal(decode_wav(answer.body())[0], mix_of(page, identifier))
    assert json.loads(page.request.get(f"/api/shared/{secret}").text())["tryout"]["parts"]
