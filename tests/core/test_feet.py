"""Feet that roll, against turns about points written out with SciPy."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.clips.clip import pose_clip
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.feet import POINTS, AddFootPoints, MakeFoot
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.matching import MatchLimbs, SwitchLimbs
from bindu.core.edits.parts import AddPart
from bindu.core.edits.paste import PasteClip
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.evaluated import known
from tests.wide import cases

Numbers = np.ndarray[Any, Any]
CHAIN = ("hip", "knee", "ankle")
LEG = ("b1",)


def legged(random: np.random.Generator, side: str, mirrored: bool = False) -> Scene:
    """A leg with toes, whose foot stands at any angle; its points are put near where they begin."""
    turn = tuple(float(v) for v in random.uniform(-40, 40, 3))
    rests = {
        "body": ((0.0, 1.0, 0.0), (0.0, 0.0, 0.0)),
        "hip": ((0.2, 0.0, 0.0), turn),
        "knee": ((0.02, -0.5, 0.05), (5.0, 10.0, 0.0)),
        "ankle": ((0.0, -0.5, -0.05), tuple(float(v) for v in random.uniform(-30, 30, 3))),
        "toe": ((0.01, -0.08, 0.14), (10.0, 5.0, 20.0)),
    }
    edits: list[AnyEdit] = []
    above = None
    for name, (place, angles) in rests.items():
        edits.append(AddPart(name, above, side=side, rest=Rest(place, angles), id=name))  # type: ignore[arg-type]
        above = name
    if mirrored:
        edits.append(SetValue("body", "scale.x", -1.0))
    scene = applied(Scene(last=20), [*edits, MakeLimb("leg", "body", CHAIN, 0)])
    ahead = tuple(float(v) for v in random.uniform(-1, 1, 3))
    scene = applied(scene, [AddFootPoints("b1", 0, 0.3, 0.1, ahead)])  # type: ignore[arg-type]
    moved = [
        SetValue(scene.part_ids[f"leg {name}"], f"translation.{axis}", float(value))
        for name in POINTS
        for axis, value in zip("xyz", random.uniform(-0.02, 0.02, 3), strict=True)
    ]
    return applied(scene, moved)


def footed(scene: Scene) -> Scene:
    """The leg with its foot."""
    return applied(scene, [MakeFoot("b1", 0, "toe")])


def steered(scene: Scene, **values: float) -> Scene:
    """The foot turned by its channels."""
    goal = scene.part_ids["leg goal"]
    ids = {one.name.replace(" ", "_"): one.id for one in scene.channels_of[goal]}
    return applied(scene, [SetValue(goal, ids[name], value) for name, value in values.items()])


def world(scene: Scene, name: str, frame: int = 0) -> Numbers:
    """A part's world matrix on a frame, shape (3, 4)."""
    found = known(scene).world(scene.part_ids[name])
    return np.asarray(found[frame if len(found) > 1 else 0])


