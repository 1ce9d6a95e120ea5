"""Evaluation against closed forms, SciPy, and itself from nothing."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import ChangeKeys, KeyChange, PutKeys
from bindu.core.edits.parts import AddPart, subtree
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import Evaluation, KeptResults, evaluate, evaluate_after
from bindu.core.nodes.identity import NodeId, Stage, at_tap
from bindu.core.scene.channels import AXES, ChannelRef, Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_named
from bindu.core.scene.settings import FormulaSettings
from tests.demos import DEMO_NAMES, demo
from tests.strategies import histories


def values(evaluation: Evaluation, name: str, tap: Tap = "final") -> np.ndarray:
    """A channel's values, one for each frame."""
    found = evaluation.channel(channel_named(evaluation.scene, name), tap)
    return np.broadcast_to(found, len(evaluation.times.frames))


def world_by_scipy(evaluation: Evaluation, part_id: str) -> np.ndarray:
    """World matrices by SciPy's rotations and a plain loop over frames."""
    part = evaluation.scene.parts[part_id]
    rows = []
    for n in range(len(evaluation.times.frames)):
        got = {
            g: [values(evaluation, f"{part.name}.{g}.{a}")[n] for a in AXES]
            for g in ("translation", "rotation", "scale")
        }

        def turn(angles: list[float] | tuple[float, ...]) -> np.ndarray:
            ordered = [angles["xyz".index(axis)] for axis in part.rotation_order]
            return Rotation.from_euler(part.rotation_order, ordered, degrees=True).as_matrix()

        matrix = np.eye(4)
        matrix[:3, :3] = turn(part.rest.rotation)
        matrix[:3, 3] = part.rest.translation
        local = np.eye(4)
        local[:3, :3] = turn(got["rotation"]) @ np.diag(got["scale"])
        local[:3, 3] = got["translation"]
        rows.append(matrix @ local)
    world = np.array(rows)
    return world_by_scipy(evaluation, part.parent) @ world if part.parent else world


@settings(max_examples=15)
@given(histories())
def test_world_matrices_are_those_of_scipy(history: list[Scene]) -> None:
    evaluation = evaluate(history[-1])
    for part in evaluation.scene.parts:
        expected = world_by_scipy(evaluation, part)[:, :3]
        size = max(1.0, float(np.abs(expected).max()))
        found = np.broadcast_to(evaluation.world(part), expected.shape)
        np.testing.assert_allclose(found, expected, atol=1e-9 * size)


@given(histories(20), st.booleans())
def test_after_edits_all_is_as_from_nothing(history: list[Scene], keeping: bool) -> None:
    kept = KeptResults() if keeping else None
    evaluation = evaluate(history[0], kept)
    for scene in [*history[1:], history[0]]:
        evaluation = evaluate_after(evaluation, scene, kept)
        fresh = evaluate(scene)
        assert evaluation.graph.order == fresh.graph.order
        assert evaluation.graph.held == fresh.graph.held
        for node_id in fresh.graph.order:
            a, b = evaluation.results[node_id], fresh.results[node_id]
            assert a.key == b.key
            assert a.values.tobytes() == b.values.tobytes()


def test_the_paddle_rolls_by_the_way_of_the_ferry() -> None:
    scene = demo("ferry-crossing")
    evaluation = evaluate(scene)
    way = curve_values(scene.curves[ChannelRef("p1", "translation.x")], evaluation.times.frames)
    expected = -np.degrees((way - way[0]) / 0.5) / 4
    np.testing.assert_allclose(
        values(evaluation, "paddle.rotation.z", "driven"), expected, atol=1e-10
    )
    np.testing.assert_allclose(
        values(evaluation, "paddle.rotation.z"), np.clip(expected, -240, 20), atol=1e-10
    )
    assert not values(evaluation, "paddle.rotation.z", "keyed").any()
    late = values(evaluation, "paddle.rotation.z", "late")
    np.testing.assert_array_equal(late, values(evaluation, "paddle.rotation.z", "driven"))


def test_speed_is_the_way_since_the_frame_before() -> None:
    scene = demo("ferry-crossing")
    evaluation = evaluate(
        applied(
            scene,
            [
                AddStep("p2", "probe", FormulaSettings("translation.y", "speed({ferry})")),
                AddStep("p2", "probe too", FormulaSettings("translation.z", "travelled({ferry})")),
            ],
        )
    )
    x = values(evaluation, "ferry.translation.x")
    ways = np.abs(np.diff(x))
    np.testing.assert_allclose(values(evaluation, "deck.translation.y")[1:], ways * 24, atol=1e-12)
    np.testing.assert_allclose(
        values(evaluation, "deck.translation.z")[1:], np.cumsum(ways), atol=1e-12
    )


