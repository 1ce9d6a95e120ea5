"""What hands do all day: type, Enter, next key; Tab; Esc; click beside; drag, and give it up."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Route, expect

from bindu.core.curves.model import Curve
from bindu.core.scene.channels import ChannelRef
from tests.browser.bench import Bench
from tests.wide import only_wide


def curve(bench: Bench, part: str = "p1", channel: str = "translation.x") -> Curve:
    """A channel's own curve, as the server holds it."""
    return bench.evaluation().scene.curves[ChannelRef(part, channel)]


def typed(field: Locator, *keys: str) -> None:
    """A field is clicked, and keys are pressed in it, as a person does."""
    field.click()
    for key in keys:
        field.page.keyboard.press(key) if len(key) > 1 else field.page.keyboard.type(key)


def test_fields_take_enter_and_tab_and_put_back_on_esc(bench: Bench) -> None:
    bench.open("p1", "translation.x", 50)
    page, field = bench.page, bench.field("ferry.translation.x")
    bench.key(50).click()
    page.get_by_role("button", name="part…").click()
    for one in (field, bench.field("Frame of the key"), bench.field("rest at x")):
        expect(one).not_to_have_value("…")
        old = one.input_value()
        typed(one, "7", "Escape")
        expect(one).to_have_value(old)
        expect(one).not_to_be_focused()
    typed(bench.field("ferry.translation.y"), "0", ".", "2", "Tab")
    expect(bench.field("ferry.translation.z")).to_be_focused()
    page.keyboard.type("0.3")
    page.keyboard.press("Shift+Tab")
    expect(bench.field("ferry.translation.y")).to_be_focused()
    bench.saved(2)
    assert bench.value("ferry.translation.y", 50) == 0.2
    assert bench.value("ferry.translation.z", 50) == 0.3
    for n, frame in enumerate(("60", "90")):
        typed(bench.field("Frame"), *frame, "Enter")
        typed(field, *"0.5", "Enter")
        bench.saved(3 + n)
    # The keyboard is back: arrows step frames, and D keys.
    page.keyboard.press("ArrowRight")
    page.keyboard.press("d")
    bench.saved(5)
    frames = [k.frame for k in curve(bench).keys if 60 <= k.frame <= 100]
    assert frames == [60.0, 70.0, 90.0, 91.0]
    # Fields typed one after the other all count while the server is slow.
    held: list[Route] = []
    page.route("**/edits", lambda route: held.append(route) if not held else route.continue_())
    typed(bench.field("rest at x"), "1", "Tab", "2", "Tab", "3", "Enter")
    typed(bench.field("rest turn y"), "4", "5", "Enter")
    bench.saved(5)
    held[0].continue_()
    bench.saved(9)
    rest = bench.evaluation().scene.parts["p1"].rest
    assert (rest.translation, rest.rotation[1]) == ((1.0, 2.0, 3.0), 45.0)


def test_many_parts_are_chosen_given_one_value_and_renamed_by_a_pattern(bench: Bench) -> None:
    bench.open("p4", "rotation.x", 30)
    page = bench.page
    tree = page.get_by_role("tree")
    tree.get_by_text("mast", exact=True).click()
    page.keyboard.press("ArrowDown")
    expect(bench.field("lantern arm.translation.x")).to_be_visible()
    page.keyboard.press("ArrowUp")
    tree.get_by_text("ferry", exact=True).click(modifiers=["Control"])
    expect(page.get_by_text("2 parts chosen: a value goes to all of them")).to_be_visible()
    expect(bench.field("ferry.translation.x")).to_have_value("several")
    typed(bench.field("ferry.translation.y"), "0", ".", "4", "Enter")
    bench.saved(1)
    assert bench.value("ferry.translation.y", 30) == bench.value("mast.translation.y", 30) == 0.4
    page.get_by_role("button", name="Rename the parts").click()
    page.get_by_role("textbox", name="Pattern of the names").fill("wood ##")
    told = page.get_by_role("list", name="What they would be called")
    expect(told).to_contain_text("mast → wood 0")
    page.get_by_role("button", name="Rename 2").click()
    bench.saved(2)
    names = {part.name for part in bench.evaluation().scene.parts.values()}
    assert {"wood 01", "wood 02"} <= names


def test_popups_and_panels_leave_the_keyboard_where_it_belongs(bench: Bench) -> None:
    bench.open("p1", "translation.x", 52)
    page = bench.page
    frame = bench.field("Frame")
    page.keyboard.press("ArrowRight")
    expect(frame).to_have_value("53")
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    expect(frame).not_to_have_value("53")
    page.keyboard.press("Space")
    typed(frame, "5", "2", "Enter")
    ledger = page.get_by_role("region", name="Account")
    page.keyboard.press("]")
    expect(ledger).to_have_css("width", "0px")
    page.keyboard.press("]")
    expect(ledger).not_to_have_css("width", "0px")
    page.keyboard.press("F6")
    page.keyboard.press("F6")
    channels = page.get_by_role("region", name="Channels of the part")
    expect(channels.locator(":focus")).to_have_count(1)
    page.keyboard.press("k")
    expect(bench.field("Frame of the key")).to_have_value("50")
    page.keyboard.press("Control+a")
    expect(page.get_by_text("4 keys", exact=True)).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("interpolation hold")
    page.keyboard.press("Enter")
    bench.saved(1)
    assert {key.interpolation for key in curve(bench).keys} == {"hold"}
    inside = page.locator("[data-popup]")
    page.get_by_role("button", name="Values…").click()
    expect(inside.locator(":focus")).to_have_count(1)
    # A click outside closes it, and does what it is meant for.
    page.get_by_role("button", name="One frame on").click()
    expect(inside).to_have_count(0)
    expect(bench.field("Frame")).to_have_value("51")


