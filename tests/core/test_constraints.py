"""Constraints against an independent computation, frame by frame, with SciPy."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import (
    AimSettings,
    Axis,
    ConstraintKind,
    ConstraintSettings,
    FollowSettings,
    Offset,
    Space,
    Target,
)
from tests.core import rigs
from tests.wide import cases

SETUPS = cases(30, 120)


def _space(random: np.random.Generator, others: list[str]) -> Space:
    kind = random.choice(["world", "world", "parent", "local", "part"])
    return Space(kind, str(random.choice(others)) if kind == "part" else None)  # type: ignore[arg-type]


def _weighted(scene: Scene, random: np.random.Generator, targets: list[str]) -> Scene:
    """Each target with a weight of its own, the first one keyed."""
    for n, target in enumerate(targets):
        low, high = (float(w) for w in random.uniform(0.1, 2.0, 2))
        if n == 0:
            keys = (Key(0.0, low, "linear"), Key(float(rigs.LAST), high, "linear"))
            scene = PutKeys("p1", f"s1.weight.{target}", keys).apply(scene)
        else:
            scene = SetValue("p1", f"s1.weight.{target}", low).apply(scene)
    share = (Key(0.0, 1.0, "linear"), Key(float(rigs.LAST), 0.25, "linear"))
    return PutKeys("p1", "s1.weight", share).apply(scene) if random.random() < 0.3 else scene


def _weights(evaluation: Evaluation, targets: list[str], frame: int) -> Any:
    return np.array([rigs.channel(evaluation, "p1", f"s1.weight.{t}", frame) for t in targets])


def _seen(evaluation: Evaluation, part: str, space: Space, frame: int) -> Any:
    """A target's place in a space."""
    parent = evaluation.scene.parts[part].parent
    place = rigs.world(evaluation, part, frame)
    if space.kind == "local":
        return rigs.own_matrix(evaluation, part, frame, "final")
    if space.kind == "parent":
        return np.linalg.inv(rigs.world(evaluation, parent, frame)) @ place if parent else place
    if space.kind == "part":
        return np.linalg.inv(rigs.world(evaluation, space.part or "", frame)) @ place
    return place


def _base(evaluation: Evaluation, space: Space, frame: int) -> Any:
    """What the owner's channels count from, in the written space."""
    base, parent = rigs.rest(evaluation.scene, "p1"), evaluation.scene.parts["p1"].parent
    if space.kind == "local":
        return np.eye(4)
    if space.kind == "parent":
        return base
    base = rigs.world(evaluation, parent, frame) @ base if parent else base
    if space.kind == "part":
        return np.linalg.inv(rigs.world(evaluation, space.part or "", frame)) @ base
    return base


def _setups(kind: str) -> Any:
    for seed in range(SETUPS):
        random = np.random.default_rng([seed, len(kind)])
        scene = rigs.random_rig(random, scaled=bool(seed % 2))
        others = rigs.free_of(scene, "p1")
        if not others:
            continue
        count = int(random.integers(1, min(3, len(others)) + 1))
        targets = [str(t) for t in random.choice(others, count, replace=False)]
        yield random, scene, targets, _space(random, others), _space(random, others)


def _axes(random: np.random.Generator) -> tuple[Axis, ...]:
    chosen: tuple[Axis, ...] = tuple(a for a in ("x", "y", "z") if random.random() < 0.7)  # type: ignore[misc]
    return chosen or ("y",)


def test_position_constraints_are_weighted_means_in_their_spaces() -> None:
    for random, scene, targets, read, write in _setups("position"):
        offset, axes = rigs._three(random, 1.0), _axes(random)
        settings = ConstraintSettings(
            tuple(Target(t) for t in targets), axes, offset, read, write, kind="position"
        )
        scene = _weighted(rigs.bound(scene, "p1", settings), random, targets)
        made = rigs.evaluated(scene)
        for frame in rigs.FRAMES:
            weights = _weights(made, targets, frame)
            places = [_seen(made, t, read, frame)[:3, 3] for t in targets]
            wanted = np.average(places, axis=0, weights=weights) + offset
            base = _base(made, write, frame)
            came = rigs.group(made, "p1", "translation", frame)
            inside = (base @ [*came, 1.0])[:3]
            wanted = np.where([a in axes for a in "xyz"], wanted, inside)
            full = (np.linalg.inv(base) @ [*wanted, 1.0])[:3]
            share = rigs.channel(made, "p1", "s1.weight", frame)
            rigs.near(
                rigs.group(made, "p1", "translation", frame, "bound"), came + share * (full - came)
            )


