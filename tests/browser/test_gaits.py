"""A gait by hand: made from nothing, its numbers changed, no foot slides."""

from __future__ import annotations

import re

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from bindu.core.checks.registry import findings
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.parts import AddPart
from bindu.core.edits.probes import PutProbe
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server


def figure() -> Scene:
    """A root that goes ahead, hips and two legs by IK."""
    edits: list[AnyEdit] = [
        AddPart("root", id="root"),
        AddPart("hips", "root", rest=Rest((0.0, 0.9, 0.0)), id="hips"),
        PutKeys("root", "translation.z", (Key(0.0, 0.0), Key(100.0, 3.0))),
    ]
    for side, x in (("left", 0.1), ("right", -0.1)):
        above = "hips"
        for name, z in (("hip", 0.0), ("knee", 0.16), ("ankle", -0.16)):
            rest = Rest((x, 0.0, 0.0) if name == "hip" else (0.0, -0.46, z))
            edits.append(AddPart(f"{side} {name}", above, rest=rest, id=f"{side[0]}{name}"))
            above = f"{side[0]}{name}"
        edits.append(PutProbe(f"{side} sole", above, (0.0, 0.0, 0.0)))
    chain = ("lhip", "lknee", "lankle")
    scene = applied(Scene(name="figure", last=100), edits)
    return applied(scene, [MakeLimb("left leg", "hips", chain, 0, mirror=True)])


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    """The figure, its left goal chosen."""
    scene = figure()
    made = Bench(page, server, server.bring(write_scene(scene)))
    made.open(scene.part_ids["left leg goal"], "translation.z", 0)
    return made


def test_a_gait_is_made_its_speed_changed_and_no_foot_slides(bench: Bench) -> None:
    page = bench.page
    for name in ("right leg goal", "root"):
        item = page.get_by_role("treeitem", name=name).last
        item.get_by_text(name, exact=True).click(modifiers=["Control"])
    bench.kit("gait")
    expect(page.get_by_text("New gait: left leg goal, right leg goal along root")).to_be_visible()
    phases = page.get_by_label("Phases of the feet")
    phases.fill("0 1.5")
    expect(page.get_by_role("button", name="Make the gait")).to_be_disabled()
    phases.fill("0 0.5")
    page.get_by_role("combobox", name="Hips").click()
    page.keyboard.type("hips")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Make the gait").click()
    bench.saved(1)
    card = page.get_by_role("region", name="Gait walk")
    expect(card).to_contain_text("along root")
    found = bench.evaluation()
    assert {step.name for step in found.scene.steps_of["hips"]} == {
        "rises", "sways", "turns", "leans",
    }  # fmt: skip
    length = bench.field("root.walk.step length")
    length.fill("0.3")
    length.press("Enter")
    bench.saved(2)
    size = bench.field("root.walk.lift")
    size.fill("0.12")
    size.press("Enter")
    bench.saved(3)
    made = bench.evaluation()
    slides = findings(made, only={"slide", "reach"})
    assert not slides, [one.text for one in slides]
    heights = made.world("lankle")[:, 1, 3]
    assert heights.max() - heights.min() == pytest.approx(0.12, abs=0.01)
    phase = page.get_by_role("textbox", name="Phase of right leg goal")
    phase.fill("0.4")
    phase.press("Enter")
    bench.saved(4)
    assert bench.evaluation().scene.gaits["w1"].feet[1].phase == 0.4
    page.get_by_role("button", name="Checks").click()
    list_of_checks = page.get_by_role("complementary", name="Checks")
    row = list_of_checks.get_by_role("button", name=re.compile("slide over 2 mm"))
    expect(row).to_be_visible()
    expect(page.get_by_text(re.compile("slides .* mm while it stands"))).to_have_count(0)
    page.get_by_role("button", name="Bench").click()
    bench.kit("gait", "walk")
    page.get_by_role("button", name="Delete the gait walk", exact=True).click()
    bench.saved(5)
    gone = bench.evaluation().scene
    assert not gone.gaits and not gone.steps_of.get("hips")
    goal = gone.part_ids["left leg goal"]
    assert np.ptp(bench.evaluation().world(goal), axis=0).max() == 0.0
