"""Edits of parts and of the tree."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.edits.bakes import without_baked_parts
from bindu.core.edits.base import (
    finite,
    found_part,
    identities,
    new_id,
    refuse_readers,
    sets_reading,
    weights_of,
    with_readers,
    without_members,
    without_steps,
)
from bindu.core.edits.gaits import without_gait_parts
from bindu.core.edits.leads import without_member_parts
from bindu.core.edits.limbs import refuse_chain_move, without_limb_parts
from bindu.core.edits.remains import without_read_parts
from bindu.core.edits.surfaces import without_surface_parts
from bindu.core.edits.trees import ancestors, subtree
from bindu.core.placing.place import with_place_kept
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_part
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name, parts_by_name
from bindu.core.scene.parts import Part, Rest, Role, RotationOrder, Shape, Side

MOST_PARTS = 5_000
DEEPEST_TREE = 500


@dataclass(frozen=True)
class AddPart:
    """Adds a part below its parent, behind its siblings."""

    name: str
    parent: str | None = None
    role: Role = "control"
    side: Side = "centre"
    rest: Rest = Rest()
    rotation_order: RotationOrder = "xyz"
    shape: Shape = Shape()
    id: str | None = None
    do: Literal["add part"] = "add part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"add part {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if len(scene.parts) >= MOST_PARTS:
            raise Refusal(f"a scene holds at most {MOST_PARTS:,} parts.", code="too much")
        part = Part(
            new_id("p", scene.parts, self.id, identities(scene)),
            _free_name(scene, self.name),
            self.parent,
            next_position(scene, self.parent),
            self.role,
            self.side,
            checked_rest(self.rest, self.name),
            self.rotation_order,
            checked_shape(self.shape, self.name),
        )
        if self.parent is not None:
            found_part(scene, self.parent)
            _check_depth(scene, self.parent)
        return with_part(scene, part)


@dataclass(frozen=True)
class RenamePart:
    """Renames a part; formulas that read it show the new name."""

    part: str
    name: str
    do: Literal["rename part"] = "rename part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"rename {found_part(scene, self.part).name} to {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        if part.name == self.name:
            return scene
        part = replace(part, name=_free_name(scene, self.name))
        return with_part(scene, part)


@dataclass(frozen=True)
class ChangePart:
    """Changes what is given of a part and leaves the rest."""

    part: str
    role: Role | None = None
    side: Side | None = None
    rest: Rest | None = None
    rotation_order: RotationOrder | None = None
    shape: Shape | None = None
    do: Literal["change part"] = "change part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        given = {
            "role": self.role,
            "side": self.side,
            "rest": self.rest,
            "rotation order": self.rotation_order,
            "shape": self.shape,
        }
        fields = [name for name, value in given.items() if value is not None]
        return f"change {' and '.join(fields)} of {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        part = replace(
            part,
            role=self.role or part.role,
            side=self.side or part.side,
            rest=checked_rest(self.rest, part.name) if self.rest else part.rest,
            rotation_order=self.rotation_order or part.rotation_order,
            shape=checked_shape(self.shape, part.name) if self.shape else part.shape,
        )
        return with_part(scene, part)


@dataclass(frozen=True)
class MovePart:
    """Gives a part another parent, or another place among its siblings.

    With ``keep_place`` it stays where it is in the world on every frame of the range, to within
    1e-9; without, its channels and rest keep their numbers. ``before`` names the sibling that
    it goes before; None: behind all.
    """

    part: str
    parent: str | None = None
    before: str | None = None
    keep_place: bool = False
    do: Literal["move part"] = "move part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        where = f"under {found_part(scene, self.parent).name}" if self.parent else "to the top"
        return f"move {found_part(scene, self.part).name} {where}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        if self.parent is not None:
            parent = found_part(scene, self.parent)
            if self.parent in subtree(scene, self.part):
                raise Refusal(
                    f"{parent.name} lies below it; a part cannot be its own ancestor.",
                    place=part.name,
                )
            _check_depth(scene, self.parent)
        _refuse_bound_move(scene, part, self.parent)
        part = replace(part, parent=self.parent)
        siblings = [i for i in scene.children.get(self.parent, ()) if i != part.id]
        if self.before is not None and self.before not in siblings:
            raise Refusal(
                "what it should go before is not there any more.", code="gone", place=part.name
            )
        at = len(siblings) if self.before is None else siblings.index(self.before)
        moved = {**scene.parts, part.id: part}
        for position, sibling in enumerate([*siblings[:at], part.id, *siblings[at:]]):
            if moved[sibling].position != position or sibling == part.id:
                moved[sibling] = replace(moved[sibling], position=position)
        after = replace(scene, parts=moved)
        same_parent = scene.parts[self.part].parent == self.parent
        return (
            after if same_parent or not self.keep_place else with_place_kept(scene, after, part.id)
        )


@dataclass(frozen=True)
class RemoveParts:
    """Takes parts away with all below them, their channels, curves and steps.

    With ``readers``, other parts' steps that read them let go of them, or go too where nothing
    would be left; without, they are named in a refusal.
    """

    parts: tuple[str, ...]
    readers: bool = False
    do: Literal["remove parts"] = "remove parts"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        names = [found_part(scene, part).name for part in self.parts]
        below = len(self._gone(scene)) - len(names)
        text = names[0] if len(names) == 1 else counted(len(names), "part")
        return f"delete {text}" + (f" and {below} below" if below > 0 else "")

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if not self.parts:
            raise Refusal("choose the parts to delete.", code="choice")
        gone = self._gone(scene)
        name = found_part(scene, self.parts[0]).name
        for lead in scene.leads.values():
            if lead.part in gone:
                text = f"who leads {lead.name!r} is a channel of it; delete that group first."
                raise Refusal(text, code="choice", place=name)
        steps = {s.id for s in scene.steps.values() if s.part in gone}
        scene = without_limb_parts(scene, gone, self.readers)
        scene = without_gait_parts(scene, gone)
        scene = without_surface_parts(scene, gone)
        steps &= scene.steps.keys()
        if self.readers:
            scene = without_read_parts(scene, gone)
            steps = with_readers(scene, gone, steps)
        weights = weights_of(scene, steps)
        refuse_readers(scene, gone, weights, steps, name)
        scene = without_member_parts(scene, gone)
        for layer in scene.layers.values():
            if layer.part in gone:
                text = f"the weight of the layer {layer.name!r} is a channel of it; give that "
                raise Refusal(text + "layer another part first, or delete it.", place=name)
        sets = {driven.id for driven in sets_reading(scene, gone, weights, steps)}
        scene = without_steps(scene, steps & scene.steps.keys())
        parts = {i: p for i, p in scene.parts.items() if i not in gone}
        return replace(
            scene,
            parts={i: replace(p, pair=None) if p.pair in gone else p for i, p in parts.items()},
            sets=without_members(scene.sets, lambda ref: ref.part in gone),
            channels={i: c for i, c in scene.channels.items() if c.part not in gone},
            curves={r: c for r, c in scene.curves.items() if r.part not in gone},
            bakes=without_baked_parts(scene.bakes, gone),
            accepted={i: a for i, a in scene.accepted.items() if a.part not in gone},
            probes={
                i: q for i, q in scene.probes.items() if q.part not in gone and q.ground not in gone
            },
            driven={i: d for i, d in scene.driven.items() if i not in sets},
        )

    def _gone(self, scene: Scene) -> set[str]:
        return {one for part in self.parts for one in subtree(scene, found_part(scene, part).id)}


@dataclass(frozen=True)
class LockChannels:
    """Locks channels of a part against edits by hand, or unlocks them."""

    part: str
    channels: tuple[str, ...]
    locked: bool = True
    do: Literal["lock channels"] = "lock channels"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        verb = "lock" if self.locked else "unlock"
        channels = counted(len(self.channels), "channel")
        return f"{verb} {channels} of {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        known = scene.channel_ids(self.part)
        for channel in self.channels:
            if channel not in known:
                raise Refusal(f"there is no channel {channel!r}.", code="unknown", place=part.name)
        chosen = set(self.channels)
        locked = set(part.locked) | chosen if self.locked else set(part.locked) - chosen
        part = replace(part, locked=tuple(c for c in known if c in locked))
        return with_part(scene, part)


PartEdit = AddPart | RenamePart | ChangePart | MovePart | RemoveParts | LockChannels


def checked_rest(rest: Rest, name: str) -> Rest:
    """The rest, if its numbers can be used."""
    for number in (*rest.translation, *rest.rotation):
        finite(number, f"rest of {name}")
    return rest


def checked_shape(shape: Shape, name: str) -> Shape:
    """The shape, if its numbers and colour can be used."""
    for number in (*shape.size, *shape.offset):
        finite(number, f"shape of {name}")
    checked_colour(shape.colour, f"shape of {name}")
    return shape


def checked_colour(colour: str, place: str) -> str:
    """The colour, if it is written as #RRGGBB.

    Raises:
        Refusal: when it is not.
    """
    digits = colour.removeprefix("#")
    if len(colour) != 7 or any(d not in "0123456789abcdefABCDEF" for d in digits):
        raise Refusal("write a colour as #RRGGBB.", code="text", place=place)
    return colour


def _free_name(scene: Scene, name: str) -> str:
    check_name(name, "part name")
    if name in parts_by_name(scene):
        raise Refusal(
            "there is a part with this name already; choose another.", code="taken", place=name
        )
    return name


def next_position(scene: Scene, parent: str | None) -> int:
    """The position behind all children of a parent."""
    siblings = scene.children.get(parent, ())
    return scene.parts[siblings[-1]].position + 1 if siblings else 0


def _refuse_bound_move(scene: Scene, part: Part, parent: str | None) -> None:
    """Refuses a place in the tree where a step of the part, or a lead group, has no meaning."""
    for step in scene.steps_of.get(part.id, ()):
        if step.settings.kind == "follow" and parent is None:
            text = f"“{step.name}” takes a share of its parent's place; delete that step first."
            raise Refusal(text, place=part.name)
    refuse_chain_move(scene, part.id, parent)
    below = subtree(scene, part.id)
    above = set() if parent is None else {parent, *ancestors(scene, parent)}
    for lead in scene.leads.values():
        if below & set(lead.members) and above & set(lead.members):
            raise Refusal(
                f"members of {lead.name} would hang on each other, and be carried twice; take one "
                "out of the group first.",
                code="in use",
                place=part.name,
            )


def _check_depth(scene: Scene, parent: str) -> None:
    depth, above = 0, scene.parts[parent].parent
    while above is not None:
        depth, above = depth + 1, scene.parts[above].parent
    if depth >= DEEPEST_TREE:
        raise Refusal(
            f"a tree of parts is at most {DEEPEST_TREE} deep.",
            code="too much",
            place=scene.parts[parent].name,
        )
