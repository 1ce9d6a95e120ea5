"""References: drawings pinned beside and behind the view; a sound over the lanes, heard in time."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import FilePayload, Page, expect

from bindu.demo.pinned import MEDIA
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo
from tests.wide import only_wide

LISTEN = """() => {
    window.heard = [];
    AudioBufferSourceNode.prototype.start = function (when, offset, long) {
        window.heard.push([offset, long ?? null, this.buffer.duration]);
    };
    AudioBufferSourceNode.prototype.stop = () => undefined;
}"""


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    made = Bench(page, server, server.bring(write_scene(demo("ferry-crossing"))))
    made.open("p1", "translation.x", 20)
    return made


def pin(bench: Bench, *files: Path | FilePayload) -> None:
    """Chooses files to be pinned."""
    page = bench.page
    if not page.get_by_role("dialog", name="References").is_visible():
        page.get_by_role("button", name="references…").click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Pin files…").click()
    chooser.value.set_files(list(files))  # type: ignore[arg-type]


def step(page: Page, frame: int) -> None:
    """Goes to a frame by its field."""
    field = page.get_by_role("textbox", name="Frame", exact=True)
    field.fill(str(frame))
    field.press("Enter")


def test_a_drawing_is_pinned_seen_on_its_frames_and_kept(bench: Bench) -> None:
    page = bench.page
    pin(bench, MEDIA / "heron-bends.png")
    bench.saved(1)
    drawing = page.get_by_role("img", name="heron-bends")
    expect(drawing).to_be_visible()
    assert drawing.evaluate("image => image.decode().then(() => image.naturalWidth)") == 320
    one = page.get_by_role("region", name="Reference heron-bends")
    last = one.get_by_label("Last frame of heron-bends")
    last.fill("30")
    last.press("Enter")
    bench.saved(2)
    slider = one.get_by_role("slider", name="Opacity of heron-bends")
    slider.press("ArrowLeft")
    bench.saved(3)
    expect(drawing).to_have_css("opacity", "0.95")
    scene = read_scene(bench.server.get(f"/scenes/{bench.number}/export").text)
    (pinned,) = scene.references.values()
    assert (pinned.first, pinned.last, pinned.opacity) == (20.0, 30.0, 0.95)
    assert scene.media[pinned.medium].plain == (MEDIA / "heron-bends.png").read_bytes()
    # What is no picture is refused by what it is, and not by its name.
    pin(bench, {"name": "odd.png", "mimeType": "image/png", "buffer": b"<svg/>"})
    expect(page.get_by_text("it is no picture")).to_be_visible()
    page.keyboard.press("Escape")
    for frame, there in ((31, False), (30, True)):
        step(page, frame)
        expect(drawing).to_have_count(int(there))
    page.get_by_role("button", name="references…").click()
    page.get_by_role("button", name="Delete heron-bends").click()
    bench.saved(4)
    expect(drawing).to_have_count(0)
    bench.server.get(f"/scenes/{bench.number}/media/{pinned.medium}", 422)
    pin(bench, MEDIA / "heron-stands.png", MEDIA / "heron-strides.png")
    bench.saved(6)
    for name in ("heron-stands", "heron-strides"):
        expect(page.get_by_role("img", name=name, exact=True)).to_be_visible()


@only_wide
def test_a_sound_has_its_wave_over_the_lanes_and_is_heard_in_time(bench: Bench) -> None:
    page = bench.page
    page.evaluate(LISTEN)
    step(page, 24)
    pin(bench, MEDIA / "metronome.wav")
    bench.saved(1)
    lane = page.get_by_role("group", name="Sound metronome")
    wave = lane.locator("path")
    expect(wave).to_have_attribute("d", re.compile("^M.*Z$"))
    box, ruler = wave.bounding_box(), lane.bounding_box()
    assert box and ruler
    # Six seconds at 24 a second from frame 24 on: beyond the last frame.
    assert box["width"] > 0.6 * ruler["width"]
    page.keyboard.press("Escape")

    def heard(count: int) -> list[Any]:
        page.wait_for_function(f"window.heard.length >= {count}")
        found: list[Any] = page.evaluate("window.heard.splice(0)")
        return found

    # On a frame that is gone to a moment of it: half a second in.
    step(page, 36)
    ((offset, long, duration),) = heard(1)
    assert (offset, long, duration) == (pytest.approx(0.5), 0.08, pytest.approx(6.0, abs=0.01))
    step(page, 10)
    page.keyboard.press("Space")
    # From its beginning to its end, and the same again where the scene has gone round meanwhile.
    assert all((offset, long) == (0.0, None) for offset, long, _ in heard(1))
    page.keyboard.press("Space")
    # Two and a half seconds: what is not heard on a frame before its first one.
    step(page, 84)
    assert heard(1)[-1][0] == pytest.approx(2.5)
    # What is packed as Ogg is heard as well.
    pin(bench, Path(__file__).parent / "tick.ogg")
    bench.saved(2)
    lane = page.get_by_role("group", name="Sound tick")
    expect(lane.locator("path")).to_have_attribute("d", re.compile("^M.*Z$"))
    page.keyboard.press("Escape")
    page.evaluate("window.heard.splice(0)")
    step(page, 96)
    lasts = [duration for _, _, duration in heard(2)]
    assert sorted(lasts) == [pytest.approx(1.5, abs=0.05), pytest.approx(6.0, abs=0.01)]
