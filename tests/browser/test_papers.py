"""Both papers: everything can be read and found by programs that read pages, on all views and in
popups; the paper is chosen, kept, or the system's."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, expect

from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import ROOT, Server
from tests.demos import demo
from tests.wide import cases, only_wide

AXE = Path(ROOT) / "frontend/node_modules/axe-core/axe.min.js"
POPUPS = (
    "Values…",
    "Compare…",
    "place…",
    "references…",
    "Keys of the keyboard (?)",
    "+ bind",
    "tint",
)


def troubles(page: Page, rules: tuple[str, ...] = (), within: str = "html") -> list[str]:
    """What axe-core finds in a part of the page: by some rules, or all: contrast, names, roles,
    landmarks."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
    asked = {"resultTypes": ["violations"], **({"runOnly": list(rules)} if rules else {})}
    run = "([within, asked]) => axe.run(within, asked)"
    found = page.evaluate(run, [within, asked])["violations"]
    return [f"{one['id']}: {node['html'][:200]}" for one in found for node in one["nodes"]]


VIEWS = {
    "Wiring": "Looks like a loop",
    "Stops": "Driven-key sets",
    "Checks": "outside stops",
    "Deliver": "Take in",
    "Bench": "translation",
}
"""A word that is on each view."""


def test_nothing_is_amiss_on_any_view_nor_in_popups(page: Page, server: Server) -> None:
    server.bring(write_scene(demo("ferry-crossing")))
    page.goto(server.url)
    expect(page.get_by_role("link", name="Ferry crossing").first).to_be_visible()
    assert troubles(page) == []
    page.get_by_role("link", name="Ferry crossing").first.click()
    for view, word in VIEWS.items():
        page.get_by_role("button", name=view).click()
        expect(page.get_by_text(word).first).to_be_attached()
        # Of the Bench all is looked at once, when a channel is chosen and a popup open.
        assert view == "Bench" or troubles(page) == [], view
    page.get_by_role("tree").get_by_text("ferry", exact=True).click()
    page.get_by_role("button", name="ferry.translation.x", exact=True).click()
    expect(page.get_by_role("region", name="keyed")).to_be_visible()
    page.get_by_role("button", name="One frame on").hover()
    expect(page.get_by_role("tooltip")).to_have_text("One frame on (→)")
    assert troubles(page, within="[role=tooltip]") == []
    for name in cases(POPUPS[:3], POPUPS):
        page.get_by_role("button", name=name).first.click()
        expect(page.get_by_role("dialog")).to_be_visible()
        # The page around an open one is looked at once.
        within = "html" if name == POPUPS[0] else "[role=dialog]"
        assert troubles(page, within=within) == [], name
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
    for name in ("Shape…", "pose…"):
        page.get_by_role("button", name=name).first.click()
        expect(page.get_by_role("menu")).to_be_visible()
        assert troubles(page, within="[role=menu]") == [], name
        page.keyboard.press("Escape")
        expect(page.get_by_role("menu")).to_be_hidden()


@only_wide
def test_the_evening_paper_is_chosen_can_be_read_and_stays(bench: Bench) -> None:
    page = bench.page
    bench.open("p1", "translation.x", 50)

    def ground() -> str:
        return str(page.evaluate("getComputedStyle(document.body).backgroundColor"))

    day = ground()
    page.keyboard.press("/")
    page.get_by_role("combobox", name="Name of a part, channel or command").fill("paper: eve")
    page.keyboard.press("Enter")
    page.wait_for_function(f"getComputedStyle(document.body).backgroundColor !== '{day}'")
    expect(page.get_by_text("saved · edit 0")).to_be_visible()
    evening = ground()
    page.get_by_role("button", name="Values…").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert troubles(page, ("color-contrast",)) == []
    page.keyboard.press("Escape")
    for view, word in VIEWS.items():
        page.get_by_role("button", name=view).click()
        expect(page.get_by_text(word).first).to_be_attached()
        assert view == "Bench" or troubles(page, ("color-contrast",)) == [], view
    page.reload()
    expect(page.get_by_text("saved · edit 0")).to_be_visible()
    assert ground() == evening
    page.keyboard.press("?")
    page.get_by_role("radiogroup", name="Paper").get_by_text("as the system").click()
    page.wait_for_function(f"getComputedStyle(document.body).backgroundColor === '{day}'")
