"""Groups that read themselves one frame back: all that is in them, frame by frame, against a plain
loop and against what each operation gives on a range that ends there."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any, cast

import numpy as np
import pytest

from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import evaluate
from bindu.core.graph.kinds import world
from bindu.core.nodes import quaternion, running, travelled
from bindu.core.nodes.operation import Operation, OverTime, Reach, Times
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.steps.base import Weighted
from tests.core import seeds
from tests.core.troubles import troubles

FPS = 24.0


def _walkers(last: int) -> Scene:
    """A root that is driven by how far its follower has gone, one frame back."""
    edits: list[AnyEdit] = [
        ChangeScene(first=0, last=last),
        AddPart("root", id="p1"),
        AddPart("foot", id="p2"),
        seeds.formula(
            "p1", "translation.x", "0.5 * {foot.translation.x@final back} + 0.1 * frame", "s1"
        ),
        seeds.formula("p2", "translation.x", "0.3 * travelled({root}) + 1", "s2"),
        seeds.formula("p2", "translation.y", "speed({root})", "s3"),
        seeds.formula("p1", "translation.z", "0 * {foot.translation.y@final back}", "s4"),
    ]
    return applied(Scene(), edits)


def test_ways_and_speeds_in_a_group_are_those_of_a_plain_loop() -> None:
    made = evaluate(_walkers(60))
    assert made.graph.marches and not troubles(made)
    x = y = way = 0.0
    for frame in range(61):
        before, x = x, 0.5 * y + 0.1 * frame
        way += abs(x - before) if frame else 0.0
        speed = (x - before) * FPS if frame else 0.0
        y = 0.3 * way + 1.0
        for part, channel, wanted in (
            ("p1", "translation.x", x),
            ("p2", "translation.x", y),
            ("p2", "translation.y", speed),
        ):
            values = made.channel(ChannelRef(part, channel), "final")
            assert values[frame] == pytest.approx(wanted, abs=1e-12), (frame, channel)


def _names(operation: Operation) -> list[str]:
    if isinstance(operation, Weighted):
        return [type(operation.step).__name__, "Weighted"]
    return [type(operation).__name__]


def test_what_goes_on_from_frame_to_frame_gives_what_a_range_that_ends_there_gives() -> None:
    random = np.random.default_rng(71)
    seen: Counter[str] = Counter()
    for n in range(12):
        kinds = (["bindings"], ["leads"], ["spaces"], ["bindings", "driven"])[n % 4]
        scene = seeds.seeded(random, *kinds)
        scene = applied(
            scene,
            [seeds.formula("p4", "scale.x", "1 + speed({part p5}) + travelled_x({part p2})", "t1")],
        )
        made = evaluate(scene)
        for node in made.graph.nodes.values():
            operation = node.operation
            if operation.reach in ("this frame", "all frames"):
                continue
            inputs = [made.results[i].values for i in node.inputs]
            going = cast(OverTime, operation).running()
            for frame, place in enumerate(made.times.frames):
                now = Times(made.times.first, made.times.last, FPS, place[None])
                row = going.following([_rows(i, frame, frame) for i in inputs], now)
                times = Times.of(made.times.first, int(place), FPS)
                wanted = operation.compute([_rows(i, 0, frame) for i in inputs], times)[-1:]
                np.testing.assert_allclose(row, wanted, atol=1e-9, err_msg=str(_names(operation)))
            seen.update(_names(operation))
    names = ["ContinuousAngles", "SpaceOperation", "LeadOperation", "PathOperation", "AimOperation"]
    for name in (*names, "ConstraintOperation", "Weighted", "Speed", "Travelled", "TravelledAlong"):
        assert seen[name] >= 1, seen


def _rows(values: Any, first: int, last: int) -> Any:
    return values[first : last + 1] if len(values) > 1 else values


def test_a_group_takes_one_row_a_frame(monkeypatch: pytest.MonkeyPatch) -> None:
    """So its cost grows with the number of frames, and not with its square."""
    rows: list[int] = []

    class Counted(running.KeptRunning[Any]):
        def following(self, inputs: Any, times: Times) -> Any:
            rows.extend(len(values) for values in inputs)
            return super().following(inputs, times)

    for module in (quaternion, travelled):
        monkeypatch.setattr(module, "KeptRunning", Counted)
    counts = []
    for last in (49, 99):
        rows.clear()
        evaluate(_walkers(last))
        assert set(rows) == {1}
        counts.append(len(rows))
    assert counts[1] == 2 * counts[0]


def test_what_needs_frames_to_come_makes_a_loop_there(monkeypatch: pytest.MonkeyPatch) -> None:
    @dataclass(frozen=True)
    class Foreseeing(travelled.Speed):
        reach: Reach = "all frames"

    monkeypatch.setitem(world.WAYS, "speed", ("travelled", Foreseeing()))
    alone = applied(Scene(last=5), [AddPart("root", id="p1"), AddPart("foot", id="p2")])
    alone = applied(alone, [seeds.formula("p2", "translation.y", "speed({root})", "s1")])
    assert not evaluate(alone).graph.loops
    made = evaluate(_walkers(20))
    assert made.graph.loops and not made.graph.marches
    assert "Loop" in troubles(made)[0].text