def test_an_edit_computes_only_what_it_reaches_and_undo_finds_the_old() -> None:
    scene, kept = demo("ferry-crossing"), KeptResults()
    whole = evaluate(scene, kept)
    edited = applied(scene, [SetValue("p3", "c1", 0.25)])
    after = evaluate_after(whole, edited, kept)
    assert {i.part for i in after.seconds} == {"p3"}
    assert values(after, "paddle.rotation.z", "driven")[-1] == pytest.approx(
        2 * values(whole, "paddle.rotation.z", "driven")[-1]
    )
    back = evaluate_after(after, scene, kept)
    assert not back.seconds
    moved = applied(scene, [ChangeKeys("p1", "translation.x", (KeyChange(50.0, value=1.0),))])
    reached = {i.part for i in evaluate_after(whole, moved, kept).seconds}
    crate = next(part.id for part in scene.parts.values() if part.name == "crate")
    assert reached == {"p1", *subtree(scene, "p1"), crate}


@pytest.mark.parametrize(
    ("text", "first", "count"),
    [
        ("1 / (frame - 7)", 7, 1),
        ("sqrt(10 - frame)", 11, 110),
        ("10 ^ (frame * 10)", 31, 90),
        ("1 / 0", 0, 121),
    ],
)
def test_values_that_are_not_finite_stay_in_their_step(text: str, first: int, count: int) -> None:
    scene = applied(
        demo("ferry-crossing"),
        [
            SetValue("p2", "translation.y", 3.0),
            AddStep("p2", "wild", FormulaSettings("translation.y", text), id="wild"),
        ],
    )
    evaluation = evaluate(scene)
    result = evaluation.results[NodeId("p2", "translation.y", Stage("step", "wild"))]
    assert (result.broken_from, result.broken_frames) == (first, count)
    assert values(evaluation, "deck.translation.y")[first] == 3.0
    assert all(np.isfinite(r.values).all() for r in evaluation.results.values())


def test_a_weight_mixes_what_comes_in_with_what_the_step_makes() -> None:
    scene = applied(demo("ferry-crossing"), [SetValue("p3", "s1.weight", 0.25)])
    whole, part = evaluate(demo("ferry-crossing")), evaluate(scene)
    np.testing.assert_allclose(
        values(part, "paddle.rotation.z", "driven"),
        0.25 * values(whole, "paddle.rotation.z", "driven"),
        atol=1e-12,
    )
    muted = evaluate(applied(scene, [ChangeStep("s1", on=False)]))
    assert not values(muted, "paddle.rotation.z").any()
    # A weight with a key is there to be mixed with, and at 1 changes not a bit.
    keyed = evaluate(applied(scene, [PutKeys("p3", "s1.weight", (Key(0.0, 1.0),))]))
    made = [values(one, "paddle.rotation.z", "driven").tobytes() for one in (keyed, whole)]
    assert made[0] == made[1]


def test_what_stands_still_in_its_parent_is_one_node() -> None:
    scene = applied(
        Scene(first=0, last=4),
        [
            AddPart("raft", id="p1"),
            AddPart("mast", "p1", id="p2"),
            SetValue("p2", "translation.y", 2.0),
            SetValue("p2", "scale.z", -0.5),
        ],
    )
    still = evaluate(scene)
    assert {(node.part, node.quantity) for node in still.results} == {
        ("p1", "world matrix"),
        ("p2", "world matrix"),
    }
    group = NodeId("p2", "scale", at_tap("bound"))
    np.testing.assert_array_equal(still.result(group).values, [[1.0, 1.0, -0.5]])
    turned = applied(scene, [PutKeys("p2", "rotation.x", (Key(0.0, 0.0), Key(4.0, 180.0)))])
    moved = evaluate_after(still, turned)
    back = evaluate_after(moved, applied(turned, [SetValue("p2", "scale.z", 3.0)]))
    for found in (moved, back, evaluate(back.scene)):
        z = found.scene.parts["p2"].values["scale.z"]
        np.testing.assert_allclose(found.world("p2")[-1, :, 3], [0.0, 2.0, 0.0], atol=1e-12)
        np.testing.assert_allclose(found.world("p2")[-1, 2, 2], -z, atol=1e-12)


def test_the_same_scene_gives_the_same_bytes() -> None:
    for scene in map(demo, DEMO_NAMES):
        # What a scene knows of itself is not kept in a copy.
        a, b = evaluate(scene), evaluate(replace(scene))
        assert a.graph.order == b.graph.order
        for node_id in a.graph.order:
            assert a.results[node_id].values.tobytes() == b.results[node_id].values.tobytes()
            assert np.isfinite(a.results[node_id].values).all()