def test_addresses_of_what_is_not_there_say_so(bench: Bench) -> None:
    page = bench.page
    page.goto(f"{bench.server.url}/scenes/{bench.number}/bench?part=p1&channel=c99&frame=150")
    expect(
        page.get_by_text(
            "The link shows what is nearest: its channel is not on this part any more; "
            "frame 150 is outside 0 to 120."
        )
    ).to_be_visible()
    expect(bench.field("Frame")).to_have_value("120")
    typed(bench.field("Frame"), "1", "5", "0", "Enter")
    told = page.get_by_text("The range is 0 to 120: 150 is outside.")
    expect(told).to_be_visible()
    # What is told covers neither the views' names nor what stands right below them.
    bar, words = page.locator("header").bounding_box(), told.bounding_box()
    assert bar and words and words["y"] > bar["y"] + bar["height"] + 36
    nowhere = {
        f"/scenes/{bench.number}/kitchen": "There is no page here",
        "/scenes/99999/bench": "There is no scene 99999.",
    }
    for address, says in nowhere.items():
        page.goto(f"{bench.server.url}{address}")
        expect(page.get_by_text(says)).to_be_visible()


@only_wide
def test_a_part_shows_its_account_and_all_its_curves(heron: Bench) -> None:
    page = heron.page
    page.goto(f"{heron.server.url}/scenes/{heron.number}/bench?part=p2&frame=40")
    account = page.get_by_role("region", name="Account of body")
    expect(account.get_by_role("region", name="keyed")).to_contain_text("spread ·4")
    expect(account.get_by_role("region", name="driven")).to_contain_text("translation.y")
    expect(account.get_by_role("region", name="keyed")).to_contain_text("flow layertranslation.y")
    curves = page.locator("[data-thin]")
    expect(curves.filter(has_text="rotation.x")).to_have_count(1)
    # What stands still throughout is not drawn.
    expect(curves.filter(has_text="scale.x")).to_have_count(0)
    account.get_by_role("button", name=re.compile("^▸ .* quiet")).click()
    expect(account.get_by_role("region", name="quiet channels")).to_contain_text("scale.x")
    page.locator("[data-thin='rotation.x'] path").last.dispatch_event("pointerdown")
    expect(page.get_by_role("img", name="Curves of body.rotation.x")).to_be_visible()
    expect(curves).to_have_count(2)
    page.get_by_role("button", name="beside: its group").click()
    beside = page.get_by_role("combobox", name="Curves beside the chosen one")
    beside.click()
    beside.press("ArrowDown")
    beside.press("Enter")
    expect(curves.filter(has_text="spread")).to_have_count(1)
    page.get_by_role("button", name="Pin crouch").click()
    page.keyboard.press("Escape")
    # What is pinned stays where another part is chosen.
    page.get_by_role("tree").get_by_text("neck 1", exact=True).click()
    pinned = page.locator("[data-thin='body.crouch']")
    expect(pinned).to_have_count(1)
    page.get_by_role("button", name="Unpin body.crouch").click()
    expect(pinned).to_have_count(0)


@only_wide
def test_keys_of_several_curves_are_boxed_and_moved_together(bench: Bench) -> None:
    page = bench.page
    page.goto(f"{bench.server.url}/scenes/{bench.number}/bench?part=p1&frame=60")
    marks = page.locator("[data-thin='translation.x'] [data-marks='4']")
    expect(marks).to_have_count(1)
    plane = page.get_by_role("img", name="Curves of the chosen parts").bounding_box()
    assert plane
    # From frame 75 on: one key of the way, both of the landing.
    page.mouse.move(plane["x"] + 124 + 0.62 * (plane["width"] - 140), plane["y"] + 4)
    page.mouse.down()
    page.mouse.move(plane["x"] + plane["width"] - 4, plane["y"] + plane["height"] - 24, steps=4)
    page.mouse.up()
    expect(page.get_by_text("3 keys")).to_be_visible()
    frames = page.get_by_role("textbox", name="Frames of the keys")
    frames.fill("+2")
    frames.press("Enter")
    bench.saved(1)
    curves = bench.evaluation().scene.curves
    found = [
        [key.frame for key in curves[ChannelRef("p1", one)].keys] for one in ("translation.x", "c3")
    ]
    assert found == [[10.0, 50.0, 70.0, 112.0], [94.0, 118.0]]
    # A click on a mark chooses its channel and that key.
    page.keyboard.press("Escape")
    at = marks.bounding_box()
    assert at
    page.mouse.click(at["x"] + 3, at["y"] + at["height"] - 3)
    expect(page.get_by_role("textbox", name="Frame of the key")).to_have_value("10")
    expect(page.get_by_role("img", name="Curves of ferry.translation.x")).to_be_visible()


