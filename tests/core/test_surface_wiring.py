"""Surfaces in the picture of what reads what."""

from __future__ import annotations

from bindu.core.account.wiring import wiring_of
from bindu.core.edits import applied
from bindu.core.edits.steps import AddStep
from bindu.core.edits.surfaces import RemoveSurface
from bindu.core.graph.graph import graph_of
from bindu.core.scene.settings import FormulaSettings
from tests.demos import demo


def test_a_surface_reads_its_joints_its_part_and_what_drives_its_steps() -> None:
    scene = demo("the-mooring")
    surface = scene.surfaces["f1"]
    ripples = surface.steps[2]
    steered = AddStep(surface.part, "calm", FormulaSettings(f"f1.{ripples.id}.amplitude", "0.01"))
    wiring = wiring_of(graph_of(applied(scene, [steered])))
    (card,) = (one for one in wiring.cards if one.kind == "surface")
    assert (card.part, card.thing) == (surface.part, "f1")
    assert [port.label for port in card.ports] == [step.name for step in surface.steps]
    wires = [wire for wire in wiring.wires if wire.target_card == card.id]
    bends = [wire for wire in wires if wire.target == f"f1/{surface.steps[1].id}"]
    assert len(bends) == 5, "one for each joint"
    assert "“bend” of the surface “skin” reads" in bends[0].text
    assert [w.source.split("@")[0] for w in wires if w.target == f"f1/{ripples.id}"] == [
        f"{surface.part}/f1.{ripples.id}.amplitude"
    ]
    assert [w.source for w in wires if w.target == f"f1/{surface.steps[-1].id}"] == [
        f"{surface.part}/world matrix@final"
    ]
    column = {one.id: one.column for one in wiring.cards}
    assert all(column[wire.source_card] < card.column for wire in wires)
    bare = wiring_of(graph_of(applied(scene, [RemoveSurface("f1")])))
    assert all(one.kind != "surface" for one in bare.cards)
