"""The receiver: it shows what was sent, moves between clips, and tells who has the last word."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.clips.baking import baked_clip, worlds_on
from bindu.core.clips.motion import MotionClip, MotionPart, gap_between
from bindu.core.curves.model import Array, Key
from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.patch import patch_between, patched
from bindu.core.edits.receivers import PutReceiver, WireInputs
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.receivers import Move, Override, Setup
from bindu.formats.gltf import read_gltf
from bindu.formats.report import Report
from bindu.formats.sending import send
from bindu.receiver.player import Played, play
from bindu.receiver.setup import read_setup
from tests.demos import demo

Said = dict[str, tuple[Array, Array]]


def clip(name: str, degrees: float, place: float, frames: int = 25) -> MotionClip:
    """A head on a body: the head turns about y, the body goes along x."""
    eye = np.eye(3, 4)
    up = eye.copy()
    up[:, 3] = [0.0, 1.0, 0.0]
    parts = (MotionPart("body", None, eye), MotionPart("head", 0, up))
    share = np.linspace(0.0, 1.0, frames)
    move = np.zeros((2, frames, 3))
    move[0, :, 0], move[1] = place * share, [0.0, 1.0, 0.0]
    turn = np.zeros((2, frames, 4))
    turn[..., 3] = 1.0
    turn[1] = Rotation.from_rotvec(np.outer(np.radians(degrees) * share, [0.0, 1.0, 0.0])).as_quat()
    every = np.arange(frames, dtype=float)
    return MotionClip(name, 24.0, every, parts, move, turn, np.ones((2, frames, 3)))


CLIPS = (clip("stand", 0.0, 0.0), clip("walk", 90.0, 2.0))


def said(**inputs: list[tuple[float, float]]) -> Said:
    """What inputs are told: seconds and values."""
    return {name.replace("_", "."): tuple(np.array(rows).T) for name, rows in inputs.items()}  # type: ignore[misc]


def there_and_back(**change: Any) -> Setup:
    """Stand and walk by an input."""
    moves = [
        Move(start="stand", to="walk", cause="over", input="speed", value=0.1, blend=0.5),
        Move(start="walk", to="stand", cause="under", input="speed", value=0.1, blend=0.25),
    ]
    return Setup(moves=tuple(moves), **change)


@pytest.mark.parametrize("name", ["heron-at-the-shallows", "the-lamplighter"])
def test_one_clip_alone_is_what_bindu_showed(name: str) -> None:
    scene = demo(name)
    made = applied(scene, [PutBake("out", scene.first, scene.last, "all parts")])
    evaluation = evaluate(made)
    data, _ = send(evaluation, list(made.bakes.values()), "glb")
    clips = read_gltf(data, Report(""))
    length = (scene.last - scene.first) / scene.fps
    shown = play(clips, Setup(once=("out",)), {}, length, scene.fps)
    order = [shown.names.index(scene.parts[part].name) for part in scene.tree_order]
    frames = np.arange(scene.first, scene.last + 1)
    gap = gap_between(shown.worlds[order], worlds_on(evaluation, list(scene.tree_order), frames))
    assert gap.places.max() < 1e-5 and gap.turns.max() < 1e-3
    # Between frames it is on the way from one to the next, whatever the rate.
    fast = play(clips, Setup(once=("out",)), {}, length, 10 * scene.fps)
    np.testing.assert_allclose(fast.worlds[:, ::10], shown.worlds, atol=1e-6)


def test_a_blend_is_the_shorter_way_between_two_clips_that_go_on() -> None:
    shown = play(CLIPS, there_and_back(), said(speed=[(1.0, 1.0)]), 2.0, 60.0)
    assert [(s.clip, s.first, s.end) for s in shown.stretches] == [(0, 0, 60), (1, 60, 121)]
    for frame in (60, 66, 75, 85, 100):
        since = (frame - 60) / 60.0
        share = min(since / 0.5, 1.0)
        walked = Rotation.from_euler("y", 90.0 * min(since, 1.0), degrees=True)
        both = Rotation.concatenate([Rotation.identity(), walked])
        wanted = Slerp([0.0, 1.0], both)(share).as_matrix()
        np.testing.assert_allclose(shown.local[1, frame, :, :3], wanted, atol=1e-9)
        assert shown.local[0, frame, 0, 3] == pytest.approx(2.0 * since * share)


def test_a_blend_that_is_broken_off_goes_on_from_what_was_shown() -> None:
    told = said(speed=[(0.5, 1.0), (0.7, 0.0), (0.8, 1.0)])
    shown = play(CLIPS, there_and_back(), told, 2.0, 240.0)
    assert [s.clip for s in shown.stretches] == [0, 1, 0, 1]
    steps = np.linalg.norm(np.diff(shown.worlds[..., 3], axis=1), axis=2)
    # Two metres a second at the fastest, and as much again from the blend: no jump, until the clip
    # begins again.
    assert steps[:, :420].max() < 4.0 * 2.0 / 240.0 * 2.0


def test_time_does_not_drift_in_ten_minutes_at_any_rate() -> None:
    for rate in (24.0, 29.97, 60.0, 120.0):
        shown = play(CLIPS[1:], Setup(), {}, 600.0, rate)
        np.testing.assert_array_equal(shown.times, np.arange(len(shown.times)) / rate)
        inside = np.mod(shown.times, 1.0)
        near = np.minimum(inside, 1.0 - inside) > 1e-6
        np.testing.assert_allclose(shown.local[0, near, 0, 3], 2.0 * inside[near], atol=1e-6)


def test_a_clip_ends_a_button_is_pressed_once_and_any_means_any() -> None:
    moves = [
        Move(start="any", to="walk", cause="button", input="go", blend=0.0),
        Move(start="walk", to="stand", cause="end", blend=0.0),
    ]
    told = said(go=[(0.5, 1.0), (0.9, 0.0), (1.0, 1.0)])
    shown = play(CLIPS, Setup(moves=tuple(moves), once=("walk",)), told, 3.0, 24.0)
    # Pressed at 0.5, held; pressed again at 1.0 while it walks, which is no move; it ends at 1.5.
    assert [(s.clip, s.first) for s in shown.stretches] == [(0, 0), (1, 12), (0, 36)]


def test_moves_that_chase_each_other_are_found_and_stopped() -> None:
    moves = [
        Move(start="stand", to="walk", cause="over", input="x", value=0.1),
        Move(start="walk", to="stand", cause="over", input="x", value=0.05),
    ]
    shown = play(CLIPS, Setup(moves=tuple(moves)), said(x=[(0.5, 1.0), (1.5, 0.0)]), 2.0, 60.0)
    (chase,) = shown.chases
    assert (chase.first, chase.last, chase.clips) == (30, 89, ("stand", "walk", "stand"))
    assert [s.clip for s in shown.stretches] == [0]
    # A chain that does not return is no chase: all of it is made on one frame.
    third = clip("run", 10.0, 5.0)
    chain = [*moves[:1], Move(start="walk", to="run", cause="over", input="x", value=0.05)]
    shown = play((*CLIPS, third), Setup(moves=tuple(chain)), said(x=[(0.5, 1.0)]), 1.0, 60.0)
    assert not shown.chases and [s.clip for s in shown.stretches] == [0, 2]


OVERRIDES = [
    Override(name="look", kind="look at", parts=("head",), place="eye", by="looks"),
    Override(name="stay", kind="hold", parts=("body",), by="stays"),
    Override(name="nod", kind="add clip", clip="walk", parts=("head",), weight=0.5),
    Override(
        name="wag", kind="by input", parts=("head", "tail"), input="wags", factor=40.0, by="wags"
    ),
    Override(name="try", kind="author", parts=("head",), turn=(0.0, 0.0, 20.0), by="tries"),
]
TOLD = said(
    speed=[(1.0, 1.0), (3.0, 0.0)], looks=[(1.5, 1.0), (2.5, 0.4)], stays=[(2.0, 1.0), (2.8, 0.0)],
    wags=[(0.6, 0.5), (1.2, 0.0)], tries=[(3.2, 1.0), (3.6, 0.0)],
    eye_x=[(0.0, 3.0)], eye_y=[(0.0, 2.0)], eye_z=[(0.0, -1.0)],
)  # fmt: skip


def test_an_override_does_what_it_says_and_gives_back() -> None:
    setup = there_and_back(overrides=tuple(OVERRIDES[:2]))
    shown = play(CLIPS, setup, TOLD, 4.0, 60.0)
    plain = play(CLIPS, there_and_back(), TOLD, 4.0, 60.0)
    looking = shown.worlds[1, 100:110]
    way = np.array([3.0, 2.0, -1.0]) - looking[..., 3]
    ahead = looking[..., :3] @ np.array([0.0, 0.0, 1.0])
    np.testing.assert_allclose(ahead, way / np.linalg.norm(way, axis=1, keepdims=True), atol=1e-9)
    held = shown.worlds[0, 120:168]
    np.testing.assert_allclose(held, np.broadcast_to(held[0], held.shape), atol=1e-9)
    before, after = slice(0, 90), slice(168, None)
    np.testing.assert_array_equal(shown.local[:, before], plain.local[:, before])
    np.testing.assert_array_equal(shown.local[0, after], plain.local[0, after])


def test_what_an_input_moves_by_name_the_scene_does_too_once_it_is_wired() -> None:
    """The same numbers, whether the receiver moves the parts or formulas that were made of it."""
    rest = Rest((0.3, 0.2, -0.1), (20.0, -35.0, 50.0))
    scene = applied(
        Scene(first=0, last=48),
        [
            AddPart("arm", role="joint", rest=rest, id="p1"),
            AddPart("hand", "p1", role="joint", rest=rest, id="p2"),
            SetValue("p2", "rotation.z", 35.0),
            PutKeys("p2", "translation.y", (Key(0.0, 0.0), Key(48.0, 0.4))),
            PutBake("out", 0, 48),
        ],
    )
    moved = (
        Override("turn", "by input", 0.5, "on", ("arm", "hand", "fin"), input="speed", factor=60.0),
        Override(
            "slide", "by input", parts=("hand",), input="gap", channel="translation.x", factor=-0.2
        ),
    )
    scene = applied(scene, [PutReceiver(Setup(once=("out",), overrides=moved))])
    told = said(speed=[(0.0, 0.25), (1.0, 2.0)], gap=[(0.0, 1.5)], on=[(0.0, 0.8)])
    (bake,) = scene.bakes.values()
    shown = play([baked_clip(bake)], scene.receivers["receiver"], told, 2.0, scene.fps)
    assert shown.missing == ("fin",)
    label = WireInputs().label(scene)
    wired = applied(scene, [WireInputs()])
    assert label == "wire 3 parts to inputs" and wired.parts[wired.part_ids["inputs"]]
    speed = next(c.id for c in wired.channels.values() if c.name == "speed")
    gap, on = (
        next(c.id for c in wired.channels.values() if c.name == name) for name in ("gap", "on")
    )
    inputs = wired.part_ids["inputs"]
    keys = (Key(0.0, 0.25, "hold"), Key(24.0, 2.0, "hold"))
    wired = applied(
        wired, [PutKeys(inputs, speed, keys), SetValue(inputs, gap, 1.5), SetValue(inputs, on, 0.8)]
    )
    final = evaluate(wired)
    for n, name in enumerate(shown.names):
        np.testing.assert_allclose(shown.worlds[n], final.world(wired.part_ids[name]), atol=1e-9)
    # Once more: nothing is wired twice.
    assert applied(wired, [WireInputs()]).steps == wired.steps


def test_a_renamed_bake_is_still_told_of_and_undone_so_is_its_name() -> None:
    arm = [AddPart("arm", role="joint", id="p1"), PutBake("out", 0, 9, id="k1")]
    setup = Setup(
        start="out",
        once=("out", "in"),
        moves=(Move("out", "in", "end"), Move("any", "out", "button", "go")),
        overrides=(Override("more", "add clip", clip="out"), Override("held", "hold")),
    )
    scene = applied(Scene(), [*arm, PutReceiver(setup)])
    other = applied(scene, [PutBake("swing", 0, 9, id="k1")])
    assert other.receivers["receiver"] == Setup(
        start="swing",
        once=("swing", "in"),
        moves=(Move("swing", "in", "end"), Move("any", "swing", "button", "go")),
        overrides=(Override("more", "add clip", clip="swing"), Override("held", "hold")),
    )
    assert patched(other, patch_between(other, scene)).receivers == scene.receivers
    same = applied(scene, [PutBake("out", 0, 5, id="k1")])
    assert same.receivers["receiver"] == setup


def test_inputs_are_wired_only_where_something_is_moved_by_its_name() -> None:
    for overrides in ((), (Override("x", "by input", parts=("nobody",), input="speed"),)):
        scene = applied(Scene(), [AddPart("arm"), PutReceiver(Setup(overrides=overrides))])
        with pytest.raises(Refusal, match="moves no part by its name"):
            applied(scene, [WireInputs()])


def writes(setup: Setup, without: Setup, part: int) -> Array:
    """On which frames a part would be elsewhere without a writer."""
    one, other = (play(CLIPS, s, TOLD, 4.0, 60.0) for s in (setup, without))
    return np.asarray(np.abs(one.local[part] - other.local[part]).max(axis=(1, 2)) > 1e-9)


def test_who_has_the_last_word_is_who_really_wrote_it() -> None:
    setup = there_and_back(overrides=tuple(OVERRIDES))
    shown = play(CLIPS, setup, TOLD, 4.0, 60.0)
    for part, name in enumerate(shown.names):
        words = shown.last_words(part)
        assert np.all(words >= 0)
        for n, override in enumerate(OVERRIDES):
            left = [one for k, one in enumerate(OVERRIDES) if k != n]
            changed = writes(setup, replace_overrides(setup, left), part)
            place = next(k for k, w in enumerate(shown.writers) if w.name == override.name)
            writer = shown.writers[place]
            # Where it is silent, or does not write the part, nothing is missed without it.
            silent = (writer.shares <= 0.0) | (part not in writer.parts)
            assert not np.any(changed & silent), (name, override.name)
            last = words == place
            assert np.any(changed[last]) or not np.any(last), (name, override.name)
    head = shown.names.index("head")
    named = [shown.writers[k].name for k in shown.last_words(head)[[200, 230]]]
    assert named == ["try", "nod"]
    off = [replace(OVERRIDES[-1], on=False)]
    gave = play(CLIPS, replace_overrides(setup, [*OVERRIDES[:3], *off]), TOLD, 4.0, 60.0)
    assert "try" not in [w.name for w in gave.writers]


def replace_overrides(setup: Setup, overrides: list[Override]) -> Setup:
    """The setup with other overrides."""
    return replace(setup, overrides=tuple(overrides))


@pytest.mark.parametrize(
    ("setup", "text"),
    [
        ("{", "it is no JSON"),
        ('{"moves": [{"start": "a"}]}', "setup.moves.0.to"),
        ('{"speed": 1}', "setup.speed"),
        ('{"start": "gallop"}', "no clip 'gallop'"),
        ('{"once": ["wlk"]}', "no clip 'wlk'. Nearest: walk"),
        ('{"moves": [{"start": "any", "to": "walk", "cause": "over"}]}', "names an input"),
        ('{"overrides": [{"name": "x", "kind": "look at"}]}', "it names a place"),
        ('{"overrides": [{"name": "x", "kind": "add clip"}]}', "it names a clip"),
        ('{"overrides": [{"name": "x", "kind": "by input"}]}', "overrides.0.input"),
        ('{"overrides": [{"name": "x", "kind": "hold", "weight": 2}]}', "overrides.0.weight"),
        ('{"moves": [{"start": "any", "to": "walk", "cause": "end", "blend": -1}]}', "0.blend"),
        ('{"inputs": {"x": 1e300}}', "inputs.x"),
    ],
)
def test_a_setup_that_cannot_be_is_refused_with_its_field(setup: str, text: str) -> None:
    with pytest.raises(Refusal, match=text):
        play(CLIPS, read_setup(setup), {}, 1.0, 24.0)


def test_parts_that_the_file_has_not_are_told_and_nothing_else_breaks() -> None:
    lost = Override(name="jaw", kind="hold", parts=("jaw 2", "head"))
    shown = play(CLIPS, Setup(overrides=(lost,)), {}, 1.0, 24.0)
    assert shown.missing == ("jaw 2",)
    assert [w.name for w in shown.writers] == ["stand", "jaw"]
    assert isinstance(shown, Played)
    for bad in ((CLIPS, 1e9, 24.0), (CLIPS, 1.0, 0.0), ((), 1.0, 24.0)):
        with pytest.raises(Refusal):
            play(bad[0], Setup(), {}, bad[1], bad[2])
    other = replace(
        CLIPS[1], name="other", parts=(replace(CLIPS[1].parts[0], name="tail"), *CLIPS[1].parts[1:])
    )
    both = play((CLIPS[0], other), Setup(start="other"), {}, 1.0, 24.0)
    # What a clip has not rests in it.
    assert both.names == ("body", "head", "tail") and np.all(both.local[0] == np.eye(3, 4))
