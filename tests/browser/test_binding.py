"""Binding by hand: steps dragged and sent late, wires drawn, settings taken out, places."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Shape
from bindu.core.scene.settings import (
    ConstraintSettings,
    Target,
)
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.wide import only_wide

PLACES = {"p1": ("boat", 0.0), "p2": ("buoy", 1.0), "p3": ("post", 2.0), "p4": ("flag", 0.0)}
SLIDE = (Key(0.0, 0.0, "linear"), Key(10.0, 5.0, "linear"))


def opened(page: Page, server: Server, *edits: AnyEdit) -> Bench:
    """A small scene, the boat chosen: buoy and post stand beside it, the flag hangs on the
    boat."""
    box = Shape("box", (0.4, 0.4, 0.4))
    parts = [
        AddPart(name, "p1" if key == "p4" else None, rest=Rest((x, 0.0, 0.0)), shape=box, id=key)
        for key, (name, x) in PLACES.items()
    ]
    scene = applied(Scene(last=10), [*parts, *edits])
    bench = Bench(page, server, server.bring(write_scene(scene)))
    bench.open("p1", "translation.x", 0)
    return bench


def bound(part: str, target: str, step: str) -> AddStep:
    """A position constraint."""
    settings = ConstraintSettings((Target(target),), kind="position")
    return AddStep(part, f"at {PLACES[target][0]}", settings, id=step)


def drag(page: Page, start: str, end: str) -> None:
    """Drags from the middle of one thing to the middle of another."""
    boxes = [page.locator(each).bounding_box() for each in (start, end)]
    assert boxes[0] and boxes[1]
    (x, y), (to_x, to_y) = ((b["x"] + b["width"] / 2, b["y"] + b["height"] / 2) for b in boxes if b)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move((x + to_x) / 2, (y + to_y) / 2, steps=4)
    page.mouse.move(to_x, to_y, steps=4)
    page.mouse.up()


def test_a_step_is_dragged_sent_late_and_back_and_a_wire_drawn_to_it(
    page: Page, server: Server
) -> None:
    edits = [bound("p1", "p2", "s1"), bound("p1", "p3", "s2"), bound("p4", "p3", "s3")]
    bench = opened(page, server, *edits)
    assert bench.value("boat.translation.x", 0) == 2.0
    name = bench.bead("at post").get_by_text("at post", exact=True)
    # Once the values of all beads are there, nothing moves under the mouse any more.
    for bead, value in (("at buoy", "→ 1.000 m"), ("at post", "→ 2.000 m")):
        expect(bench.bead(bead)).to_contain_text(value)
    name.hover()
    page.mouse.down()
    # A drag begins with the first move, and is over a thing from the second one on.
    bench.bead("at buoy").hover()
    bench.bead("at buoy").hover()
    page.mouse.up()
    bench.saved(1)
    assert bench.value("boat.translation.x", 0) == 1.0
    page.get_by_role("button", name="Move at post to late").click()
    bench.saved(2)
    late = page.get_by_role("region", name="late")
    expect(late.get_by_role("article", name="at post")).to_be_visible()
    assert bench.value("boat.translation.x", 0) == 2.0
    page.get_by_role("button", name="Move at post to bound").click()
    bench.saved(3)
    steps = bench.evaluation().scene.steps_of["p1"]
    assert [(step.id, step.zone) for step in steps] == [("s1", "bound"), ("s2", "bound")]
    page.get_by_text("Wiring", exact=True).click()
    source = "[data-handleid='p3/world position@final'].source"
    expect(page.locator(source)).to_be_in_viewport()
    drag(page, source, "[data-handleid='p1/s1'].target")
    bench.saved(4)
    settings = bench.evaluation().scene.steps["s1"].settings
    assert isinstance(settings, ConstraintSettings)
    assert [target.part for target in settings.targets] == ["p2", "p3"]


@only_wide
def test_places_are_copied_turned_kept_and_written_out(page: Page, server: Server) -> None:
    bench = opened(page, server, PutKeys("p2", "translation.z", SLIDE), bound("p3", "p2", "s1"))
    page.get_by_role("button", name="place…").click()
    other = page.get_by_role("combobox", name="The other part")
    other.fill("buoy")
    other.press("Enter")
    page.get_by_role("button", name="Copy relationship").click()
    expect(page.get_by_text("copied: boat to buoy")).to_be_visible()
    page.get_by_text("a span", exact=True).click()
    page.get_by_role("button", name="Paste").click()
    bench.saved(1)
    # It stays 1 m beside the buoy, which slides along z.
    for frame in (0, 5, 10):
        assert bench.value("boat.translation.z", frame) == pytest.approx(frame / 2)
    page.get_by_role("button", name="place…").click()
    page.get_by_text("turn", exact=True).click()
    # What is said lies over the popup, and in nobody's way.
    expect(page.get_by_text("put boat where buoy is at 0 to 10")).to_be_visible()
    point = page.get_by_role("combobox", name="Point from a part")
    point.fill("buoy")
    point.press("Enter")
    expect(page.get_by_role("textbox", name="Point to turn about")).to_have_value("1, 0, 0")
    page.get_by_role("button", name="Turn it").click()
    bench.saved(2)
    # A quarter turn about y at (1, 0, 0) takes (0, 0, 0) to (1, 0, 1).
    world = bench.evaluation().world("p1")[0]
    np.testing.assert_allclose(world[:, 3], [1.0, 0.0, 1.0], atol=1e-9)
    np.testing.assert_allclose(world[:, 0], [0.0, 0.0, -1.0], atol=1e-9)
    before = bench.evaluation().world("p4")
    page.get_by_role("button", name="place…").click()
    page.get_by_text("children", exact=True).click()
    page.get_by_role("textbox", name="Move by").fill("0, 2, 0")
    page.get_by_role("button", name="Move it, children stay").click()
    bench.saved(3)
    made = bench.evaluation()
    assert made.world("p1")[0, 1, 3] == pytest.approx(2.0)
    np.testing.assert_allclose(made.world("p4"), before, atol=1e-9)
    bench.open("p3", "translation.z", 0)
    page.get_by_role("button", name="place…").click()
    page.get_by_text("write out", exact=True).click()
    page.get_by_role("checkbox", name="as few keys as keep within").check()
    write, last = (
        page.get_by_role("button", name="Write post out as keys"),
        page.get_by_role("textbox", name="Last frame of the span"),
    )
    whole = last.input_value()
    last.fill("the end")
    expect(write).to_be_disabled()
    last.fill(whole)
    write.click()
    bench.saved(4)
    found = bench.evaluation()
    assert not found.scene.steps["s1"].on
    np.testing.assert_allclose(found.world("p3"), made.world("p3"), atol=0.011)
    keys = found.scene.curves[next(r for r in found.scene.curves if r == ("p3", "translation.z"))]
    assert len(keys.keys) == 2
