"""Edits in the corners: scales of 0 and mirrors above a part, other rotation orders, whole turns,
identities that look like stages, and formulas without a value."""

from __future__ import annotations

import numpy as np
import pytest

from bindu.core.clips.clip import animation_clip, pose_clip
from bindu.core.curves.model import Key
from bindu.core.drivers.slip import slip_of
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, ChangeChannel, SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.leads import PutLead
from bindu.core.edits.parts import AddPart, MovePart
from bindu.core.edits.paste import PasteClip
from bindu.core.edits.place import PlacePart, RestFromPose
from bindu.core.edits.poses import ResetChannels, SetDefaultPose
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.relations import GiveMotion, MoveRoot, PutWhere, TurnAbout, relation_of
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.edits.sets import PairParts
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.geometry.rotation import rotation_matrices
from bindu.core.placing.place import local_matrices
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import AXES, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    FormulaSettings,
    Offset,
    Target,
)
from tests.core import rigs, seeds
from tests.core.troubles import troubles

EVERY_ORDER = ("xzy", "yxz", "yzx", "zxy", "zyx")


def _under_nothing(nought: float = 0.0) -> Scene:
    edits: list[AnyEdit] = [AddPart("raft", id="p1"), AddPart("mast", "p1", id="p2")]
    edits += [AddPart("there", id="p3"), AddPart("free", id="p4"), AddPart("flag", "p2", id="p5")]
    edits += [SetValue("p3", "translation.x", 2.0), SetValue("p1", "scale.y", nought)]
    return applied(Scene(last=4), edits)


@pytest.mark.parametrize(
    "edit",
    [
        MovePart("p4", "p2", keep_place=True),
        PutWhere("p2", "p3", 0, 2),
        TurnAbout(("p2",), 0.0, (1.0, 0.0, 0.0), (0.0, 0.0, 30.0)),
        PlacePart(("p2",), 0.0, (1.0, 0.0, 0.0)),
        MoveRoot("p2", 0, 0, 2, (1.0, 0.0, 0.0)),
    ],
)
def test_a_scale_of_nothing_above_a_part_is_a_refusal_with_its_name(edit: AnyEdit) -> None:
    with pytest.raises(Refusal, match="nothing") as refused:
        applied(_under_nothing(), [edit])
    assert refused.value.place in ("raft", "mast", "flag")
    applied(_under_nothing(0.5), [edit]) if not isinstance(edit, MovePart) else None


def test_measures_of_a_part_scaled_to_nothing_are_refused() -> None:
    scene = applied(_under_nothing(), [PutProbe("sole", "p2", ground="p1", id="q1")])
    with pytest.raises(Refusal, match="nothing"):
        relation_of(evaluate(scene), "p3", "p1", 0.0)
    with pytest.raises(Refusal, match="nothing"):
        slip_of(evaluate(scene), scene.probes["q1"])
    keyed = applied(scene, [PutKeys("p2", "translation.x", (Key(0.0, 0.0), Key(4.0, 2.0)))])
    with pytest.raises(Refusal, match="nothing"):
        applied(keyed, [GiveMotion("p2", ("p5",))])


def test_a_binding_under_a_scale_of_nothing_is_a_finding() -> None:
    step = AddStep("p2", "with", ConstraintSettings((Target("p3"),), kind="full"))
    found = troubles(evaluate(applied(_under_nothing(), [step])))
    assert any("mast" in one.text and "no finite number" in one.text for one in found)


def test_under_an_even_mirror_a_part_is_put_with_x_turned_round() -> None:
    edits = [SetValue("p1", f"scale.{axis}", -2.0) for axis in AXES]
    edits += [SetValue("p3", "rotation.z", 40.0), SetValue("p3", "rotation.x", -20.0)]
    scene = applied(_under_nothing(1.0), [*edits, PutWhere("p2", "p3", 0)])
    made = evaluate(scene)
    mast, there = made.world("p2")[0], made.world("p3")[0]
    np.testing.assert_allclose(mast[:, 3], there[:, 3], atol=1e-12)
    np.testing.assert_allclose(mast[:, 1:3] / 2.0, there[:, 1:3], atol=1e-12)
    np.testing.assert_allclose(mast[:, 0] / 2.0, -there[:, 0], atol=1e-12)


def test_a_relationship_pasted_where_it_was_copied_changes_nothing() -> None:
    random = np.random.default_rng(2)
    for _ in range(10):
        scene = seeds.seeded(random)
        even = float(random.uniform(0.5, 2.0))
        scene = applied(scene, [SetValue("p2", f"scale.{a}", even) for a in AXES])
        before = evaluate(scene)
        relation = relation_of(before, "p5", "p3", 4.0)
        made = evaluate(applied(scene, [PutWhere("p5", "p3", 4, relation=relation)]))
        np.testing.assert_allclose(made.world("p5")[4], before.world("p5")[4], atol=1e-9)


