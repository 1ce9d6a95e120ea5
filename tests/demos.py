"""The demo's scenes, read from their files: tests/formats holds that these are the demo's own.
Reading one takes a part of the time of building it, and nothing is read until it is asked for."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from bindu.core.scene.model import Scene
from bindu.formats.scene.scene_json import read_scene

DEMOS = sorted((Path(__file__).parents[1] / "examples").glob("*.bindu.json"))
DEMO_NAMES = [file.name.removesuffix(".bindu.json") for file in DEMOS]
RIGS = [name for name in DEMO_NAMES if name not in ("the-hurried-heron", "two-ferries")]
"""Those with a rig of their own."""


@cache
def demo(name: str) -> Scene:
    """The scene of a file."""
    return read_scene(DEMOS[DEMO_NAMES.index(name)].read_bytes())
