"""Operations on many keys: moving, scaling, tangents, frames in and out, cycles."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bindu.core.curves.evaluate import curve_values, end_slope
from bindu.core.curves.model import Curve, Key, Tangent, Tint
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.degrees import ByDegrees
from bindu.core.edits.keying import KeyValue, SetChannels
from bindu.core.edits.keys import PutKeys, SetOutside
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.retime import (
    CropKeys,
    DeleteKeys,
    InsertFrames,
    KeyPick,
    MeetEnds,
    MoveKeys,
    ScaleTime,
    ScaleValues,
    SetInterpolation,
    SetTangents,
    SnapKeys,
    TakeOutFrames,
)
from bindu.core.edits.scene import ChangeRate, ChangeScene
from bindu.core.edits.sets import PutMarker
from bindu.core.edits.tints import TintKeys
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.core.shape import assert_same_shape
from tests.strategies import FRAMES, curves

STEP = ChannelRef("p1", "translation.y")
ALL = (KeyPick(*STEP),)
TIMES = np.arange(-10.0, 3 * FRAMES, 0.25)
WALK = (Key(0.0, 0.0), Key(10.0, 5.0, "linear"), Key(20.0, 2.0), Key(30.0, 0.0))


def foot(*keys: Key) -> Scene:
    """A part with one curve, and a marker."""
    start = [AddPart("foot"), PutKeys(*STEP, keys or WALK), PutMarker(15.0, "strike")]
    return applied(Scene(last=40), start)


def after(scene: Scene, *edits: AnyEdit) -> Curve:
    """The curve after edits."""
    return applied(scene, edits).curves[STEP]


def places(curve: Curve) -> list[tuple[float, float]]:
    """Frames and values of keys."""
    return [(key.frame, key.value) for key in curve.keys]


@given(curves(2), st.sampled_from([0.5, 2.0, 3.0, -1.0]), st.integers(-5, 25))
def test_a_retime_and_its_inverse_give_the_curve_back(
    keys: tuple[Key, ...], factor: float, about: int
) -> None:
    scene = foot(*keys)
    back = after(scene, ScaleTime(ALL, about, factor), ScaleTime(ALL, about, 1.0 / factor))
    for old, new in zip(scene.curves[STEP].keys[:-1], back.keys, strict=False):
        assert (new.frame, new.value) == (old.frame, old.value)
        assert factor < 0.0 or new.interpolation == old.interpolation
    if factor > 0.0:
        assert_same_shape(scene.curves[STEP], back, TIMES)


@given(curves(2), st.sampled_from([0.5, 2.0, 4.0]))
def test_scaling_in_time_stretches_the_shape(keys: tuple[Key, ...], factor: float) -> None:
    scene = foot(*keys)
    stretched = after(scene, ScaleTime(ALL, 0.0, factor))
    whole = TIMES[np.abs(TIMES[:, None] - stretched.frames).min(axis=1) > 1e-6]
    expected = curve_values(scene.curves[STEP], whole / factor)
    near = [curve_values(scene.curves[STEP], whole / factor + e) for e in (-1e-6, 1e-6)]
    flank = np.max([np.abs(one - expected) for one in near], axis=0)
    assert np.all(np.abs(curve_values(stretched, whole) - expected) <= 1e-6 + flank)


def test_a_reversed_curve_runs_backwards() -> None:
    keys = (Key(0.0, 0.0, "ease in"), Key(10.0, 8.0, "linear"), Key(20.0, 2.0), Key(40.0, 5.0))
    scene = foot(*(replace(key, mode="joined") for key in keys))
    turned = after(scene, ScaleTime(ALL, 20.0, -1.0))
    frames = np.linspace(0.0, 40.0, 161)
    np.testing.assert_allclose(
        curve_values(turned, frames), curve_values(scene.curves[STEP], 40.0 - frames), atol=1e-12
    )


def test_keys_move_copy_and_snap() -> None:
    scene = foot()
    some = (KeyPick(*STEP, (10.0, 20.0)),)
    assert places(after(scene, MoveKeys(some, 3.0, 1.0))) == [(0, 0), (13, 6), (23, 3), (30, 0)]
    copied = after(scene, MoveKeys(some, 25.0, copy=True))
    assert places(copied) == [(0, 0), (10, 5), (20, 2), (30, 0), (35, 5), (45, 2)]
    # A key that stays gives way to one that lands on it.
    assert places(after(scene, MoveKeys(some, 10.0))) == [(0, 0), (20, 5), (30, 2)]
    third = after(scene, ScaleTime(ALL, 0.0, 1.0 / 3.0))
    assert places(third)[1][0] == pytest.approx(10.0 / 3.0)
    assert places(after(scene, ScaleTime(ALL, 0.0, 1.0 / 3.0), SnapKeys(ALL)))[1][0] == 3.0
    assert places(after(scene, ScaleTime(ALL, 0.0, 1.0 / 3.0, snap=True)))[1][0] == 3.0


@pytest.mark.parametrize(
    ("edit", "values"),
    [
        (ScaleValues((KeyPick(*STEP, (10.0, 20.0)),), 2.0, "average"), [0.0, 6.5, 0.5, 0.0]),
        (ScaleValues((KeyPick(*STEP, (10.0,)),), 0.5, "left"), [0.0, 2.5, 2.0, 0.0]),
        (ScaleValues((KeyPick(*STEP, (10.0,)),), 0.5, "right"), [0.0, 3.5, 2.0, 0.0]),
        (ScaleValues(ALL, 2.0, "default"), [0.0, 10.0, 4.0, 0.0]),
        (ScaleValues(ALL, 3.0, "value", value=1.0), [-2.0, 13.0, 4.0, -2.0]),
        (ScaleValues(ALL, 0.0, "value", frame=20.0), [2.0, 2.0, 2.0, 2.0]),
    ],
)
def test_values_scale_about_what_is_asked(edit: ScaleValues, values: list[float]) -> None:
    assert [key.value for key in after(foot(), edit).keys] == pytest.approx(values)


def test_blocked_in_holds_then_smooth_again() -> None:
    scene = foot(*(Key(k.frame, k.value) for k in WALK))
    blocked = applied(scene, [SetInterpolation(ALL, "hold")])
    values = curve_values(blocked.curves[STEP], np.array([9.9, 10.0, 19.9]))
    assert values.tolist() == [0.0, 5.0, 5.0]
    assert after(blocked, SetInterpolation(ALL, "smooth", smart=True)) == scene.curves[STEP]


def test_tangents_flat_linear_joined_broken_smart() -> None:
    scene = foot()
    some = (KeyPick(*STEP, (10.0,)),)

    def key(change: str) -> Key:
        return after(scene, SetTangents(some, change)).keys[1]  # type: ignore[arg-type]

    assert (key("flat").left.angle, key("flat").right.angle) == (0.0, 0.0)
    linear = key("linear")
    assert np.tan(np.radians(linear.left.angle)) == pytest.approx(0.5)
    assert np.tan(np.radians(linear.right.angle)) == pytest.approx(-0.3)
    # The handles reach as many frames as before.
    old = scene.curves[STEP].keys[1]
    for side in ("left", "right"):
        assert getattr(linear, side).reach[0] == pytest.approx(getattr(old, side).reach[0])
    assert (linear.mode, key("break").mode, key("smart").mode) == ("broken", "broken", "smart")
    bent = applied(scene, [SetTangents(some, "linear"), SetTangents(some, "join")])
    joined = bent.curves[STEP].keys[1]
    assert joined.mode == "joined"
    assert joined.left.angle == pytest.approx(joined.right.angle)
    # The mean way of both handles.
    left, right = old.left.reach[0], old.right.reach[0]
    slope = (0.5 * left - 0.3 * right) / (left + right)
    assert np.tan(np.radians(joined.left.angle)) == pytest.approx(slope)


@given(curves(2), st.integers(1, FRAMES - 1), st.integers(1, 9))
def test_a_pause_holds_the_value_and_keeps_both_sides(
    keys: tuple[Key, ...], at: int, count: int
) -> None:
    scene = foot(*keys)
    old = scene.curves[STEP]
    try:
        paused = after(scene, InsertFrames(at, count, ALL, pause=True))
    except Refusal:  # Inside a spring or bounce no key keeps the shape.
        return
    if not keys[0].frame <= at <= keys[-1].frame:
        return
    assert_same_shape(old, paused, TIMES[at > TIMES])
    assert_same_shape(old, paused, np.arange(at, FRAMES + 9.0, 0.25), shift=count)
    during = curve_values(paused, np.arange(float(at), at + count))
    assert np.ptp(during) == 0.0


def test_frames_in_and_out_of_the_whole_scene_take_markers_and_range_along() -> None:
    scene = foot()
    longer = applied(scene, [InsertFrames(12.0, 4.0)])
    assert places(longer.curves[STEP]) == [(0, 0), (10, 5), (24, 2), (34, 0)]
    assert (longer.last, longer.markers["m1"].frame) == (44, 19.0)
    assert applied(longer, [TakeOutFrames(12.0, 4.0)]) == scene
    gone = applied(scene, [TakeOutFrames(5.0, 20.0)])
    assert places(gone.curves[STEP]) == [(0, 0), (10, 0)]
    assert (gone.last, gone.markers) == (20, {})


@given(curves(2), st.integers(2, 9), st.integers(10, 18))
def test_a_crop_keeps_the_shape_inside(keys: tuple[Key, ...], first: int, last: int) -> None:
    scene = foot(*keys)
    try:
        crop = after(scene, CropKeys(first, last, ALL))
    except Refusal:
        return
    assert all(first <= key.frame <= last for key in crop.keys)
    start, end = max(first, keys[0].frame), min(last, keys[-1].frame)
    if start < end:
        assert_same_shape(scene.curves[STEP], crop, np.arange(start, end, 0.25))


@given(curves(3), st.booleans())
def test_the_ends_of_a_cycle_meet_in_value_and_slope(keys: tuple[Key, ...], values: bool) -> None:
    if len(keys) < 3:
        return
    smooth = tuple(Key(k.frame, k.value) for k in keys)
    how = "repeat" if values else "repeat with offset"
    scene = applied(foot(*smooth), [SetOutside(*STEP, how, how)])  # type: ignore[arg-type]
    cycle = after(scene, MeetEnds(ALL, values))
    assert end_slope(cycle, True) == pytest.approx(end_slope(cycle, False), abs=1e-9)
    if values:
        assert cycle.keys[-1].value == cycle.keys[0].value
    seam = cycle.keys[-1].frame
    near = curve_values(cycle, np.array([seam - 1e-6, seam + 1e-6]))
    assert abs(near[1] - near[0]) < 1e-3


def test_another_frame_rate_keeps_times_or_frames() -> None:
    scene = foot()
    kept = applied(scene, [ChangeRate(48.0)])
    assert places(kept.curves[STEP]) == [(0, 0), (20, 5), (40, 2), (60, 0)]
    assert (kept.first, kept.last, kept.markers["m1"].frame) == (0, 80, 30.0)
    seconds = np.linspace(0.0, 1.5, 31)
    np.testing.assert_allclose(
        curve_values(kept.curves[STEP], seconds * 48.0),
        curve_values(scene.curves[STEP], seconds * 24.0),
        atol=1e-12,
    )
    assert applied(kept, [ChangeRate(24.0)]) == scene
    assert applied(scene, [ChangeScene(fps=48.0)]).curves == scene.curves


def test_what_makes_no_sense_is_refused_and_names_the_channel() -> None:
    scene = foot()
    cases: list[tuple[AnyEdit, str]] = [
        (MoveKeys(()), "choose keys first"),
        (MoveKeys((KeyPick(*STEP, (11.0,)),), 1.0), r"foot\.translation\.y: there is no key at"),
        (ScaleTime(ALL, 0.0, 0.0), "a factor of 0"),
        (ScaleTime(ALL, 0.0, float("nan")), "must be a number"),
        (ScaleValues(ALL, 2.0, "left"), "no unchosen key lies on the left"),
        (InsertFrames(0.0, -3.0), "a number of frames above 0"),
        (CropKeys(9.0, 3.0), "9 lies behind 3"),
        (MeetEnds((KeyPick("p1", "scale.x"),)), r"foot\.scale\.x: it has no keys"),
        (DeleteKeys((KeyPick("p1", "nose"),)), "has no channel 'nose'"),
    ]
    for edit, says in cases:
        with pytest.raises(Refusal, match=says):
            applied(scene, [edit])
    with pytest.raises(Refusal, match="two keys would stand at frame 0"):
        applied(foot(Key(0.0, 0.0), Key(1e-7, 1.0)), [ScaleTime(ALL, 0.0, 1e-5)])
    locked = applied(scene, [LockChannels("p1", ("translation.y",))])
    with pytest.raises(Refusal, match="it is locked"):
        applied(locked, [SnapKeys(ALL)])
    assert applied(locked, [InsertFrames(0.0, 5.0)]).curves[STEP].keys[0].frame == 5.0


def test_all_keys_deleted_leave_the_value() -> None:
    bare = applied(foot(Key(5.0, 7.0, left=Tangent())), [DeleteKeys(ALL)])
    assert STEP not in bare.curves
    assert bare.parts["p1"].values["translation.y"] == 7.0


def test_a_tint_goes_along_with_its_keys_and_is_taken_away() -> None:
    """Whatever is done to tinted keys by hand, they stay tinted; what is new is not."""
    keys = tuple(Key(float(f), 0.1 * f) for f in (0, 10, 20, 30))
    scene = applied(Scene(), [AddPart("reed", id="p1"), PutKeys("p1", "translation.x", keys)])
    ref, red = ChannelRef("p1", "translation.x"), Tint("breakdown", "#B23A2B")

    def tinted(scene: Scene) -> list[float]:
        return [key.frame for key in scene.curves[ref].keys if key.tint == red]

    scene = applied(scene, [TintKeys((KeyPick("p1", "translation.x", (10.0, 20.0)),), red)])
    assert tinted(scene) == [10, 20]
    assert read_scene(write_scene(scene)) == scene
    one, whole = KeyPick("p1", "translation.x", (10.0,)), KeyPick("p1", "translation.x")
    for edit, left in (
        (MoveKeys((one,), 3.0), [13, 20]),
        (MoveKeys((one,), 3.0, copy=True), [10, 13, 20]),
        (ScaleTime((whole,), 0.0, 2.0), [20, 40]),
        (KeyValue(10.0, (("p1", "translation.x", 4.0),)), [10, 20]),
        (SetChannels(10.0, (("p1", "translation.x", 4.0),)), [10, 20]),
        (KeyValue(15.0, (("p1", "translation.x", 4.0),)), [10, 20]),
        (SetInterpolation((whole,), "linear"), [10, 20]),
        (SetTangents((whole,), "flat"), [10, 20]),
        (ScaleValues((whole,), 2.0, "average"), [10, 20]),
        (InsertFrames(5, 4), [14, 24]),
        (ByDegrees((whole,), "average", 0.5), [10, 20]),
        (TintKeys((one,)), [20]),
    ):
        assert tinted(applied(scene, [edit])) == left, edit
    for word, colour in (("", "#B23A2B"), (" x", "#B23A2B"), ("a\nb", "#B23A2B"), ("a", "red")):
        with pytest.raises(Refusal, match="a tint has a word|write a colour"):
            applied(scene, [TintKeys((whole,), Tint(word, colour))])
    with pytest.raises(Refusal, match="no key"):
        applied(scene, [TintKeys((KeyPick("p1", "translation.x", (11.0,)),), red)])
