"""Plants: a part stands still in the world, whatever carries it."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.limbs import PutLimb
from bindu.core.edits.parts import AddPart
from bindu.core.edits.plants import PlantPart, plant_of
from bindu.core.edits.relations import WriteOut
from bindu.core.edits.retime import InsertFrames, TakeOutFrames
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import Evaluation, evaluate, evaluate_after
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import PlantSettings, PlantSpan
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.wide import cases

Numbers = np.ndarray[Any, Any]
LAST = 40


def carried(random: np.random.Generator, mirrored: bool = False) -> Scene:
    """A foot below a body that goes, turns and is scaled evenly, all with rests of their own."""
    edits: list[AnyEdit] = [ChangeScene(first=-5, last=LAST)]
    for name, parent in (("root", None), ("body", "root"), ("foot", "body")):
        numbers = [float(v) for v in random.uniform(-1, 1, 6)]
        rest = Rest((numbers[0], numbers[1], numbers[2]), tuple(120 * n for n in numbers[3:]))  # type: ignore[arg-type]
        edits.append(AddPart(name, parent, rest=rest, id=name))
        for group, size in (("translation", 0.5), ("rotation", 50.0)):
            for axis in "xyz":
                frames = (-5.0, 3.5, 12.0, 26.0, 40.0)
                keys = tuple(Key(f, float(random.uniform(-size, size))) for f in frames)
                edits.append(PutKeys(name, f"{group}.{axis}", keys))
    edits += [SetValue("body", f"scale.{axis}", 1.7) for axis in "xyz"]
    if mirrored:
        edits.append(SetValue("root", "scale.x", -1.0))
    return applied(Scene(), edits)


def world(evaluation: Evaluation, part: str = "foot") -> Numbers:
    """World matrices by frame, shape (F, 3, 4)."""
    frames = len(evaluation.times.frames)
    return np.broadcast_to(evaluation.world(part), (frames, 3, 4))


@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("seed", range(cases(3, 12)))
def test_inside_it_stands_still_and_outside_it_moves_as_before(seed: int, mirrored: bool) -> None:
    random = np.random.default_rng(seed)
    scene = carried(random, mirrored)
    first, last, keep = 8, 20, int(random.integers(6, 24))
    entry, leave = int(random.integers(0, 6)), int(random.integers(0, 6))
    edit = PlantPart("foot", first, last, keep, entry, leave)
    before, after = evaluate(scene), evaluate(applied(scene, [edit]))
    came, went = world(before), world(after)
    stands = slice(first + 5, last + 5 + 1)
    kept = np.broadcast_to(came[keep + 5], went[stands].shape)
    np.testing.assert_allclose(went[stands], kept, atol=1e-9)
    frames = np.arange(-5, LAST + 1)
    free = (frames <= first - entry - (entry == 0)) | (frames >= last + leave + (leave == 0))
    np.testing.assert_allclose(went[free], came[free], atol=1e-12)
    # On the way in and out it is a share of the way there, by an independent blend.
    for row in np.flatnonzero(~free & ((frames < first) | (frames > last))):
        share = np.clip(min((row - 5 - first + entry) / max(entry, 1e-9),
                            (last + leave - row + 5) / max(leave, 1e-9)), 0, 1)  # fmt: skip
        share = share**2 * (3 - 2 * share)
        place = came[row, :, 3] + share * (came[keep + 5, :, 3] - came[row, :, 3])
        np.testing.assert_allclose(went[row, :, 3], place, atol=1e-9)
        mirror = np.diag([-1.0, 1, 1]) if np.linalg.det(came[row, :, :3]) < 0 else np.eye(3)
        turns = Rotation.from_matrix([_turn(came[n, :, :3]) @ mirror for n in (row, keep + 5)])
        turn = Slerp([0, 1], turns)(share).as_matrix()
        np.testing.assert_allclose(_turn(went[row, :, :3]) @ mirror, turn, atol=1e-9)


def _turn(linear: Numbers) -> Numbers:
    return np.asarray(linear / np.linalg.norm(linear, axis=0))


def test_it_joins_and_leaves_with_the_slope_of_what_goes_on() -> None:
    """On ever finer entries the first and last moves tend to those of the motion, and to none."""
    scene = carried(np.random.default_rng(1))
    came = world(evaluate(scene))[:, :, 3]
    went = world(evaluate(applied(scene, [PlantPart("foot", 20, 26, 23, 10, 10)])))[:, :, 3]
    added = np.linalg.norm(went - came, axis=1)
    whole = np.linalg.norm(came[28] - came[25], axis=0)
    # The blend rises as 3s², so its first tenth adds under 3 % of the correction, and so its last.
    correction = np.linalg.norm(came[28] - came[16])
    assert added[15] == 0.0 and added[16] < 0.05 * correction
    near = np.linalg.norm(went[24] - came[28])
    assert near < 0.05 * max(np.linalg.norm(came[24] - came[28]), whole)


@pytest.mark.parametrize("plants", ["position", "rotation", "height"])
def test_only_what_is_asked_for_is_kept(plants: str) -> None:
    scene = carried(np.random.default_rng(7))
    edit = PlantPart("foot", 8, 20, 8, 0, 0, plants)  # type: ignore[arg-type]
    came, went = world(evaluate(scene)), world(evaluate(applied(scene, [edit])))
    rows, at = slice(13, 26), 13
    places, turns = went[rows, :, 3], went[rows, :, :3]
    if plants == "position":
        np.testing.assert_allclose(places, np.broadcast_to(came[at, :, 3], places.shape), atol=1e-9)
    elif plants == "height":
        np.testing.assert_allclose(places[:, 1], came[at, 1, 3], atol=1e-9)
        np.testing.assert_allclose(places[:, [0, 2]], came[rows][:, [0, 2], 3], atol=1e-9)
    else:
        np.testing.assert_allclose(places, came[rows, :, 3], atol=1e-9)
    if plants == "rotation":
        np.testing.assert_allclose(turns, np.broadcast_to(came[at, :, :3], turns.shape), atol=1e-9)
    else:
        np.testing.assert_allclose(turns, came[rows, :, :3], atol=1e-9)


def test_a_half_weight_plants_half() -> None:
    scene = applied(
        carried(np.random.default_rng(3)), [PlantPart("foot", 8, 20, 8, 0, 0, "position")]
    )
    step = plant_of(scene, "foot")
    assert step is not None
    half = evaluate(applied(scene, [SetValue("foot", f"{step.id}.weight", 0.5)]))
    free = world(evaluate(applied(scene, [ChangeStep(step.id, on=False)])))[18, :, 3]
    whole = world(evaluate(scene))[18, :, 3]
    assert np.linalg.norm(whole - free) > 0.05
    np.testing.assert_allclose(world(half)[18, :, 3], (free + whole) / 2, atol=1e-9)


def test_a_planted_goal_holds_the_end_of_its_limb() -> None:
    scene = carried(np.random.default_rng(5))
    rests = {"hip": (0.0, 0.0, 0.0), "knee": (0.02, -0.8, 0.1), "ankle": (0.0, -0.8, -0.1)}
    above, edits = "body", []
    for name, at in rests.items():
        edits.append(AddPart(name, above, rest=Rest(at), id=name))
        above = name
    edits.append(PutLimb("leg", "body", ("hip", "knee", "ankle"), "foot", id="b1"))
    edits.append(SetValue("body", "b1.stretch", 1.0))
    planted = evaluate(applied(scene, [*edits, PlantPart("foot", 8, 20, 14)]))
    ankle = world(planted, "ankle")[13:26, :, 3]
    np.testing.assert_allclose(ankle, np.broadcast_to(ankle[:1], ankle.shape), atol=1e-9)


def test_spans_of_one_plant_follow_each_other_frames_and_copies() -> None:
    scene = carried(np.random.default_rng(9))
    edits = [PlantPart("foot", 4, 9), PlantPart("foot", 20, 25, 22, 2, 5)]
    scene = applied(scene, edits)
    step = plant_of(scene, "foot")
    assert step is not None and isinstance(step.settings, PlantSettings)
    assert [one.first for one in step.settings.spans] == [4, 20]
    went = world(evaluate(scene))
    for a, b in ((9, 15), (25, 31)):
        np.testing.assert_allclose(went[a:b], np.broadcast_to(went[a], went[a:b].shape), atol=1e-9)
    assert read_scene(write_scene(scene)) == scene
    # Another plant over one of them takes its place.
    again = plant_of(applied(scene, [PlantPart("foot", 8, 12)]), "foot")
    assert again is not None and isinstance(again.settings, PlantSettings)
    assert [(one.first, one.last) for one in again.settings.spans] == [(8, 12), (20, 25)]
    later = plant_of(applied(scene, [InsertFrames(15, 10)]), "foot")
    assert later is not None and isinstance(later.settings, PlantSettings)
    assert later.settings.spans[1] == PlantSpan(30, 35, 32, 2, 5)
    # Frames taken out let two spans meet: the later one stays, and all of it can be read again.
    close = applied(scene, [TakeOutFrames(6, 16)])
    short = plant_of(close, "foot")
    assert short is not None and isinstance(short.settings, PlantSettings)
    assert [(one.first, one.last) for one in short.settings.spans] == [(4, 5), (6, 9)]
    assert read_scene(write_scene(close)) == close
    twin = applied(scene, [DuplicatePart("foot")])
    copies = [one for one in twin.steps.values() if isinstance(one.settings, PlantSettings)]
    assert len(copies) == 2 and copies[0].settings == copies[1].settings
    after = evaluate_after(evaluate(scene), applied(scene, [PlantPart("foot", 20, 30, 22)]))
    fresh = evaluate(after.scene)
    np.testing.assert_array_equal(after.world("foot"), fresh.world("foot"))


@pytest.mark.parametrize(
    ("settings", "problem"),
    [
        (PlantSettings(spans=(PlantSpan(9, 4, 4),)), "ends before it begins"),
        (PlantSettings(spans=(PlantSpan(4, 9, 4, -1, 3),)), "0 to 10,000 frames"),
        (PlantSettings(spans=(PlantSpan(4, 9, 4), PlantSpan(9, 12, 9))), "overlap"),
    ],
)
def test_spans_that_cannot_be_are_refused_by_name(settings: PlantSettings, problem: str) -> None:
    scene = carried(np.random.default_rng(2))
    with pytest.raises(Refusal, match=problem):
        applied(scene, [AddStep("foot", "plant", settings)])


def test_without_a_span_or_outside_the_range_nothing_moves_to_the_last_bit() -> None:
    scene = carried(np.random.default_rng(4))
    came = world(evaluate(scene))
    for spans in ((), (PlantSpan(60, 90, 70),)):
        made = applied(scene, [AddStep("foot", "plant", PlantSettings(spans=spans))])
        np.testing.assert_allclose(world(evaluate(made)), came, atol=1e-12)


def test_a_plant_is_written_out_as_keys_and_nothing_moves() -> None:
    scene = applied(carried(np.random.default_rng(1)), [PlantPart("foot", 8, 20, 14)])
    out = applied(scene, [WriteOut("foot", -5, LAST)])
    assert not any(step.on for step in out.steps.values())
    np.testing.assert_allclose(world(evaluate(out)), world(evaluate(scene)), atol=1e-12)
