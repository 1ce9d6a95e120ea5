"""Surfaces by hand: made, bent, put in another order; two orders read side by side."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from bindu.core.comparing.surface_orders import orders_apart
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo
from tests.wide import only_wide


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    """The mooring, the eel chosen."""
    made = Bench(page, server, server.bring(write_scene(demo("the-mooring"))))
    made.open("p4", "translation.x", 40)
    made.kit("surface", "skin")
    return made


def test_steps_are_dragged_to_another_order_and_the_difference_is_read(bench: Bench) -> None:
    page = bench.page
    page.get_by_role("region", name="Surface skin").get_by_role(
        "button", name="Steps and orders"
    ).click()
    page.get_by_role("button", name="Compare with another order").click()
    page.get_by_role("button", name="In the other order, subdivide earlier").click()
    told = page.get_by_label("How far apart")
    expect(told).to_contain_text("over all 97 frames")
    found = bench.evaluation()
    surface = found.scene.surfaces["f1"]
    one = ["d3", "d4", "d5", "d1", "d2"]
    other = ["d3", "d4", "d1", "d5", "d2"]
    apart = orders_apart(found, surface, range(97), one, other)
    words = f"mean {apart.mean * 1e3:.2f} mm · worst {apart.worst * 1e3:.2f} mm"
    expect(told).to_contain_text(words)
    expect(told).to_contain_text("short waves show in full")
    told.get_by_role("button", name=f"point {apart.point} on frame {apart.frame}").click()
    expect(page.get_by_label("Frame", exact=True)).to_have_value(str(apart.frame))
    account = page.get_by_role("table", name="What each step did to the point")
    expect(account.get_by_role("row").nth(4)).to_contain_text("ripples")
    page.get_by_role("button", name="Take this order").click()
    bench.saved(1)
    assert [step.id for step in bench.evaluation().scene.surfaces["f1"].steps] == other
    page.locator("[data-grip=ripples]").drag_to(page.get_by_role("region", name="Step shapes"))
    bench.saved(2)
    order = [step.id for step in bench.evaluation().scene.surfaces["f1"].steps]
    assert order == ["d5", "d3", "d4", "d1", "d2"]
    page.get_by_role("button", name="Mute bend").click()
    bench.saved(3)
    expect(page.get_by_role("button", name="Unmute bend")).to_be_visible()


@only_wide
def test_a_surface_is_made_bent_and_given_a_shape(bench: Bench) -> None:
    page = bench.page
    bench.kit("surface")
    page.get_by_role("button", name="Make the surface").click()
    bench.saved(1)
    expect(page.get_by_role("textbox", name="Name of the surface skin 2")).to_be_visible()
    expect(page.get_by_role("region", name="Surface skin 2")).to_contain_text("on eel")
    page.get_by_text("parts", exact=True).first.click()
    for name in ("eel 1", "eel 2"):
        item = page.get_by_role("treeitem", name=name).last
        item.get_by_text(name, exact=True).click(modifiers=["Control"])
    card = page.get_by_role("region", name="Surface skin 2")
    card.get_by_role("button", name="Steps and orders").click()
    page.get_by_role("combobox", name="Add a step to the surface").click()
    page.get_by_title("points go along with joints").click()
    bench.saved(2)
    surface = next(s for s in bench.evaluation().scene.surfaces.values() if s.name == "skin 2")
    assert [step.kind for step in surface.steps] == ["subdivide", "bend by joints", "carry"]
    page.get_by_role("button", name="bend by joints", exact=True).click()
    expect(page.get_by_text("eel 1, eel 2", exact=True)).to_be_visible()
    weight = page.get_by_label("Weight of the points")
    weight.fill("0.25")
    weight.press("Enter")
    bench.saved(3)
    first = page.get_by_role("table", name="Weights").get_by_role("row").nth(1)
    expect(first).to_have_text(re.compile("0.*0.25.*0.75"))
    page.get_by_role("combobox", name="Add a step to the surface").click()
    page.get_by_title("adds shapes, each as far as its weight says").click()
    bench.saved(4)
    page.get_by_role("button", name="blend shapes", exact=True).click()
    points = page.get_by_label("Points of the shape")
    points.fill("0-7, 99")
    expect(page.get_by_role("button", name="Set", exact=True)).to_be_disabled()
    points.fill("0-7")
    page.get_by_label("Offset of the shape").fill("0 0.1 0")
    page.get_by_role("button", name="Set", exact=True).click()
    bench.saved(5)
    field = bench.field("eel.shape 1")
    field.fill("0.5")
    field.press("Enter")
    bench.saved(6)
    found = bench.evaluation()
    assert bench.value("eel.skin 2.shape 1", 40) == 0.5
    page.get_by_role("button", name="Delete the surface skin 2", exact=True).click()
    bench.saved(7)
    assert len(found.scene.surfaces) == 2 and len(bench.evaluation().scene.surfaces) == 1
