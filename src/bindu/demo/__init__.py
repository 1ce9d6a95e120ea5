"""The Still Marsh: made-up scenes, built with the same edits that a person makes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

from bindu.core.scene.model import Scene
from bindu.demo.beetles import the_water_beetles
from bindu.demo.brood import the_brood
from bindu.demo.ferry import ferry_crossing
from bindu.demo.heron import heron_at_the_shallows
from bindu.demo.hurried import the_hurried_heron
from bindu.demo.lamplighter import the_lamplighter
from bindu.demo.mooring import the_mooring
from bindu.demo.pinned import MEDIA
from bindu.demo.two_ferries import two_ferries
from bindu.demo.walking import the_heron_walks

EXAMPLES = Path(__file__).parents[3] / "examples"

DEMO: Mapping[str, Callable[[], Scene]] = {
    "Ferry crossing": ferry_crossing,
    "Heron at the shallows": heron_at_the_shallows,
    "Two ferries": two_ferries,
    "The mooring": the_mooring,
    "The lamplighter": the_lamplighter,
    "The hurried heron": the_hurried_heron,
    "The heron walks": the_heron_walks,
    "The water beetles": the_water_beetles,
    "The brood": the_brood,
}
"""What makes each scene of the demo, in the order of the home page."""

FINDINGS: Mapping[str, int] = {
    "Ferry crossing": 5,
    "Heron at the shallows": 24,
    "Two ferries": 9,
    "The mooring": 1,
    "The lamplighter": 10,
    "The hurried heron": 41,
    "The heron walks": 2,
    "The water beetles": 0,
    "The brood": 0,
}
"""How many findings nobody accepted checks have in each, so that a first start need not look."""


def scene_file(name: str) -> Path:
    """Where a scene of the demo is kept as a file: read in a part of the time of building it."""
    return EXAMPLES / f"{_slug(name)}.bindu.json"


def portrait_file(name: str) -> Path:
    """Where the picture of a scene of the demo is, for the home page."""
    return MEDIA / f"{_slug(name)}.webp"


def _slug(name: str) -> str:
    return name.lower().replace(" ", "-")


def demo_scenes() -> tuple[Scene, ...]:
    """All scenes of the demo, in the order of the home page."""
    return tuple(made() for made in DEMO.values())
