"""Binding and order: pick and carry, handovers, loops and remedies, the order, What ifs."""

from __future__ import annotations

import io
import re
from contextlib import redirect_stdout
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from bindu.cli import main
from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.placing.handovers import handover_states
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Shape
from bindu.core.scene.settings import SpaceSettings
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo
from tests.wide import only_wide


def opened(bench: Bench, view: str, part: str, channel: str, frame: int) -> None:
    """Opens a view by the address."""
    query = f"part={part}&channel={channel}&frame={frame}"
    bench.page.goto(f"{bench.server.url}/scenes/{bench.number}/{view}?{query}")
    expect(bench.page.get_by_text("saved · edit")).to_be_visible()


def choose(page: Page, box: Locator, option: str) -> None:
    """Chooses from a list."""
    box.click()
    found = page.locator(".ant-select-dropdown:visible").get_by_title(option, exact=True)
    expect(found).to_be_in_viewport()
    found.click()


@pytest.fixture
def mooring(page: Page, server: Server) -> Bench:
    """The mooring, opened nowhere yet."""
    return Bench(page, server, server.bring(write_scene(demo("the-mooring"))))


def test_pick_and_carry_and_a_handover_dragged_and_blended(page: Page, server: Server) -> None:
    shape = Shape("box", (0.5, 0.5, 0.5))
    parts = [AddPart("crate", shape=shape, id="p1"), AddPart("davit", shape=shape, id="p2")]
    way = (Key(0.0, 0.0, "linear"), Key(40.0, 8.0, "linear"))
    scene = applied(Scene(last=40), [*parts, PutKeys("p2", "translation.x", way)])
    bench = Bench(page, server, server.bring(write_scene(scene)))
    bench.open("p1", "translation.x", 10)
    page.get_by_role("button", name="pick and carry").click()
    choose(page, page.get_by_role("combobox", name="What carries it"), "davit")
    page.get_by_role("textbox", name="Leaves at frame").fill("30")
    page.get_by_role("button", name="Carry", exact=True).click()
    bench.saved(1)
    lane = page.get_by_role("group", name="Space lane of crate · spaces")
    strips = lane.get_by_role("button", name=re.compile("from [0-9]+ to [0-9]+$"))
    expect(strips).to_have_text(["world", "davit", "world"])
    assert bench.value("crate.translation.x", 30) == pytest.approx(4.0)
    assert bench.value("crate.translation.x", 40) == pytest.approx(4.0)
    # Dragged ten frames earlier, it rides for 30 frames and still does not jump.
    dot = lane.get_by_role("button", name=re.compile("Handover world → davit"))
    box = dot.bounding_box()
    strip = lane.get_by_role("button", name="davit from 10 to 29").bounding_box()
    assert box and strip
    frame = strip["width"] / 20
    start = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] - 5 * frame, start[1], steps=5)
    page.mouse.move(start[0] - 8 * frame, start[1], steps=3)
    page.mouse.up()
    bench.saved(2)
    expect(lane.get_by_role("button", name="davit from 2 to 29")).to_be_visible()
    evaluation = bench.evaluation()
    (step,) = evaluation.scene.steps.values()
    assert not any(state.jumps for state in handover_states(evaluation, [step]))
    assert bench.value("crate.translation.x", 40) == pytest.approx(28 * 0.2)
    # A handover that is there is given a blend.
    lane.get_by_role("button", name="Handover davit → world at 30").click()
    blend = page.get_by_role("textbox", name="Frames of its blend")
    blend.fill("3")
    blend.press("Enter")
    bench.saved(3)
    expect(page.get_by_text("Blends over 3 frames.")).to_be_visible()
    (step,) = bench.evaluation().scene.steps.values()
    assert isinstance(step.settings, SpaceSettings)
    assert [(one.frame, one.blend) for one in step.settings.handovers] == [(2.0, 0), (30.0, 3)]


@only_wide
def test_a_handover_that_jumps_says_so_and_is_mended(page: Page, server: Server) -> None:
    moved = PutKeys("p2", "translation.x", (Key(28.0, 0.7), Key(101.0, 0.7)))
    scene = applied(demo("ferry-crossing"), [moved])
    bench = Bench(page, server, server.bring(write_scene(scene)))
    bench.open("p20", "translation.x", 28)
    lane = page.get_by_role("group", name="Space lane of crate · spaces")
    jumping = lane.get_by_role("button", name=re.compile(r"Handover hook → deck .* jumps"))
    expect(jumping).to_have_text("!")
    jumping.click()
    page.get_by_role("button", name=re.compile("All 2 that jump")).click()
    bench.saved(1)
    expect(lane.get_by_role("button", name=re.compile("jumps"))).to_have_count(0)