def test_rotation_constraints_are_the_geodesic_mean() -> None:
    for random, scene, targets, read, write in _setups("rotation"):
        offset = rigs._three(random, 90.0)
        settings = ConstraintSettings(
            tuple(Target(t) for t in targets),
            offset=offset,
            read=read,
            write=write,
            kind="rotation",
        )
        scene = _weighted(rigs.bound(scene, "p1", settings), random, targets)
        made = rigs.evaluated(scene)
        order = scene.parts["p1"].rotation_order
        for frame in rigs.FRAMES:
            found = [rigs.unscaled(_seen(made, t, read, frame)) for t in targets]
            mean = rigs.mean(found, _weights(made, targets, frame))
            wanted = rigs.unscaled(_base(made, write, frame)).inv() * mean
            wanted = wanted * rigs.turned(np.array(offset), order)
            share = rigs.channel(made, "p1", "s1.weight", frame)
            wanted = rigs.slerp(rigs.rotation(made, "p1", frame), wanted, share)
            assert rigs.apart(rigs.rotation(made, "p1", frame, "bound"), wanted) < 1e-7


@pytest.mark.parametrize(
    ("kind", "quantity"), [("position", "translation"), ("rotation", "rotation")]
)
@pytest.mark.parametrize("weights", [(0.25, 0.5), (0.0, 0.125), (0.125, 0.25, 0.0)])
def test_weights_are_shares_however_little_they_are_together(
    kind: ConstraintKind, quantity: str, weights: tuple[float, ...]
) -> None:
    edits: list[AnyEdit] = [AddPart("held", id="p0")]
    for n in range(1, len(weights) + 1):
        edits += [AddPart(f"t{n}", id=f"p{n}"), SetValue(f"p{n}", f"{quantity}.x", 6.0 * n)]
    targets = tuple(Target(f"p{n}") for n in range(1, len(weights) + 1))
    edits.append(AddStep("p0", "bound", ConstraintSettings(targets, kind=kind), id="s1"))
    edits += [SetValue("p0", f"s1.weight.p{n}", weight) for n, weight in enumerate(weights, 1)]
    made = rigs.evaluated(applied(Scene(), edits))
    wanted = np.average([6.0 * n for n in range(1, len(weights) + 1)], weights=weights)
    assert rigs.group(made, "p0", quantity, 0, "bound")[0] == pytest.approx(wanted)


def test_scale_constraints_give_the_lengths_of_axes() -> None:
    for _, scene, targets, _, _ in _setups("scale"):
        settings = ConstraintSettings(
            tuple(Target(t) for t in targets), offset=(2.0, 1.0, 0.5), kind="scale"
        )
        made = rigs.evaluated(rigs.bound(scene, "p1", settings))
        for frame in rigs.FRAMES:
            sizes = [np.linalg.norm(rigs.world(made, t, frame)[:3, :3], axis=0) for t in targets]
            wanted = np.mean(sizes, axis=0) * (2.0, 1.0, 0.5)
            place = rigs.world(made, "p1", frame)
            rigs.near(np.linalg.norm(place[:3, :3], axis=0), wanted)


def test_full_constraints_carry_the_owner_with_an_offset() -> None:
    for random, scene, targets, _, _ in _setups("full"):
        offset = Offset(rigs._three(random, 2.0), rigs._three(random, 90.0))
        settings = ConstraintSettings((Target(targets[0], offset=offset),), kind="full")
        made = rigs.evaluated(rigs.bound(scene, "p1", settings))
        order = scene.parts["p1"].rotation_order
        inner = np.eye(4)
        inner[:3, :3] = rigs.turned(np.array(offset.rotation), order).as_matrix()
        inner[:3, 3] = offset.translation
        for frame in rigs.FRAMES:
            wanted = rigs.world(made, targets[0], frame) @ inner
            place = made.world("p1")[min(frame, len(made.world("p1")) - 1)]
            rigs.near(place, wanted[:3])