@only_wide
def test_numbers_are_looked_at_in_centimetres_and_turns_and_stay_what_they_are(
    bench: Bench,
) -> None:
    page, field = bench.page, bench.field("ferry.translation.z")
    bench.open("p1", "translation.z", 10)
    expect(field).to_have_value("0.000")
    page.get_by_role("button", name="Scene settings").click()
    page.get_by_text("cm", exact=True).click()
    bench.saved(1)
    # All is drawn anew, and the settings stay open.
    page.get_by_text("turns", exact=True).click()
    bench.saved(2)
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    field.fill("105")
    field.press("Enter")
    bench.saved(3)
    assert bench.value("ferry.translation.z", 10) == pytest.approx(1.05, abs=1e-12)
    expect(field).to_have_value("105.00")
    expect(page.get_by_text(re.compile(r"^-?[\d.−]+ cm$")).first).to_be_visible()
    turn = bench.field("ferry.rotation.y")
    turn.fill("0.25")
    turn.press("Enter")
    bench.saved(4)
    assert bench.value("ferry.rotation.y", 10) == pytest.approx(90.0, abs=1e-12)
    # A formula calculates in metres, and says so; its card is wide enough for turns.
    bench.open("p3", "rotation.z", 10)
    expect(page.get_by_role("list", name="reads").last).to_contain_text("0.500 m")
    expect(page.get_by_role("article").last).to_contain_text("turns")
    beyond = page.locator("article").evaluate_all(
        """(cards) => cards.filter((card) => [...card.querySelectorAll("svg, span")].some(
          (one) => one.getBoundingClientRect().right > card.getBoundingClientRect().right + 1,
        )).length"""
    )
    assert beyond == 0


def middle(locator: Locator) -> tuple[float, float]:
    """Where the middle of something is."""
    box = locator.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


@only_wide
def test_fingers_scrub_drag_and_zoom(bench: Bench) -> None:
    page = bench.page
    hand = page.context.new_cdp_session(page)
    hand.send("Emulation.setTouchEmulationEnabled", {"enabled": True})
    bench.open("p1", "translation.x", 20)
    frame = page.get_by_role("textbox", name="Frame", exact=True)
    keys = page.locator("circle[data-frame]")
    expect(keys).to_have_count(4)

    def touch(*steps: list[tuple[float, float]]) -> None:
        """Fingers go down at the first step, along the others, and up."""
        for n, points in enumerate(steps):
            kind = "touchMove" if n else "touchStart"
            fingers = [{"x": x, "y": y, "id": k} for k, (x, y) in enumerate(points)]
            hand.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": fingers})
        hand.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

    x, y = middle(page.get_by_test_id("ruler"))
    touch([(x - 100, y)], [(x - 40, y)], [(x, y)])
    expect(frame).to_have_value("60")
    # A finger need not meet the mark itself.
    x, y = middle(bench.key(50))
    touch([(x + 9, y + 5)], [(x + 30, y + 5)], [(x + 69, y - 15)])
    bench.saved(1)
    moved = [key.frame for key in curve(bench).keys]
    assert moved[1] > 55.0 and moved[0] == 10.0
    lanes = page.get_by_role("region", name="Lanes").locator("svg").last
    box = lanes.bounding_box()
    assert box
    touch(
        [(middle(bench.key(110))[0] + 8, box["y"] + 9)],
        [(box["x"] + box["width"] - 5, box["y"] + 9)],
    )
    bench.saved(2)
    assert curve(bench).keys[-1].frame > 112.0
    field = bench.field("ferry.translation.z")
    x, y = middle(field)
    touch([(x, y)], [(x + 20, y)], [(x + 50, y)])
    bench.saved(3)
    assert bench.value("ferry.translation.z", 60) == pytest.approx(0.5, abs=0.05)
    # Two fingers that go apart come nearer; nothing is chosen or moved by that.
    x, y = middle(page.get_by_role("img", name="Curves of ferry.translation.x"))
    before = bench.drawn()[-1, 0] - bench.drawn()[0, 0]
    touch([(x - 50, y), (x + 50, y)], [(x - 100, y), (x + 50, y)], [(x - 100, y), (x + 100, y)])
    # The last move is drawn with the next picture.
    page.evaluate("new Promise((done) => requestAnimationFrame(() => setTimeout(done)))")
    assert bench.drawn()[-1, 0] - bench.drawn()[0, 0] == pytest.approx(2.0 * before, rel=0.05)
    bench.saved(3)
    hand.send("Emulation.setTouchEmulationEnabled", {"enabled": False})
