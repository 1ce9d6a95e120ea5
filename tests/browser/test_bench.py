"""The Bench, used as a technical animator does."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.bench import Bench, shown
from tests.wide import only_wide

PADDLE = "paddle.rotation.z"
FERRY = "ferry.translation.x"


def test_tree_channels_curves_and_ledger_tell_the_same_numbers(bench: Bench) -> None:
    bench.open("p1", "translation.x", 62)
    page = bench.page
    page.get_by_role("tree").get_by_text("paddle").click()
    page.get_by_title("Show the ledger and curve of paddle.rotation.z").click()
    for tap in ("driven", "final"):
        bench.expect_drawn(PADDLE, tap)  # type: ignore[arg-type]
    page.get_by_role("textbox", name="Frame", exact=True).fill("118")
    page.keyboard.press("Enter")
    driven, final = (bench.value(PADDLE, 118, tap) for tap in ("driven", "final"))  # type: ignore[arg-type]
    assert driven != final
    expect(bench.field(PADDLE)).to_have_value(shown(final))
    expect(bench.bead("turn by distance")).to_contain_text(f"0.00° → {shown(driven)}")
    expect(bench.bead("stop pin")).to_contain_text(f"{shown(driven)} → {shown(final)}")
    expect(bench.bead("turn by distance")).to_contain_text("paddle.radius @final0.500")
    expect(bench.bead("stop pin").get_by_label("changes the value here")).to_be_visible()
    expect(page).to_have_url(re.compile(r"part=p3&channel=rotation\.z&frame=118$"))
    # A limit typed, a step muted, deleted and brought back: the ledger says so at once.
    low = page.get_by_role("textbox", name="stop pin low")
    low.fill("-100")
    low.press("Enter")
    bench.saved(1)
    expect(bench.field(PADDLE)).to_have_value("−100.00°")
    bench.bead("stop pin").click(position={"x": 60, "y": 12})
    page.keyboard.press("m")
    bench.saved(2)
    expect(bench.bead("stop pin")).to_contain_text("muted")
    expect(bench.field(PADDLE)).to_have_value(shown(driven))
    page.get_by_role("button", name="Delete stop pin").click()
    bench.saved(3)
    expect(bench.bead("stop pin")).to_have_count(0)
    expect(bench.field(PADDLE)).to_have_value(shown(driven))
    page.get_by_role("button", name="Undo").click()
    bench.saved(4)
    expect(bench.bead("stop pin")).to_contain_text("muted")
    # What is chosen by its name is in sight in the tree when the search is gone.
    search = page.get_by_label("Find a part or channel")
    search.fill("far qu")
    search.press("Enter")
    search.fill("")
    expect(page.get_by_role("tree").get_by_text("far quay")).to_be_in_viewport()


def test_a_key_is_dragged_and_all_that_depends_on_it_follows(bench: Bench) -> None:
    bench.open("p1", "translation.x", 62)
    page = bench.page
    box = bench.key(50).bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    before = bench.line().get_attribute("data-key")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y - 20, steps=4)
    expect(bench.key(50)).to_have_count(0)
    page.keyboard.press("Escape")
    expect(bench.key(50)).to_be_visible()
    page.mouse.up()
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 54, y - 60, steps=8)
    expect(bench.line()).not_to_have_attribute("data-key", before or "")
    bench.saved(0)
    page.mouse.up()
    bench.saved(1)
    moved = bench.evaluation().scene.curves
    key = next(iter(moved.values())).keys[1]
    assert 56 <= key.frame <= 64
    assert key.frame == int(key.frame)
    assert 2 < key.value < 3.5
    bench.expect_drawn(FERRY)
    page.get_by_role("tree").get_by_text("paddle").click()
    expect(bench.field(PADDLE)).to_have_value(shown(bench.value(PADDLE, 62)))
    page.get_by_role("button", name="Undo").click()
    bench.saved(2)
    assert bench.evaluation().scene.curves != moved
    assert next(iter(bench.evaluation().scene.curves.values())).keys[1].frame == 50


def test_keys_are_bent_typed_added_deleted_and_given_an_interpolation(bench: Bench) -> None:
    bench.open("p1", "translation.x", 30)
    page = bench.page
    bench.key(50).click()
    box = page.get_by_label("right tangent").bounding_box()
    assert box
    page.mouse.move(box["x"] + 4, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + 14, box["y"] - 40, steps=5)
    page.mouse.up()
    bench.saved(1)
    key = next(iter(bench.evaluation().scene.curves.values())).keys[1]
    assert key.mode == "joined"
    assert key.left.angle == key.right.angle > 1
    bench.expect_drawn(FERRY)
    page.get_by_role("textbox", name="Frame of the key").fill("54.5")
    page.keyboard.press("Enter")
    bench.saved(2)
    page.get_by_role("textbox", name="Value of the key").fill("1.25")
    page.keyboard.press("Enter")
    bench.saved(3)
    page.get_by_role("radiogroup").get_by_text("hold", exact=True).click()
    bench.saved(4)
    curve = next(iter(bench.evaluation().scene.curves.values()))
    assert (curve.keys[1].frame, curve.keys[1].value) == (54.5, 1.25)
    assert curve.keys[1].interpolation == "hold"
    bench.expect_drawn(FERRY)
    page.get_by_role("combobox", name="Ease to the right of the key").click()
    page.get_by_title("overshoot", exact=True).click()
    bench.saved(5)
    assert next(iter(bench.evaluation().scene.curves.values())).keys[1].interpolation == "overshoot"
    bench.expect_drawn(FERRY)
    shape = bench.evaluation().world("p1").copy()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Add key").click()
    bench.saved(6)
    expect(bench.key(30)).to_be_visible()
    assert abs(bench.evaluation().world("p1") - shape).max() < 1e-9
    page.get_by_role("button", name="Delete key").click()
    bench.saved(7)
    expect(bench.key(30)).to_have_count(0)


def test_what_is_chosen_and_edited_while_the_server_is_away_comes_when_it_is_back(
    bench: Bench,
) -> None:
    bench.open("p1", "translation.x", 62)
    page, radius = bench.page, bench.field("paddle.radius")
    page.route("**/api/**", lambda route: route.abort())
    page.get_by_role("treeitem", name="paddle").get_by_text("paddle", exact=True).click()
    page.get_by_role("button", name=PADDLE).click()
    expect(bench.field(PADDLE)).to_have_value("…")
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
    page.unroute("**/api/**")
    was = shown(bench.value(PADDLE, 62))
    expect(bench.field(PADDLE)).to_have_value(was)
    expect(page.get_by_role("region", name="driven")).to_contain_text("turn by distance")
    expect(bench.line()).to_be_visible()
    # An edit waits, goes by itself, once, and is taken back after the page was opened anew.
    page.route("**/edits", lambda route: route.abort())
    radius.fill("0.25")
    radius.press("Enter")
    expect(page.get_by_text("Not saved yet: an edit waits for the server")).to_be_visible()
    page.unroute("**/edits")
    bench.saved(1)
    edited = shown(bench.value(PADDLE, 62))
    page.reload()
    expect(bench.field(PADDLE)).to_have_value(edited)
    for revision, keys, value in ((2, "Control+z", was), (3, "Control+Shift+Z", edited)):
        page.keyboard.press(keys)
        bench.saved(revision)
        expect(bench.field(PADDLE)).to_have_value(value)
    assert bench.value("paddle.radius", 0) == 0.25


@only_wide
def test_a_loop_is_told_in_findings_and_ledger(bench: Bench) -> None:
    add = {
        "do": "add step",
        "part": "p1",
        "name": "feed back",
        "settings": {"kind": "formula", "channel": "translation.z", "text": "{paddle.rotation.z}"},
    }
    bench.server.post(f"/scenes/{bench.number}/edits", {"revision": 0, "edits": [add]})
    bench.open("p3", "rotation.z", 62)
    page = bench.page
    expect(bench.bead("turn by distance")).to_contain_text("held: a loop feeds this value")
    page.get_by_role("button", name="Checks").click()
    panel = page.get_by_role("region", name="Chosen finding")
    expect(panel).to_contain_text("Loop: ferry.translation.z @driven · feed back → ")
    panel.get_by_role("button", name="Ledger").click()
    expect(page.get_by_text("ferry.translation.z @ 62")).to_be_visible()
