"""Every screen, by day and by lamp light: labels, contrast, and nothing cut off."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.e2e import bench

# All styles and recordings are the page's own; there is nothing to be fetched beforehand.
BY_DAY = {"resultTypes": ["violations"], "preload": False}
DIALOG = "[role=dialog]"
BY_LAMP = {**BY_DAY, "runOnly": ["color-contrast"]}


def violations(page, within=None):
    """What axe finds by day, and where contrast is too low by lamp light: rule, and where; of the
    whole page, or of a part of it where the rest was looked at before."""
    by_day = Axe().run(page, context=within, options=BY_DAY).response["violations"]
    use_theme(page, "dark")
    by_lamp = Axe().run(page, context=within, options=BY_LAMP).response["violations"]
    use_theme(page, "light")
    found = [("day", v) for v in by_day] + [("lamp", v) for v in by_lamp]
    return [f"{light}, {v['id']}: {node['target']}" for light, v in found for node in v["nodes"]]


def use_theme(page, theme):
    # As the button for it does, which a dialog would cover.
    page.evaluate("theme => { document.documentElement.dataset.theme = theme }", theme)


def test_lamp_light_is_switched_on_and_stays(page):
    page.goto("/libraries")
    page.get_by_role("button", name="Dark").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    page.get_by_role("button", name="Light").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "light")


class TestAccessibility:
    def test_of_the_bench_with_a_layer_and_with_a_processor(self, page):
        bench.open_sound(page, "Kiln door kick")
        assert violations(page) == []
        page.get_by_role("tab", name="Curve").click()
        page.get_by_role("button", name="Keys", exact=True).click()
        page.get_by_label("Pin the current sound as state 1").click()
        expect(page.get_by_role("img", name="long")).to_be_visible()
        assert violations(page) == []
        page.get_by_role("tab", name="Five numbers").click()
        page.get_by_role("button", name="common pitch").click()
        assert violations(page) == []
        bench.take_in_hand(page, "Main")
        page.get_by_label("Select Filter").click()
        assert violations(page) == []

    def test_of_compare(self, page):
        page.goto("/compare")
        found = page.get_by_role("list", name="Samples found")
        expect(found.get_by_role("button").first).to_be_visible()
        assert violations(page) == []
        sounds = page.request.get("/api/sounds").json()["sounds"]
        ids = {one["name"]: one["id"] for one in sounds}
        kicks = [ids["Kiln door kick"], ids["Coal hatch kick"]]
        page.goto("/compare?" + "&".join(f"side=sound.{one}" for one in kicks))
        expect(page.get_by_role("list", name="Differences of B from A")).to_be_visible()
        assert violations(page) == []
        page.get_by_role("button", name="Blind test…").click()
        expect(page.get_by_role("button", name="Begin")).to_be_visible()
        assert violations(page, "[role=dialog]") == []

    def test_of_try_out_and_of_the_bench_in_context(self, page):
        page.goto("/tryout")
        page.get_by_role("link", name="Moth house").click()
        expect(page.get_by_text(re.compile("LUFS"))).to_be_visible()
        page.get_by_role("button", name="Game test").click()
        expect(page.get_by_text("Neighbours heard")).to_be_visible()
        assert violations(page) == []
        page.get_by_role("button", name="Kit", exact=True).click()
        page.get_by_role("tab", name="Hit").click()
        assert violations(page) == []
        page.get_by_role("tab", name="Overlap").click()
        expect(page.get_by_text("Ways out, heard before they are taken")).to_be_visible()
        assert violations(page, "[aria-label=Inspector]") == []
        page.get_by_role("link", name="All try-outs").click()
        expect(page.get_by_role("button", name="New try-out")).to_be_visible()
        assert violations(page) == []
        bench.open_sound(page, "Kiln door kick")
        page.get_by_role("button", name="In context").click()
        strip = page.get_by_role("region", name="In context")
        strip.get_by_role("button", name="Overlap").click()
        expect(page.get_by_text("Ways out, heard before they are taken")).to_be_visible()
        assert violations(page) == []

    def test_of_drawn_partials(self, page):
        bench.open_sound(page, "Brass gear tick")
        page.get_by_label("Waveform from").select_option("partials")
        expect(page.get_by_role("slider", name="Partials")).to_be_visible()
        assert violations(page) == []

    def test_of_the_libraries(self, page):
        page.goto("/libraries")
        listed = page.get_by_role("listbox", name="Samples").get_by_role("option")
        expect(listed.first).to_be_visible()
        assert violations(page) == []
        for leaf in ("Figures", "Comments", "History"):
            page.get_by_role("tab", name=leaf).click()
            assert violations(page, "[aria-label=Sample]") == []
        for view in ("Map", "Sounds", "Releases", "Requests", "Maintenance", "Bin", "Members"):
            page.get_by_role("navigation", name="Views").get_by_role("link", name=view).click()
            expect(page.locator("main [aria-busy=true]")).to_have_count(0)
            page.wait_for_timeout(300)
            assert violations(page, "main") == [], view

    def test_of_the_dialogs(self, page):
        bench.open_sound(page, "Lamp zap")
        for name in ("Keep take", "History"):
            page.get_by_role("button", name=name).click()
            expect(page.get_by_role("heading", name=name)).to_be_visible()
            assert violations(page, DIALOG) == []
            page.keyboard.press("Escape")
        for item in ("Sound as text", "Shortcuts"):
            page.get_by_role("button", name="More", exact=True).click()
            page.get_by_role("menuitem", name=item).click()
            expect(page.get_by_role("dialog").get_by_role("heading")).to_be_visible()
            assert violations(page, DIALOG) == []
            page.keyboard.press("Escape")

    def test_of_the_dialogs_of_a_library(self, page):
        page.goto("/libraries")
        rows = page.get_by_role("listbox", name="Samples").get_by_role("option")
        rows.nth(1).locator("[data-mark]").click()

        def looked_at():
            expect(page.get_by_role("dialog").get_by_role("heading").first).to_be_visible()
            expect(page.get_by_text("…", exact=False).locator("[role=status]")).to_have_count(0)
            assert violations(page, DIALOG) == []
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_have_count(0)

        for name in ("Change…", "Rename…", "Download…"):
            page.get_by_role("button", name=name).click()
            looked_at()
        for item in ("Match loudness…", "Trim silence…", "Render again…"):
            page.get_by_role("button", name="Process").click()
            page.get_by_role("menuitem", name=item).click()
            looked_at()
        page.get_by_role("button", name="Process").click()
        page.get_by_role("menuitem", name="Render again…").click()
        page.get_by_role("button", name="Render and compare").click()
        expect(page.get_by_text("Press Now and New")).to_be_visible()
        looked_at()
        page.get_by_role("button", name=re.compile("^Jobs")).click()
        assert violations(page) == []
        page.get_by_role("button", name="Discard").click()
        expect(page.get_by_role("button", name=re.compile("^Jobs"))).to_have_count(0)
        page.get_by_role("button", name="Share by a link").click()
        looked_at()
        page.get_by_role("link", name="Requests").click()
        page.get_by_role("button", name="Answer…").first.click()
        looked_at()
        page.get_by_role("button", name="Account of").click()
        for leaf in ("Tokens", "People"):
            page.get_by_role("tab", name=leaf).click()
            assert violations(page, DIALOG) == [], leaf
        # The arrow keys go from leaf to leaf.
        page.get_by_role("tab", name="People").press("ArrowLeft")
        expect(page.get_by_role("tab", name="Tokens")).to_be_focused()


def test_at_twice_the_size_all_is_reached_through_drawers(page):
    """1280 x 800 at 200 % is 640 x 400: panels are drawers, and the page scrolls."""
    page.set_viewport_size({"width": 640, "height": 400})
    bench.open_sound(page, "Kiln door kick")
    inspector = page.get_by_role("complementary", name="Inspector")
    expect(inspector).to_be_hidden()
    page.get_by_role("button", name="Inspector").click()
    expect(inspector).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Close inspector").click()
    expect(inspector).to_be_hidden()
    checks = bench.open_checks(page)
    expect(checks).to_be_in_viewport()
    page.keyboard.press("Escape")
    expect(checks).to_have_count(0)
    page.get_by_role("button", name="Keep take").scroll_into_view_if_needed()
    page.get_by_text("Bypass effects").scroll_into_view_if_needed()
    expect(page.get_by_text("Bypass effects")).to_be_in_viewport()
    assert violations(page) == []
    page.goto("/libraries")
    page.get_by_role("listbox", name="Samples").get_by_role("option").first.click()
    page.get_by_role("button", name=re.compile("^Details of")).click()
    details = page.get_by_role("complementary", name="Sample")
    expect(details).to_be_in_viewport()
    assert violations(page) == []
    page.get_by_role("button", name="Close details").click()
    page.get_by_role("button", name="Libraries and filters").click()
    expect(page.get_by_role("region", name="Filters")).to_be_in_viewport()
    assert violations(page) == []


@pytest.mark.parametrize("path", ["/bench", "/libraries"])
def test_nothing_is_cut_off_at_any_width(page, path):
    page.goto(path)
    expect(page.get_by_role("button").first).to_be_visible()
    for width, height in ((640, 400), (800, 600), (1024, 768), (1280, 800), (1920, 1080)):
        page.set_viewport_size({"width": width, "height": height})
        # Until what is drawn by size was drawn again.
        page.evaluate("() => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))")
        outside = page.evaluate(
            """() => [...document.querySelectorAll("header *, nav *, section[aria-label=Checks]")]
                .filter((e) => e.getClientRects().length)
                .map((e) => [e, e.getBoundingClientRect()])
                .filter(([e, b]) => b.width > 1)
                .filter(([e, b]) => b.right > innerWidth + 1 || b.bottom > innerHeight + 1)
                .map(([e]) => e.outerHTML.slice(0, 80))"""
        )
        assert outside == [], width
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), width


def test_everything_on_the_bench_is_reached_by_keyboard(page):
    bench.open_sound(page, "Kiln door kick")
    bench.take_in_hand(page, "Main")
    for name in ("Keep take", "History", "Mute Body", "Filter on", "Pitch", "Add processor"):
        button = page.get_by_role("button", name=name).first
        assert button.evaluate("element => element.tabIndex") >= 0, name
        button.focus()
        expect(button).to_be_focused()
    point = page.locator("[data-layer=body] [data-point=points-2]")
    assert point.evaluate("element => element.tabIndex") >= 0
    page.get_by_label("Name of the sound").focus()
    page.keyboard.press("Tab")
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_focused()


def test_a_point_is_moved_bent_and_removed_by_keys(page):
    sound_id = bench.open_sound(page, "Kiln door kick")
    before = bench.draft(page, sound_id)["layers"][0]["level"]["points"]
    point = page.locator("[data-layer=body] [data-point=points-2]")
    point.focus()
    for key in ("ArrowRight", "Shift+ArrowRight", "ArrowDown"):
        point.press(key)
    bench.settled(page)
    moved = bench.draft(page, sound_id)["layers"][0]["level"]["points"][2]
    assert moved["time_s"] == pytest.approx(before[2]["time_s"] + 0.011)
    assert moved["value"] == pytest.approx(before[2]["value"] - 0.01)
    page.get_by_role("tab", name="Curve").click()
    bench.type_into(page, "Bend of point 4", "-2")
    point.focus()
    point.press("Delete")
    bench.settled(page)
    after = bench.draft(page, sound_id)["layers"][0]["level"]["points"]
    assert len(after) == 3
    assert after[2]["bend"] == -2
    for _ in range(5):
        page.get_by_role("button", name="Undo").click()
    bench.settled(page)
    assert bench.draft(page, sound_id)["layers"][0]["level"]["points"] == before
