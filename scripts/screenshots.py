"""Takes the pictures of docs/screenshots again, from the demo, with a database of its own.

Run: PYTHONPATH=src:. .venv/bin/python scripts/screenshots.py
"""

from __future__ import annotations

import re

from playwright.sync_api import Page
from tests.browser.alone import browser_alone
from tests.browser.bench import open_in_kit
from tests.conftest import ROOT

from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.receivers import PutReceiver
from bindu.core.scene.model import Scene
from bindu.core.scene.receivers import Move, Override, Setup
from bindu.demo import demo_scenes
from bindu.formats.scene.scene_json import write_scene

SHOTS = ROOT / "docs" / "screenshots"


RECEIVER = Setup(
    "stand",
    moves=(
        Move("stand", "walk", "over", "speed", 0.1),
        Move("walk", "stand", "under", "speed", 0.1),
        Move("any", "strike", "button", "fish"),
        Move("strike", "stand", "end"),
    ),
    overrides=(
        Override(
            "look at", "look at", by="eyes", parts=("neck 2",), place="look", axis=(0.0, 1.0, 0.0)
        ),
    ),
    inputs={"look.x": -1.6, "look.y": 1.2, "look.z": 1.5},
)


def shoot(page: Page, name: str) -> None:
    """Saves what is seen once everything has come and been drawn."""
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(1000)
    # The view is drawn in full once nothing new comes.
    page.locator("canvas[data-light]").wait_for(state="detached")
    page.wait_for_timeout(500)
    page.screenshot(path=SHOTS / f"{name}.png")


def part_id(scene: Scene, name: str) -> str:
    """A part's identity by its name."""
    return next(part.id for part in scene.parts.values() if part.name == name)


def ferry(page: Page, bench: str) -> None:
    """The Bench, keys, stops, slip, a formula, spaces, shapers."""
    page.goto(f"{bench}?part=p3&channel=rotation.z&frame=106")
    shoot(page, "bench")
    page.goto(f"{bench.replace('/bench', '/stops')}?part=p10&channel=rotation.z&frame=104")
    page.get_by_role("button", name="at 6", exact=True).click()
    shoot(page, "stops")
    page.goto(f"{bench}?part=p3&channel=rotation.z&frame=88")
    page.get_by_role("button", name="Mute stop pin").click()
    open_in_kit(page, "slip probe", "water line")
    page.get_by_role("button", name="Fit", exact=True).click()
    shoot(page, "slip")
    page.goto(f"{bench}?part=p3&channel=rotation.z&frame=88")
    page.get_by_role("button", name="Formula of turn by distance").click()
    field = page.get_by_role("textbox", name="Formula of turn by distance")
    field.fill("-degrees(travelled({ferry}) / {paddle.rad")
    shoot(page, "formula")
    page.goto(f"{bench}?part=p20&channel=translation.x&frame=20")
    shoot(page, "spaces")
    page.goto(f"{bench}?part=p1&channel=translation.z&frame=40")
    page.get_by_role("button", name="+ shape").first.click()
    page.get_by_role("menuitem", name="noise").click()
    shoot(page, "shapers")


def mooring(page: Page, at: str) -> None:
    """Wiring, loops, a What if."""
    wiring = f"{at}/wiring?part=p2&frame=40"
    page.goto(wiring)
    shoot(page, "wiring")
    page.get_by_role("button", name=re.compile("1. let far buoy read")).click()
    page.get_by_role(
        "img", name="buoy.translation.x before and after", exact=True
    ).scroll_into_view_if_needed()
    shoot(page, "loops")
    page.get_by_text("what if", exact=True).click()
    shoot(page, "what-if")


def herons(page: Page, bench: str, heron: Scene) -> None:
    """Layers, a whole part, wings, a foot."""
    page.goto(f"{bench}?part={part_id(heron, 'neck 2')}&channel=rotation.x&frame=88")
    open_in_kit(page, "layer", "flow")
    shoot(page, "layers")
    goal = part_id(heron, "right leg goal")
    page.goto(f"{bench}?part={goal}&channel=rotation.x&frame=60")
    open_in_kit(page, "limb", "right leg")
    page.keyboard.press("f")
    shoot(page, "foot")


def hurried(page: Page, at: str) -> None:
    """Checks, a remedy looked at."""
    page.goto(f"{at}/checks")
    page.get_by_role("button", name=re.compile("slide: left toes")).click()
    page.get_by_role("button", name=re.compile("1 . plant left leg goal")).click()
    shoot(page, "checks")