def test_the_order_is_read_a_surface_opened_and_a_loop_broken_by_a_remedy_seen_before(
    mooring: Bench, tmp_path: Path
) -> None:
    page = mooring.page
    opened(mooring, "wiring", "p7", "translation.x", 40)
    # The order is that of the command line.
    file = tmp_path / "mooring.bindu.json"
    file.write_text(mooring.server.get(f"/scenes/{mooring.number}/export").text)
    with redirect_stdout(io.StringIO()) as said:
        assert main(["order", str(file)]) == 0
    listed = [line for line in said.getvalue().splitlines() if line[:5].strip().isdigit()]
    lines = [line.removesuffix("  held").split(None, 1) for line in listed]
    boat = [(rank, label) for rank, label in lines if label.startswith("boat.")]
    for n, (rank, label) in enumerate(boat[:8]):
        cells = page.locator(".ant-table-row").nth(n).locator(".ant-table-cell")
        expect(cells.nth(0)).to_have_text(rank)
        expect(cells.nth(1)).to_have_text(label.removeprefix("boat."))
    # A surface stands right of what it reads, and opens its ledger.
    skin = page.get_by_role("article", name="surface skin")
    expect(skin).to_contain_text("ripples")
    skin.get_by_role("button", name="bend · final").click()
    expect(page.get_by_text("eel.skin.bend weight").first).to_be_visible()
    page.get_by_text("order", exact=True).click()
    loop = page.get_by_role("region", name="Loop of buoy, far buoy, eel")
    expect(loop).to_contain_text("It makes a difference on 97 frames")
    remedy = loop.get_by_role("listitem").filter(
        has_text="let eel read far buoy world position at driven"
    )
    remedy.get_by_role("button").first.click()
    preview = loop.get_by_role("img", name="buoy.translation.x before and after", exact=True)
    expect(preview).to_be_visible()
    mooring.saved(0)
    remedy.get_by_role("button", name="Apply").click()
    mooring.saved(1)
    expect(page.get_by_text("Nothing feeds itself.", exact=True)).to_be_visible()
    assert not mooring.evaluation().graph.loops
    pair = page.get_by_role("region", name="mast and lantern are no loop")
    expect(pair).to_contain_text("They aim at each other.")


def test_two_orders_are_compared_and_a_moment_is_held_and_brought_back(mooring: Bench) -> None:
    page = mooring.page
    opened(mooring, "wiring", "p7", "translation.x", 42)
    was = mooring.value("boat.translation.x", 42)
    page.get_by_text("what if", exact=True).click()
    # Two orders side by side, as the scene holds them, and one kept.
    curve = page.get_by_role("img", name="boat.translation.x before and after", exact=True)
    expect(curve).to_be_visible()
    expect(page.get_by_text("pale: first · in full: second")).to_be_visible()
    text = page.get_by_role("figure").filter(has=curve).locator("div").inner_text()
    sides = text.removeprefix("at 42: ").replace("−", "-").split(" → ")
    early, late = (float(side.removesuffix(" m")) for side in sides)
    assert late == pytest.approx(was, abs=1e-3)
    page.get_by_role("button", name="Keep first").click()
    mooring.saved(1)
    assert mooring.value("boat.translation.x", 42) == pytest.approx(early, abs=1e-3)
    page.get_by_role("button", name="Undo").click()
    mooring.saved(2)
    choose(page, page.get_by_role("combobox", name="What to compare"), "two sides chosen here")
    page.get_by_role("button", name="Hold this moment as the first").click()
    expect(page.get_by_text("No channel differs on any frame.")).to_be_visible()
    page.get_by_role("article", name="boat").get_by_text("position ← drift").click()
    page.keyboard.press("m")
    mooring.saved(3)
    page.get_by_text("what if", exact=True).click()
    box = page.get_by_role("combobox", name="Channels to compare")
    box.fill("boat.translation.x")
    box.press("Enter")
    told = page.get_by_role("figure").filter(has=curve)
    expect(told).to_contain_text(f"at 42: {was:.3f} m → 0.000 m")
    page.get_by_role("button", name="Keep first").click()
    mooring.saved(4)
    assert mooring.value("boat.translation.x", 42) == was


def test_a_part_is_bound_reordered_and_read_elsewhere(page: Page, server: Server) -> None:
    names = {"p1": "boat", "p2": "buoy", "p3": "post"}
    parts = [
        AddPart(name, rest=Rest((float(n), 0.0, 0.0)), id=i)
        for n, (i, name) in enumerate(names.items())
    ]
    bench = Bench(page, server, server.bring(write_scene(applied(Scene(last=10), parts))))
    bench.open("p1", "translation.x", 0)
    for edits, name in enumerate(("buoy", "post"), start=1):
        page.get_by_role("region", name="bound").get_by_role("button", name="bind").click()
        box = page.get_by_role("combobox", name="Targets")
        box.fill(name)
        box.press("Enter")
        page.get_by_text("Bind boat", exact=True).click()
        page.get_by_role("button", name="Bind", exact=True).click()
        bench.saved(edits)
    # The last one listed has the last word; moved up, the other one has it.
    assert bench.value("boat.translation.x", 0) == pytest.approx(2.0)
    words = page.get_by_role("group", name="Last word")
    expect(words.get_by_role("button", name="position 2 from 0 to 10")).to_be_visible()
    page.get_by_role("button", name="Move position 2 up").click()
    bench.saved(3)
    assert bench.value("boat.translation.x", 0) == pytest.approx(1.0)
    expect(words.get_by_role("button", name="position from 0 to 10")).to_be_visible()
    page.get_by_text("where from", exact=True).click()
    expect(page.get_by_role("list", name="Where it comes from")).to_contain_text(
        "buoy.world position"
    )
    opened(bench, "wiring", "p1", "translation.x", 0)
    page.get_by_role("article", name="buoy").get_by_text("world position").wait_for()
    edge = page.get_by_label("“position” (bound) of boat reads buoy world position at final")
    edge.locator("path").last.dispatch_event("click")
    read = page.get_by_role("region", name="Chosen read")
    expect(read).to_contain_text("reads buoy world position at final")
    choose(page, read.get_by_role("combobox", name="Tap of the read"), "driven")
    bench.saved(4)
    settings = bench.evaluation().scene.steps["s1"].settings
    assert settings.targets[0].tap == "driven"  # type: ignore[union-attr]
