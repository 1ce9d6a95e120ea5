"""Whatever edits can make is written, read and the same."""

from __future__ import annotations

import json
from collections import Counter
from typing import Any

import numpy as np
import pytest
from benchmarks.generated import KINDS, edit, kind_next
from pydantic import TypeAdapter, ValidationError

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, RemoveChannel, SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer, RemoveLayer
from bindu.core.edits.leads import PutLead
from bindu.core.edits.parts import AddPart, LockChannels, RemoveParts
from bindu.core.edits.spaces import PickAndCarry
from bindu.core.edits.steps import AddStep, ChangeStep, RemoveStep
from bindu.core.evaluation import answering, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    FormulaSettings,
    LimitSettings,
    PathPoint,
    PathSettings,
    Space,
    SpaceSettings,
    Target,
)
from bindu.formats.scene.scene_json import read_scene, write_scene
from bindu.web.scene.schemas import OneEdit
from tests.core import seeds
from tests.core.test_kept_scenes import random_edit
from tests.evaluated import Evaluated
from tests.wide import cases

EDITS: TypeAdapter[AnyEdit] = TypeAdapter(OneEdit)


def assert_read_as_written(scene: Scene) -> None:
    """The file of a scene gives the same file, and the same numbers."""
    text = write_scene(scene)
    again = read_scene(text)
    assert write_scene(again) == text
    before, after = evaluate(scene), evaluate(again)
    assert len(before.graph.loops) == len(after.graph.loops)
    for part in scene.parts:
        np.testing.assert_allclose(after.world(part), before.world(part), atol=1e-9)


def test_whatever_random_edits_make_of_any_seed_is_written_and_read() -> None:
    random = np.random.default_rng(83)
    seen: Counter[str] = Counter()
    for n in range(cases(9, 36)):
        kinds = [list(seeds.SEEDS)[(n + m) % len(seeds.SEEDS)] for m in (0, 2, 5)]
        scene = seeds.seeded(random, *kinds)
        for _ in range(10):
            try:
                scene = applied(scene, [random_edit(random, scene)])
                seen["edits"] += 1
            except Refusal:
                continue
        assert_read_as_written(scene)
        seen.update(kinds)
        seen["joined"] += any(
            key.mode == "joined" for curve in scene.curves.values() for key in curve.keys
        )
    assert all(seen[kind] >= 3 for kind in seeds.SEEDS) and seen["edits"] > 45, seen


def _writing_ahead() -> Scene:
    """Steps that write and read channels of steps that stand behind them, of other zones, of other
    parts, and of a lead group; two that weigh each other."""
    points = (PathPoint(point=(1.0, 0.0, 0.0)), PathPoint("p2"))
    edits: list[AnyEdit] = [AddPart("one", id="p1"), AddPart("two", id="p2"), AddPart("three")]
    edits += [
        AddStep("p1", "way", PathSettings(points), id="s1"),
        AddStep("p1", "spaces", SpaceSettings(("", "p2")), id="s2"),
        AddStep("p1", "with", ConstraintSettings((Target("p2"), Target(None)), kind="full"),
                id="s3"),
        PutLead("crew", "p1", ("p2", "p3"), "g1", ("m1", "m2")),
        seeds.formula("p1", "s1.progress", "frame / 10", "f1"),
        seeds.formula("p1", "s2.space", "frame > 2", "f2"),
        seeds.formula("p1", "s3.weight.p2", "{one.with.weight of the world} / 2", "f3"),
        seeds.formula("p1", "g1.position", "1", "f4"),
        seeds.formula("p1", "s3.weight", "0.5", "f5"),
        seeds.formula("p1", "f5.weight", "1", "f6"),
        AddStep("p1", "limit", LimitSettings("s1.progress", 0.0, 1.0), id="f7"),
        ChangeStep("f5", settings=FormulaSettings("f6.weight", "0.5")),
    ]  # fmt: skip
    return applied(Scene(last=5), edits)


def test_reading_does_not_depend_on_the_order_of_steps() -> None:
    scene = _writing_ahead()
    assert_read_as_written(scene)
    document = json.loads(write_scene(scene))
    for part in document["parts"]:
        part.get("steps", []).reverse()
    again = read_scene(json.dumps(document))
    assert {s.id: s.settings for s in again.steps.values()} == {
        s.id: s.settings for s in scene.steps.values()
    }


@pytest.mark.parametrize("name", ["own", "default", "final", "driven"])
def test_a_step_called_like_a_stage_is_read_and_computes(name: str) -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1")]
    edits.append(seeds.formula("p1", "translation.x", "4", name))
    scene = read_scene(write_scene(applied(Scene(), edits)))
    assert name in scene.steps
    assert evaluate(scene).world("p1")[0, 0, 3] == 4.0


def _with(change: Any) -> str:
    """A small document, changed."""
    part = {"name": "one", "curves": {"translation.x": {"keys": [{"frame": 0, "value": 1}]}}}
    document: dict[str, Any] = {
        "format": "bindu scene", "version": 1, "name": "x", "fps": 24, "range": [0, 5],
        "parts": [part],
    }  # fmt: skip
    change(document, part, part["curves"]["translation.x"]["keys"][0])  # type: ignore[index]
    return json.dumps(document)