@pytest.mark.parametrize("order", EVERY_ORDER)
def test_another_rotation_order_takes_offsets_and_the_default_pose_along(order: str) -> None:
    random = np.random.default_rng(14)
    offset = rigs._three(random, 150.0)
    for settings in (
        ConstraintSettings((Target("p2"),), offset=offset, kind="rotation"),
        ConstraintSettings((Target("p2", offset=Offset(offset, offset)),), kind="full"),
        AimSettings((Target("p2"),), offset=offset),
    ):
        scene = rigs.bound(rigs.random_rig(random, 2), "p1", settings)
        scene = applied(scene, [SetDefaultPose(("p1",), 3.0)])
        made = applied(scene, [ChangeRotationOrder("p1", order, "on every frame")])  # type: ignore[arg-type]
        before, after = evaluate(scene), evaluate(made)
        np.testing.assert_allclose(after.world("p1"), before.world("p1"), atol=1e-9)
        places = [
            local_matrices(
                one.parts["p1"],
                np.array([[one.parts["p1"].pose.get(c, float(c[0] == "s")) for c in
                           TRANSFORM_CHANNELS]]),
            )
            for one in (scene, made)
        ]  # fmt: skip
        np.testing.assert_allclose(places[1], places[0], atol=1e-9)


def test_the_default_pose_stays_where_it_is_under_a_new_rest() -> None:
    random = np.random.default_rng(15)
    scene = rigs.random_rig(random, 2)
    posed = applied(scene, [SetDefaultPose(("p1",), 2.0)])
    rested = applied(posed, [RestFromPose(("p1",), 5.0)])
    reset = applied(rested, [ResetChannels(("p1",), "all", 2.0)])
    np.testing.assert_allclose(
        evaluate(reset).world("p1")[2], evaluate(scene).world("p1")[2], atol=1e-9
    )


def test_a_rest_made_of_a_pose_leaves_no_whole_turns() -> None:
    random = np.random.default_rng(16)
    for _ in range(20):
        edits: list[AnyEdit] = [AddPart("part", id="p1")]
        for axis in AXES:
            edits.append(SetValue("p1", f"rotation.{axis}", float(random.uniform(-900, 900))))
        scene = applied(Scene(last=3), [*edits, RestFromPose(("p1",), 1.0)])
        made = evaluate(scene)
        for axis in AXES:
            values = made.channel(ChannelRef("p1", f"rotation.{axis}"), "final")
            assert values == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize("order", EVERY_ORDER)
def test_a_mirrored_paste_onto_another_order_is_the_mirror_image(order: str) -> None:
    edits: list[AnyEdit] = [AddPart("left fin", side="left", id="p1")]
    edits += [AddPart("right fin", side="right", rotation_order=order, id="p2")]  # type: ignore[arg-type]
    edits.append(PairParts("p1", "p2"))
    random = np.random.default_rng(19)
    for axis in AXES:
        keys = tuple(Key(f, float(random.uniform(-80, 80)), "linear") for f in (0.0, 2.0, 4.0))
        edits.append(PutKeys("p1", f"rotation.{axis}", keys))
    scene = applied(Scene(last=4), edits)
    refs = [ChannelRef("p1", f"rotation.{axis}") for axis in AXES]
    clips = (pose_clip(scene, refs, 2.0), animation_clip(scene, refs, (0.0, 4.0), None))
    for clip, frames in zip(clips, ((2,), (0, 2, 4)), strict=True):
        frame = 2.0 if clip.kind == "pose" else 0.0
        made = evaluate(applied(scene, [PasteClip(clip, frame, mirrored=True)]))
        mirror = np.diag([-1.0, 1.0, 1.0])
        for n in frames:
            left, right = made.world("p1")[n], made.world("p2")
            found = right[n if len(right) > 1 else 0][:, :3]
            np.testing.assert_allclose(found, mirror @ left[:, :3] @ mirror, atol=1e-9)
    with pytest.raises(Refusal, match="rotation x, y and z together"):
        applied(scene, [PasteClip(pose_clip(scene, refs[:1], 2.0), 2.0, mirrored=True)])


