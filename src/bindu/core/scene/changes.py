"""A scene with one thing more or changed.

What the scene knows of itself (its tree, the steps of each part and so on) is taken over where the
change cannot touch it, so that an edit of a large scene, and reading one edit by edit, costs little
more than what it changes.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from bindu.core.curves.model import Curve
from bindu.core.scene.channels import ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene, listed_order
from bindu.core.scene.parts import Part, Step

TREE = ("part_ids", "children", "tree_order")
LAYERS = ("layers_of", "layer_order")
STEPS = ("layer_steps", "steps_of", "rows_of", "members_of", "_writers")
OTHERS = ("channels_of", "owners", "owners_of")


def with_part(scene: Scene, part: Part) -> Scene:
    """The scene with a part more, or a changed one."""
    made = replace(scene, parts={**scene.parts, part.id: part})
    old = scene.parts.get(part.id)
    # Rows of driven keys stand in the order of the tree.
    _carry(scene, made, (*LAYERS, *OTHERS, *(name for name in STEPS if name != "rows_of")))
    if old is None:
        _with_new_part(scene, made, part)
    else:
        if old.name == part.name:
            _carry(scene, made, ("part_ids",))
        if (old.parent, old.position) == (part.parent, part.position):
            _carry(scene, made, ("children", "tree_order", "rows_of"))
    return made


def _with_new_part(scene: Scene, made: Scene, part: Part) -> None:
    known = scene.__dict__
    if "part_ids" in known:
        made.__dict__["part_ids"] = {**scene.part_ids, part.name: part.id}
    siblings = scene.children.get(part.parent, ())
    last = scene.parts[siblings[-1]] if siblings else None
    if last is None or (last.position, last.id) < (part.position, part.id):
        made.__dict__["children"] = {**scene.children, part.parent: (*siblings, part.id)}


def with_step(scene: Scene, step: Step) -> Scene:
    """The scene with a step more, or a changed one of the same part."""
    return with_steps(scene, [step])


def with_steps(scene: Scene, steps: Iterable[Step]) -> Scene:
    """The scene with steps more, or changed ones of the same parts."""
    changed = {step.id: step for step in steps}
    made = replace(scene, steps={**scene.steps, **changed})
    _carry(scene, made, (*TREE, *LAYERS, *OTHERS, "layer_steps"))
    if "steps_of" in scene.__dict__:
        steps_of, writers = dict(scene.steps_of), dict(scene._writers)
        for part in {step.part for step in changed.values()}:
            writers.pop(part, None)
            own = {step.id: step for step in steps_of.get(part, ())}
            own |= {step.id: step for step in changed.values() if step.part == part}
            steps_of[part] = tuple(sorted(own.values(), key=listed_order))
        made.__dict__.update(steps_of=steps_of, _writers=writers)
    return made


def with_curve(scene: Scene, ref: ChannelRef, curve: Curve) -> Scene:
    """The scene with another curve of a channel."""
    return with_curves(scene, {ref: curve})


def with_curves(scene: Scene, curves: Mapping[ChannelRef, Curve]) -> Scene:
    """The scene with other curves of some channels."""
    made = replace(scene, curves={**scene.curves, **curves})
    _carry(scene, made, (*TREE, *LAYERS, *OTHERS))
    # The first curve of a channel on a layer makes a step there.
    if all(layer_and_channel(r.channel)[0] is None or r in scene.curves for r in curves):
        _carry(scene, made, STEPS)
    return made


def _carry(scene: Scene, made: Scene, names: Iterable[str]) -> None:
    known = scene.__dict__
    for name in names:
        if name in known:
            made.__dict__[name] = known[name]
