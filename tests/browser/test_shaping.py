"""Curves shaped by steps, keys moved by degrees, parts planted: by hand on the Bench."""

from __future__ import annotations

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from bindu.core.scene.channels import ChannelRef
from tests.browser.bench import Bench

Z = ChannelRef("p1", "translation.z")
X = ChannelRef("p1", "translation.x")


def test_a_wave_is_added_typed_keyed_muted_and_written_out(bench: Bench) -> None:
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
    period.fill("0")
    period.press("Enter")
    expect(page.get_by_text("0 is outside its range")).to_be_visible()
    period.fill("40")
    period.press("Enter")
    bench.saved(3)
    frames = np.arange(121)
    wave = 0.25 * np.sin(2 * np.pi * frames / 40)
    np.testing.assert_allclose(bench.evaluation().channel(Z, "keyed"), wave, atol=1e-12)
    bead.get_by_role("button", name="Mute wave").click()
    bench.saved(4)
    expect(bead).to_contain_text("muted")
    bead.get_by_role("button", name="Unmute wave").click()
    bench.saved(5)
    bead.get_by_role("button", name="Write out as keys").click()
    bench.saved(6)
    expect(bead).to_have_count(0)
    found = bench.evaluation()
    assert not found.scene.steps_of.get("p1") and len(found.scene.curves[Z].keys) == 121
    np.testing.assert_allclose(found.channel(Z, "keyed"), wave, atol=1e-12)


@pytest.mark.parametrize("by", ["keyboard", "mouse"])
def test_a_slider_moves_the_chosen_key_live_in_one_edit_that_is_undone(
    bench: Bench, by: str
) -> None:
    page = bench.page
    bench.open("p1", "translation.x", 50)
    bench.key(50).click()
    was = bench.evaluation().scene.curves[X].key_at(50.0)
    assert was is not None
    page.get_by_role("button", name="Values…").click()
    slider = page.get_by_role("slider", name="By so many per cent")
    if by == "keyboard":
        slider.focus()
        for _ in range(5):
            page.keyboard.press("ArrowRight")
        expect(page.get_by_text("5 %", exact=True)).to_be_visible()
        bench.saved(0)
        page.keyboard.press("Enter")
        degree = 0.05
    else:
        box = slider.bounding_box()
        rail = page.locator(".ant-slider-rail").bounding_box()
        assert box and rail
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        # From -100 to 200 per cent along the rail.
        page.mouse.move(rail["x"] + rail["width"] * 0.5, rail["y"], steps=4)
        shown = page.locator("[data-degree]")
        expect(shown).to_have_attribute("data-degree", re.compile("^(49|50|51)$"))
        bench.saved(0)
        degree = int(shown.get_attribute("data-degree") or 0) / 100
        page.mouse.up()
    bench.saved(1)
    keys = {key.frame: key.value for key in bench.evaluation().scene.curves[X].keys}
    left = max(f for f in keys if f < 50)
    right = min(f for f in keys if f > 50)
    share = (50 - left) / (right - left)
    line = keys[left] + share * (keys[right] - keys[left])
    assert keys[50.0] == pytest.approx(was.value + degree * (line - was.value), abs=1e-9)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    bench.saved(2)
    assert bench.evaluation().scene.curves[X].key_at(50.0) == was


def test_a_plant_is_bound_and_its_span_typed(bench: Bench) -> None:
    page = bench.page
    bench.open("p3", "translation.x", 20)
    page.get_by_role("region", name="bound").get_by_role("button", name="+ bind").click()
    page.get_by_role("combobox", name="Kind of binding").click()
    page.get_by_title("plant – stands still in the world over spans of frames").click()
    page.get_by_role("button", name="Bind", exact=True).click()
    bench.saved(1)
    bead = bench.bead("plant")
    bead.click()
    last = bead.get_by_role("textbox", name="plant span 1: last")
    last.fill("60")
    last.press("Enter")
    bench.saved(2)
    places = bench.evaluation().world("p3")[20:61, :, 3]
    np.testing.assert_allclose(places, np.broadcast_to(places[0], places.shape), atol=1e-9)
    last.fill("3")
    last.press("Enter")
    expect(page.get_by_text("it ends before it begins")).to_be_visible()
