"""By degrees: each target against its closed form; thinning against a fine grid."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from bindu.core.curves.degrees import thinned
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.degrees import ByDegrees, KeptCurve, ThinKeys
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart
from bindu.core.edits.poses import SetDefaultPose
from bindu.core.edits.retime import KeyPick
from bindu.core.edits.sharing import ShareKeys
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from tests.wide import cases

X = ChannelRef("p", "translation.x")
FRAMES = (0.0, 10.0, 16.0, 30.0, 50.0)
VALUES = (1.0, 4.0, -2.0, 3.0, 7.0)
KEYS = tuple(Key(f, v) for f, v in zip(FRAMES, VALUES, strict=True))
MIDDLE = (10.0, 16.0)


def scene() -> Scene:
    return applied(Scene(last=60), [AddPart("part", id="p"), PutKeys(*X, KEYS)])


def values(made: Scene, ref: ChannelRef = X) -> list[float]:
    return [key.value for key in made.curves[ref].keys]


WHOLLY = {
    "left": (1.0, 1.0),
    "right": (3.0, 3.0),
    "line": (1 + 2 / 3, 1 + 2 * 16 / 30),
    "ease": (1 + 2 * (1 / 3) ** 2 * (3 - 2 / 3), 1 + 2 * (16 / 30) ** 2 * (3 - 32 / 30)),
    "average": (1.0, 1.0),
    "default": (0.25, 0.25),
    "frame": (7.0, 7.0),
    "smooth": (1 - 3 * 10 / 16, 4 - 1 * 6 / 20),
}


@pytest.mark.parametrize("degree", [-1.0, 0.0, 0.3, 1.0, 2.0])
@pytest.mark.parametrize("toward", sorted(WHOLLY))
def test_chosen_keys_go_so_far_toward_it_and_no_other_key_moves(toward: str, degree: float) -> None:
    start = applied(scene(), [SetDefaultPose(("p",), values={"translation.x": 0.25})])
    pick = KeyPick(*X, MIDDLE)
    edit = ByDegrees((pick,), toward, degree, 50.0)  # type: ignore[arg-type]
    made = values(applied(start, [edit]))
    assert (made[0], made[3], made[4]) == (1.0, 3.0, 7.0)
    expected = [v + degree * (w - v) for v, w in zip(VALUES[1:3], WHOLLY[toward], strict=True)]
    np.testing.assert_allclose(made[1:3], expected, atol=1e-12)


def test_the_ends_have_themselves_beside_them_and_layers_their_own_default() -> None:
    every = applied(scene(), [ByDegrees((KeyPick(*X),), "line", 0.5)])
    np.testing.assert_allclose(values(every), VALUES, atol=1e-12)
    on = [AddLayer("up", "p", id="l1"), PutKeys("p", "l1:translation.x", (Key(0.0, 2.0),))]
    layered = applied(scene(), on)
    pick = KeyPick("p", "l1:translation.x")
    half = applied(layered, [ByDegrees((pick,), "default", 0.5)])
    assert values(half, ChannelRef("p", "l1:translation.x")) == [1.0]
    assert values(half) == list(VALUES)


def test_the_mirrored_pose_comes_from_the_other_side_with_its_signs() -> None:
    """The right hand takes on what the left one does, turned round in the plane x = 0."""
    parts = [
        AddPart("left hand", rest=Rest((0.5, 1.0, 0.0)), id="l"),
        AddPart("right hand", rest=Rest((-0.5, 1.0, 0.0)), id="r"),
    ]
    two = applied(Scene(last=60), parts)
    for part, size in (("l", 1.0), ("r", 5.0)):
        for n, channel in enumerate(("translation.x", "translation.y", "rotation.y", "rotation.x")):
            keys = (Key(0.0, size * (n + 1)), Key(30.0, size * (n + 2)))
            two = applied(two, [PutKeys(part, channel, keys)])
    signs = {"translation.x": -1, "translation.y": 1, "rotation.y": -1, "rotation.x": 1}
    picks = tuple(KeyPick("r", channel, (30.0,)) for channel in signs)
    made = applied(two, [ByDegrees(picks, "mirrored", 1.0)])
    for n, (channel, sign) in enumerate(signs.items()):
        assert values(made, ChannelRef("r", channel)) == [5.0 * (n + 1), sign * (n + 2.0)]
        assert made.curves[ChannelRef("l", channel)] == two.curves[ChannelRef("l", channel)]


@pytest.mark.parametrize("degree", [-0.5, 0.4, 1.0])
def test_keys_go_toward_a_curve_that_was_kept_as_it_was_on_their_frames(degree: float) -> None:
    """Also where it has no key there, by what it did outside its keys; not where none was kept."""
    kept = Curve((Key(5.0, 3.0, "linear"), Key(25.0, -1.0, "linear")), after="straight on")
    chosen = (*MIDDLE[::-1], FRAMES[3])
    edit = ByDegrees((KeyPick(*X, chosen),), "reference", degree, kept=(KeptCurve(*X, kept),))
    made = values(applied(scene(), [edit]))
    for n, frame in enumerate(FRAMES):
        toward = 3.0 - 0.2 * (max(frame, 5.0) - 5.0)
        share = degree if frame in chosen else 0.0
        assert made[n] == pytest.approx(VALUES[n] + share * (toward - VALUES[n]), abs=1e-12)
    with pytest.raises(Refusal, match="part.translation.x.*no keys when the reference was kept"):
        applied(scene(), [replace(edit, kept=(KeptCurve("p", "translation.y", kept),))])
    for broken in (Curve(()), Curve((Key(0.0, float("nan")),))):
        with pytest.raises(Refusal):
            applied(scene(), [replace(edit, kept=(KeptCurve(*X, broken),))])


@pytest.mark.parametrize("tolerance", [0.0, 1e-3, 0.02, 0.3, 100.0])
@pytest.mark.parametrize("seed", range(cases(2, 9)))
def test_thinning_never_leaves_the_tolerance(seed: int, tolerance: float) -> None:
    random = np.random.default_rng(seed)
    frames = np.sort(random.choice(np.arange(0, 400), 90, replace=False)) / 2.0
    kinds = ("linear", "smooth", "smooth", "hold")
    keys = [
        Key(float(f), float(np.sin(f / 12.0) + 0.01 * random.normal()), str(random.choice(kinds)))  # type: ignore[arg-type]
        for f in frames
    ]
    curve = with_keys(None, keys)
    made = thinned(curve, curve.frames.tolist(), tolerance)
    grid = np.linspace(frames[0], frames[-1], 20_001)
    apart = np.abs(curve_values(made, grid) - curve_values(curve, grid)).max()
    # Between the points of its own grid a curve bends little.
    assert apart <= tolerance * 1.05 + 1e-9
    assert made.keys[0].frame == frames[0] and made.keys[-1].frame == frames[-1]
    if tolerance >= 100.0:
        assert len(made.keys) == 2
    if tolerance == 0.02:
        assert len(made.keys) < 0.9 * len(keys)


def test_keys_that_change_nothing_go_though_nothing_may_change() -> None:
    curve = with_keys(None, [Key(float(f), 0.5 * f, "linear") for f in (0, 4, 8, 12, 16, 20)])
    assert [key.frame for key in thinned(curve, curve.frames.tolist(), 0.0).keys] == [0.0, 20.0]


def test_a_baked_line_and_a_baked_wave_need_few_keys() -> None:
    at = np.arange(0.0, 101.0)
    line = with_keys(None, [Key(float(f), 0.03 * float(f), "linear") for f in at])
    assert len(thinned(line, at.tolist(), 1e-9).keys) == 2
    wave = with_keys(None, [Key(float(f), float(np.sin(f / 16.0))) for f in at])
    made = thinned(wave, at.tolist(), 0.01)
    assert len(made.keys) <= 16
    only = thinned(wave, [40.0, 41.0], 0.01)
    assert len(only.keys) in (99, 100)


def test_shared_keys_change_no_curve_on_whole_frames() -> None:
    ease = (Key(3.0, 0.0, "overshoot"), Key(22.0, 2.0, "ease in"), Key(41.5, -1.0))
    two = applied(scene(), [PutKeys("p", "translation.y", ease)])
    picks = (KeyPick(*X), KeyPick("p", "translation.y"))
    made = applied(two, [ShareKeys(picks)])
    frames = {*FRAMES, 3.0, 22.0, 41.5}
    at = np.arange(61.0)
    for channel in ("translation.x", "translation.y"):
        ref = ChannelRef("p", channel)
        assert frames <= set(made.curves[ref].frames.tolist())
        apart = curve_values(made.curves[ref], at) - curve_values(two.curves[ref], at)
        assert np.abs(apart).max() < 1e-9
    only = applied(two, [ShareKeys((KeyPick(*X, (10.0,)), KeyPick("p", "translation.y", (3.0,))))])
    assert only.curves[X].key_at(3.0) and not only.curves[X].key_at(22.0)
    with pytest.raises(Refusal, match="two channels"):
        applied(two, [ShareKeys((KeyPick(*X),))])
    for frame in (11.0, 1e308):
        with pytest.raises(Refusal, match="no key at frame"):
            applied(two, [ShareKeys((KeyPick(*X, (frame,)), KeyPick("p", "translation.y")))])


def test_what_cannot_be_is_refused() -> None:
    pick = (KeyPick(*X, MIDDLE),)
    for edit, problem in (
        (ByDegrees(pick, "line", 11.0), "goes from -10 to 10"),
        (ByDegrees(pick, "line", float("nan")), "number"),
        (ByDegrees(pick, "frame", 1.0), "which frame"),
        (ByDegrees((KeyPick(*X, (-1.0, 10.0)),), "line", 1.0), "no key at frame -1"),
        (ByDegrees((KeyPick(*X, (-1.0,)),), "smooth", 1.0), "no key at frame -1"),
        (ThinKeys(pick, -1.0), "negative"),
        (ByDegrees((), "line", 1.0), "choose keys first"),
    ):
        with pytest.raises(Refusal, match=problem):
            applied(scene(), [edit])
    assert "50 % toward the left one" in ByDegrees(pick, "left", 0.5).label(scene())
    assert ThinKeys((KeyPick(*X),), 100.0).label(scene()) == "3 keys go, within 100"
    locked = applied(scene(), [SetValue("p", "translation.y", 1.0)])
    assert values(applied(locked, [ThinKeys((KeyPick(*X),), 100.0)])) == [1.0, 7.0]
