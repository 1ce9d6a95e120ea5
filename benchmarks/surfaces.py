"""Speed of surfaces: a shown frame of 500 points with two rounds of subdivision.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.surfaces
"""

from __future__ import annotations

import time

import numpy as np

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.deforms import AddDeform, ChangeDeform, PutShape
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.surfaces import MakeSurface
from bindu.core.evaluation import evaluate
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.surface.deforming import deformed, in_world

JOINTS = tuple(f"j{n}" for n in range(6))
BOUND = 0.033
"""Seconds for a shown frame."""


def snake() -> Scene:
    """A tube of 504 points over six joints, with a step of each kind."""
    edits: list[AnyEdit] = [
        AddPart("body", id="body"),
        MakeSurface("skin", "body", "tube", (3.0, 0.4, 0.4), divisions=(41.0, 12.0, 1.0), id="f1"),
    ]
    for n, joint in enumerate(JOINTS):
        rest = Rest((-1.3 if n == 0 else 0.5, 0.0, 0.0))
        edits.append(AddPart(joint, JOINTS[n - 1] if n else "body", rest=rest, id=joint))
        edits.append(PutKeys(joint, "rotation.y", (Key(0.0, -20.0), Key(120.0, 30.0))))
    return applied(
        Scene(),
        [
            *edits,
            AddDeform("f1", "blend shapes", "shapes", id="d3"),
            PutShape("f1", "d3", "fat", tuple(range(100, 300)), swell=0.1, id="h1"),
            SetValue("body", "f1.d3.h1", 0.5),
            AddDeform("f1", "bend by joints", "bend", JOINTS, "d4"),
            AddDeform("f1", "displace", "ripples", id="d5"),
            ChangeDeform("f1", "d1", rounds=2),
        ],
    )


def main() -> None:
    """Prints each order's time for a frame against the bound, and what each step took."""
    scene = snake()
    found, surface = evaluate(scene), scene.surfaces["f1"]
    orders = {
        "subdivided last": ["d3", "d4", "d5", "d1", "d2"],
        "subdivided first": ["d1", "d3", "d4", "d5", "d2"],
    }
    print(f"{len(surface.points)} points of the cage")
    for name, order in orders.items():
        deformed(found, surface, [0], order)
        took = []
        for frame in range(1, 41):
            start = time.perf_counter()
            made = deformed(found, surface, [frame], order)
            in_world(made[-1].form, found, surface)
            took.append(time.perf_counter() - start)
        median = float(np.median(took))
        print(f"{name}: {median * 1e3:.1f} ms a frame, {median / BOUND:.2f} of the bound")
        for one in made[1:]:
            assert one.step is not None
            print(f"  {one.step.name}: {one.seconds * 1e3:.1f} ms, {one.form.mesh.count} points")


if __name__ == "__main__":
    main()
