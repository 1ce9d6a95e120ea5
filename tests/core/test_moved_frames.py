"""What carries a frame goes along when frames move, and what is written over a span changes
nothing else."""

from __future__ import annotations

from collections import Counter
from dataclasses import fields, is_dataclass, replace
from typing import Any, get_type_hints

import numpy as np
import pytest
from benchmarks.generated import DOT

from bindu.core.curves.model import Curve, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.channels import SetValue
from bindu.core.edits.checks import AcceptFinding
from bindu.core.edits.keys import ChangeKeys, KeyChange, PutKeys, RemoveKeys, SetOutside
from bindu.core.edits.layers import AddLayer, MergeLayer
from bindu.core.edits.leads import KeyLead, PutLead
from bindu.core.edits.parts import AddPart
from bindu.core.edits.plants import PlantPart
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.references import PutReference
from bindu.core.edits.relations import GiveMotion, MoveRoot, PutWhere, WriteOut
from bindu.core.edits.retime import DeleteKeys, InsertFrames, KeyPick, MoveKeys, TakeOutFrames
from bindu.core.edits.scene import ChangeRate, ChangeScene
from bindu.core.edits.sets import PutMarker
from bindu.core.edits.spaces import MoveHandover, PickAndCarry, RemoveHandover, SwitchSpace
from bindu.core.edits.steps import AddStep, RemoveStep
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.placing.handovers import handover_states
from bindu.core.refusal import Refusal
from bindu.core.scene import model, settings
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import Handover, PlantSettings, PlantSpan, SpaceSettings, StepInput
from tests.core import rigs, seeds
from tests.wide import cases

LAST = 12


def handovers(scene: Scene, step: str = "h1") -> tuple[Handover, ...]:
    """The handovers of a space step."""
    found = scene.steps[step].settings
    assert isinstance(found, SpaceSettings)
    return found.handovers


def _carried() -> Scene:
    """Spaces world and t, with t at x = 3: handed over at 4, so that the offset is -3."""
    return applied(
        Scene(),
        [
            ChangeScene(first=0, last=LAST),
            AddPart("part", id="p1"),
            AddPart("t", id="p2"),
            SetValue("p2", "translation.x", 3.0),
            AddStep("p1", "spaces", SpaceSettings(("0", "p2")), id="h1"),
            SwitchSpace("h1", 4, "p2"),
            PutMarker(4.0, "here", "k1"),
        ],
    )


def _x(scene: Scene) -> rigs.Matrix:
    made = evaluate(scene)
    frames = len(made.times.frames)
    return np.broadcast_to(made.world("p1"), (frames, 3, 4))[:, 0, 3]


def test_a_handover_goes_with_a_new_rate_with_inserted_and_with_lost_frames() -> None:
    scene = _carried()
    assert handovers(scene)[0].translation[0] == pytest.approx(-3.0)
    for edit, frame in (
        (ChangeRate(48.0), 8.0),
        (InsertFrames(2.0, 3.0), 7.0),
        (InsertFrames(4.0, 3.0), 7.0),
        (InsertFrames(4.0, 3.0, pause=True), 4.0),
        (TakeOutFrames(1.0, 2.0), 2.0),
        (TakeOutFrames(3.0, 4.0), 3.0),
    ):
        made = applied(scene, [edit])  # type: ignore[list-item]
        assert [one.frame for one in handovers(made)] == [frame], edit
        assert _x(made) == pytest.approx(0.0), edit
        if edit != TakeOutFrames(3.0, 4.0):
            assert made.markers["k1"].frame == frame or "pause" in str(edit)
    blended = applied(scene, [SwitchSpace("h1", 4, "p2", blend=4)])
    assert handovers(applied(blended, [ChangeRate(48.0)]))[0].blend == 8
    assert handovers(applied(blended, [InsertFrames(6.0, 3.0)]))[0].blend == 7


def test_a_handover_goes_with_its_key() -> None:
    scene = applied(
        _carried(),
        [PutKeys("p2", "translation.x", (Key(0.0, 0.0, "linear"), Key(12.0, 12.0)))],
    )
    space = ("p1", "h1.space")
    for edit in (
        MoveKeys((KeyPick(*space, (4.0,)),), frames=3.0),
        ChangeKeys(*space, (KeyChange(4.0, 7.0),)),
        InsertFrames(4.0, 3.0, (KeyPick(*space),)),
        MoveHandover("h1", 4, 7),
    ):
        made = applied(scene, [edit])  # type: ignore[list-item]
        assert [one.frame for one in handovers(made)] == [7.0], edit
        assert not any(s.jumps for s in handover_states(evaluate(made), [made.steps["h1"]])), edit
    for gone in (RemoveKeys(*space, (4.0,)), DeleteKeys((KeyPick(*space, (4.0,)),))):
        made = applied(scene, [gone])  # type: ignore[list-item]
        assert handovers(made) == () and _x(made) == pytest.approx(0.0)


