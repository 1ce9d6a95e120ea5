"""Limbs in rigs of every kind, computed again with SciPy."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.account.limbs import both_ways
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.limbs import PutLimb, RemoveLimb
from bindu.core.edits.parts import AddPart, MovePart, RemoveParts
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep, RemoveStep
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.geometry.chain import BRANCHES
from bindu.core.nodes.identity import SOLVE, NodeId, Stage
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FollowSettings
from bindu.core.steps.solved.solution import ACCOUNT
from tests.core.rigs import ORDERS
from tests.core.troubles import troubles
from tests.wide import cases


def rig(random: np.random.Generator, mirrored: bool = False) -> Scene:
    """A leg with a part between hip and knee, under a body that moves, turns and has a size, all
    with rests and rotation orders of their own; goal and pole elsewhere in the tree."""
    tree = {"root": None, "body": "root", "hip": "body", "thigh": "hip", "knee": "thigh"}
    tree |= {"ankle": "knee", "toe": "ankle", "ground": None, "goal": "ground", "pole": "root"}
    edits: list[AnyEdit] = [ChangeScene(first=0, last=20)]
    for name, parent in tree.items():
        place = tuple(float(v) for v in random.uniform(-1, 1, 3))
        turn = tuple(float(v) for v in random.uniform(-180, 180, 3))
        order = str(random.choice(ORDERS))
        edits.append(AddPart(name, parent, rest=Rest(place, turn), rotation_order=order, id=name))  # type: ignore[arg-type]
        for axis in "xyz":
            for group, size in (("translation", 0.4), ("rotation", 70.0)):
                keys = tuple(Key(f, float(random.uniform(-size, size))) for f in (0.0, 10.0, 20.0))
                edits.append(PutKeys(name, f"{group}.{axis}", keys))
    size = float(random.uniform(0.4, 2.0))
    edits += [SetValue("body", f"scale.{axis}", size) for axis in "xyz"]
    if mirrored:
        edits.append(SetValue("root", "scale.y", -1.0))
    chain = ("hip", "knee", "ankle")
    edits.append(PutLimb("leg", "body", chain, "goal", "pole", id="b1"))
    return applied(Scene(), edits)


def places(evaluation: Evaluation, part: str) -> np.ndarray[Any, Any]:
    """World positions, shape (F, 3)."""
    return np.broadcast_to(evaluation.world(part), (21, 3, 4))[..., 3]


def solved_turns(evaluation: Evaluation, part: str) -> Rotation:
    """A part's own rotation right after Solved, on all 21 frames."""
    order = evaluation.scene.parts[part].rotation_order
    angles = [evaluation.channel(ChannelRef(part, f"rotation.{a}"), "solved") for a in order]
    columns = [np.broadcast_to(one, 21) for one in angles]
    return Rotation.from_euler(order, np.stack(columns, axis=1), degrees=True)


def account(evaluation: Evaluation, owner: str = "b1") -> dict[str, np.ndarray[Any, Any]]:
    """What a solution says of itself, by its word."""
    part = evaluation.scene.limbs[owner].part
    values = evaluation.results[NodeId(part, SOLVE, Stage("owner", owner))].values
    return dict(zip(ACCOUNT, values[:, -1].T, strict=True))


@pytest.mark.parametrize("mirrored", [False, True])
def test_in_any_rig_the_end_is_on_its_goal_or_is_said_to_miss_it(mirrored: bool) -> None:
    random = np.random.default_rng(20 + mirrored)
    reached, tried = 0, cases(5, 20)
    for _ in range(tried):
        scene = rig(random, mirrored)
        before = evaluate(applied(scene, [SetValue("body", "b1.blend", 0.0)]))
        found = evaluate(scene)
        goal, said = places(found, "goal"), account(found)
        missed = np.linalg.norm(places(found, "ankle") - goal, axis=1)
        np.testing.assert_allclose(missed, said["missed"], atol=1e-9)
        # Each way alone, whatever the blend is.
        ways = np.stack([[places(e, p) for p in ("hip", "knee", "ankle")] for e in (before, found)])
        for one in (before, found):
            shown = both_ways(one, scene.limbs["b1"]).transpose(1, 2, 0, 3)
            np.testing.assert_allclose(np.broadcast_to(shown, ways.shape), ways, atol=1e-9)
        far = np.linalg.norm(goal - places(found, "hip"), axis=1)
        np.testing.assert_allclose(far, said["distance"], atol=1e-9)
        bent = said["branch"] == BRANCHES.index("bent")
        assert np.all(missed[bent] < 1e-9)
        reached += int(bent.sum())
        for above, below in (("hip", "knee"), ("knee", "ankle")):
            now, then = (
                np.linalg.norm(places(e, below) - places(e, above), axis=1) for e in (found, before)
            )
            np.testing.assert_allclose(now, then, rtol=1e-9)
        stretched = evaluate(applied(scene, [SetValue("body", "b1.stretch", 1.0)]))
        far_ones = said["branch"] != BRANCHES.index("folded")
        assert np.linalg.norm(places(stretched, "ankle") - goal, axis=1)[far_ones].max() < 1e-9
    assert reached > 2.5 * tried


