"""Curves by hand and by exact number."""

import time

import pytest
from playwright.sync_api import expect

from tests.e2e import bench
from tests.e2e.test_accessibility import violations


def curve(page, sound_id, layer=0, name="level"):
    return bench.layers(page, sound_id)[layer][name]


def rows(of, part="points"):
    return [(p["time_s"], p["value"], p["bend"]) for p in of[part]]


def point(page, layer, index, part="points"):
    return page.locator(f"[data-layer={layer}] [data-point={part}-{index}]")


def centre(locator):
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def drag(page, start, end, steps=5):
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=steps)
    page.mouse.up()


def test_a_frame_takes_points_that_move_and_go_together(page):
    sound_id = bench.open_sound(page, "Kiln door kick")
    before = rows(curve(page, sound_id))
    lane = page.get_by_role("group", name="Level curve of Body").bounding_box()
    x, y = centre(point(page, "body", 2))
    end_x, end_y = centre(point(page, "body", 3))
    drag(page, (x - 12, lane["y"] + 2), (end_x + 12, end_y + 6))
    for index in (2, 3):
        expect(point(page, "body", index)).to_have_attribute("aria-pressed", "true")
    expect(point(page, "body", 1)).to_have_attribute("aria-pressed", "false")
    drag(page, (x, y), (x + 60, y))
    after = rows(curve(page, sound_id))
    shift_s = after[2][0] - before[2][0]
    assert shift_s > 0.01
    assert after[3][0] - before[3][0] == pytest.approx(shift_s)
    assert after[:2] == before[:2]
    point(page, "body", 2).press("Delete")
    assert len(rows(curve(page, sound_id))) == 2
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
    assert rows(curve(page, sound_id)) == before


def test_points_snap_to_the_grid_and_alt_goes_between(page):
    sound_id = bench.open_sound(page, "Kiln door kick")
    page.get_by_label("Snap to").select_option("10 ms")
    x, y = centre(point(page, "body", 2))
    drag(page, (x, y), (x + 37, y))
    time_s = rows(curve(page, sound_id))[2][0]
    assert time_s * 100 == pytest.approx(round(time_s * 100), abs=1e-9)
    assert time_s != 0.05
    point(page, "body", 2).press("ArrowRight")
    assert rows(curve(page, sound_id))[2][0] == pytest.approx(time_s + 0.01)
    point(page, "body", 2).press("Alt+ArrowRight")
    assert rows(curve(page, sound_id))[2][0] == pytest.approx(time_s + 0.0101)
    page.get_by_label("Snap to").select_option("1/4 beat")
    point(page, "body", 3).press("ArrowRight")
    quarter_s = 60 / 96 / 4
    assert rows(curve(page, sound_id))[3][0] / quarter_s == pytest.approx(4)
    page.get_by_label("Snap to").select_option("off")


def test_a_curve_is_stretched_flipped_scaled_and_copied(page):
    sound_id = bench.open_sound(page, "Fuse zap")
    bench.show_curve(page, "Pitch")
    bench.type_into(page, "Length of the curve", "16 beats at 90")
    pitch = rows(curve(page, sound_id, name="pitch"))
    assert pitch[-1] == (16 * 60 / 90, -6, 2)
    page.get_by_role("button", name="Flip time").click()
    pitch = rows(curve(page, sound_id, name="pitch"))
    assert [(v, b) for _, v, b in pitch] == [(-6, 0), (42, -2)]
    page.get_by_role("button", name="Flip value").click()
    assert [v for _, v, _ in rows(curve(page, sound_id, name="pitch"))] == [42, -6]
    bench.type_into(page, "Scale the values", "50 %")
    assert [v for _, v, _ in rows(curve(page, sound_id, name="pitch"))] == [21, -3]

    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_role("button", name="tone", exact=True).click()
    bench.show_curve(page, "Pitch")
    page.locator("[data-layer=tone-1]").get_by_role("button", name="Pitch", exact=True).click()
    page.get_by_role("button", name="Paste", exact=True).click()
    first, second = bench.layers(page, sound_id)
    assert second["pitch"] == first["pitch"]


def test_shapes_are_taken_from_the_stock_kept_and_used_again(page):
    sound_id = bench.open_sound(page, "Potting-bench snare")
    page.get_by_role("tab", name="Curve").click()
    length_s = rows(curve(page, sound_id))[-1][0]
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Double thump").click()
    thump = rows(curve(page, sound_id))
    assert len(thump) == 6
    assert thump[-1][0] == pytest.approx(length_s)
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Save this curve as a shape").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Two knocks")
    page.get_by_role("dialog").get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    bench.open_sound(page, "Fuse zap backwards")
    page.get_by_role("tab", name="Curve").click()
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Two knocks", exact=True).click()
    other = int(page.url.rsplit("/", 1)[-1])
    assert rows(curve(page, other)) == thump


