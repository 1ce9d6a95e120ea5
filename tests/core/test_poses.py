"""Poses: reset, own default pose, copy, paste, mirror; sets and pairs; comparing curves."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bindu.core.clips.clip import Clip, animation_clip, pose_clip
from bindu.core.comparing.curves import compared
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Curve, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keying import KeyValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart, LockChannels, RemoveParts, RenamePart
from bindu.core.edits.paste import PasteClip
from bindu.core.edits.poses import ResetChannels, SetDefaultPose, channels_of_group
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PairParts, PutSet, RemoveSet
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.pairs import opposite, opposite_name
from bindu.core.scene.parts import Rest
from tests.strategies import FRAMES, curves, orders, vectors
from tests.wide import cases

LEGS = (ChannelRef("p2", "rotation.x"), ChannelRef("p2", "translation.x"))


def bird(*edits: AnyEdit) -> Scene:
    """A body with two legs whose rests are mirror images."""
    start = [
        AddPart("body"),
        AddPart("left leg", "p1", side="left", rest=Rest((0.2, 1.0, 0.0), (10.0, 20.0, 30.0))),
        AddPart("right leg", "p1", side="right", rest=Rest((-0.2, 1.0, 0.0), (10.0, -20.0, -30.0))),
        AddChannel("p2", "curl", low=0.0, high=9.0),
        AddChannel("p3", "curl", low=0.0, high=9.0),
    ]
    return applied(Scene(last=FRAMES), [*start, *edits])


@pytest.mark.parametrize(
    ("name", "other"),
    [
        ("left leg", "right leg"),
        ("Left Wing 3", "Right Wing 3"),
        ("foot_L", "foot_R"),
        ("l toe", "r toe"),
        ("leftover", None),
        ("lever", None),
        ("tail", None),
    ],
)
def test_the_opposite_name_changes_the_word_for_the_side(name: str, other: str | None) -> None:
    assert opposite_name(name) == other
    assert other is None or opposite_name(other) == name


def test_pairs_by_hand_come_before_pairs_by_name() -> None:
    scene = bird(AddPart("spur"))
    assert (opposite(scene, "p2"), opposite(scene, "p3"), opposite(scene, "p4")) == (
        "p3",
        "p2",
        None,
    )
    paired = applied(scene, [PairParts("p2", "p4")])
    assert (opposite(paired, "p2"), opposite(paired, "p4")) == ("p4", "p2")
    assert applied(paired, [PairParts("p2")]) == scene
    assert opposite(applied(paired, [RemoveParts(("p4",))]), "p2") == "p3"


@given(curves(1), curves(1), st.integers(0, FRAMES))
def test_copied_and_pasted_mirrored_twice_is_the_same(
    turn: tuple[Key, ...], shift: tuple[Key, ...], frame: int
) -> None:
    scene = bird(PutKeys(*LEGS[0], turn), PutKeys(*LEGS[1], shift))
    clip = animation_clip(scene, LEGS, (0.0, float(FRAMES)), None)
    over = applied(scene, [PasteClip(clip, 0.0, mirrored=True)])
    theirs = tuple(ChannelRef("p3", ref.channel) for ref in LEGS)
    back = animation_clip(over, theirs, (0.0, float(FRAMES)), None)
    again = applied(over, [PasteClip(back, 0.0, mirrored=True)])
    for ref in LEGS:
        assert again.curves[ref].keys == scene.curves[ref].keys
    pose = pose_clip(scene, LEGS, frame)
    posed = applied(scene, [PasteClip(pose, frame)])
    np.testing.assert_allclose(
        evaluate(posed).world("p2")[frame], evaluate(scene).world("p2")[frame], atol=1e-9
    )


@settings(max_examples=cases(20, 300))
@given(curves(), st.sampled_from([12.0, 23.976, 25.0, 30.0, 48.0, 60.0]), st.integers(-9, 9))
def test_animation_takes_the_same_time_at_another_frame_rate(
    keys: tuple[Key, ...], fps: float, frame: int
) -> None:
    scene = bird(PutKeys(*LEGS[0], keys))
    there = applied(bird(), [ChangeScene(fps=fps)])
    clip = animation_clip(scene, LEGS, (0.0, float(FRAMES)), None)
    pasted = applied(there, [PasteClip(clip, float(frame))]).curves[LEGS[0]]
    copied = scene.curves[LEGS[0]]
    factor, frames = fps / scene.fps, copied.frames
    np.testing.assert_allclose(pasted.frames, frame + frames * factor, atol=1e-6)
    at = np.concatenate([frames[:-1] + share * np.diff(frames) for share in (0.1, 0.5, 0.9)])
    values, scale = curve_values(copied, at), 1.0 + np.abs([key.value for key in keys]).max()
    np.testing.assert_allclose(
        curve_values(pasted, frame + at * factor) / scale, values / scale, atol=1e-6
    )
    # Where nobody said at which rate it was copied, frames are frames.
    plain = applied(there, [PasteClip(replace(clip, fps=None), 3.0)]).curves[LEGS[0]]
    assert [k.frame for k in plain.keys] == [k.frame + 3.0 for k in copied.keys]
    # What somebody sends may hold a curve without keys.
    none = replace(clip.parts[0].channels[0], curve=replace(copied, keys=()))
    empty = replace(clip, parts=(replace(clip.parts[0], channels=(none,)),))
    with pytest.raises(Refusal, match="needs at least one key"):
        applied(there, [PasteClip(empty, 0.0)])
    with pytest.raises(Refusal, match="it says 0 frames a second"):
        applied(there, [PasteClip(replace(clip, fps=0.0), 0.0)])
    far = replace(clip.parts[0].channels[0], curve=Curve((Key(1e308, 0.0),)))
    away = replace(clip, parts=(replace(clip.parts[0], channels=(far,)),))
    for beyond in (replace(clip, last=1e308), replace(clip, first=-1e308), away):
        with pytest.raises(Refusal, match="±1e9"):
            applied(there, [PasteClip(replace(beyond, fps=7.0), 0.0)])


@given(vectors, vectors, orders)
def test_a_mirrored_pose_is_the_mirror_image_in_the_world(
    turn: tuple[float, float, float], shift: tuple[float, float, float], order: str
) -> None:
    values = [*zip(TRANSFORM_CHANNELS, (*shift, *turn), strict=False)]
    scene = bird(*(SetValue("p2", channel, value) for channel, value in values))
    clip = pose_clip(scene, channels_of_group(scene, "p2", "all"), 0.0)
    after = evaluate(applied(scene, [PasteClip(clip, 0.0, mirrored=True)]))
    left, right = after.world("p2")[0], after.world("p3")[0]
    mirror = np.diag([-1.0, 1.0, 1.0])
    np.testing.assert_allclose(right[:, 3], mirror @ left[:, 3], atol=1e-9)
    # The axes of both rests are mirror images but for the direction of x.
    np.testing.assert_allclose(right[:, :3], mirror @ left[:, :3] @ mirror, atol=1e-9)
    assert order


def test_rests_that_are_no_mirror_images_are_named() -> None:
    scene = applied(
        Scene(last=5), [AddPart("l fin", rest=Rest(rotation=(0.0, 0.0, 20.0))), AddPart("r fin")]
    )
    clip = pose_clip(scene, [ChannelRef("p1", "rotation.x")], 0.0)
    with pytest.raises(Refusal, match="r fin: its rest axes are no mirror image of those of l fin"):
        applied(scene, [PasteClip(clip, 0.0, mirrored=True)])


def test_pasting_goes_by_names_or_onto_what_is_chosen() -> None:
    scene = bird(SetValue("p2", "rotation.x", 7.0), PutKeys("p2", "c1", (Key(4.0, 3.0),)))
    everything = list(channels_of_group(scene, "p2", "all"))
    pose = pose_clip(scene, everything, 4.0)
    elsewhere = applied(
        Scene(name="other"), [AddPart("left leg"), AddChannel("p1", "curl"), AddPart("reed")]
    )
    pasted = applied(elsewhere, [PasteClip(pose, 9.0)])
    assert pasted.parts["p1"].values["rotation.x"] == 7.0
    assert pasted.parts["p1"].values["c1"] == 3.0
    onto = applied(elsewhere, [PasteClip(pose, 9.0, onto=("p1", "p2"), key=True)])
    for part in ("p1", "p2"):
        assert onto.curves[ChannelRef(part, "rotation.x")].keys == (
            Key(9.0, 7.0, "smooth", onto.curves[ChannelRef(part, "rotation.x")].keys[0].left),
        )
    clip = animation_clip(scene, [ChannelRef("p2", "c1")], (0.0, 10.0), None)
    moved = applied(scene, [PasteClip(clip, 5.0, onto=("p3",))])
    assert [k.frame for k in moved.curves[ChannelRef("p3", "c2")].keys] == [9.0]
    for edit, says in (
        (PasteClip(pose, 0.0, onto=()), "nothing here has the names of what was copied"),
        (PasteClip(Clip("pose", pose.parts * 3), 0.0, onto=("p1", "p2")), "choose as many"),
    ):
        with pytest.raises(Refusal, match=says):
            applied(applied(Scene(), [AddPart("reed"), AddPart("mud")]), [edit])
    with pytest.raises(Refusal, match="none of these channels has keys"):
        animation_clip(scene, [ChannelRef("p2", "rotation.x")], (0.0, 9.0), None)


def test_what_is_pasted_says_what_is_locked_and_what_is_not_here() -> None:
    scene = bird(SetValue("p2", "rotation.x", 7.0), SetValue("p2", "translation.x", 1.0))
    pose = pose_clip(scene, [*LEGS, ChannelRef("p1", "scale.x")], 0.0)
    locked = applied(bird(), [LockChannels("p2", ("rotation.x",)), RenamePart("p1", "trunk")])
    paste = PasteClip(pose, 0.0)
    text = paste.label(locked)
    assert text == "paste pose of 1 part at 0; not here: body; locked: left leg.rotation.x"
    made = applied(locked, [paste])
    assert made.parts["p2"].values == {"translation.x": 1.0}
    closed = applied(locked, [LockChannels("p2", ("translation.x",))])
    with pytest.raises(Refusal, match="all of it goes to is locked") as told:
        applied(closed, [paste])
    assert told.value.code == "locked"


def test_a_pose_is_reset_wholly_or_in_part_to_its_own_default() -> None:
    scene = bird(
        SetValue("p2", "rotation.x", 7.0),
        SetValue("p2", "c1", 2.0),
        SetDefaultPose(("p2",), 0.0),
        SetValue("p2", "rotation.x", 50.0),
        SetValue("p2", "c1", 5.0),
        PutKeys("p2", "translation.y", (Key(0.0, 1.0),)),
    )
    part = applied(scene, [ResetChannels(("p2",), "rotation", 0.0)]).parts["p2"]
    assert (part.values["rotation.x"], part.values["c1"]) == (7.0, 5.0)
    whole = applied(scene, [ResetChannels(("p2",), "all", 8.0)])
    assert whole.parts["p2"].values["c1"] == 2.0
    assert [k.value for k in whole.curves[ChannelRef("p2", "translation.y")].keys] == [1.0, 0.0]
    plain = applied(scene, [ResetChannels(("p2",), "own channels", 0.0, defaults=True)])
    assert (plain.parts["p2"].values["c1"], plain.parts["p2"].values["rotation.x"]) == (0.0, 50.0)


def test_a_reset_on_a_layer_keys_only_what_there_is_to_reset() -> None:
    scene = applied(
        Scene(last=24),
        [
            AddPart("part", id="p1"),
            PutKeys("p1", "rotation.x", (Key(0.0, 10.0), Key(20.0, 30.0))),
            AddLayer("over", "p1", "add", id="l1"),
            KeyValue(4.0, (("p1", "scale.y", 1.0),), "l1"),
        ],
    )
    made = applied(scene, [ResetChannels(("p1",), "all", 8.0, layer="l1")])
    keyed = {ref.channel for ref, curve in made.curves.items() if curve.key_at(8.0)}
    assert keyed == {"l1:rotation.x", "l1:scale.y"}
    assert evaluate(made).channel(ChannelRef("p1", "rotation.x"), "final")[8] == pytest.approx(0.0)


def test_sets_lose_members_that_go_and_stay_in_order() -> None:
    scene = bird(PutSet("legs", parts=("p2", "p3", "p2"), channels=(ChannelRef("p3", "c2"),)))
    assert scene.sets["g1"].parts == ("p2", "p3")
    gone = applied(scene, [RemoveParts(("p3",))])
    assert (gone.sets["g1"].parts, gone.sets["g1"].channels) == (("p2",), ())
    assert not applied(scene, [RemoveSet("g1")]).sets
    with pytest.raises(Refusal, match="legs: there is a set with this name"):
        applied(scene, [PutSet("legs")])
    with pytest.raises(Refusal, match="#RRGGBB"):
        applied(scene, [PutSet("arms", "red")])
    on_top = ChannelRef("p1", "l1:rotation.x")
    with pytest.raises(Refusal, match="a set holds channels"):
        applied(scene, [AddLayer("over", "p1", id="l1"), PutSet("arms", channels=(on_top,))])


def test_curves_laid_over_each_other_say_where_they_differ_most() -> None:
    frames = np.arange(100.0)
    wave = np.sin(frames / 9.0)
    same = compared(wave, -3.0 * wave + 5.0, 24.0, fit=True)
    assert same.worst < 1e-9
    assert (same.factor, same.offset) == pytest.approx((-1 / 3, 5 / 3))
    late = np.sin((frames + 4.0) / 9.0)
    shifted = compared(wave, late, 24.0, shift=4.0)
    np.testing.assert_allclose(shifted.other[4:], wave[4:], atol=1e-12)
    bump = wave.copy()
    bump[60] += 0.5
    found = compared(wave, -bump, 24.0, mirrored=True)
    assert (found.place, round(found.worst, 9)) == (60, 0.5)
    np.testing.assert_allclose(found.slope[1:-1], np.cos(frames / 9.0)[1:-1] * 24 / 9, atol=0.01)