def test_every_kind_of_thing_that_carries_a_frame_is_moved() -> None:
    """A new field of frames that nothing moves fails here."""
    known = {
        (model.Marker, "frame"), (Handover, "frame"), (Handover, "blend"),
        (Scene, "first"), (Scene, "last"), (Key, "frame"),
        (PlantSpan, "first"), (PlantSpan, "last"), (StepInput, "in_frames"),
        (model.Bake, "first"), (model.Bake, "last"),
        (model.PinnedReference, "first"), (model.PinnedReference, "last"), (model.Probe, "stands"),
    }  # fmt: skip
    found = set()
    for module in (model, settings):
        for thing in vars(module).values():
            if isinstance(thing, type) and is_dataclass(thing):
                for field in fields(thing):
                    if any(
                        word in field.name for word in ("frame", "first", "last", "blend", "stands")
                    ):
                        found.add((thing, field.name))
    assert found - {(Key, "frame")} == known - {(Key, "frame")}
    assert "frame" in get_type_hints(Key)
    scene = applied(_carried(), [PutKeys("p2", "translation.y", (Key(2.0, 1.0), Key(7.0, 2.0)))])
    scene = applied(scene, [SwitchSpace("h1", 4, "p2", blend=2)])
    scene = applied(scene, [PutLead("crew", "p2", ("p1", "p2"), "g1"), KeyLead("g1", 5, "p1")])
    accept = AcceptFinding("pop", "p2", "x", "so", 1.0, (4, 6))
    bake = PutBake("out", 2, 9, "all parts")
    pin = PutReference("drawing", DOT, 3.5, 8.0)
    sole = PutProbe("sole", "p2", stands=((6, 7), (2, 3), (1, 2)))
    scene = applied(scene, [PlantPart("p2", 3, 8, 5), accept, bake, pin, sole])
    moved = applied(scene, [ChangeRate(48.0)])
    assert _frames(moved) == [2.0 * f for f in _frames(scene)]


def _frames(thing: Any) -> list[float]:
    """All numbers of frames in a scene, however deep, in a fixed order."""
    found: list[float] = []
    if isinstance(thing, Scene):
        found += [thing.first, thing.last]
        for table in (
            thing.markers,
            thing.steps,
            thing.curves,
            thing.accepted,
            thing.bakes,
            thing.references,
            thing.probes,
        ):
            for key in sorted(table):  # type: ignore[type-var]
                found += _frames(table[key])  # type: ignore[index]
        return found
    if isinstance(thing, Curve):
        return [key.frame for key in thing.keys]
    if isinstance(thing, Step):
        return _frames(thing.settings)
    if isinstance(thing, model.Marker):
        return [thing.frame]
    if isinstance(thing, model.Bake):
        return [float(thing.first), float(thing.last)]
    if isinstance(thing, model.Probe):
        return [float(frame) for span in thing.stands for frame in span]
    if isinstance(thing, model.PinnedReference):
        return [thing.first, thing.last or 0.0]
    if isinstance(thing, SpaceSettings):
        return [n for one in thing.handovers for n in (one.frame, float(one.blend))]
    if isinstance(thing, PlantSettings):
        return [
            float(n)
            for one in thing.spans
            for n in (one.first, one.last, one.keep, one.entry, one.exit)
        ]
    if isinstance(thing, model.Accepted):
        return [float(frame) for frame in thing.span or ()]
    return []


