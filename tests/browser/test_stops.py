"""Driven keys in the Stops view: wired, posed, tried, and followed in another tab."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from bindu.cli import main
from bindu.core.drivers.sheets import mapping_of
from bindu.core.edits import applied
from bindu.core.edits.driven import RemoveDriven
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench, shown
from tests.conftest import Server
from tests.demos import demo
from tests.wide import only_wide

ROWS = {
    "gangway.rotation.z": ("0", "-18", "-61", "-92"),
    "step board.translation.x": ("0", "0.04", "0.22", "0.31"),
    "lantern.brightness": ("0", "0", "0.4", "1"),
}
STOPS = ("0", "2.5", "6", "10")


@pytest.fixture
def bare(page: Page, server: Server) -> Bench:
    """The ferry without its driven keys."""
    scene = applied(demo("ferry-crossing"), [RemoveDriven("d1")])
    return Bench(page, server, server.bring(write_scene(scene)))


def open_stops(bench: Bench, frame: int) -> None:
    """Opens the Stops view with the landing chosen."""
    query = f"part=p1&channel=c3&frame={frame}"
    bench.page.goto(f"{bench.server.url}/scenes/{bench.number}/stops?{query}")
    expect(bench.page.get_by_text("saved · edit")).to_be_visible()


def put(page: Page, field: str, text: str) -> None:
    """Types into a field."""
    found = page.get_by_role("textbox", name=field, exact=True)
    found.fill(text)
    found.press("Enter")


def test_the_gangway_is_wired_from_nothing(
    bare: Bench, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    open_stops(bare, 104)
    page = bare.page
    expect(page.get_by_text("No driven keys yet.")).to_be_visible()
    page.get_by_role("button", name="Add driven keys").click()
    expect(page.get_by_role("textbox", name="Driver of the new set")).to_have_value(
        "{ferry.landing}"
    )
    put(page, "Name of the set", "lower gangway")
    bare.saved(1)
    for n, stop in enumerate(STOPS[1:3]):
        put(page, "Driver now", stop)
        page.get_by_role("button", name="Add a stop here").click()
        bare.saved(2 + n)
    page.get_by_role("button", name="End trying").click()
    wanted = page.get_by_role("combobox", name="Channels for new rows")
    for name in ROWS:
        wanted.fill(name)
        page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Add 3 rows").click()
    bare.saved(4)
    revision = 4
    for name, cells in ROWS.items():
        for stop, value in zip(STOPS, cells, strict=True):
            if value != "0":
                put(page, f"{name} at {stop}", value)
                revision += 1
                bare.saved(revision)
    scene = bare.evaluation().scene
    for row in scene.rows_of["d1"]:
        assert [key.frame for key in mapping_of(row).keys] == [0.0, 2.5, 6.0, 10.0]
    path = tmp_path / "ferry.json"
    path.write_text(bare.server.get(f"/scenes/{bare.number}/export").text)
    for name, cells in ROWS.items():
        for stop, value in zip(STOPS, cells, strict=True):
            field = page.get_by_role("textbox", name=f"{name} at {stop}", exact=True)
            assert float(field.input_value().rstrip("°").replace("−", "-")) == float(value)
        assert main(["curves", str(path), "--channel", name, "--tap", "driven"]) == 0
        rows = list(csv.DictReader(io.StringIO(capsys.readouterr().out)))
        unit = "°" if "rotation" in name else ""
        expect(page.get_by_label(f"{name} now")).to_have_text(
            shown(float(rows[104]["value"]), unit)
        )
    page.locator("header").click()
    for frame in (105, 106):
        page.keyboard.press("ArrowRight")
        expect(page.get_by_label("gangway.rotation.z now")).to_have_text(
            shown(bare.value("gangway.rotation.z", frame, "driven"))
        )


@only_wide
def test_a_block_is_pasted_what_is_odd_said_and_a_set_mirrored(bench: Bench) -> None:
    open_stops(bench, 104)
    page = bench.page
    page.get_by_role("textbox", name="handrail left.rotation.x at 2.5").focus()
    page.evaluate(
        """() => {
            const data = new DataTransfer();
            data.setData("text", "5\\t6\\n-7\\t−8°");
            document.activeElement.dispatchEvent(
                new ClipboardEvent("paste", { clipboardData: data, bubbles: true }));
        }"""
    )
    bench.saved(1)
    rows = {r.part: mapping_of(r).keys for r in bench.evaluation().scene.rows_of["d1"]}
    assert [key.value for key in rows["p12"]] == [0.0, 5.0, 6.0, 58.0]
    assert [key.value for key in rows["p13"]] == [0.0, -7.0, -8.0, -58.0]
    put(page, "handrail left.rotation.x at 10", "0")
    bench.saved(2)
    expect(page.get_by_text("handrail left.rotation.x turns back near")).to_be_visible()
    page.get_by_role("button", name="Mirror", exact=True).click()
    bench.saved(3)
    scene = bench.evaluation().scene
    mirrored = next(d for d in scene.driven.values() if d.name == "lower gangway other side")
    across = {r.part: mapping_of(r) for r in scene.rows_of[mirrored.id]}
    assert set(across) == {"p12", "p13"}
    # A turn about x stays as it is in the mirror x = 0.
    assert [key.value for key in across["p13"].keys] == [0.0, 5.0, 6.0, 0.0]
    assert [key.value for key in across["p12"].keys] == [0.0, -7.0, -8.0, -58.0]


def test_another_tab_follows_within_a_second(bench: Bench, page: Page) -> None:
    open_stops(bench, 104)
    other = Bench(page.context.new_page(), bench.server, bench.number)
    other.open("p10", "rotation.z", 104)
    field = other.field("gangway.rotation.z")
    expect(field).to_have_value(shown(bench.value("gangway.rotation.z", 104)))
    put(bench.page, "gangway.rotation.z at 6", "-45")
    bench.saved(1)
    expect(field).to_have_value(shown(bench.value("gangway.rotation.z", 104)), timeout=2000)
    other.saved(1)
    other.page.route("**/revision", lambda route: route.abort())
    expect(other.page.get_by_text("what is shown may be old")).to_be_visible()
    other.page.unroute("**/revision")
    other.saved(1)


def test_a_driver_is_tried_a_stop_posed_and_nothing_saved_until_it_is_captured(
    bench: Bench,
) -> None:
    query = "part=p10&channel=rotation.z&frame=104"
    page = bench.page
    page.goto(f"{bench.server.url}/scenes/{bench.number}/stops?{query}")
    now = page.get_by_label("gangway.rotation.z now")
    was = shown(bench.value("gangway.rotation.z", 104))
    expect(now).to_have_text(was)
    put(page, "Driver now", "10")
    expect(now).to_have_text("−92.00°")
    page.get_by_role("button", name="End trying").click()
    expect(now).to_have_text(was)
    page.get_by_role("button", name="at 6", exact=True).click()
    # The row of the channel that is looked at, not the first.
    expect(page.get_by_role("region", name="Shape of the row")).to_contain_text("gangway")
    field = page.get_by_role("textbox", name="gangway.rotation.z, posed")
    expect(field).to_have_value("−61.00°")
    field.fill("-70")
    field.press("Enter")
    expect(field).to_have_value("−70.00°")
    # A pose waits for its stop until it is captured.
    page.get_by_role("button", name="at 2.5", exact=True).click()
    expect(page.get_by_text("1 stop has a pose that is not captured yet.")).to_be_visible()
    page.get_by_role("button", name="at 6 ✎", exact=True).click()
    expect(field).to_have_value("−70.00°")
    # On the Bench too what is typed is the stop's pose.
    page.get_by_role("button", name="Bench", exact=True).click()
    expect(page.get_by_text("Posing the stop 6")).to_be_visible()
    put(page, "gangway.rotation.z", "-50")
    expect(page.get_by_role("textbox", name="gangway.rotation.z", exact=True)).to_have_value(
        "−50.00°"
    )
    bench.saved(0)
    page.get_by_role("button", name="Stops", exact=True).click()
    page.get_by_role("button", name="Capture pose at 6").click()
    bench.saved(1)
    expect(page.get_by_role("textbox", name="gangway.rotation.z at 6")).to_have_value("−50°")
    assert not bench.evaluation().scene.parts["p10"].values