def lamplighter(page: Page, bench: str, lamp: Scene) -> None:
    """Limbs, both ways of them."""
    page.goto(f"{bench}?part={part_id(lamp, 'left elbow')}&channel=rotation.x&frame=104")
    open_in_kit(page, "limb", "left arm")
    page.get_by_role("button", name="show…").click()
    page.get_by_role("checkbox", name="FK and IK of limbs").click()
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("f")
    shoot(page, "limbs")


def beetles(page: Page, bench: str, scene: Scene) -> None:
    """Two beetles that share a gait, and the gait's card."""
    foot = part_id(scene, "left front leg goal")
    page.goto(f"{bench}?part={foot}&channel=translation.z&frame=62")
    page.wait_for_timeout(800)
    open_in_kit(page, "gait", "walk")
    shoot(page, "gait")


def eel(page: Page, bench: str) -> None:
    """A surface by two orders of its steps, and a point's account."""
    page.goto(f"{bench}?part=p4&frame=50")
    page.wait_for_timeout(800)
    page.keyboard.press("f")
    open_in_kit(page, "surface", "skin")
    page.get_by_role("button", name="Steps and orders").click()
    page.get_by_role("button", name="Compare with another order").click()
    page.get_by_role("button", name="In the other order, subdivide earlier").click()
    page.get_by_role("button", name="point 290 on frame 50").click()
    shoot(page, "surface")


def deliver(page: Page, at: str, neck: str) -> None:
    """Bakes with one that is stale, a report, a receiver with moves and an override."""
    page.goto(f"{at}/deliver?part={neck}&frame=50")
    page.get_by_role("button", name="Report of glTF 2.0").click()
    page.get_by_text("Read back and compared").wait_for()
    shoot(page, "report")
    page.get_by_role("button", name="Close the report").click()
    page.get_by_role("button", name="Compare").nth(1).click()
    page.get_by_role("slider", name="Time of the receiver").click()
    shoot(page, "deliver")
    page.get_by_role("button", name="Close the report").click()
    for name, second, value in (("speed", 2.0, 0.4), ("eyes", 4.0, 1.0), ("eyes", 7.5, 0.0)):
        page.get_by_role("slider", name="Time of the receiver").focus()
        page.evaluate("() => new Promise((done) => setTimeout(done, 400))")
        _at(page, second)
        field = page.get_by_role("textbox", name=f"Value of {name}")
        field.fill(str(value))
        field.press("Enter")
    _at(page, 5.0)
    shoot(page, "receiver")


def _at(page: Page, second: float) -> None:
    """Puts the receiver's time to a second of ten, by a click on its line."""
    line = page.get_by_role("slider", name="Time of the receiver").locator("xpath=..")
    box = line.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] * second / 10.0, box["y"] + box["height"] / 2.0)


def main() -> None:
    """One picture of each main view."""
    with browser_alone() as (page, server):
        scenes = {scene.name: scene for scene in demo_scenes()}
        # In the order of the first start, for the same list on the home page.
        names = reversed(list(scenes))
        made = {name: server.post("/examples", {"name": name}, 201).json() for name in names}
        numbers = {name: one["id"] for name, one in made.items()}
        for number in numbers.values():
            server.get(f"/scenes/{number}/checks")
        at = {name: f"{server.url}/scenes/{number}" for name, number in numbers.items()}
        page.goto(server.url)
        shoot(page, "home")
        ferry(page, f"{at['Ferry crossing']}/bench")
        mooring(page, at["The mooring"])
        heron, lamp = "Heron at the shallows", "The lamplighter"
        herons(page, f"{at[heron]}/bench", scenes[heron])
        hurried(page, at["The hurried heron"])
        lamplighter(page, f"{at[lamp]}/bench", scenes[lamp])
        beetles(page, f"{at['The water beetles']}/bench", scenes["The water beetles"])
        eel(page, f"{at['The mooring']}/bench")
        spans = (("stand", 0, 24), ("walk", 24, 72), ("strike", 72, 110))
        bakes = [PutBake(name, first, last, "all parts") for name, first, last in spans]
        key = PutKeys(part_id(scenes[heron], "heron"), "translation.y", (Key(48.0, 0.05),))
        baked = applied(scenes[heron], [*bakes, PutReceiver(RECEIVER), key])
        number = server.bring(write_scene(baked))
        deliver(page, f"{server.url}/scenes/{number}", part_id(baked, "neck 2"))


if __name__ == "__main__":
    main()