def test_five_numbers_say_what_would_be_lost_and_then_set_the_same_curve(page):
    sound_id = bench.open_sound(page, "Kiln door kick")
    bench.show_curve(page, "Pitch")
    page.get_by_role("tab", name="Five numbers").click()
    expect(page.get_by_text("1 point on the way down")).to_be_visible()
    before = curve(page, sound_id, name="pitch")
    bench.show_curve(page, "Level")
    page.get_by_role("tab", name="Five numbers").click()
    field = page.get_by_role("tabpanel").get_by_label("Decay", exact=True)
    field.click()
    field.fill("1.9 s")
    field.press("Enter")
    level = rows(curve(page, sound_id))
    assert level[-1] == (pytest.approx(level[2][0] + 1.9), 0, 3.5)
    assert curve(page, sound_id, name="pitch") == before
    expect(page.get_by_text("−20 dB at")).to_be_visible()


def test_loop_is_set_drawn_and_heard_as_longer_while_held(page):
    sound_id = bench.open_sound(page, "Boiler room drone")
    page.get_by_role("tab", name="Curve").click()
    page.get_by_label("Loop while held").check()
    loop = curve(page, sound_id)["loop"]
    assert loop["start"] < loop["end"]
    expect(page.locator("[data-layer] svg text", has_text="loop").first).to_be_visible()
    page.get_by_label("Loop while held").uncheck()
    assert curve(page, sound_id)["loop"] is None


def test_release_is_matched_to_the_decay_and_tap_and_hold_ring_alike(page):
    sound_id = bench.open_sound(page, "Glass-pane bell")
    page.get_by_role("tab", name="Curve").click()
    expect(page.get_by_role("img", name="tap: held 30 ms")).to_be_visible()
    bench.type_into(page, "Time of release 1", "80 ms")
    page.get_by_role("button", name="Match release to decay").click()
    release = rows(curve(page, sound_id), "release")
    assert release == [(pytest.approx(3.299), 0, 9)]


def test_mark_where_the_level_has_fallen_is_pulled_and_changes_the_decay(page):
    sound_id = bench.open_sound(page, "Sluice sub hit")
    mark = page.get_by_role("slider", name="Sub −60 dB")
    before = float(mark.get_attribute("aria-valuenow"))
    x, y = centre(mark)
    drag(page, (x, y), (x - 120, y))
    level = rows(curve(page, sound_id))
    assert level[-1][0] < 0.85
    assert level[2][0] == 0.08
    # It is measured again, and stands earlier on a ruler that fits the shorter sound.
    expect(mark).not_to_have_attribute("aria-valuenow", str(before))
    assert float(mark.get_attribute("aria-valuenow")) < before - 0.05


def test_common_pitch_is_drawn_and_layers_leave_it(page):
    sound_id = bench.open_sound(page, "Steam whistle")
    page.get_by_role("button", name="common pitch").click()
    bench.type_into(page, "Value of point 1", "-7 st")
    expect(page.locator("[data-common-pitch]")).to_contain_text("2 of 2 layers follow")
    shown = bench.digest(page)
    page.get_by_label("Reed", exact=True).uncheck()
    bench.wait_for_other(page, shown)
    expect(page.locator("[data-common-pitch]")).to_contain_text("1 of 2 layers follow")
    bench.settled(page)
    made = bench.draft(page, sound_id)
    assert made["pitch"]["points"][0]["value"] == -7
    assert [layer["follows_pitch"] for layer in made["layers"]] == [False, True, True]


def test_ruler_shows_beats_a_stretched_start_and_the_first_50_ms(page):
    bench.open_sound(page, "Lift riser")
    ruler = page.locator("[data-ruler]")

    def choose(item):
        ruler.get_by_role("button", name="Ruler").click()
        page.get_by_role("menuitem", name=item).click()

    choose("Beats")
    expect(ruler).to_contain_text("16")
    x_even = centre(point(page, "cable", 1))[0]
    choose("Stretched attack")
    assert centre(point(page, "cable", 0))[0] < 230
    choose("Milliseconds")
    choose("Even")
    assert centre(point(page, "cable", 1))[0] == pytest.approx(x_even, abs=1)
    page.locator("body").press("9")
    expect(ruler).to_contain_text("50")
    page.locator("body").press("0")
    assert centre(point(page, "cable", 1))[0] == pytest.approx(x_even, abs=1)