def test_a_limb_that_aims_at_its_own_pose_moves_nothing() -> None:
    """The goal is put where FK has the end, the pole into the plane of the bend: twist and toes
    stay."""
    random = np.random.default_rng(31)
    for n in range(cases(6, 20)):
        scene = rig(random, mirrored=n % 2 == 1)
        without = applied(scene, [RemoveLimb("b1")])
        before = evaluate(without)
        # Goal and pole hang in the leg itself, one frame of FK as any other.
        held = applied(
            without,
            [
                AddPart("held goal", "ankle", id="hg"),
                AddPart("held pole", "knee", id="hp"),
                PutLimb(
                    "leg",
                    "body",
                    ("hip", "knee", "ankle"),
                    "hg",
                    "hp",
                    goal_tap="bound",
                    pole_tap="bound",
                    id="b1",
                ),
            ],
        )
        after = evaluate(held)
        for part in ("hip", "thigh", "knee", "ankle", "toe"):
            np.testing.assert_allclose(after.world(part), before.world(part), atol=1e-9)


def test_the_blend_turns_each_part_the_shortest_way() -> None:
    random = np.random.default_rng(40)
    scene = rig(random)
    ends = [evaluate(applied(scene, [SetValue("body", "b1.blend", b)])) for b in (0.0, 1.0, 0.3)]
    for part in ("hip", "knee", "ankle"):
        turns = [solved_turns(one, part) for one in ends]
        for n in range(21):
            mixed = Slerp([0, 1], Rotation.concatenate([turns[0][n], turns[1][n]]))(0.3)
            assert (mixed.inv() * turns[2][n]).magnitude() < 1e-9


def test_the_end_takes_its_share_of_the_turn_of_the_goal() -> None:
    scene = rig(np.random.default_rng(50))
    scene = applied(scene, [SetValue("body", "b1.end follows", 1.0)])
    found = evaluate(scene)
    worlds = [np.broadcast_to(found.world(p), (21, 3, 4))[..., :3] for p in ("ankle", "goal")]
    turns = [Rotation.from_matrix(w / np.linalg.norm(w, axis=1)[:, None]) for w in worlds]
    kept = turns[1].inv() * turns[0]
    assert (kept[1:] * kept[0].inv()).magnitude().max() < 1e-9
    rides = evaluate(applied(scene, [SetValue("body", "b1.end follows", 0.0)]))
    fk = evaluate(applied(scene, [SetValue("body", "b1.blend", 0.0)]))
    apart = solved_turns(rides, "ankle").inv() * solved_turns(fk, "ankle")
    assert apart.magnitude().max() < 1e-12


