"""Limbs by hand: made of chosen parts, moved by their goal, switched, and mended on the lane."""

from __future__ import annotations

import json

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from bindu.cli import main
from bindu.core.account.limbs import switches
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.parts import AddPart
from bindu.core.placing.matching import apart
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.wide import only_wide


def figure() -> Scene:
    """A body with two straight legs."""
    edits: list[AnyEdit] = [AddPart("body", rest=Rest((0.0, 1.0, 0.0)), id="body")]
    for side, x in (("left", 0.2), ("right", -0.2)):
        above = "body"
        for name, y in (("hip", 0.0), ("knee", -0.45), ("ankle", -0.45)):
            rest = Rest((x if name == "hip" else 0.0, y, 0.0))
            edits.append(AddPart(f"{side} {name}", above, rest=rest, id=f"{side[0]}{name}"))
            above = f"{side[0]}{name}"
    return applied(Scene(name="figure", last=100), edits)


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    """The figure, its left hip chosen."""
    made = Bench(page, server, server.bring(write_scene(figure())))
    made.open("lhip", "rotation.x", 40)
    return made


def lane(page: Page, name: str = "left leg"):  # type: ignore[no-untyped-def]
    """A limb's lane."""
    return page.get_by_role("group", name=f"Limb lane of {name}")


def off(bench: Bench, limb: str, frame: int) -> tuple[float, float]:
    """How far FK and IK are apart, metres and degrees."""
    found = bench.evaluation()
    one = next(x for x in found.scene.limbs.values() if x.name == limb)
    metres, degrees = apart(found, one, np.array([frame]))
    return float(metres.max()), float(degrees.max())


def test_a_leg_is_made_from_nothing_and_walks_under_the_hand(
    bench: Bench,
    tmp_path,
    capsys: pytest.CaptureFixture[str],  # type: ignore[no-untyped-def]
) -> None:
    page = bench.page
    bench.kit("limb")
    expect(page.get_by_text("Choose hip, knee and ankle")).to_be_visible()
    page.get_by_text("parts", exact=True).first.click()
    for name in ("left knee", "left ankle"):
        page.get_by_role("treeitem", name=name).get_by_text(name, exact=True).click(
            modifiers=["Control"]
        )
    expect(page.get_by_text("New limb of left hip › left knee › left ankle")).to_be_visible()
    expect(page.get_by_role("textbox", name="Name of the new limb")).to_have_value("left leg")
    page.get_by_role("checkbox", name="the other side as well").check()
    page.get_by_role("button", name="Make the limb").click()
    bench.saved(1)
    for name in ("right leg", "left leg"):
        bench.kit("limb", name)
        expect(page.get_by_role("region", name=f"Limb {name}")).to_contain_text("meets it")
    # The goal is chosen: it is moved at once.
    field = bench.field("left leg goal.translation.y")
    field.fill("0.2")
    field.press("Enter")
    bench.saved(2)
    solution = page.get_by_label("Solution of left leg")
    path = tmp_path / "figure.json"
    path.write_text(bench.server.get(f"/scenes/{bench.number}/export").text)
    assert main(["limb", str(path), "--limb", "left leg", "--frame", "40", "--json"]) == 0
    (told,) = json.loads(capsys.readouterr().out)["frames"]
    assert told["goal error"] < 1e-9 and told["solution"] == "bent"
    expect(solution).to_contain_text(f"bend {told['bend']:.2f}°")
    expect(solution).to_contain_text(f"{told['distance']:.3f} m of {told['reach']:.3f} m reach")
    url = f"/scenes/{bench.number}/limb?limb=b1&first=40&last=40"
    assert bench.server.get(url).json()["table"]["frames"] == [told]
    field.fill("-0.3")
    field.press("Enter")
    bench.saved(3)
    expect(solution).to_contain_text("out of reach")
    expect(solution).to_contain_text("misses it by 0.300 m")
    # The ledger of a part of the chain says the same, in zone Solved.
    bench.open("lknee", "rotation.x", 40)
    expect(bench.bead("left leg")).to_contain_text("misses it by 0.300 m")
    expect(bench.bead("left leg")).to_contain_text("body.left leg.blend")


def legs(*edits: AnyEdit) -> Scene:
    """The figure with two limbs, their goals raised."""
    leg = MakeLimb("left leg", "body", ("lhip", "lknee", "lankle"), 0, mirror=True)
    return applied(figure(), [leg, *edits])


@only_wide
def test_limbs_switch_at_once_a_jump_is_mended_a_switch_dragged_and_deleted(
    page: Page, server: Server
) -> None:
    scene = legs()
    goal = scene.limbs["b1"].goal
    rises = PutKeys(goal, "translation.y", (Key(20.0, 0.1), Key(60.0, 0.3)))
    bench = Bench(page, server, server.bring(write_scene(applied(scene, [rises]))))
    bench.open(goal, "translation.y", 40)
    page.get_by_role("button", name="limbs", exact=True).click()
    page.get_by_role("button", name="to FK").click()
    bench.saved(1)
    assert off(bench, "left leg", 40) <= (1e-9, 1e-7)
    expect(lane(page).get_by_role("button", name="IK from 0 to 39")).to_be_visible()
    expect(lane(page).get_by_role("button", name="FK from 40 to 100")).to_be_visible()
    # The goal goes elsewhere: a jump is marked, and mended by a click.
    field = bench.field("left leg goal.translation.y")
    field.fill("0.25")
    field.press("Enter")
    bench.saved(2)
    mark = lane(page).get_by_role("button", name="Handover IK → FK at 40, jumps")
    expect(mark).to_have_text("!")
    mark.click()
    page.get_by_role("button", name="Match here").click()
    bench.saved(3)
    expect(lane(page).get_by_role("button", name="Handover IK → FK at 40")).to_have_text("")
    assert off(bench, "left leg", 40) <= (1e-9, 1e-7)
    dot = lane(page).get_by_role("button", name="Handover IK → FK at 40")
    box = dot.bounding_box()
    strip = lane(page).get_by_role("button", name="FK from 40 to 100").bounding_box()
    assert box and strip
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + strip["width"] / 12, y, steps=4)
    page.mouse.move(x + strip["width"] / 6, y, steps=4)
    page.mouse.up()
    bench.saved(4)
    (one,) = switches(bench.evaluation(), bench.evaluation().scene.limbs["b1"])
    assert 46 <= one.frame <= 54 and not one.jumps
    assert off(bench, "left leg", one.frame) <= (1e-9, 1e-7)
    lane(page).get_by_role("button", name=f"Handover IK → FK at {one.frame}").click()
    page.get_by_role("button", name="Delete the switch").click()
    bench.saved(5)
    expect(lane(page).get_by_role("button", name="IK from 0 to 100")).to_be_visible()
