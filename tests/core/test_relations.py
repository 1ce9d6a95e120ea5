"""Offsets that are measured, places given and kept, relationships carried over and written out."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.clips.thinning import thinned_turns
from bindu.core.curves.model import Key
from bindu.core.curves.thin import thinned_places, thinned_rows
from bindu.core.edits import applied
from bindu.core.edits.binding import Bind, MeasureOffset
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.place import PlacePart
from bindu.core.edits.relations import (
    GiveMotion,
    MoveRoot,
    PutWhere,
    TurnAbout,
    WriteOut,
    relation_of,
)
from bindu.core.edits.spaces import PickAndCarry
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation, answering, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    FormulaSettings,
    Space,
    Target,
)
from tests.core import rigs
from tests.wide import cases

NEAR = 1e-9


@pytest.mark.parametrize("kind", ["position", "rotation", "scale", "full", "aim"])
def test_a_kept_offset_leaves_the_part_where_it_is(kind: str) -> None:
    checked = 0
    for seed in range(cases(20, 60)):
        random = np.random.default_rng([seed, 3])
        scene = rigs.random_rig(random, scaled=kind in ("scale", "full"))
        others = rigs.free_of(scene, "p1")
        if len(others) < 2:
            continue
        targets = tuple(Target(t) for t in others[:2])
        spaces = [Space(), Space("part", others[-1])] if kind != "scale" else [Space()] * 2
        settings: ConstraintSettings | AimSettings
        if kind == "aim":
            settings = AimSettings(targets)
        else:
            settings = ConstraintSettings(
                targets[:1] if kind == "full" else targets,
                read=spaces[seed % 2],
                write=spaces[seed // 2 % 2],
                kind=kind,  # type: ignore[arg-type]
            )
        before = rigs.evaluated(scene)
        scene = Bind("p1", "hold", settings, keep=3, id="s1").apply(scene)
        made = rigs.evaluated(scene)
        rigs.near(made.world("p1")[3], before.world("p1")[3])
        again = rigs.evaluated(MeasureOffset("s1", 5).apply(scene))
        rigs.near(again.world("p1")[5], before.world("p1")[5])
        checked += 1
    assert checked > 10


def test_a_part_is_put_where_another_is_and_nothing_else_changes() -> None:
    for seed in range(cases(20, 60)):
        scene = rigs.random_rig(np.random.default_rng([seed, 7]))
        others = rigs.free_of(scene, "p1")
        if not others:
            continue
        before = rigs.evaluated(scene)
        made = rigs.evaluated(PutWhere("p1", others[0], 2, 4).apply(scene))
        for frame in rigs.FRAMES:
            wanted = before.world(others[0] if 2 <= frame <= 4 else "p1")[frame]
            rigs.near(made.world("p1")[frame], wanted)


def test_a_copied_relationship_is_pasted_on_another_frame_or_another_part() -> None:
    scene = rigs.random_rig(np.random.default_rng(11), 4)
    scene = replace(scene, parts={i: replace(p, parent=None) for i, p in scene.parts.items()})
    before = rigs.evaluated(scene)
    relation = relation_of(before, "p1", "p2", 1)
    made = rigs.evaluated(PutWhere("p1", "p3", 4, 4, relation=relation).apply(scene))
    seen = np.linalg.inv(rigs.world(made, "p3", 4)) @ rigs.world(made, "p1", 4)
    wanted = np.linalg.inv(rigs.world(before, "p2", 1)) @ rigs.world(before, "p1", 1)
    rigs.near(seen, wanted)
    on_keys = rigs.evaluated(PutWhere("p1", "p3", 0, 6, relation=relation, on="keys").apply(scene))
    for frame in (0, 3, 6):
        seen = np.linalg.inv(rigs.world(on_keys, "p3", frame)) @ rigs.world(on_keys, "p1", frame)
        rigs.near(seen, wanted)


def test_parts_turn_about_any_point() -> None:
    scene = rigs.random_rig(np.random.default_rng(5), 2)
    scene = replace(scene, parts={i: replace(p, parent=None) for i, p in scene.parts.items()})
    before = rigs.evaluated(scene)
    point, turn = (1.0, 2.0, 3.0), (20.0, -40.0, 60.0)
    made = rigs.evaluated(TurnAbout(("p1", "p2"), 3.0, point, turn, key=True).apply(scene))
    rotation = Rotation.from_rotvec(turn, degrees=True)
    for part in ("p1", "p2"):
        a, b = before.world(part)[3], made.world(part)[3]
        rigs.near(b[:, 3], rotation.apply(a[:, 3] - point) + point)
        rigs.near(b[:, :3], rotation.as_matrix() @ a[:, :3])


def _family() -> Scene:
    """A root that moves and turns, with two children, one of them still."""
    parts = [
        AddPart("root", id="p1"),
        AddPart("hip", "p1", id="p2"),
        AddPart("goal", "p1", id="p3"),
    ]
    scene = applied(Scene(last=rigs.LAST), parts)
    random = np.random.default_rng(2)
    for part in ("p1", "p2"):
        for channel in ("translation.x", "translation.z", "rotation.y"):
            scene = rigs.keyed(part, channel, random, 40.0).apply(scene)
    return scene


def test_the_root_moves_under_its_children_and_gives_them_its_motion() -> None:
    scene = _family()
    before = rigs.evaluated(scene)
    moved = rigs.evaluated(MoveRoot("p1", 3, 2, 4, (5.0, 0.0, 0.0), (0.0, 30.0, 0.0)).apply(scene))
    assert abs(moved.world("p1")[3, 0, 3] - before.world("p1")[3, 0, 3] - 5.0) < NEAR
    given = rigs.evaluated(GiveMotion("p1").apply(scene))
    for part in ("p2", "p3"):
        for frame in rigs.FRAMES:
            wanted = before.world(part)[frame]
            if 2 <= frame <= 4:
                rigs.near(moved.world(part)[frame], wanted)
            rigs.near(given.world(part)[frame], wanted)
    assert len(given.world("p1")) == 1
    # One child alone takes it over; the other one stands still with the root.
    some = rigs.evaluated(GiveMotion("p1", ("p2",)).apply(scene))
    assert (len(some.world("p1")), len(some.world("p3"))) == (1, 1)
    rigs.near(some.world("p2"), before.world("p2"))
    rigs.near(some.world("p3")[0], before.world("p3")[0])
    with pytest.raises(Refusal, match="root is not among its children"):
        GiveMotion("p2", ("p1",)).apply(AddPart("toe", "p2").apply(scene))
    with pytest.raises(Refusal, match="it has no children"):
        GiveMotion("p3").apply(scene)


@pytest.mark.parametrize("tolerance", [None, 0.05])
def test_a_binding_is_written_out_as_keys(tolerance: float | None) -> None:
    scene = _family()
    scene = AddPart("crate", id="p4").apply(scene)
    settings = ConstraintSettings((Target("p2"),), kind="full")
    scene = Bind("p4", "carried", settings, id="s1").apply(scene)
    before = rigs.evaluated(scene)
    whole = WriteOut("p4", 0, rigs.LAST, tolerance).apply(scene)
    assert not whole.steps["s1"].on
    made = rigs.evaluated(whole)
    allowed = 1e-9 if tolerance is None else tolerance
    for channel in ("translation.x", "translation.z", "rotation.y"):
        apart = [
            rigs.channel(made, "p4", channel, f, "final")
            - rigs.channel(before, "p4", channel, f, "final")
            for f in rigs.FRAMES
        ]
        assert np.abs(apart).max() <= allowed
    part = rigs.evaluated(WriteOut("p4", 2, 4).apply(scene))
    assert [rigs.channel(part, "p4", "s1.weight", f) for f in rigs.FRAMES] == [1, 1, 0, 0, 0, 1, 1]
    rigs.near(part.world("p4"), before.world("p4"))


def test_thinning_keeps_within_the_tolerance_with_few_keys() -> None:
    values = np.sin(np.linspace(0.0, 6.0, 200)) * 10.0
    places = thinned_places(values, 0.1)
    line = np.interp(np.arange(200), places, values[places])
    assert np.abs(line - values).max() <= 0.1
    assert len(places) < 30
    assert thinned_places(np.linspace(0.0, 1.0, 50), 1e-9) == [0, 49]
    rows = np.stack([values, values[::-1] ** 2, np.round(values)])
    limits = np.array([0.1, 0.5, 0.0])
    for row, limit, found in zip(rows, limits, thinned_rows(rows, limits), strict=True):
        alone = thinned_places(row, float(limit))
        assert alone == found.tolist() and (limit > 0.0) == (len(alone) < 200)


def test_thinned_turns_keep_within_degrees_of_all() -> None:
    random = np.random.default_rng(4)
    every = np.arange(120)
    angles = np.cumsum(random.normal(size=(3, 120, 3)), axis=1) * 3.0
    for row in np.stack([Rotation.from_rotvec(a, degrees=True).as_quat() for a in angles]):
        for limit in (2.0, 10.0):
            (kept,) = thinned_turns(row[None], np.array([limit]))
            went = Slerp(every[kept], Rotation.from_quat(row[kept]))(every)
            off = np.degrees((went.inv() * Rotation.from_quat(row)).magnitude())
            assert off.max() <= limit + 1e-9 and len(kept) < 120


def test_a_carried_part_is_moved_by_hand_in_the_world_and_a_bound_one_is_not() -> None:
    scene = applied(Scene(last=10), [AddPart("fish", id="p1"), AddPart("beak", id="p2")])
    turn = (Key(0.0, 0.0, "linear"), Key(10.0, 90.0, "linear"))
    scene = PutKeys("p2", "rotation.y", turn).apply(scene)
    scene = PickAndCarry("p1", "p2", 2).apply(scene)
    before = rigs.evaluated(scene)
    moved = rigs.evaluated(PlacePart(("p1",), 8.0, (1.0, 2.0, 3.0)).apply(scene))
    way = moved.world("p1")[8, :, 3] - before.world("p1")[8, :, 3]
    rigs.near(way, (1.0, 2.0, 3.0))
    settings = ConstraintSettings((Target("p2"),), kind="position")
    bound = Bind("p1", "held", settings).apply(scene)
    with pytest.raises(Refusal, match="“held” binds it; change that step, or mute it"):
        PlacePart(("p1",), 8.0, (1.0, 2.0, 3.0)).apply(bound)


def test_a_root_with_twelve_children_is_evaluated_once_more_than_it_is_looked_at() -> None:
    parts = [AddPart("root", id="p0"), *(AddPart(f"leaf {n}", "p0") for n in range(12))]
    scene = applied(Scene(last=10), parts)
    asked: list[Scene] = []

    def answer(wanted: Scene) -> Evaluation:
        asked.append(wanted)
        return evaluate(wanted)

    edit = MoveRoot("p0", 3, 2, 4, (5.0, 0.0, 0.0), (0.0, 30.0, 0.0))
    with answering(answer):
        made = edit.apply(scene)
    assert made == edit.apply(scene)
    # As it is, what the handle moves, with the root moved, and whether the children are back.
    assert len(asked) <= 4
    before, after = evaluate(scene), evaluate(made)
    for child in scene.children["p0"]:
        moved = np.broadcast_to(after.world(child), (11, 3, 4))[2:5]
        rigs.near(moved, np.broadcast_to(before.world(child), (11, 3, 4))[2:5])


def test_a_child_that_its_root_reads_cannot_stay_and_says_so() -> None:
    parts = [AddPart("root", id="p0"), AddPart("leaf", "p0", id="p1")]
    follows = FormulaSettings("translation.y", "0.5 * {leaf.translation.x}", "add")
    scene = applied(Scene(last=10), [*parts, AddStep("p0", "follows", follows)])
    with pytest.raises(Refusal, match="leaf cannot stay where it is"):
        MoveRoot("p0", 3, 2, 4, (5.0, 0.0, 0.0)).apply(scene)
