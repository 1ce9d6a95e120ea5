"""Lead groups: any member carries the rest, and no change of the lead jumps."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.leads import KeyLead, PutLead, RemoveLead
from bindu.core.edits.parts import AddPart, RemoveParts
from bindu.core.edits.steps import RemoveStep
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from tests.core import rigs
from tests.wide import cases


def _places(made: Evaluation, part: str) -> tuple[rigs.Matrix, Rotation]:
    world = np.broadcast_to(made.world(part), (rigs.LAST + 1, 3, 4))
    linear = world[:, :, :3]
    turns = Rotation.from_matrix(linear / np.linalg.norm(linear, axis=1)[:, None, :])
    return world[:, :, 3], turns


def _rig(seed: int) -> tuple[np.random.Generator, Scene, list[str]]:
    """A random rig, and parts of it that do not hang on each other, as a lead group."""
    random = np.random.default_rng(seed)
    scene = rigs.random_rig(random, 6)
    members = ["p1"]
    for part in scene.parts:
        if all(part in rigs.free_of(scene, m) and m in rigs.free_of(scene, part) for m in members):
            members.append(part)
    if len(members) < 2:
        return random, scene, []
    return random, PutLead("crew", members[0], tuple(members), "g1").apply(scene), members


def _led(seed: int) -> tuple[Scene, list[str], list[tuple[str | None, str | None]]]:
    """Leads that change on neighbouring frames and later, apart for position and rotation."""
    random, scene, members = _rig(seed)
    if not members:
        return scene, members, []
    choices: list[str | None] = [*members, None]
    leads: list[tuple[str | None, str | None]] = [(None, None)] * (rigs.LAST + 1)
    for frame in (0, 2, 3, 5):
        pair = choices[random.integers(len(choices))], choices[random.integers(len(choices))]
        scene = KeyLead("g1", frame, pair[0], ("position",)).apply(scene)
        scene = KeyLead("g1", frame, pair[1], ("rotation",)).apply(scene)
        leads[frame:] = [pair] * (rigs.LAST + 1 - frame)
    return scene, members, leads


def test_members_go_with_their_leads_frame_by_frame() -> None:
    """The same motion step by step: from each frame to the next, everyone first moves by the own
    channels (as a change of its place in the world), then with the leads."""
    checked = 0
    for seed in range(cases(24, 80)):
        scene, members, leads = _led(seed)
        if not members:
            continue
        made = rigs.evaluated(scene)
        alone = rigs.evaluated(RemoveLead("g1").apply(scene))
        free = {m: _places(alone, m) for m in members}
        led = {m: _places(made, m) for m in members}
        for before, frame in pairwise(rigs.FRAMES):
            position, rotation = leads[before]
            changed = leads[frame] != leads[before]
            if rotation is not None:
                turn = led[rotation][1][frame] * led[rotation][1][before].inv()
            else:
                turn = Rotation.identity()
            for member in members:
                if member == rotation:
                    continue
                # What the member's own channels turn, in the axes that it was carried to.
                own = free[member][1][frame] * free[member][1][before].inv()
                carried = led[member][1][before] * free[member][1][before].inv()
                wanted = turn * carried * own * carried.inv() * led[member][1][before]
                assert rigs.apart(led[member][1][frame], wanted) < 1e-7
            checked += changed
    assert checked > 60


def test_a_carried_member_without_keys_keeps_its_place_from_the_lead() -> None:
    checked = 0
    for seed in range(cases(24, 80)):
        _, scene, members = _rig(seed)
        if not members:
            continue
        still = members[1:]
        for part in still:
            parent = scene.parts[part].parent
            curves = {r: c for r, c in scene.curves.items() if r.part not in (part, parent)}
            scene = rigs.replace_curves(scene, curves)
        if any(scene.parts[p].parent for p in members):
            continue
        scene = KeyLead("g1", 0, "p1").apply(scene)
        made = rigs.evaluated(scene)
        for part in still:
            seen = [
                np.linalg.inv(rigs.world(made, "p1", f)) @ rigs.world(made, part, f)
                for f in rigs.FRAMES
            ]
            for place in seen[1:]:
                rigs.near(place, seen[0])
            checked += 1
    assert checked > 10


def _two_feet() -> Scene:
    """Two feet and a body in a row, 1 m apart, only the feet with keys."""
    scene = applied(
        Scene(last=6),
        [AddPart(n, id=i) for n, i in (("left", "p1"), ("right", "p2"), ("body", "p3"))],
    )
    scene = PutKeys("p2", "translation.x", (Key(0.0, 1.0, "hold"),)).apply(scene)
    scene = PutKeys("p3", "translation.x", (Key(0.0, 0.5, "hold"),)).apply(scene)
    turn = (Key(0.0, 0.0, "linear"), Key(3.0, 90.0, "linear"), Key(6.0, 90.0, "linear"))
    scene = PutKeys("p1", "rotation.y", turn).apply(scene)
    walk = (Key(3.0, 1.0, "linear"), Key(6.0, 4.0, "linear"))
    scene = PutKeys("p2", "translation.x", walk).apply(scene)
    return PutLead("body lead", "p3", ("p1", "p2", "p3"), "g1").apply(scene)


def test_the_lead_passes_from_one_foot_to_the_other() -> None:
    scene = KeyLead("g1", 0, "p1").apply(_two_feet())
    scene = KeyLead("g1", 3, "p2").apply(scene)
    made = rigs.evaluated(scene)
    # The left foot turns a quarter about itself and takes the body round; then the right foot,
    # now at (0, 0, -1), walks 3 m along its own x, which is the world's by its channels.
    rigs.near(made.world("p2")[3, :, 3], [0.0, 0.0, -1.0])
    rigs.near(made.world("p3")[3, :, 3], [0.0, 0.0, -0.5])
    way = made.world("p2")[6, :, 3] - made.world("p2")[3, :, 3]
    rigs.near(np.linalg.norm(way), 3.0)
    for part in ("p1", "p3"):
        moved = made.world(part)[6, :, 3] - made.world(part)[3, :, 3]
        rigs.near(moved, way)


def test_what_moves_all_members_is_not_taken_twice() -> None:
    parts = [
        AddPart("root", id="p9"),
        AddPart("left", "p9", id="p1"),
        AddPart("body", "p9", id="p2"),
    ]
    scene = applied(Scene(last=6), parts)
    way = (Key(0.0, 0.0, "linear"), Key(6.0, 6.0, "linear"))
    scene = PutKeys("p9", "translation.z", way).apply(scene)
    scene = PutKeys("p1", "translation.x", way).apply(scene)
    scene = KeyLead("g1", 0, "p1").apply(PutLead("stance", "p2", ("p1", "p2"), "g1").apply(scene))
    body = rigs.evaluated(scene).world("p2")[:, :, 3]
    rigs.near(body, [[f, 0.0, f] for f in range(7)])


def test_leads_stay_the_same_members_when_the_group_changes() -> None:
    scene = KeyLead("g1", 2, "p2", ("position",)).apply(_two_feet())
    scene = PutLead("body lead", "p3", ("p2", "p3", "p1"), "g1").apply(scene)
    curve = scene.curves[ChannelRef("p3", "g1.position")]
    assert [(k.frame, k.value, k.interpolation) for k in curve.keys] == [
        (0.0, 0.0, "hold"),
        (2.0, 1.0, "hold"),
    ]
    without = RemoveParts(("p2",)).apply(scene)
    assert without.leads["g1"].members == ("p3", "p1")
    assert {k.value for k in without.curves[ChannelRef("p3", "g1.position")].keys} == {0.0}
    assert not RemoveParts(("p1",)).apply(without).leads


def test_bad_groups_are_refused() -> None:
    scene = _two_feet()
    scene = AddPart("toe", "p1", id="p4").apply(scene)
    for edit, reason in (
        (PutLead("toes", "p3", ("p1", "p4")), "toe hangs on left and is carried by it anyway"),
        (PutLead("more", "p3", ("p1", "p2")), "left is in the lead group body lead already"),
        (PutLead("one", "p3", ("p4",)), "choose 2 to 50 parts"),
        (KeyLead("g1", 0, "p4"), "toe is no member of it"),
        (RemoveParts(("p3",)), "is a channel of it; delete that group first"),
        (RemoveStep(scene.members_of["g1"]["p1"].id), "take the part out of its lead group"),
    ):
        with pytest.raises(Refusal, match=reason):
            edit.apply(scene)
    # Frames before the first change of the lead stay as they were.
    before = evaluate(scene)
    after = evaluate(KeyLead("g1", 4, "p1").apply(scene))
    for frame in range(4):
        np.testing.assert_array_equal(before.world("p3")[0], after.world("p3")[frame])