def test_one_namespace_holds_all_that_channels_and_formulas_name() -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1"), AddPart("two", id="p2")]
    edits.append(seeds.formula("p1", "translation.x", "1", "s1"))
    scene = applied(Scene(), edits)
    again: list[AnyEdit] = [
        AddLayer("up", "p1", id="s1"),
        PutLead("crew", "p1", ("p1", "p2"), "s1"),
        AddPart("three", id="s1"),
        AddChannel("p1", "size", id="s1"),
    ]
    for edit in again:
        with pytest.raises(Refusal, match="stands for two things|no lead group"):
            applied(scene, [edit])
    with pytest.raises(Refusal, match="stands for two things"):
        applied(scene, [AddChannel("p1", "seen", id="visible")])


@pytest.mark.parametrize("name", ["own", "default", "final", "driven", "back", "before"])
def test_identities_that_look_like_stages_are_plain_identities(name: str) -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1")]
    edits += [seeds.formula("p1", "translation.x", "7", name)]
    edits += [AddStep("p1", "still", ConstraintSettings((Target(None),), kind="rotation"), id="b1")]
    made = evaluate(applied(Scene(), edits))
    assert made.channel(ChannelRef("p1", "translation.x"), "final") == pytest.approx(7.0)
    assert made.channel(ChannelRef("p1", "translation.x"), "keyed") == pytest.approx(0.0)
    assert not troubles(made)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("if(0/0, 1, 2)", None), ("1/(1/0)", None), ("min(1, 0/0)", None), ("max(0/0, 1)", None),
        ("0/0 == 0/0", None), ("0/0 != 1", None), ("1/0 > 3", None), ("not (0/0)", None),
        ("0/0 or 1", None), ("0 and 0/0", None), ("(0/0)^0", None), ("1^(1/0)", None),
        ("clamp(1/0, 0, 1)", None), ("sign(1/0)", None), ("atan(1/0)", None), ("exp(-1/0)", None),
        ("if(1, 3, 0/0)", 3.0), ("if(0, 1/0, 4)", 4.0), ("if(1 == 1, if(0, 0/0, 5), 0/0)", 5.0),
        ("if(1, 0/0, 3)", None), ("mix(1, 1/0, 0)", None), ("smoothstep(1, 1, 1)", None),
        ("round(0.49999999999999994)", 0.0), ("round(2.5)", 3.0), ("round(-2.5)", -2.0),
        ("round(-0.49999999999999994)", 0.0), ("round(1.5 * 3)", 5.0),
        ("round(4503599627370497)", 4503599627370497.0),
    ],
)  # fmt: skip
def test_what_has_no_finite_value_has_none_to_the_end(text: str, value: float | None) -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1"), SetValue("p1", "translation.x", 9.5)]
    made = evaluate(applied(Scene(), [*edits, seeds.formula("p1", "translation.x", text, "s1")]))
    found = made.channel(ChannelRef("p1", "translation.x"), "final")
    assert found == pytest.approx(9.5 if value is None else value, abs=0.0)
    assert bool(troubles(made)) == (value is None)


def test_a_step_without_value_is_held_only_where_it_is_asked_for() -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1")]
    edits.append(seeds.formula("p1", "translation.x", "if(frame == 3, 0/0, if(frame, 1/frame, 7))",
                               "s1"))  # fmt: skip
    made = evaluate(applied(Scene(first=-1, last=4), edits))
    values = made.channel(ChannelRef("p1", "translation.x"), "final")
    assert values == pytest.approx([-1.0, 7.0, 1.0, 0.5, 0.0, 0.25])
    (found,) = troubles(made)
    assert found.frame == 3 and "on 1 frames" in found.text


def test_keys_outside_a_channels_range_cannot_be_made_by_any_way() -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1"), AddChannel("p1", "size", high=9.0, id="c1")]
    scene = applied(Scene(), [*edits, PutKeys("p1", "c1", (Key(0.0, 8.0),))])
    with pytest.raises(Refusal, match="outside its range"):
        applied(scene, [ChangeChannel("p1", "c1", "size", high=5.0)])
    settings = FormulaSettings("translation.x", "1")
    step = applied(scene, [AddStep("p1", "one", settings, id="s1")])
    with pytest.raises(Refusal, match="outside its range"):
        applied(step, [PutKeys("p1", "s1.weight", (Key(0.0, 1.5),))])


def test_matrices_and_angles_agree_in_every_order() -> None:
    """The oracle of these tests, SciPy, and the core read angles alike."""
    for order in EVERY_ORDER:
        angles = np.array([[10.0, 200.0, -70.0]])
        wanted = rigs.turned(angles[0], order).as_matrix()
        np.testing.assert_allclose(rotation_matrices(angles, order)[0], wanted, atol=1e-12)  # type: ignore[arg-type]
