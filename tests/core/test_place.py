"""Places: another parent, another rest, another rotation order, and handles in the view."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart, LockChannels, MovePart
from bindu.core.edits.place import PlacePart, RestFromPose
from bindu.core.edits.rotation_order import ChangeRotationOrder, rotation_error
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.rotation import rotation_matrices
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings
from tests.strategies import FRAMES, curves, orders, vectors

TURNS = ("rotation.x", "rotation.y", "rotation.z")
MOVES = ("translation.x", "translation.y", "translation.z")


@st.composite
def rigs(draw: st.DrawFn) -> Scene:
    """Two trees of three parts, some channels of which are keyed."""
    edits = []
    for n, parent in enumerate([None, "p1", "p2", None, "p4", "p5"], start=1):
        rest = Rest(draw(vectors), draw(vectors))
        edits.append(AddPart(f"part {n}", parent, rest=rest, rotation_order=draw(orders)))
        for channel in draw(st.sets(st.sampled_from(TURNS + MOVES), max_size=2)):
            edits.append(PutKeys(f"p{n}", channel, draw(curves(1))))
    scene = Scene(last=FRAMES)
    return applied(scene, edits)


def moved(before: Scene, after: Scene, besides: str = "") -> float:
    """How far any world matrix differs between two scenes."""
    one, two = evaluate(before), evaluate(after)
    apart = [np.abs(one.world(p) - two.world(p)).max() for p in before.parts if p != besides]
    return float(max(apart))


@given(rigs(), st.sampled_from(["p4", "p5", "p6", None]))
def test_another_parent_with_the_place_kept_moves_nothing(scene: Scene, parent: str) -> None:
    after = applied(scene, [MovePart("p2", parent, keep_place=True)])
    assert after.parts["p2"].parent == parent
    assert moved(scene, after) < 1e-9


def test_between_parents_at_rest_only_the_rest_changes() -> None:
    scene = applied(
        Scene(last=20),
        [
            AddPart("quay", rest=Rest((3.0, 1.0, 0.0), (0.0, 90.0, 0.0))),
            AddPart("deck", rest=Rest((0.0, 0.4, 0.0))),
            AddPart("crate", "p1", rest=Rest((0.0, 0.0, 1.0))),
            PutKeys("p3", "translation.y", tuple(_keys((0.0, 0.0), (20.0, 2.0)))),
        ],
    )
    after = applied(scene, [MovePart("p3", "p2", keep_place=True)])
    assert after.curves == scene.curves
    np.testing.assert_allclose(after.parts["p3"].rest.translation, (4.0, 0.6, 0.0), atol=1e-12)
    np.testing.assert_allclose(after.parts["p3"].rest.rotation, (0.0, 90.0, 0.0), atol=1e-12)


def test_a_place_that_channels_cannot_hold_is_refused() -> None:
    scene = applied(
        Scene(last=5),
        [
            AddPart("hull"),
            AddPart("oar", rest=Rest(rotation=(0.0, 0.0, 30.0))),
            SetValue("p1", "scale.x", 3.0),
        ],
    )
    with pytest.raises(Refusal, match="oar: an uneven scale above it would shear it"):
        applied(scene, [MovePart("p2", "p1", keep_place=True)])
    driven = applied(
        scene,
        [
            SetValue("p1", "scale.x", 1.0),
            PutKeys("p1", "translation.x", tuple(_keys((0.0, 0.0), (5.0, 2.0)))),
            AddStep("p2", "drift", FormulaSettings("translation.x", "frame")),
        ],
    )
    with pytest.raises(Refusal, match=r"oar\.translation\.x: it is written by “drift”"):
        applied(driven, [MovePart("p2", "p1", keep_place=True)])


@given(rigs(), st.integers(0, FRAMES), st.booleans())
def test_a_pose_made_the_rest_is_at_the_defaults_and_moves_nothing(
    scene: Scene, frame: int, below: bool
) -> None:
    after = applied(scene, [RestFromPose(("p1", "p5"), frame, below)])
    assert moved(scene, after) < 1e-9
    evaluation = evaluate(after)
    for part in ("p1", "p2", "p3", "p5") if below else ("p1", "p5"):
        for channel in TURNS + MOVES:
            found = evaluation.channel(ChannelRef(part, channel), "final")
            value = np.broadcast_to(found, FRAMES + 1)[frame]
            assert abs((value + 180.0) % 360.0 - 180.0) < 1e-6


def test_a_rest_that_may_move_things_leaves_the_curves() -> None:
    scene = applied(
        Scene(last=10),
        [
            AddPart("oar"),
            SetValue("p1", "rotation.y", 30.0),
            PutKeys("p1", "translation.x", tuple(_keys((0.0, 1.0), (10.0, 2.0)))),
        ],
    )
    after = applied(scene, [RestFromPose(("p1",), 0.0, keep=False)])
    assert after.curves == scene.curves
    assert after.parts["p1"].rest == Rest((1.0, 0.0, 0.0), (0.0, 30.0, 0.0))
    assert "rotation.y" not in after.parts["p1"].values


@given(rigs(), orders)
def test_another_rotation_order_keeps_every_keyed_pose(scene: Scene, order: str) -> None:
    edit = ChangeRotationOrder("p2", order)  # type: ignore[arg-type]
    after = applied(scene, [edit])
    frames = {k.frame for c in TURNS for k in _curve_keys(scene, c) if 0 <= k.frame <= FRAMES}
    one, two = evaluate(scene), evaluate(after)
    for frame in frames or {0.0}:
        assume(frame == int(frame))
        at = [int(frame) if len(w) > 1 else 0 for w in (one.world("p2"), two.world("p2"))]
        np.testing.assert_allclose(one.world("p2")[at[0]], two.world("p2")[at[1]], atol=1e-9)
    exact = ChangeRotationOrder("p2", order, "on every frame")  # type: ignore[arg-type]
    assert rotation_error(scene, applied(scene, [exact]), "p2")[0] < 1e-6


def test_the_error_between_keys_is_stated() -> None:
    scene = applied(
        Scene(last=20),
        [
            AddPart("oar"),
            PutKeys("p1", "rotation.x", tuple(_keys((0.0, 0.0), (20.0, 80.0)))),
            PutKeys("p1", "rotation.z", tuple(_keys((0.0, 0.0), (20.0, 70.0)))),
        ],
    )
    edit = ChangeRotationOrder("p1", "zyx")
    worst, frame = rotation_error(scene, applied(scene, [edit]), "p1")
    assert worst > 1.0
    assert f"up to {worst:.3g}° (frame {frame})" in edit.label(scene)


@given(
    st.lists(vectors, min_size=1, max_size=9),
    orders,
    st.integers(1, 7),
)
def test_angles_are_continuous_and_those_of_scipy(
    ways: list[tuple[float, float, float]], order: str, turns: int
) -> None:
    knots = np.array([(0.0, 0.0, 0.0), *ways]) * turns
    steps = np.linspace(0.0, len(ways), 200)
    angles = np.stack([np.interp(steps, range(len(knots)), k) for k in knots.T], axis=1)
    matrices = rotation_matrices(angles, order)  # type: ignore[arg-type]
    found = continuous_angles(matrices, order, angles[0])  # type: ignore[arg-type]
    sequence = ["xyz".index(axis) for axis in order]
    again = Rotation.from_euler(order, found[:, sequence], degrees=True).as_matrix()
    np.testing.assert_allclose(again, matrices, atol=1e-9)
    middle = angles[:, sequence[1]]
    if np.all(np.abs(middle) < 80.0) and np.abs(np.diff(angles, axis=0)).max() < 90.0:
        np.testing.assert_allclose(found, angles, atol=1e-6)


@given(rigs(), vectors, vectors, st.sampled_from(["local", "parent", "world"]))
def test_handles_move_and_turn_along_the_axes_that_they_show(
    scene: Scene, move: tuple[float, float, float], turn: tuple[float, float, float], axes: str
) -> None:
    before = evaluate(scene)
    edit = PlacePart(("p2", "p3"), 7.0, move, turn, axes=axes)  # type: ignore[arg-type]
    after = evaluate(applied(scene, [edit]))
    old, new, parent = (
        _at(world, 7) for world in (before.world("p2"), after.world("p2"), before.world("p1"))
    )
    frame = {"local": old[:, :3], "parent": parent[:, :3], "world": np.eye(3)}[axes]
    np.testing.assert_allclose(new[:, 3], old[:, 3] + frame @ np.array(move), atol=1e-7)
    turned = frame @ Rotation.from_rotvec(turn, degrees=True).as_matrix() @ frame.T
    np.testing.assert_allclose(new[:, :3], turned @ old[:, :3], atol=1e-7)
    # What is below a chosen part goes with it and is not moved twice.
    one, two = _at(before.world("p3"), 7), _at(after.world("p3"), 7)
    local = np.linalg.solve(old[:, :3], one[:, 3] - old[:, 3])
    np.testing.assert_allclose(np.linalg.solve(new[:, :3], two[:, 3] - new[:, 3]), local, atol=1e-6)


def test_handles_refuse_what_a_step_sets_and_key_on_a_layer() -> None:
    scene = applied(
        Scene(last=10),
        [
            AddPart("oar"),
            AddStep("p1", "row", FormulaSettings("rotation.y", "frame")),
            AddLayer("lift", "p1"),
        ],
    )
    with pytest.raises(Refusal, match=r"oar\.rotation\.y: “row” sets it"):
        applied(scene, [PlacePart(("p1",), 0.0, turn=(0.0, 10.0, 0.0))])
    after = applied(scene, [PlacePart(("p1",), 4.0, move=(0.0, 0.5, 0.0), layer="l1")])
    assert after.parts["p1"].values == {}
    assert float(evaluate(after).world("p1")[4, 1, 3]) == pytest.approx(0.5)


def _keys(*places: tuple[float, float]) -> list[Key]:
    return [Key(frame, value) for frame, value in places]


def _curve_keys(scene: Scene, channel: str) -> tuple[Key, ...]:
    curve = scene.curves.get(ChannelRef("p2", channel))
    return curve.keys if curve else ()


def _at(world: np.ndarray, frame: int) -> np.ndarray:
    return world[frame if len(world) > 1 else 0]


def test_a_handle_keys_its_whole_group_where_it_keys() -> None:
    scene = applied(
        Scene(last=FRAMES),
        [AddPart("part", id="p1"), PutKeys("p1", "rotation.x", (Key(0.0, 10.0),))],
    )
    turn = PlacePart(("p1",), 8.0, turn=(0.0, 0.0, 30.0), axes="world")
    curves_after = applied(scene, [turn]).curves
    # Rotation.x stays at 10 and is keyed since it has keys; the others are only set.
    assert {ref.channel for ref in curves_after} == {"rotation.x"}
    assert [k.frame for k in curves_after[ChannelRef("p1", "rotation.x")].keys] == [0.0, 8.0]
    always = applied(scene, [PlacePart(("p1",), 8.0, turn=(5.0, 0.0, 0.0), key=True)]).curves
    assert {ref.channel for ref in always if always[ref].key_at(8.0)} == set(TURNS)


def test_a_handle_leaves_alone_what_is_locked_or_set_by_a_step() -> None:
    scene = applied(
        Scene(last=FRAMES),
        [
            AddPart("part", id="p1"),
            LockChannels("p1", ("translation.z",)),
            AddStep("p1", "f", FormulaSettings("translation.y", "1", "set")),
        ],
    )
    made = applied(scene, [PlacePart(("p1",), 3.0, move=(2.0, 0.0, 0.0), key=True)])
    assert {ref.channel for ref in made.curves} == {"translation.x"}
