"""The Still Marsh: made-up scenes, built with the same edits that a person makes."""

from __future__ import annotations

from bindu.core.scene.model import Scene
from bindu.demo.beetles import the_water_beetles
from bindu.demo.brood import the_brood
from bindu.demo.ferry import ferry_crossing
from bindu.demo.heron import heron_at_the_shallows
from bindu.demo.hurried import the_hurried_heron
from bindu.demo.lamplighter import the_lamplighter
from bindu.demo.mooring import the_mooring
from bindu.demo.two_ferries import two_ferries
from bindu.demo.walking import the_heron_walks


def demo_scenes() -> tuple[Scene, ...]:
    """All scenes of the demo, in the order of the home page."""
    return (
        ferry_crossing(),
        heron_at_the_shallows(),
        two_ferries(),
        the_mooring(),
        the_lamplighter(),
        the_hurried_heron(),
        the_heron_walks(),
        the_water_beetles(),
        the_brood(),
    )
