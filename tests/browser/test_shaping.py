"""Curves shaped by steps, keys moved by degrees, parts planted: by hand on the Bench."""

from __future__ import annotations

import re

import numpy as np
import pytest
from playwright.sync_api import Locator, expect

from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.settings import PlantSettings, PlantSpan
from tests.browser.bench import Bench
from tests.wide import only_wide

Z = ChannelRef("p1", "translation.z")
X = ChannelRef("p1", "translation.x")


@only_wide
def test_a_wave_is_added_typed_and_written_out(bench: Bench) -> None:
    page = bench.page
    bench.open("p1", "translation.z", 50)
    page.get_by_role("button", name="+ shape").first.click()
    page.get_by_role("menuitem", name="wave").click()
    bench.saved(1)
    bead = bench.bead("wave")
    expect(bead).to_contain_text("adds a wave")
    field = bead.get_by_role("textbox", name="ferry.wave.amplitude")
    field.fill("0.25")
    field.press("Enter")
    bench.saved(2)
    period = bead.get_by_role("textbox", name="ferry.wave.period")
    period.fill("40")
    period.press("Enter")
    bench.saved(3)
    frames = np.arange(121)
    wave = 0.25 * np.sin(2 * np.pi * frames / 40)
    np.testing.assert_allclose(bench.evaluation().channel(Z, "keyed"), wave, atol=1e-12)
    bead.get_by_role("button", name="Write out as keys").click()
    bench.saved(4)
    expect(bead).to_have_count(0)
    found = bench.evaluation()
    assert not found.scene.steps_of.get("p1") and len(found.scene.curves[Z].keys) == 121
    np.testing.assert_allclose(found.channel(Z, "keyed"), wave, atol=1e-12)


def test_a_slider_moves_the_chosen_key_live_in_one_edit_that_is_undone(bench: Bench) -> None:
    page = bench.page
    bench.open("p1", "translation.x", 50)
    bench.key(50).click()
    was = bench.evaluation().scene.curves[X]
    page.get_by_role("button", name="Values…").click()
    slider = page.get_by_role("slider", name="By so many per cent")
    degree = dragged_half_way(bench, slider, 0)
    bench.saved(1)
    left, key, right = was.keys[:3]
    share = (50 - left.frame) / (right.frame - left.frame)
    line = left.value + share * (right.value - left.value)
    now = bench.evaluation().scene.curves[X].key_at(50.0)
    assert now and now.value == pytest.approx(key.value + degree * (line - key.value), abs=1e-9)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    bench.saved(2)
    assert bench.evaluation().scene.curves[X] == was


def dragged_half_way(bench: Bench, slider: Locator, revision: int) -> float:
    """The pointer takes the slider to about half way, which stores nothing before it lets go.
    Returns the degree."""
    page = bench.page
    box, rail = slider.bounding_box(), page.locator(".ant-slider-rail").bounding_box()
    assert box and rail
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    # From -100 to 200 per cent along the rail.
    page.mouse.move(rail["x"] + rail["width"] * 0.5, rail["y"], steps=4)
    shown = page.locator("[data-degree]")
    expect(shown).to_have_attribute("data-degree", re.compile("^(49|50|51)$"))
    bench.saved(revision)
    degree = int(shown.get_attribute("data-degree") or 0) / 100
    page.mouse.up()
    return degree


def test_a_plant_is_bound_and_its_span_typed_and_dragged_in_its_lane(bench: Bench) -> None:
    page = bench.page
    bench.open("p3", "translation.x", 20)
    page.get_by_role("region", name="bound").get_by_role("button", name="+ bind").click()
    page.get_by_role("combobox", name="Kind of binding").click()
    page.get_by_title("plant – stands still in the world over spans of frames").click()
    page.get_by_role("button", name="Bind", exact=True).click()
    bench.saved(1)
    bead = bench.bead("plant")
    bead.click()
    for n, (name, value) in enumerate((("last", 60), ("keep", 30), ("exit", 5))):
        field = bead.get_by_role("textbox", name=f"plant span 1: {name}")
        field.fill(str(value))
        field.press("Enter")
        bench.saved(2 + n)
    places = bench.evaluation().world("p3")[20:61, :, 3]
    np.testing.assert_allclose(places, np.broadcast_to(places[0], places.shape), atol=1e-9)
    planted = page.get_by_role("button", name="planted from 20 to 60 as on 30")
    box = planted.bounding_box()
    assert box
    frame, middle = box["width"] / 40, box["y"] + box["height"] / 2

    def drag(start: float, by: float) -> None:
        page.mouse.move(start, middle)
        page.mouse.down()
        page.mouse.move(start + by * frame / 2, middle)
        page.mouse.move(start + by * frame, middle)

    drag(box["x"] + 0.75 * box["width"], 8)
    expect(page.get_by_role("button", name="planted from 28 to 68 as on 38")).to_be_visible()
    page.keyboard.press("Escape")
    page.mouse.up()
    expect(planted).to_be_visible()
    drag(box["x"] + box["width"], 10)
    page.mouse.up()
    bench.saved(5)
    steps = bench.evaluation().scene.steps_of["p3"]
    (settings,) = (s.settings for s in steps if isinstance(s.settings, PlantSettings))
    assert settings.spans == (PlantSpan(20, 70, 30, 3, 5),)
    page.get_by_role("button", name="planted from 20 to 70 as on 30").press("Enter")
    field = page.get_by_role("textbox", name="plant last")
    field.fill("19")
    field.press("Enter")
    expect(page.get_by_text("it ends before it begins")).to_be_visible()
    page.get_by_role("button", name="Take the span away").click()
    bench.saved(6)
    expect(page.get_by_role("button", name="planted from")).to_have_count(0)


@only_wide
def test_a_change_on_a_frame_is_seen_carried_to_a_span_and_undone(bench: Bench) -> None:
    page = bench.page
    bench.open("p1", "translation.x", 90)
    before = bench.evaluation().channel(X, "final")
    field = bench.field("ferry.translation.x")
    field.fill("+= 0.5")
    field.press("Enter")
    bench.saved(1)
    page.get_by_role("button", name="carry…").click()
    expect(page.get_by_role("listitem").filter(has_text="ferry.translation.x")).to_be_visible()
    for name, value in (
        ("first frame", "80"),
        ("last frame", "100"),
        ("frames of the fade in", "10"),
        ("frames of the fade out", "10"),
    ):
        page.get_by_label(name, exact=True).fill(value)
    bench.saved(1)
    page.get_by_role("button", name="Carry", exact=True).click()
    bench.saved(2)
    by = bench.evaluation().channel(X, "final") - before
    np.testing.assert_allclose(by[80:101], 0.5, atol=1e-9)
    np.testing.assert_allclose(np.delete(by, np.arange(70, 111)), 0.0, atol=1e-9)
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    bench.saved(4)
    np.testing.assert_array_equal(bench.evaluation().channel(X, "final"), before)