@pytest.mark.parametrize("seed", range(cases(3, 12)))
def test_a_foot_turns_about_its_points_in_their_order(seed: int) -> None:
    random = np.random.default_rng(seed)
    bare = legged(random, ("left", "right", "centre")[seed % 3], mirrored=seed > 1)
    scene = footed(bare)
    for part in ("hip", "knee", "ankle", "toe"):
        np.testing.assert_allclose(world(scene, part), world(bare, part), atol=1e-9)
    points = {name: world(scene, f"leg {name}")[:, 3] for name in POINTS}
    for name, point in points.items():
        np.testing.assert_allclose(point, world(bare, f"leg {name}")[:, 3], atol=1e-9)
    ahead = points["toe tip"] - points["heel"]
    ahead /= np.linalg.norm(ahead)
    across = points["outer"] - points["inner"]
    up = np.cross(ahead, across)
    up *= np.sign(up @ (world(scene, "ankle")[:, 3] - points["heel"])) / np.linalg.norm(up)
    side = np.cross(up, ahead)
    outward = np.sign(side @ across)
    for _ in range(8):
        roll, tilt = random.uniform(-90, 120), random.uniform(-40, 40)
        tip, toe = random.uniform(0, 30), random.uniform(-20, 40)
        turned = steered(scene, roll=roll, tilt=tilt, tip_roll=tip, toe_bend=toe)
        angles = {
            "heel": (side, np.clip(roll, -60, 0)),
            "outer": (ahead, -outward * max(tilt, 0)),
            "inner": (ahead, -outward * min(tilt, 0)),
            "toe tip": (side, max(roll - 45, 0) + tip),
            "ball": (side, np.clip(roll, 0, 45)),
        }
        place = world(scene, "leg ankle")
        for name in reversed(POINTS):
            axis, degrees = angles[name]
            turn = Rotation.from_rotvec(np.radians(degrees) * axis).as_matrix()
            place = turn @ place
            place[:, 3] += points[name] - turn @ points[name]
        np.testing.assert_allclose(world(turned, "leg ankle"), place, atol=1e-9)
        reach = np.linalg.norm(place[:, 3] - world(turned, "hip")[:, 3])
        if 0.3 < reach < 1.0:
            np.testing.assert_allclose(world(turned, "ankle")[:, 3], place[:, 3], atol=1e-9)


def test_the_toes_stay_flat_while_the_ball_rolls_and_bend_by_themselves() -> None:
    scene = footed(legged(np.random.default_rng(9), "left"))
    flat = world(scene, "toe")[:, :3]
    np.testing.assert_allclose(world(steered(scene, roll=40.0), "toe")[:, :3], flat, atol=1e-9)
    bent = world(steered(scene, roll=40.0, toe_bend=25.0), "toe")[:, :3]
    turn = Rotation.from_matrix(bent @ flat.T)
    assert abs(np.degrees(turn.magnitude()) - 25.0) < 1e-9
    by_fk = applied(steered(scene, roll=40.0), [SetValue("body", "b1.blend", 0.0)])
    np.testing.assert_allclose(
        world(by_fk, "toe"), world(applied(scene, [SetValue("body", "b1.blend", 0.0)]), "toe")
    )


@pytest.mark.parametrize("seed", range(cases(3, 12)))
def test_a_rolled_and_tilted_foot_is_matched_both_ways_toes_included(seed: int) -> None:
    random = np.random.default_rng(40 + seed)
    scene = footed(legged(random, "left"))
    scene = steered(scene, roll=50.0, tilt=12.0, tip_roll=5.0, toe_bend=20.0)
    goal = scene.part_ids["leg goal"]
    put = [SetValue(goal, "translation.y", 0.1), SetValue(goal, "rotation.y", 30.0)]
    scene = applied(scene, put)
    parts = (*CHAIN, "toe")
    switched = applied(scene, [SwitchLimbs(LEG, "fk", 5)])
    for part in parts:
        np.testing.assert_allclose(world(switched, part, 5), world(scene, part), atol=1e-9)
    pose = [
        SetValue(part, f"rotation.{axis}", float(random.uniform(-25, 25)))
        for part in parts
        for axis in "xyz"
    ]
    by_fk = applied(scene, [*pose, SetValue("body", "b1.blend", 0.0)])
    matched = applied(by_fk, [MatchLimbs(LEG, "ik", 3), SetValue("body", "b1.blend", 1.0)])
    for part in parts:
        np.testing.assert_allclose(world(matched, part, 3), world(by_fk, part), atol=1e-9)


