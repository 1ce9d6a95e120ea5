"""The kit: one list of all things of a rig by kind, and the form of the chosen one beside it."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo


@pytest.fixture
def heron(page: Page, server: Server) -> Bench:
    """The heron, its kit shown."""
    made = Bench(page, server, server.bring(write_scene(demo("heron-at-the-shallows"))))
    made.open("p15", "rotation.x", 40)
    page.get_by_text("kit", exact=True).first.click()
    return made


def test_things_are_found_shown_renamed_deleted_and_made_in_one_list(heron: Bench) -> None:
    page = heron.page
    kit = page.get_by_role("group", name="Kit")
    scene = heron.evaluation().scene
    for kind, count in (("sets", len(scene.sets)), ("limbs", len(scene.limbs))):
        expect(kit.get_by_role("button", name=f"{kind}, {count}", exact=True)).to_be_visible()
    page.get_by_role("textbox", name="Find in the kit").fill("left leg")
    expect(kit.get_by_role("listitem")).to_have_count(3)
    limb = kit.get_by_role("button", name="limb left leg", exact=True)
    limb.click()
    form = page.get_by_role("region", name="Form of the limb")
    expect(form).to_contain_text("left hip › left knee › left ankle › left toes")
    limb.press("F2")
    field = kit.get_by_role("textbox", name="New name of the limb left leg")
    field.fill("port leg")
    field.press("Enter")
    heron.saved(1)
    expect(form.get_by_role("textbox", name="Name of the limb port leg")).to_be_visible()
    expect(kit.get_by_role("listitem")).to_have_count(2)
    page.get_by_role("textbox", name="Find in the kit").fill("")
    kit.get_by_role("button", name="Show the limb port leg").click()
    expect(page.get_by_role("region", name="Channels of the part")).to_contain_text(
        "6 parts chosen"
    )
    kit.get_by_role("button", name="limb port leg", exact=True).press("Delete")
    heron.saved(2)
    expect(form).to_have_count(0)
    assert [limb.name for limb in heron.evaluation().scene.limbs.values()] == ["right leg"]
    # What is made has its form at once, and what is taken back has it no more.
    kit.get_by_role("button", name="New set", exact=True).click()
    page.get_by_role("textbox", name="Name of the new set").fill("leg")
    page.get_by_role("button", name="Save 6 parts").click()
    heron.saved(3)
    held = page.get_by_role("list", name="What leg holds")
    expect(held.get_by_role("listitem")).to_have_count(6)
    page.get_by_role("button", name="Undo").click()
    heron.saved(4)
    expect(page.get_by_role("region", name="Form of the set")).to_have_count(0)