@pytest.mark.parametrize("seed", range(cases(3, 12)))
def test_places_at_times_stay_under_any_retiming(seed: int) -> None:
    """At a rate twice as high every second frame shows what was there; frames that are put in or
    taken out leave all others as they were."""
    random = np.random.default_rng(seed)
    kinds = ("spaces", "leads", "bindings", "layers")
    scene = seeds.seeded(random, *(kinds[n] for n in random.choice(4, 2, replace=False)))
    if "g1" in scene.leads:
        scene = applied(scene, [RemoveKeys("p4", "g1.position", (4.5,))])
    # What takes frames that are to come sees other ones then.
    ahead = [s.id for s in scene.steps.values() if s.settings.kind in ("smooth", "shift")]
    scene = applied(scene, [RemoveStep(one) for one in ahead])
    # What a curve does beyond its keys is stretched with them only where it is held.
    held = {ref: replace(curve, before="hold", after="hold") for ref, curve in scene.curves.items()}
    scene = replace(scene, curves=held)
    before = evaluate(scene)
    doubled = evaluate(applied(scene, [ChangeRate(48.0)]))
    for part in scene.parts:
        twice = _world(doubled, part)[::2]
        aims = any(s.settings.kind in ("aim", "path") for s in scene.steps_of.get(part, ()))
        if not aims:
            np.testing.assert_allclose(twice, _world(before, part), atol=1e-9, err_msg=part)
    put = evaluate(applied(scene, [InsertFrames(30.0, 5.0)]))
    for part in scene.parts:
        np.testing.assert_allclose(_world(put, part)[: LAST + 1], _world(before, part), atol=1e-9)


def _world(made: Evaluation, part: str) -> rigs.Matrix:
    return np.broadcast_to(made.world(part), (len(made.times.frames), 3, 4))


def _own(scene: Scene, refs: list[ChannelRef]) -> dict[ChannelRef, rigs.Matrix]:
    made = evaluate(scene)
    frames = len(made.times.frames)
    return {r: np.broadcast_to(made.channel(r, "keyed"), frames) for r in refs}


@pytest.mark.parametrize("seed", range(cases(2, 9)))
def test_nothing_outside_a_span_changes(seed: int) -> None:
    random = np.random.default_rng(seed)
    scene = seeds.seeded(random, "spaces")
    first, last = sorted(int(f) for f in random.integers(1, LAST, 2))
    outside = [f for f in range(LAST + 1) if not first <= f <= last]
    before = evaluate(scene)
    seen: Counter[str] = Counter()
    for edit in (
        PutWhere("p5", "p3", first, last),
        PutWhere("p5", "p3", first, last, rotation=False),
        WriteOut("p1", first, last),
        WriteOut("p1", first, last, tolerance=0.01),
        MoveRoot("p2", first, first, last, (0.5, 0.0, 0.0)),
        PutWhere("p5", "p3", first, last, on="keys"),
    ):
        try:
            made = evaluate(applied(scene, [edit]))
        except Refusal as refusal:
            assert "shear" in str(refusal) or "no keys there" in str(refusal), (edit, refusal)
            continue
        seen[type(edit).__name__] += 1
        for part in scene.parts:
            if isinstance(edit, MoveRoot):
                continue
            np.testing.assert_allclose(
                _world(made, part)[outside], _world(before, part)[outside], atol=1e-8,
                err_msg=f"{edit} {part}",
            )  # fmt: skip
        if isinstance(edit, WriteOut):
            apart = np.abs(_world(made, "p1") - _world(before, "p1")).max()
            assert apart < (1e-8 if edit.tolerance is None else 0.05)
        if isinstance(edit, PutWhere) and edit.on != "keys":
            np.testing.assert_allclose(
                _world(made, "p5")[first : last + 1, :, 3],
                _world(before, "p3")[first : last + 1, :, 3],
                atol=1e-9,
            )
    assert seen["WriteOut"] == 2 and seen["PutWhere"] >= 1, seen


def test_a_curve_that_goes_straight_on_goes_on_as_it_did_behind_a_span() -> None:
    edits: list[AnyEdit] = [
        ChangeScene(first=0, last=10),
        AddPart("part", id="p1"),
        PutKeys("p1", "translation.x", (Key(0.0, 0.0, "linear"), Key(4.0, 4.0, "linear"))),
        SetOutside("p1", "translation.x", after="straight on"),
        AddPart("there", id="p2"),
        SetValue("p2", "translation.x", 9.0),
    ]
    scene = applied(Scene(), [*edits, PutWhere("p1", "p2", 3, 6)])
    assert _x(scene) == pytest.approx([0, 1, 2, 9, 9, 9, 9, 7, 8, 9, 10])