def test_a_foot_is_written_and_read_and_says_what_it_lacks() -> None:
    bare = legged(np.random.default_rng(3), "left")
    scene = footed(bare)
    assert read_scene(write_scene(scene)).limbs == scene.limbs
    with pytest.raises(Refusal, match="leg: it has a foot already"):
        applied(scene, [MakeFoot("b1", 0)])
    chain = [
        AddPart("a", id="a"),
        AddPart("b", "a", rest=Rest((0.0, 1.0, 0.0)), id="b"),
        AddPart("c", "b", rest=Rest((0.0, 1.0, 0.1)), id="c"),
    ]
    without = applied(Scene(), [*chain, MakeLimb("leg", "a", ("a", "b", "c"), 0)])
    with pytest.raises(Refusal, match="there is no leg heel below its goal"):
        applied(without, [MakeFoot("b1", 0)])
    heel = bare.parts[bare.part_ids["leg heel"]]
    points = [bare.parts[bare.part_ids[f"leg {name}"]] for name in POINTS]
    heaped = {one.id: replace(one, rest=heel.rest, values=heel.values) for one in points}
    flat = replace(bare, parts={**bare.parts, **heaped})
    with pytest.raises(Refusal, match="on a line; pull them apart"):
        applied(flat, [MakeFoot("b1", 0)])


def two_legs(random: np.random.Generator) -> Scene:
    """A body with a left leg and a right one that is its mirror image, both made at once."""
    edits: list[AnyEdit] = [AddPart("body", id="body")]
    turned = [random.uniform(-30, 30, 3) for _ in CHAIN]
    for side, sign in (("left", 1.0), ("right", -1.0)):
        above = "body"
        for name, place, angles in zip(
            CHAIN, ((0.2, 1, 0), (0, -0.5, 0.1), (0, -0.5, -0.1)), turned, strict=True
        ):
            x, y, z = (float(v) for v in angles)
            turn = (x, sign * y, sign * z)
            rest = Rest((sign * place[0], place[1], place[2]), turn)
            edits.append(AddPart(f"{side} {name}", above, rest=rest, id=f"{side}{name}"))
            above = f"{side}{name}"
    chain = tuple(f"left{name}" for name in CHAIN)
    return applied(Scene(last=20), [*edits, MakeLimb("left leg", "body", chain, 0, mirror=True)])


@pytest.mark.parametrize("seed", range(cases(3, 12)))
def test_a_mirrored_pose_takes_a_limb_to_the_other_side_with_all_that_steers_it(seed: int) -> None:
    random = np.random.default_rng(seed)
    scene = two_legs(random)
    limbs = {limb.name: limb for limb in scene.limbs.values()}
    steers = {
        key: ChannelRef("body", step_channel(limbs["left leg"].id, key))
        for key in ("blend", "stretch", "soft", "turn", "end follows")
    }
    numbers = dict(
        zip(steers, random.uniform((0.2, 0, 0, -60, 0), (1, 1, 0.3, 60, 1)), strict=True)
    )
    edits = [SetValue(*steers[key], float(value)) for key, value in numbers.items()]
    copied = list(steers.values())
    parts = [f"left{name}" for name in CHAIN] + [
        limbs["left leg"].goal,
        str(limbs["left leg"].pole),
    ]
    for part in parts:
        for channel in TRANSFORM_CHANNELS[:6]:
            size = 0.3 if channel.startswith("t") else 20.0
            edits.append(SetValue(part, channel, float(random.uniform(-size, size))))
            copied.append(ChannelRef(part, channel))
    posed = applied(scene, edits)
    pasted = applied(posed, [PasteClip(pose_clip(posed, copied, 0.0), 0.0, mirrored=True)])
    image = np.diag([-1.0, 1.0, 1.0])
    for name in CHAIN:
        left, right = world(pasted, f"left {name}"), world(pasted, f"right {name}")
        assert np.allclose(right[:, 3], image @ left[:, 3], atol=1e-9)
        assert np.allclose(right[:, :3], image @ left[:, :3] @ image, atol=1e-9)
    moved = np.abs(world(pasted, "right ankle") - world(posed, "right ankle"))
    assert moved.max() > 1e-3
    assert np.array_equal(world(pasted, "left ankle"), world(posed, "left ankle"))