REFUSED: dict[str, tuple[Any, str]] = {
    "angle": (
        lambda d, p, k: k.update(tangents="broken", left={"angle": 120, "length": 1}),
        "less than or equal to 90",
    ),
    "two angles": (
        lambda d, p, k: k.update(
            tangents="joined", left={"angle": 1, "length": 1}, right={"angle": 2, "length": 1}
        ),
        "joined, but have the angles 1 and 2",
    ),
    "range": (
        lambda d, p, k: p.update(
            channels=[{"name": "size", "high": 2}],
            curves={"size": {"keys": [{"frame": 0, "value": 3}]}},
        ),
        "3 is outside its range",
    ),
    "choice": (
        lambda d, p, k: p.update(
            steps=[{"name": "s", "kind": "space", "zone": "bound",
                    "spaces": [{"kind": "parent"}, {"kind": "world"}]}],
            curves={"s.space": {"keys": [{"frame": 0, "value": 7}]}},
        ),
        "7 is outside its range 0 … 1",
    ),
    "one identity": (
        lambda d, p, k: (
            p.update(steps=[{"name": "s", "id": "a", "kind": "limit", "zone": "final",
                             "channel": "visible", "low": 0}]),
            d.update(layers=[{"name": "up", "id": "a", "part": "one"}]),
        ),
        "stands for two things",
    ),
    "built in": (
        lambda d, p, k: p.update(channels=[{"name": "size", "id": "visible"}]),
        "stands for two things",
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", REFUSED)
def test_what_the_schema_forbids_is_refused_with_its_place(name: str) -> None:
    change, text = REFUSED[name]
    with pytest.raises(Refusal, match=text) as refused:
        read_scene(_with(change))
    assert refused.value.place
    assert read_scene(_with(lambda d, p, k: None)).parts


def test_every_kind_of_edit_leaves_what_can_be_written_and_read() -> None:
    """All kinds, nonsense among them; many of what one removes is named elsewhere."""
    random = np.random.default_rng(13)
    done: Counter[str] = Counter()
    scene, evaluated = Scene(), Evaluated()
    for n in range(cases(4, 12) * len(KINDS)):
        if n % 45 == 0:
            # Three seeds in each, so that every kind is tried on most of them.
            names = list(seeds.SEEDS)
            kinds = [names[(n // 45 + m) % len(names)] for m in (0, 3, 6)]
            scene = seeds.seeded(random, *kinds)
        wanted = edit(random, scene, kind_next(random, n, done))
        try:
            with answering(evaluated):
                scene = applied(scene, [EDITS.validate_json(json.dumps(wanted))])
        except (Refusal, ValidationError):
            continue
        done[wanted["do"]] += 1
        if done[wanted["do"]] <= 3:
            text = write_scene(scene)
            assert write_scene(read_scene(text)) == text, wanted
    assert len(done) > 0.6 * len(KINDS)


@pytest.mark.parametrize(
    "removed", [RemoveStep("s1"), RemoveLayer("l1"), RemoveChannel("p1", "c1")]
)
def test_what_goes_takes_all_that_names_it_along(removed: AnyEdit) -> None:
    scene = applied(
        Scene(last=4),
        [
            AddPart("one", id="p1"),
            AddPart("two", id="p2"),
            AddChannel("p1", "own", id="c1"),
            seeds.formula("p2", "translation.x", "1", "s1"),
            AddLayer("over", "p1", id="l1"),
        ],
    )
    part, channel = {"s1": ("p2", "s1.weight"), "l1": ("p1", "l1.weight")}.get(
        getattr(removed, "step", getattr(removed, "layer", "")), ("p1", "c1")
    )
    # A chain of writers: s2 writes the channel, s3 the weight of s2, whose weight has a key.
    scene = applied(
        scene,
        [
            seeds.formula(part, channel, "0.5", "s2"),
            seeds.formula(part, "s2.weight", "0.5", "s3"),
            PutKeys(part, "s3.weight", (Key(0.0, 1.0),)),
            SetValue(part, channel, 0.25),
            LockChannels(part, (channel, "s3.weight")),
        ],
    )
    left = applied(scene, [removed])
    assert not {"s2", "s3"} & left.steps.keys() and not left.curves
    assert all(not p.locked and not p.values for p in left.parts.values())
    assert_read_as_written(left)


def test_a_part_that_is_not_read_is_not_named() -> None:
    target = (Target("p2"),)
    aim = AimSettings(target, up="none", up_part="p3")
    full = ConstraintSettings(target, read=Space("world", "p3"))
    parts: list[AnyEdit] = [AddPart(name, id=name) for name in ("p1", "p2", "p3")]
    scene = applied(Scene(last=4), [*parts, AddStep("p1", "a", aim), AddStep("p1", "f", full)])
    assert_read_as_written(applied(scene, [RemoveParts(("p3",))]))


def test_a_part_does_not_carry_itself() -> None:
    scene = applied(Scene(last=4), [AddPart("one", id="p1")])
    with pytest.raises(Refusal, match="space of its own"):
        applied(scene, [PickAndCarry("p1", "p1", 2)])
