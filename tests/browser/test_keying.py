"""Keys, layers, poses and places on the Bench, as an animator uses them."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from bindu.core.curves.model import Curve
from bindu.core.scene.channels import ChannelRef
from tests.browser.bench import Bench, shown
from tests.wide import only_wide

FERRY = ChannelRef("p1", "translation.x")


def choose(page: Page, box: str, option: str) -> None:
    """Chooses from a list."""
    field = page.get_by_role("combobox", name=box)
    field.click()
    found = page.get_by_role("option", name=option, exact=True).last
    expect(found).to_be_in_viewport()
    found.click()
    expect(field).to_have_attribute("aria-expanded", "false")


def curve(bench: Bench, ref: ChannelRef = FERRY) -> Curve:
    """A curve as the server holds it."""
    return bench.evaluation().scene.curves[ref]


def lane_drag(
    bench: Bench, start: tuple[float, float], end: tuple[float, float], key: str = ""
) -> None:
    """Drags on the lanes between places given in pixels from their left upper corner."""
    box = bench.page.get_by_role("group", name="Keys over time").bounding_box()
    assert box
    mouse = bench.page.mouse
    mouse.move(box["x"] + start[0], box["y"] + start[1])
    if key:
        bench.page.keyboard.down(key)
    mouse.down()
    mouse.move(box["x"] + end[0], box["y"] + end[1], steps=6)
    mouse.up()
    if key:
        bench.page.keyboard.up(key)


def lane_key(bench: Bench, frame: float) -> tuple[float, float]:
    """Where a key of the chosen channel lies on the lanes, in pixels from their corner."""
    lanes = bench.page.get_by_role("group", name="Keys over time").bounding_box()
    key = bench.page.locator(f"[data-frame-lane='{frame:g}'] circle").first.bounding_box()
    assert lanes
    assert key
    return key["x"] - lanes["x"] + key["width"] / 2, key["y"] - lanes["y"] + key["height"] / 2


@only_wide
def test_changes_are_only_tried_until_they_are_kept(bench: Bench) -> None:
    bench.open("p1", "translation.x", 60)
    page, before = bench.page, curve(bench)
    choose(page, "What a change by hand does", "only try")
    field, tried = bench.field("ferry.translation.x"), page.get_by_text("1 tried")
    field.fill("2")
    field.press("Enter")
    expect(tried).to_be_visible()
    page.get_by_role("button", name="Drop", exact=True).click()
    expect(field).to_have_value(shown(bench.value("ferry.translation.x", 60), ""))
    # So do handles and typed amounts.
    page.get_by_role("radiogroup", name="Handles").get_by_text("move").click()
    page.get_by_role("radiogroup", name="Axes of the handles").get_by_text("world").click()
    page.get_by_role("button", name="by…").click()
    page.get_by_role("textbox", name="move along x").fill("1.5")
    page.get_by_role("button", name="Apply").click()
    expect(tried).to_be_visible()
    expect(field).to_have_value("1.500")
    bench.saved(0)
    page.keyboard.press("Escape")
    assert curve(bench) == before and before.key_at(60.0) is None
    page.get_by_role("button", name="Key D: the key scope").click()
    bench.saved(1)
    assert bench.value("ferry.translation.x", 60) == 1.5
    # Where nothing is keyed a value is kept, not a key.
    mast = bench.field("mast.rotation.y")
    page.get_by_role("tree").get_by_text("mast", exact=True).click()
    mast.fill("5")
    mast.press("Enter")
    page.get_by_role("button", name="Keep", exact=True).click()
    bench.saved(2)
    scene = bench.evaluation().scene
    assert ChannelRef("p4", "rotation.y") not in scene.curves
    assert scene.parts["p4"].values["rotation.y"] == 5.0


def test_keys_are_boxed_moved_copied_and_scaled_in_lanes(bench: Bench) -> None:
    bench.open("p1", "translation.x", 0)
    page = bench.page
    first, third = lane_key(bench, 10), lane_key(bench, 70)
    lane_drag(bench, (first[0] - 9, 1), (third[0] + 9, 17))
    expect(page.get_by_text("3 keys")).to_be_visible()
    frame = (lane_key(bench, 70)[0] - lane_key(bench, 50)[0]) / 20
    lane_drag(bench, lane_key(bench, 50), (lane_key(bench, 50)[0] + 6 * frame, 9))
    bench.saved(1)
    assert [key.frame for key in curve(bench).keys] == [16.0, 56.0, 76.0, 110.0]
    page.get_by_role("button", name="Time…").click()
    page.get_by_role("textbox", name="about frame").fill("16")
    page.get_by_role("textbox", name="scale by").fill("0.5")
    page.get_by_role("button", name="Scale", exact=True).click()
    bench.saved(2)
    assert [key.frame for key in curve(bench).keys] == [16.0, 36.0, 46.0, 110.0]
    bench.expect_drawn("ferry.translation.x")
    page.locator("header").click()
    for n in range(2):
        page.keyboard.press("Control+z")
        bench.saved(3 + n)
    assert [key.frame for key in curve(bench).keys] == [10.0, 50.0, 70.0, 110.0]
    lane_drag(bench, lane_key(bench, 110), (lane_key(bench, 110)[0] - 10 * frame, 9), "Control")
    bench.saved(5)
    assert [key.frame for key in curve(bench).keys] == [10.0, 50.0, 70.0, 100.0, 110.0]


def test_a_layer_is_keyed_and_merged(bench: Bench) -> None:
    bench.open("p5", "rotation.y", 30)
    page, arm = bench.page, ChannelRef("p5", "rotation.y")
    bench.kit("layer")
    page.get_by_role("textbox", name="Name of the new layer").fill("sway")
    page.get_by_role("button", name="Add layer").click()
    bench.saved(1)
    field = bench.field("lantern arm.rotation.y")
    before = bench.value("lantern arm.rotation.y", 30)
    field.fill("60")
    field.press("Enter")
    bench.saved(2)
    expect(field).to_have_value("60.00°")
    scene = bench.evaluation().scene
    assert scene.curves[arm].key_at(30.0) is None
    layered = scene.curves[ChannelRef("p5", "l1:rotation.y")]
    assert layered.keys[0].value == pytest.approx(60.0 - before, abs=1e-6)
    expect(bench.bead("sway")).to_contain_text(f"{shown(before)} → 60.00°")
    layer = page.get_by_role("region", name="Layer sway")
    layer.get_by_text("replace", exact=True).click()
    bench.saved(3)
    assert bench.value("lantern arm.rotation.y", 30) == pytest.approx(60.0 - before)
    layer.get_by_text("add", exact=True).click()
    bench.saved(4)
    layer.get_by_role("button", name="merge down").click()
    bench.saved(5)
    assert not bench.evaluation().scene.layers
    assert bench.value("lantern arm.rotation.y", 30) == pytest.approx(60.0)


@only_wide
def test_a_reference_is_kept_and_compared(bench: Bench) -> None:
    bench.open("p1", "translation.x", 0)
    page = bench.page
    page.get_by_role("button", name="Compare…").click()
    page.get_by_role("radiogroup", name="What is laid over").get_by_text("reference").click()
    page.get_by_role("button", name="Keep as reference").click()
    expect(page.get_by_text("All curves as at edit 0.")).to_be_visible()
    page.keyboard.press("Escape")
    bench.key(110).click()
    value = page.get_by_role("textbox", name="Value of the key")
    value.fill("+1")
    value.press("Enter")
    bench.saved(1)
    assert curve(bench).keys[3].value == 5.5
    expect(page.get_by_role("button", name="differ most at 110: 1.000")).to_be_visible()
    expect(page.locator("path[data-overlay='other']")).to_be_visible()
    page.get_by_role("button", name="Values…").click()
    page.get_by_role("combobox", name="toward").click()
    page.locator(".ant-select-dropdown:visible").get_by_title("the kept reference").click()
    slider = page.get_by_role("slider", name="By so many per cent")
    slider.focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("2 %", exact=True)).to_be_visible()
    page.keyboard.press("Enter")
    bench.saved(2)
    assert curve(bench).keys[3].value == pytest.approx(5.48, abs=1e-12)
