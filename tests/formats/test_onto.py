"""Motion of a file onto the parts of a scene that is there."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np
import pytest

from bindu.core.clips.motion import MotionClip
from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_named
from bindu.core.scene.parts import Rest
from bindu.formats.onto import edits_onto
from bindu.formats.report import Report
from bindu.formats.sending import send
from bindu.formats.table import write_columns
from bindu.formats.taking_in import chosen_clip, read_file, scene_edits_of
from tests.demos import demo
from tests.wide import only_wide


def taken(scene: Scene, data: bytes, kind: str) -> tuple[Scene, MotionClip, Report]:
    """The scene with a file on its parts."""
    report = Report("")
    clip = chosen_clip(read_file(data, kind, scene.fps, Report("")), None, report)
    return applied(scene, edits_onto(evaluate(scene), clip, report)), clip, report


def muted(scene: Scene, names: Iterable[str]) -> Scene:
    """The scene with nothing but keys on these parts."""
    parts = {scene.part_ids[name] for name in names}
    steps = {k: replace(one, on=one.on and one.part not in parts) for k, one in scene.steps.items()}
    base = {
        ref: curve
        for ref, curve in scene.curves.items()
        if ":" not in ref.channel or ref.part not in parts
    }
    return replace(scene, steps=steps, curves=base)


def table(frames: list[float], **columns: list[float]) -> bytes:
    """A CSV file; names have dots in the place of two lines."""
    named = [(name.replace("__", "."), np.array(values)) for name, values in columns.items()]
    return write_columns(np.array(frames), named)


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("the-mooring", "usda"),
        ("ferry-crossing", "glb"),
        pytest.param("ferry-crossing", "csv", marks=only_wide),
        ("heron-at-the-shallows", "bvh"),
        pytest.param("heron-at-the-shallows", "csv", marks=only_wide),
    ],
)
def test_what_left_a_scene_comes_back_to_where_it_was_though_its_carriers_stayed(
    name: str, kind: str
) -> None:
    # Joints and props leave; the controls that carry them do not.
    scene = demo(name)
    made = applied(scene, [PutBake("out", scene.first, scene.last, "joints and props")])
    before = evaluate(made)
    data, _ = send(before, list(made.bakes.values()), kind)  # type: ignore[arg-type]
    back, clip, report = taken(scene, data, kind)
    assert any("hang elsewhere" in text for text in report.otherwise)
    after = evaluate(muted(back, [part.name for part in clip.parts]))
    frames = scene.last - scene.first + 1
    for part, sent in zip(clip.parts, clip.worlds, strict=True):
        there = np.broadcast_to(after.world(scene.part_ids[part.name]), (frames, 3, 4))
        np.testing.assert_allclose(there[..., 3], sent[..., 3], atol=1e-6)
        np.testing.assert_allclose(there, sent, atol=2e-5)


def carried() -> Scene:
    """A lamp on a moving, turned and unevenly large boat, on 0 to 8."""
    scene = applied(
        Scene(last=8),
        [
            AddPart("boat", id="p1", rest=Rest((1.0, 0.0, 2.0), (0.0, 90.0, 0.0))),
            AddPart("lamp", "p1", id="p2", rest=Rest((0.0, 2.0, 0.0))),
            AddChannel("p2", "light", id="c1"),
            SetValue("p1", "scale.x", -2.0),
        ],
    )
    rows = table([0.0, 8.0], boat__translation__x=[0.0, 4.0], boat__rotation__y=[0.0, 80.0])
    return taken(scene, rows, "csv")[0]


WHOLE = {f"lamp__scale__{axis}": [1.0, 1.0, 1.0] for axis in "xyz"} | {
    f"lamp__rotation__{axis}": [0.0, 0.0, 0.0] for axis in "xyz"
}


@pytest.mark.parametrize("frames", [[0.0, 4.0, 8.0], [0.5, 3.25, 7.75], [-6.0, 4.0, 30.0]])
def test_a_place_in_the_world_is_kept_on_the_files_frames(frames: list[float]) -> None:
    scene = carried()
    places = {f"lamp__translation__{axis}": [3.0, 3.0 + n, 5.0] for n, axis in enumerate("xyz")}
    back, clip, report = taken(scene, table(frames, **places, **WHOLE), "csv")
    found = evaluate(replace(back, first=-6, last=30)).world("p2")
    for n, frame in enumerate(frames):
        if frame == int(frame):
            np.testing.assert_allclose(found[int(frame) + 6, :, 3], clip.worlds[0, n, :, 3])
    keys = [key.frame for key in back.curves[channel_named(back, "lamp.translation.x")].keys]
    assert keys == frames
    assert "lamp hang elsewhere" in report.otherwise[0]


def test_what_an_uneven_scale_would_shear_is_told() -> None:
    places = {f"lamp__translation__{axis}": [0.0, 1.0, 2.0] for axis in "xyz"}
    turns = {**WHOLE, "lamp__rotation__z": [0.0, 20.0, 40.0]}
    report = taken(carried(), table([0.0, 4.0, 8.0], **places, **turns), "csv")[2]
    assert any("above lamp shears" in text for text in report.otherwise)
    even = applied(carried(), [SetValue("p1", "scale.x", 1.0)])
    report = taken(even, table([0.0, 4.0, 8.0], **places, **turns), "csv")[2]
    assert not any("shears" in text for text in report.otherwise)


def test_columns_of_single_channels_become_keys_of_them() -> None:
    scene = carried()
    rows = table([2.0, 3.0, 6.5], lamp__light=[0.0, 1.0, 0.5], lamp__rotation__z=[5.0, 5.0, 5.0])
    back, _, report = taken(scene, rows, "csv")
    light = back.curves[channel_named(back, "lamp.light")].keys
    assert [(key.frame, key.value) for key in light] == [(2.0, 0.0), (3.0, 1.0), (6.5, 0.5)]
    assert back.parts["p2"].values["rotation.z"] == 5.0
    assert not report.lost
    read = Report("")
    read_file(table([0.0, 1.0], lamp__light=[0.0, 1.0], note=[1.0, 2.0]), "csv", 24.0, read)
    assert read.lost == ["columns of no part's channel: note"]
    rows = table([0.0, 1.0], lamp__light=[0.0, 1.0], lamp__glow=[0.0, 1.0], mast__size=[1.0, 2.0])
    _, _, report = taken(scene, rows, "csv")
    assert report.lost == ["channels without one of their name here: lamp.glow, mast.size"]
    with pytest.raises(Refusal, match="no part or channel of the file"):
        taken(scene, table([0.0, 1.0], mast__size=[1.0, 2.0]), "csv")


def test_own_channels_come_back_and_what_is_left_out_is_told() -> None:
    scene = demo("the-lamplighter")
    made = applied(scene, [PutBake("out", scene.first, scene.last, "all parts")])
    data, _ = send(evaluate(made), list(made.bakes.values()), "glb")
    ref = channel_named(scene, "lantern.light")
    dark = replace(scene, curves={key: one for key, one in scene.curves.items() if key != ref})
    back, clip, report = taken(muted(dark, dark.part_ids), data, "glb")
    light = evaluate(muted(back, back.part_ids)).channel(ref, "final")
    np.testing.assert_allclose(light, clip.channels["lantern.light"])
    assert f"{len(clip.events)} markers: the scene keeps its own" in report.lost


def test_it_says_which_parts_steps_go_on_writing() -> None:
    scene = demo("the-mooring")
    made = applied(scene, [PutBake("out", scene.first, scene.last, "joints and props")])
    data, _ = send(evaluate(made), list(made.bakes.values()), "glb")
    assert any("go on writing" in text for text in taken(scene, data, "glb")[2].otherwise)
    assert not any(
        "go on" in text for text in taken(muted(scene, scene.part_ids), data, "glb")[2].otherwise
    )


def test_locked_channels_stay_and_are_told() -> None:
    lock = LockChannels("p2", ("translation.y", "scale.x"))
    scene = applied(Scene(last=8), [AddPart("lamp", id="p2"), lock])
    rows = {f"lamp__translation__{axis}": [0.0, 1.0, 2.0] for axis in "xyz"}
    data = table([0.0, 1.0, 2.0], **rows, **WHOLE)
    made, _, report = taken(scene, data, "csv")
    assert {ref.channel for ref in made.curves} == {"translation.x", "translation.z"}
    assert any("lamp.translation.y" in text and "scale.x" not in text for text in report.lost)
    shut = applied(scene, [LockChannels("p2", TRANSFORM_CHANNELS)])
    with pytest.raises(Refusal, match=r"lamp.translation.x.* is locked; unlock"):
        taken(shut, data, "csv")


def test_a_carrier_scaled_to_nothing_is_named() -> None:
    scene = applied(carried(), [SetValue("p1", "scale.y", 0.0)])
    rows = {f"lamp__translation__{axis}": [0.0, 1.0, 2.0] for axis in "xyz"}
    with pytest.raises(Refusal, match="lamp: what carries it is scaled to nothing"):
        taken(scene, table([0.0, 1.0, 2.0], **rows, **WHOLE), "csv")


def test_single_columns_make_no_scene_of_their_own() -> None:
    (clip,) = read_file(table([0.0, 1.0], lamp__light=[0.0, 1.0]), "csv", 24.0, Report(""))
    with pytest.raises(Refusal, match="no part has all its columns"):
        list(scene_edits_of(clip, "new", Report("")))
    places = {f"lamp__translation__{axis}": [0.0, 1.0, 2.0] for axis in "xyz"}
    rows = table([0.0, 1.0, 2.0], **places, **WHOLE, mast__size=[1.0, 2.0, 3.0])
    report = Report("")
    (clip,) = read_file(rows, "csv", 24.0, report)
    made = applied(Scene(), list(scene_edits_of(clip, "new", report)))
    assert [part.name for part in made.parts.values()] == ["lamp"]
    assert any("mast.size" in text for text in report.lost)


FIGURE = b"""HIERARCHY
ROOT hips
{
OFFSET 0 0 0
CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation
JOINT head
{
OFFSET 0 70 0
CHANNELS 3 Zrotation Xrotation Yrotation
}
}
MOTION
Frames: 2
Frame Time: 0.04
10 95 0 0 0 0 0 0 0
30 95 0 0 0 90 0 0 0
"""


def test_a_file_that_says_no_unit_is_taken_in_in_the_one_that_is_told() -> None:
    def heads(unit: float) -> tuple[np.ndarray, str]:
        report = Report("")
        (clip,) = read_file(FIGURE, "bvh", 24.0, report, unit)
        made = applied(Scene(), list(scene_edits_of(clip, "new", report)))
        return evaluate(made).world(made.part_ids["head"])[:, :, 3], report.otherwise[0]

    where, told = heads(1.0)
    assert (
        told
        == "a unit is taken as 1 m, so that it is 165 m large: say its unit if that is too much"
    )
    small, told = heads(0.01)
    assert told == "a unit is taken as 0.01 m"
    np.testing.assert_allclose(where, [[10.0, 165.0, 0.0], [30.0, 165.0, 0.0]])
    np.testing.assert_allclose(small, where * 0.01)
    places = {f"lamp__translation__{axis}": [0.0, 100.0, 250.0] for axis in "xyz"}
    (clip,) = read_file(table([0, 1, 2], **places, **WHOLE), "csv", 24.0, Report(""), 0.01)
    np.testing.assert_allclose(clip.worlds[0, :, 0, 3], [0.0, 1.0, 2.5])
    for unit in (0.0, -1.0, float("nan"), 1e9):
        with pytest.raises(Refusal, match="unit: a number of metres is wanted"):
            read_file(FIGURE, "bvh", 24.0, Report(""), unit)
    with pytest.raises(Refusal, match="unit: only files that end in bvh or csv leave it open"):
        read_file(b"", "glb", 24.0, Report(""), 0.01)