def test_a_root_gives_its_motion_and_moves_under_children_that_stay() -> None:
    random = np.random.default_rng(3)
    for _ in range(2):
        scene = seeds.seeded(random)
        scene = applied(scene, [SetValue("p2", f"scale.{a}", -1.5) for a in "xyz"])
        before = evaluate(scene)
        given = evaluate(applied(scene, [GiveMotion("p2")]))
        moved = evaluate(
            applied(scene, [MoveRoot("p2", 5, 3, 8, (1.0, 2.0, 0.0), (0.0, 40.0, 0.0))])
        )
        for child in ("p3", "p4"):
            np.testing.assert_allclose(_world(given, child), _world(before, child), atol=1e-8)
            np.testing.assert_allclose(
                _world(moved, child)[3:9], _world(before, child)[3:9], atol=1e-8
            )


def test_a_handover_by_keys_takes_its_keys_along() -> None:
    random = np.random.default_rng(6)
    scene = seeds.seeded(random)
    scene = applied(scene, [AddStep("p1", "spaces", SpaceSettings(("", "p5")), id="h1")])
    own = [ChannelRef("p1", f"translation.{a}") for a in "xyz"]
    bare = _own(scene, own)
    by_keys = applied(scene, [SwitchSpace("h1", 4, "p5", "keys")])
    assert handovers(by_keys)[0].keep == "keys"
    for ref, values in _own(by_keys, own).items():
        np.testing.assert_allclose(values[:4], bare[ref][:4], atol=1e-8)
    dragged = applied(by_keys, [MoveHandover("h1", 4, 8)])
    assert [(one.frame, one.keep) for one in handovers(dragged)] == [(8.0, "keys")]
    after, gone = evaluate(dragged), applied(by_keys, [RemoveHandover("h1", 4)])
    np.testing.assert_allclose(_world(after, "p1")[:9], _world(evaluate(gone), "p1")[:9], atol=1e-8)
    assert [s.frame for s in handover_states(after, [dragged.steps["h1"]])] == [8]
    for ref in own:
        assert dragged.curves[ref].key_at(8.0) is not None
    assert handovers(gone) == ()
    for ref in own:
        kept = scene.curves[ref].key_at(4.0)
        assert (gone.curves[ref].key_at(4.0) is None) or kept is not None


def test_writing_out_a_member_leaves_its_whole_group_where_it_was() -> None:
    random = np.random.default_rng(9)
    written = refused = 0
    for n in range(8):
        scene = seeds.seeded(random, "leads")
        before = evaluate(scene)
        first, last = ((0, LAST), (3, 8))[n % 2]
        try:
            made = evaluate(applied(scene, [WriteOut("p1", first, last)]))
        except Refusal as refusal:
            assert first > 0 and "would move by" in str(refusal)
            refused += 1
            continue
        written += 1
        for part in scene.parts:
            np.testing.assert_allclose(
                _world(made, part), _world(before, part), atol=1e-8, err_msg=part
            )
    assert written >= 5 and refused >= 1, (written, refused)


@pytest.mark.parametrize("outside", ["hold", "straight on", "repeat", "mirror"])
@pytest.mark.parametrize("modes", [("add",), ("add", "add"), ("replace", "replace")])
def test_a_merged_layer_leaves_every_frame_as_it_was(outside: Any, modes: tuple[str, ...]) -> None:
    edits: list[AnyEdit] = [
        ChangeScene(first=-5, last=30),
        AddPart("part", id="p1"),
        PutKeys("p1", "translation.x", (Key(2.0, 0.0, "linear"), Key(6.0, 5.0, "linear"))),
        SetOutside("p1", "translation.x", outside, outside),
    ]
    for n, mode in enumerate(modes):
        layer = f"l{n}"
        edits.append(AddLayer(f"layer {n}", "p1", mode, layer))  # type: ignore[arg-type]
        keys = (Key(3.0 + n, 1.0, "linear"), Key(8.0, 2.0, "smooth"), Key(11.0, -1.0))
        edits.append(PutKeys("p1", f"{layer}:translation.x", keys))
        edits.append(SetOutside("p1", f"{layer}:translation.x", after=outside))
    scene = applied(Scene(), edits)
    before = _x(scene)
    for layer in reversed([f"l{n}" for n in range(len(modes))]):
        scene = applied(scene, [MergeLayer(layer)])
        np.testing.assert_allclose(_x(scene), before, atol=2e-9)


def test_pick_and_carry_by_keys_leaves_the_frames_before_as_they_were() -> None:
    random = np.random.default_rng(12)
    scene = seeds.seeded(random)
    before = evaluate(scene)
    made = evaluate(applied(scene, [PickAndCarry("p1", "p5", 5, 9, keep="keys")]))
    np.testing.assert_allclose(_world(made, "p1")[:6], _world(before, "p1")[:6], atol=1e-8)
