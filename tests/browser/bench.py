"""What a person does and reads on the Bench."""

from __future__ import annotations

import re

import numpy as np
from playwright.sync_api import Locator, Page

from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.scene.channels import Tap
from bindu.core.scene.names import channel_named
from bindu.formats.scene.scene_json import read_scene
from tests.conftest import Server

# Found by the browser itself: words are looked for in the whole page, hundreds of times a run.
SAVED = "header [role=status]"


def shown(value: float, unit: str = "°") -> str:
    """A value as the page writes it."""
    text = f"{value:.2f}" if unit == "°" else f"{value:.3f}"
    text = text.lstrip("-") if float(text) == 0 else text.replace("-", "−")
    return f"{text}°" if unit == "°" else f"{text} {unit}".strip()


def open_in_kit(page: Page, kind: str, name: str | None = None) -> None:
    """See ``Bench.kit``."""
    page.get_by_text("kit", exact=True).first.click()
    called = f"New {kind}" if name is None else f"{kind} {name}"
    page.get_by_role("group", name="Kit").get_by_role("button", name=called, exact=True).click()


class Bench:
    """A scene open on the Bench."""

    def __init__(self, page: Page, server: Server, number: int) -> None:
        self.page, self.server, self.number = page, server, number
        self._known: tuple[str, Evaluation] | None = None

    def open(self, part: str, channel: str, frame: int) -> None:
        """Opens a channel's ledger and curve by the address, as from a colleague's link."""
        query = f"part={part}&channel={channel}&frame={frame}"
        self.page.goto(f"{self.server.url}/scenes/{self.number}/bench?{query}")
        self.page.locator(f"{SAVED}[title^='saved · edit']").wait_for()

    def kit(self, kind: str, name: str | None = None) -> None:
        """Opens the form of a thing in the kit, or of a new one of its kind."""
        open_in_kit(self.page, kind, name)

    def saved(self, revision: int) -> None:
        """Waits until so many edits are acknowledged."""
        # Unlike expect(), which writes down the whole page each time it looks in vain.
        self.page.locator(f"{SAVED}[title='saved · edit {revision}']").wait_for()

    def evaluation(self) -> Evaluation:
        """What the core makes of the scene that the server holds now."""
        text = self.server.get(f"/scenes/{self.number}/export").text
        if self._known is None or self._known[0] != text:
            self._known = text, evaluate(read_scene(text))
        return self._known[1]

    def value(self, name: str, frame: int, tap: Tap = "final") -> float:
        """A channel's value by the core."""
        found = self.evaluation()
        values = found.channel(channel_named(found.scene, name), tap)
        return float(values[frame if len(values) > 1 else 0])

    def bead(self, name: str) -> Locator:
        """A step in the ledger."""
        return self.page.get_by_role("article", name=name, exact=True)

    def field(self, name: str) -> Locator:
        """A channel's value in the list."""
        return self.page.get_by_role("textbox", name=name, exact=True)

    def line(self, tap: str = "final") -> Locator:
        """The drawn curve of a tap."""
        return self.page.locator(f"path[data-tap='{tap}']")

    def key(self, frame: float) -> Locator:
        """A key in the plane of curves."""
        return self.page.locator(f"circle[data-frame='{frame:g}']")

    def drawn(self, tap: str = "final") -> np.ndarray:
        """The points of a drawn curve in pixels, shape (F, 2)."""
        path = self.line(tap).get_attribute("d") or ""
        return np.array(
            [[float(n) for n in pair.split(",")] for pair in re.split("[ML]", path)[1:]]
        )

    def expect_drawn(self, name: str, tap: Tap = "final") -> None:
        """The drawn curve is, but for the scale of the axes, the one that the core computes."""
        values = self.evaluation()
        expected = values.channel(channel_named(values.scene, name), tap)
        points = self.drawn(tap)
        assert len(points) == len(expected)
        slope, offset = np.polyfit(expected, points[:, 1], 1)
        np.testing.assert_allclose(slope * expected + offset, points[:, 1], atol=0.05)
        assert slope < 0