def test_limbs_within_limbs_and_a_base_that_follows() -> None:
    """A spine of four carries an arm; its base takes half of the turn of what it hangs on."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=20), AddPart("root", id="root")]
    edits.append(PutKeys("root", "rotation.z", (Key(0.0, 0.0), Key(20.0, 90.0))))
    names = ("s1", "s2", "s3", "s4", "a1", "a2", "a3")
    for n, name in enumerate(names):
        rest = Rest((0.1, 1.0, 0.05 * n)) if n < 4 else Rest((0.8, -0.1, 0.1))
        edits.append(AddPart(name, names[n - 1] if n else "root", rest=rest, id=name))
    edits += [AddPart(g, rest=Rest((1.0, y, 0.5)), id=g) for g, y in (("g1", 2.6), ("g2", 2.0))]
    edits += [
        AddStep("s1", "follow", FollowSettings(), id="f1"),
        SetValue("s1", "f1.rotation", 0.5),
        PutLimb("spine", "root", names[:4], "g1", axis=(0.0, 0.0, 1.0), id="b1"),
        PutLimb("arm", "s4", names[4:], "g2", axis=(0.0, 0.0, 1.0), id="b2"),
    ]
    found = evaluate(applied(Scene(), edits))
    for end, goal, owner in (("s4", "g1", "b1"), ("a3", "g2", "b2")):
        missed = np.linalg.norm(places(found, end) - places(found, goal), axis=1)
        bent = account(found, owner)["branch"] == BRANCHES.index("bent")
        assert bent.any() and missed[bent].max() < 1e-9
    assert not found.graph.held


def test_a_goal_below_its_own_chain_is_a_loop_and_the_rest_is_evaluated() -> None:
    scene = rig(np.random.default_rng(60))
    scene = applied(scene, [MovePart("goal", "toe")])
    found = evaluate(scene)
    assert {node.part for node in found.graph.held} >= {"hip", "knee", "ankle", "goal"}
    np.testing.assert_array_equal(
        found.world("pole"), evaluate(rig(np.random.default_rng(60))).world("pole")
    )
    for tap, back in (("bound", False), ("final", True)):
        limb = scene.limbs["b1"]
        broken = replace(scene, limbs={"b1": replace(limb, goal_tap=tap, goal_back=back)})
        assert not evaluate(broken).graph.held


def test_whatever_is_degenerate_is_finite_and_the_rest_is_evaluated() -> None:
    """Segments of no length, the goal on the base, the pole on the line, the goal opposite."""
    base = [
        AddPart("hip", id="hip"),
        AddPart("knee", "hip", rest=Rest((0.0, -1.0, 0.0)), id="knee"),
        AddPart("ankle", "knee", rest=Rest((0.0, -1.0, 0.0)), id="ankle"),
        AddPart("goal", id="goal"),
        AddPart("pole", id="pole"),
    ]
    limb = PutLimb("leg", "hip", ("hip", "knee", "ankle"), "goal", "pole", (1.0, 0.0, 0.0), id="b1")
    scene = applied(Scene(last=2), [*base, limb])
    for goal in (
        (0.0, 0, 0),
        (0.0, 2, 0),
        (0.0, -2, 0),
        (0.0, -1.5, 0),
        (0.0, 0.5, 0),
        (1e6, 0, 0),
    ):
        for pole in ((0.0, 0, 0), (0.0, -5, 0), (0.0, 1, 3)):
            for knee in ((0.0, 0, 0), (0.0, 1, 0)):
                put = [("goal", goal), ("pole", pole), ("knee", knee)]
                edits = [
                    SetValue(part, f"translation.{axis}", float(value))
                    for part, point in put
                    for axis, value in zip("xyz", point, strict=True)
                ]
                found = evaluate(applied(scene, edits))
                assert all(result.broken_from is None for result in found.results.values())
                assert np.isfinite(found.world("ankle")).all()


def test_refusals_name_the_part_and_say_what_to_do() -> None:
    scene = rig(np.random.default_rng(70))
    chain = ("hip", "knee", "ankle")
    straight = applied(
        Scene(),
        [
            AddPart("a", id="a"),
            AddPart("b", "a", rest=Rest((0.0, 1.0, 0.0)), id="b"),
            AddPart("c", "b", rest=Rest((0.0, 1.0, 0.0)), id="c"),
            AddPart("g", id="g"),
        ],
    )
    cases: list[tuple[Scene, AnyEdit, str]] = [
        (scene, PutLimb("arm", "body", ("hip", "knee"), "goal"), "choose 3 to 50 parts"),
        (scene, PutLimb("arm", "body", ("knee", "hip", "ankle"), "goal"), "hip is not below knee"),
        (scene, PutLimb("arm", "body", chain, "knee"), "knee is in the chain itself"),
        (scene, PutLimb("leg", "body", chain, "goal"), "there is a limb with this name"),
        (scene, PutLimb("leg", "root", chain, "goal", id="b1"), "the part it was made on"),
        (scene, PutLimb("arm", "body", chain, "goal", limits=(90, 0)), "above the largest"),
        (scene, PutLimb("arm", "body", chain, "goal", axis=(0, 0, 0)), "has no direction"),
        (straight, PutLimb("arm", "a", ("a", "b", "c"), "g"), "the chain is straight there"),
        (scene, RemoveParts(("goal",)), "is the goal of the limb leg"),
        (scene, RemoveParts(("toe", "ankle")), "is in the chain of the limb leg"),
        (scene, MovePart("knee", "ground"), "tear the chain of the limb leg apart"),
        (scene, RemoveStep(next(iter(scene.steps))), "out of its limb instead"),
        (
            applied(scene, [SetValue("hip", "scale.x", 2.0)]),
            PutLimb("arm", "body", chain, "goal"),
            "hip: it is scaled unevenly",
        ),
    ]
    for before, edit, text in cases:
        with pytest.raises(Refusal, match=text):
            applied(before, [edit])


def test_what_goes_takes_the_limb_along_or_lets_go_of_it() -> None:
    scene = rig(np.random.default_rng(80))
    assert applied(scene, [RemoveParts(("pole",), True)]).limbs["b1"].pole is None
    for gone in (("goal",), ("ankle",), ("hip",), ("body",)):
        left = applied(scene, [RemoveParts(gone, True)])
        assert not left.limbs and not left.steps
        evaluate(left)
    double = applied(scene, [DuplicatePart("body")])
    (other,) = (limb for limb in double.limbs.values() if limb.id != "b1")
    assert other.goal == "goal" and other.part != "body" and not set(other.chain) & {"hip", "knee"}
    found = evaluate(double)
    np.testing.assert_array_equal(found.world(other.chain[2]), found.world("ankle"))


def test_what_is_wrong_with_a_limb_is_found_with_its_metres_and_frames() -> None:
    scene = rig(np.random.default_rng(90))
    told = account(evaluate(scene))
    texts = [one.text for one in troubles(evaluate(scene))]
    (missed,) = [t for t in texts if "misses" in t]
    assert f"by up to {told['missed'].max():.3g} m" in missed
    assert f"most on {np.argmax(told['missed'])} " in missed
    # In reach throughout, nothing is found; nor while FK is on.
    near = [SetValue("body", "b1.stretch", 1.0)]
    assert not [one for one in troubles(evaluate(applied(scene, near))) if "misses" in one.text]
    by_fk = applied(scene, [SetValue("body", "b1.blend", 0.0)])
    assert not [one for one in troubles(evaluate(by_fk)) if "leg:" in one.text]
    jumping = [PutKeys("body", "b1.blend", (Key(0.0, 0.0, "hold"), Key(6.0, 1.0, "hold")))]
    texts = [one.text for one in troubles(evaluate(applied(scene, jumping)))]
    assert any("leg: the pose jumps" in text and "on frame 6" in text for text in texts)
    uneven = [PutKeys("hip", "scale.y", (Key(0.0, 1.0), Key(20.0, 3.0)))]
    texts = [one.text for one in troubles(evaluate(applied(scene, uneven)))]
    assert any("hip is scaled unevenly" in text for text in texts)
    line = [
        AddPart("on", "hip", id="on"),
        PutLimb(
            "leg", "body", ("hip", "knee", "ankle"), "goal", "on", axis=(0.0, 0.0, 1.0), id="b1"
        ),
    ]
    texts = [one.text for one in troubles(evaluate(applied(scene, line)))]
    assert any("on is on the line from base to goal on 21 frames" in text for text in texts)


def test_an_even_scale_in_the_chain_is_followed_and_a_muted_part_keeps_its_own_pose() -> None:
    scene = rig(np.random.default_rng(91))
    for part, size in (("hip", 1.4), ("thigh", 0.7), ("knee", 1.2)):
        scene = applied(scene, [SetValue(part, f"scale.{axis}", size) for axis in "xyz"])
    found = evaluate(applied(scene, [SetValue("body", "b1.stretch", 1.0)]))
    apart = np.linalg.norm(places(found, "ankle") - places(found, "goal"), axis=1)
    near = account(found)["branch"] != BRANCHES.index("folded")
    assert near.any() and apart[near].max() < 1e-9
    step = scene.members_of["b1"]["knee"]
    muted = evaluate(applied(scene, [ChangeStep(step.id, on=False)]))
    apart = solved_turns(muted, "knee").inv() * solved_turns(
        evaluate(applied(scene, [SetValue("body", "b1.blend", 0.0)])), "knee"
    )
    assert apart.magnitude().max() < 1e-12
    assert not [one for one in troubles(muted) if "number" in one.text]


def test_another_rotation_order_of_the_end_keeps_how_it_goes_with_its_goal() -> None:
    scene = rig(np.random.default_rng(92))
    for order in ORDERS:
        turned = applied(scene, [ChangeRotationOrder("ankle", order, "on every frame")])  # type: ignore[arg-type]
        now, then = (evaluate(one).world("toe") for one in (turned, scene))
        np.testing.assert_allclose(now, then, atol=1e-9)