def test_two_hundred_steps_of_a_drag_queue_nothing_and_the_last_is_heard(page):
    sound_id = bench.open_sound(page, "Kiln door kick")
    asked = []
    page.on(
        "request",
        lambda request: (
            asked.append(request.post_data_json) if request.url.endswith("/api/auditions") else None
        ),
    )
    x, y = centre(point(page, "body", 3))
    page.mouse.move(x, y)
    page.mouse.down()
    began = time.monotonic()
    for step in range(200):
        page.mouse.move(x - step, y)
    shown = bench.digest(page)
    took_s = time.monotonic() - began
    page.mouse.up()
    level = curve(page, sound_id)
    bench.wait_for_other(page, shown)
    bench.all_rendered(page)
    finals = [body for body in asked if body["quality"] == "final"]
    drafts = [body for body in asked if body["quality"] == "draft"]
    assert len(finals) == 1
    # At most one draft each 80 ms, whatever the hand does.
    assert 1 <= len(drafts) <= took_s / 0.08 + 2
    assert finals[0]["document"]["layers"][0]["level"] == level
    answer = page.request.post("/api/auditions", data={"document": finals[0]["document"]}).json()
    assert bench.digest(page) == answer["digest"]


def test_a_movers_curve_is_edited_as_those_of_layers_are(page):
    sound_id = bench.new_sound(page, "Mover curve")
    page.get_by_label("Add mover").click()
    page.get_by_role("menuitem", name="Curve", exact=True).click()
    lane = page.locator("[data-mover]")
    points = lane.get_by_role("group", name="Value curve of Curve").get_by_role("button")
    expect(points).to_have_count(2)
    # A release, five numbers, and a point drawn on the ruler.
    page.get_by_role("button", name="Add release (held)").click()
    page.get_by_role("tab", name="Five numbers").click()
    for label, text in (("Attack", "50 ms"), ("Decay", "200 ms"), ("Sustain", "40 %")):
        bench.type_into(page, label, text)
    page.get_by_role("tab", name="Points").click()
    lane.get_by_role("group", name="Value curve of Curve").dblclick(position={"x": 300, "y": 40})
    bench.settled(page)
    (mover,) = bench.draft(page, sound_id)["movers"]
    times = [point["time_s"] for point in mover["curve"]["points"]]
    assert len(times) == 4, "a point was drawn"
    assert times == sorted(times)
    assert [time for time in times if time in (0, 0.05, 0.25)] == [0, 0.05, 0.25]
    assert mover["curve"]["points"][-1]["value"] == 0.4
    assert len(mover["curve"]["release"]) == 1
    # Copied, it becomes the level of the layer.
    page.get_by_role("button", name="Copy", exact=True).click()
    bench.take_in_hand(page, "Tone")
    page.get_by_role("tab", name="Curve").click()
    page.get_by_role("button", name="Paste", exact=True).click()
    bench.settled(page)
    made = bench.draft(page, sound_id)["layers"][0]["level"]
    assert [point["time_s"] for point in made["points"]] == times
    assert violations(page) == []


def test_a_typed_time_moves_what_comes_after_it_or_is_refused(page):
    sound_id = bench.new_sound(page, "Typed times")
    page.get_by_role("tab", name="Curve").click()
    page.get_by_role("button", name="point", exact=True).click()
    page.get_by_role("button", name="release point").click()
    bench.settled(page)
    before = bench.draft(page, sound_id)["layers"][0]["level"]
    assert len(before["release"]) == 2, "a release is kept when a point is added"
    bench.type_into(page, "Time of point 2", "3 s")
    bench.settled(page)
    after = bench.draft(page, sound_id)["layers"][0]["level"]["points"]
    gap = before["points"][2]["time_s"] - before["points"][1]["time_s"]
    assert after[2]["time_s"] - after[1]["time_s"] == pytest.approx(gap)
    assert after[1]["time_s"] == 3
    # A bare number has the unit that the field shows.
    bench.type_into(page, "Time of point 2", "4")
    bench.settled(page)
    assert bench.draft(page, sound_id)["layers"][0]["level"]["points"][1]["time_s"] == 4
    bench.type_into(page, "Time of point 3", "1 s")
    expect(
        page.get_by_role("alert").filter(has_text="The point before it is at 4 s")
    ).to_be_visible()


def test_pitch_points_take_hertz_and_notes(page):
    sound_id = bench.new_sound(page, "Typed pitch")
    page.get_by_role("button", name="Pitch", exact=True).click()
    expect(page.get_by_role("table", name="Points of the pitch curve")).to_be_visible()
    expect(page.get_by_text("lands at")).to_be_visible()
    # The hit plays C3.
    for text, st in (("C4", 12.0), ("65.41 Hz", -12.0), ("7", 7.0)):
        bench.type_into(page, "Value of point 1", text)
        bench.settled(page)
        found = bench.draft(page, sound_id)["layers"][0]["pitch"]["points"][0]["value"]
        assert found == pytest.approx(st, abs=0.01), text
