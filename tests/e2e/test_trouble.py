"""Two windows, a dead database, and edits that a browser keeps."""

import re

import numpy as np
from playwright.sync_api import expect

from tests.e2e import bench
from tests.e2e.windows import eventually
from tests.program import end_database


def test_two_windows_do_not_overwrite_each_other(page):
    sound_id = bench.open_sound(page, "Watering valve hiss")
    other = page.context.new_page()
    # Otherwise each would follow what the other saves.
    for window in (page, other):
        window.route("**/api/presence", lambda route: route.abort())
    other.goto(f"/bench/{sound_id}")
    expect(other.get_by_label("Name of the sound")).to_have_value("Watering valve hiss")
    bench.type_into(page, "Tempo", "101")
    bench.settled(page)
    bench.type_into(other, "Tempo", "102")
    dialog = other.get_by_role("dialog", name="Changed elsewhere")
    expect(dialog.get_by_role("button", name="Keep mine")).to_be_visible()
    assert bench.draft(page, sound_id)["tempo_bpm"] == 101
    dialog.get_by_role("button", name="Keep mine").click()
    bench.settled(other)
    assert bench.draft(page, sound_id)["tempo_bpm"] == 102
    other.get_by_role("button", name="Undo").click()
    bench.settled(other)
    assert bench.draft(page, sound_id)["tempo_bpm"] == 101, "the other version is one step back"
    bench.type_into(other, "Tempo", "104")
    bench.settled(other)
    bench.type_into(page, "Tempo", "103")
    page.get_by_role("button", name="Use the saved version").click()
    expect(page.get_by_label("Tempo")).to_have_value("104")


def test_on_a_slow_line_the_same_is_heard_from_fewer_bytes(page):
    sound_id = bench.open_sound(page, "Fuse zap backwards")
    exact = bench.heard_after(page, lambda: bench.type_into(page, "Transpose", "-4 st"))
    asked = []
    page.on("request", lambda one: asked.append(one) if "/api/auditions" in one.url else None)
    page.evaluate("window.onSlowLine = true")
    line = page.context.new_cdp_session(page)
    line.send("Network.enable")
    slow = {"offline": False, "latency": 300, "downloadThroughput": 187_500}
    line.send("Network.emulateNetworkConditions", {**slow, "uploadThroughput": 187_500})
    # Each answer says more surely how slow it is.
    for transpose in ("-3 st", "-5 st", "-6 st", "-4 st"):
        again = bench.heard_after(page, lambda to=transpose: bench.type_into(page, "Transpose", to))
    line.send("Network.disable")
    line.detach()
    assert "audio/flac" in asked[-1].headers["accept"]
    assert len(again) == len(exact)
    # Browsers read 16 bit with a full scale of one step more or less.
    assert 0.0 < np.abs(again - exact).max() <= 1.01 / 2**15
    bench.settled(page)
    assert bench.draft(page, sound_id)["layers"][0]["source"]["transpose_st"] == -4
    # The next page of this browser begins as one on a quick line.
    page.evaluate("window.onSlowLine = false; localStorage.removeItem('nest-crate:line-speed')")


def test_database_killed_while_working_loses_nothing(page, running):
    sound_id = bench.open_sound(page, "Potting-bench snare")
    shown = bench.digest(page)
    end_database(running)
    bench.type_into(page, "Transpose", "3 st")
    expect(page.get_by_text("cannot save, changes kept here")).to_be_visible()
    page.get_by_role("button", name="Keep take").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Keep take").click()
    # Either the database is still away and this is shown, or it was started again by now.
    said = dialog.get_by_role("alert").or_(dialog.get_by_role("status"))
    expect(said).to_be_visible()
    page.keyboard.press("Escape")
    # The program starts its database again, and the page saves what it kept.
    expect(page.get_by_text("all changes saved")).to_be_visible()
    assert bench.draft(page, sound_id)["layers"][0]["source"]["transpose_st"] == 3
    assert bench.digest(page) != shown


def test_edits_kept_in_the_browser_survive_a_reload(page, running):
    sound_id = bench.open_sound(page, "Pendulum heartbeat")
    page.route("**/draft", lambda route: route.abort())
    bench.type_into(page, "Tempo", "66")
    expect(page.get_by_text("cannot save, changes kept here")).to_be_visible()
    assert bench.draft(page, sound_id)["tempo_bpm"] == 60
    page.unroute("**/draft")
    page.reload()
    expect(page.get_by_label("Tempo")).to_have_value("66")
    bench.settled(page)
    assert bench.draft(page, sound_id)["tempo_bpm"] == 66


def test_a_screen_that_does_not_come_says_so_and_is_fetched_again(page):
    page.route("**/assets/bench-*.js", lambda route: route.abort())
    page.goto("/libraries")
    page.get_by_role("link", name="Bench").click()
    expect(page.get_by_role("alert")).to_contain_text("This screen could not be loaded")
    page.unroute("**/assets/bench-*.js")
    page.get_by_role("button", name="Reload the page").click()
    expect(page.get_by_label("Name of the sound")).to_be_visible()


def test_an_answer_that_comes_late_takes_nobody_back(page):
    """The last screen stands while the next one is on its way; its answers lead nowhere then."""
    held = {}
    page.route("**/api/libraries", lambda route: held.setdefault("libraries", route))
    page.route("**/assets/bench-*.js", lambda route: held.setdefault("bench", route))
    page.goto("/libraries")
    eventually(page, lambda: sorted(held), ["libraries"])
    page.get_by_role("link", name="Bench").click()
    eventually(page, lambda: sorted(held), ["bench", "libraries"])
    with page.expect_response("**/api/libraries"):
        held["libraries"].continue_()
    # The answer is read before the screen comes.
    page.wait_for_timeout(300)
    held["bench"].continue_()
    expect(page.get_by_label("Name of the sound")).to_be_visible()
    expect(page).to_have_url(re.compile(r"/bench/\d+$"))
