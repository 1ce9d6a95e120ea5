"""The first five minutes, and the guide beside the work: as somebody new does it."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import Page, expect

from bindu.core.evaluation import evaluate
from bindu.core.scene.names import channel_named
from bindu.formats.scene.scene_json import read_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.wide import only_wide


def test_from_nothing_to_a_wheel_that_turns_by_the_way_it_has_gone(
    page: Page, server: Server
) -> None:
    page.goto(server.url)
    page.get_by_role("button", name="First five minutes").click()
    side = page.get_by_role("complementary", name="First five minutes")

    def at(step: int) -> None:
        expect(side.get_by_text(f"{step} of 10")).to_be_visible()

    def named(name: str) -> None:
        page.get_by_role("button", name="Add a part", exact=True).first.click()
        field = page.get_by_role("textbox", name="Name of part")
        field.fill(name)
        field.press("Enter")

    def typed(field: str, text: str) -> None:
        box = page.get_by_role("textbox", name=field, exact=True)
        box.fill(text)
        box.press("Enter")

    at(1)
    named("barrow")
    at(2)
    page.get_by_role("button", name="barrow.translation.x", exact=True).click()
    at(3)
    page.keyboard.press("d")
    at(4)
    page.reload()
    at(4)
    typed("Frame", "60")
    at(5)
    typed("barrow.translation.x", "3")
    at(6)
    named("wheel")
    at(7)
    page.get_by_role("button", name="wheel.rotation.z", exact=True).click()
    at(8)
    expect(side).to_contain_text("-degrees(travelled({barrow}) / 0.5)")
    page.get_by_role("region", name="driven").get_by_role("button", name="+ formula").click()
    typed("Formula of formula", "-degrees(travelled({barrow}) / 0.5)")
    at(9)
    page.keyboard.press("Space")
    at(10)
    ring, undo = (page.locator(one).bounding_box() for one in ("[data-ring]", "[data-undo]"))
    assert (
        ring and undo and abs(ring["x"] + 4 - undo["x"]) < 1 and abs(ring["y"] + 4 - undo["y"]) < 1
    )
    page.keyboard.press("Space")
    number = page.url.split("/scenes/")[1].split("/")[0]
    made = evaluate(read_scene(server.get(f"/scenes/{number}/export").text))
    turned = made.channel(channel_named(made.scene, "wheel.rotation.z"), "final")
    np.testing.assert_allclose(turned[60], -np.degrees(3 / 0.5), atol=1e-9)
    page.keyboard.press("Control+z")
    expect(side).to_contain_text("That is all")
    side.get_by_role("button", name="Close").click()
    expect(side).to_have_count(0)


@only_wide
def test_the_guide_is_read_and_searched_beside_the_work(bench: Bench) -> None:
    page = bench.page
    bench.open("p1", "translation.x", 50)
    page.get_by_role("button", name="Ledger", exact=True).click()
    guide = page.get_by_role("complementary", name="Guide")
    expect(guide.get_by_role("heading", name="The ledger")).to_be_visible()
    field = guide.get_by_role("textbox", name="Find in the guide")
    expect(field).to_be_focused()
    field.fill("noise seed")
    found = guide.get_by_role("list", name="Found in the guide")
    expect(found.get_by_role("button").first).to_be_visible()
    field.fill("gait prints")
    found.get_by_role("button", name="Walking by rule").click()
    expect(guide.get_by_role("heading", name="Walking by rule")).to_be_visible()
    expect(guide.get_by_text("while it stands it does not move at all")).to_be_visible()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Play")).to_be_visible()
    field.press("Escape")
    expect(guide).to_have_count(0)
    page.keyboard.press("?")
    page.get_by_role("dialog").get_by_role("button", name="Guide").click()
    expect(guide.get_by_role("heading", name="The Bench")).to_be_visible()