def test_aim_looks_at_its_target_with_up_up() -> None:
    for random, scene, targets, _, _ in _setups("aim"):
        axis, up_axis = rigs._three(random, 1.0), rigs._three(random, 1.0)
        settings = AimSettings(
            tuple(Target(t) for t in targets), axis, up_axis, up_direction=(0.0, 1.0, 0.0)
        )
        made = rigs.evaluated(_weighted(rigs.bound(scene, "p1", settings), random, targets))
        if rigs.channel(made, "p1", "s1.weight", rigs.LAST) < 1.0:
            continue
        for frame in rigs.FRAMES:
            points = [rigs.world(made, t, frame)[:3, 3] for t in targets]
            middle = np.average(points, axis=0, weights=_weights(made, targets, frame))
            place = rigs.world(made, "p1", frame)
            direction = middle - place[:3, 3]
            turn = rigs.unscaled(place)
            looks = turn.apply(axis)
            rigs.near(looks / np.linalg.norm(looks), direction / np.linalg.norm(direction))
            side = turn.apply(np.cross(axis, up_axis))
            assert abs(side[1]) < 1e-8
            if frame == 0:
                along = looks * np.dot(axis, up_axis) / np.dot(axis, axis)
                assert (turn.apply(up_axis) - along)[1] > 0.0


def test_follow_takes_a_share_of_the_parent() -> None:
    checked = 0
    for random, scene, _, _, _ in _setups("follow"):
        children = [p for p in scene.parts.values() if p.parent is not None]
        if not children:
            continue
        part = children[0]
        settings = FollowSettings(("translation", "rotation"))
        scene = rigs.bound(scene, part.id, settings)
        share = {g: float(random.uniform(0.0, 1.0)) for g in settings.takes}
        for name, value in share.items():
            scene = SetValue(part.id, f"s1.{name}", value).apply(scene)
        made = rigs.evaluated(scene)
        still = np.eye(4)
        above: str | None = part.parent
        while above is not None:
            still = rigs.rest(scene, above) @ still
            above = scene.parts[above].parent
        for frame in rigs.FRAMES:
            parent = rigs.world(made, part.parent or "", frame)
            own = rigs.rest(scene, part.id) @ rigs.own_matrix(made, part.id, frame)
            taken = rigs.slerp(rigs.unscaled(still), rigs.unscaled(parent), share["rotation"])
            place = rigs.world(made, part.id, frame)
            assert rigs.apart(rigs.unscaled(place), taken * rigs.unscaled(own)) < 1e-7
            mixed = still + share["translation"] * (parent - still)
            rigs.near(place[:3, 3], (mixed @ own)[:3, 3])
            checked += 1
    assert checked > SETUPS


@pytest.mark.parametrize("axis", ["x", "y", "z"])
def test_one_axis_of_a_helper_turns_a_tilted_thing_about_its_own_axis(axis: Axis) -> None:
    """Need B15: the helper turns by one channel, twice round, and the thing about its own axis."""
    tilted = Rest((1.0, 0.0, 2.0), (35.0, -20.0, 80.0))
    parts = [AddPart("wheel", rest=tilted, rotation_order="yzx", id="p1")]
    scene = applied(Scene(last=rigs.LAST), [*parts, AddPart("helper", id="p2")])
    turns = (Key(0.0, 0.0, "linear"), Key(float(rigs.LAST), 720.0, "linear"))
    scene = PutKeys("p2", f"rotation.{axis}", turns).apply(scene)
    local = Space("local")
    settings = ConstraintSettings(
        (Target("p2"),), (axis,), read=local, write=local, kind="rotation"
    )
    made = rigs.evaluated(rigs.bound(scene, "p1", settings))
    for frame in rigs.FRAMES:
        turned = rigs.group(made, "p1", "rotation", frame, "final")
        wanted = np.where([a == axis for a in "xyz"], 120.0 * frame, 0.0)
        rigs.near(turned, wanted, within=1e-7)
