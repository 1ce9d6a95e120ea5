"""What is kept equals what is computed from nothing: after every edit, undo and try-out, numbers,
loops, findings and order alike."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest

from bindu.core.account.loop_report import loop_reports
from bindu.core.checks.check import Looked
from bindu.core.checks.registry import findings
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keying import KeyValue, SetChannels
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer, ChangeLayer, MoveLayer, RemoveLayer
from bindu.core.edits.parts import AddPart
from bindu.core.edits.patch import inverse, patch_between, patched
from bindu.core.edits.place import RestFromPose
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import ChangeStep, MoveStep, RemoveStep
from bindu.core.evaluation import Evaluation, KeptResults, evaluate, evaluate_after
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FormulaSettings
from tests.core import seeds
from tests.demos import demo
from tests.wide import cases

LOOKED = Looked()


def assert_as_from_nothing(kept: Evaluation, found: bool = True) -> None:
    """The evaluation is the very one that the scene gives when nothing is known of it, and so are
    its findings, where they are asked for."""
    fresh = evaluate(replace(kept.scene))
    assert kept.graph.order == fresh.graph.order
    assert kept.graph.loops == fresh.graph.loops
    assert kept.graph.held == fresh.graph.held
    assert kept.graph.marches == fresh.graph.marches
    for node_id in fresh.graph.order:
        one, other = kept.results[node_id], fresh.results[node_id]
        assert one.values.shape == other.values.shape, node_id
        assert one.values.tobytes() == other.values.tobytes(), node_id
        assert one.broken_from == other.broken_from
    # What was seen of other states never stands for what is there now.
    if found:
        assert findings(kept, looked=LOOKED) == findings(fresh)


def random_edit(random: seeds.Random, scene: Scene) -> AnyEdit:
    """A change of a number, a curve, a formula, a mute, an order, a weight."""
    part = str(random.choice(sorted(scene.parts)))
    channel = str(random.choice(scene.channel_ids(part)))
    step = str(random.choice(sorted(scene.steps))) if scene.steps else None
    value = float(random.choice([0.0, 0.5, 1.0, -0.7]))
    made: list[AnyEdit] = [
        SetValue(part, channel, value),
        PutKeys(part, channel, (Key(2.5, value), Key(7.0, 0.25))),
        SetChannels(3.0, ((part, channel, value),)),
        ChangeRotationOrder(part, str(random.choice(["xyz", "zxy"])), "leave"),  # type: ignore[arg-type]
        RestFromPose((part,), 3.0, keep=False),
        ChangeScene(last=int(random.choice([10, 12]))),
    ]
    if step is not None:
        made += [ChangeStep(step, on=bool(random.random() < 0.6))] * 3
        made += [RemoveStep(step), MoveStep(step, scene.steps[step].zone, 0)]
        settings = scene.steps[step].settings
        if isinstance(settings, FormulaSettings):
            other = scene.parts[str(random.choice(sorted(scene.parts)))].name
            texts = ("1", f"{{{other}.translation.x}}", f"{{{other}.translation.x@driven}} + 1",
                     f"world_x({{{other}}})", f"{{{other}.rotation.y@final back}}")  # fmt: skip
            text = str(random.choice(texts))
            made += [ChangeStep(step, settings=FormulaSettings(settings.channel, text, "add"))] * 4
    return made[int(random.integers(len(made)))]


TOGETHER = (
    ("bindings", "layers"),
    ("loops", "leads"),
    ("spaces", "surfaces"),
    ("driven", "limbs"),
    ("backs",),
)
"""All kinds of seeds, in as few scenes as still hold little."""
FIRST = 41
"""Where random choices begin; how often what is met is held for this one."""


def test_all_kinds_of_seeds_are_begun_with() -> None:
    assert {kind for kinds in TOGETHER for kind in kinds} == seeds.SEEDS.keys()


@pytest.mark.parametrize("seed", range(FIRST, FIRST + cases(1, 4)))
@pytest.mark.parametrize("kinds", TOGETHER)
def test_after_every_edit_undo_and_try_out(kinds: tuple[str, ...], seed: int) -> None:
    random = np.random.default_rng(seed)
    seen: Counter[str] = Counter()
    scene = seeds.seeded(random, *kinds)
    kept = KeptResults()
    now = evaluate(scene, kept)
    tried = cases(8, 12)
    for _ in range(tried):
        try:
            changed = applied(now.scene, [random_edit(random, now.scene)])
        except Refusal:
            continue
        after = evaluate_after(now, changed, kept)
        # What is stale goes on being so: every third time is often enough to find it.
        assert_as_from_nothing(after, found=seen["edits"] % 3 == 0)
        seen["loops"] += bool(after.graph.loops)
        seen["gone"] += bool(now.graph.loops) and not after.graph.loops
        seen["backs"] += bool(after.graph.marches)
        seen["edits"] += 1
        seen["part of the structure"] += _partly_new(now, after)
        kind = random.random()
        if kind < 0.3:
            back = patched(changed, inverse(patch_between(now.scene, changed)))
            now = evaluate_after(after, back, kept)
            assert_as_from_nothing(now)
            seen["undone"] += 1
        elif kind > 0.5:
            now = after  # else it was only tried
    assert seen["edits"] >= 0.7 * tried and seen["undone"] >= 1, seen
    if seed == FIRST:
        assert seen["edits"] >= 0.8 * tried, seen
        assert "loops" not in kinds or seen["loops"] >= 0.8 * tried, seen
        assert "backs" not in kinds or seen["backs"] >= 0.4 * tried, seen
        partly = {"bindings", "spaces", "driven"} & {*kinds}
        assert not partly or seen["part of the structure"] >= 0.25 * tried, seen


def _partly_new(before: Evaluation, after: Evaluation) -> bool:
    """Whether there are other nodes than before, and yet some are the very same."""
    old, new = before.graph.nodes, after.graph.nodes
    return old.keys() != new.keys() and any(old.get(i) is node for i, node in new.items())


def test_a_loop_that_was_closed_and_opened_again_is_gone() -> None:
    scene = applied(
        Scene(last=5),
        [
            AddPart("x", id="p1"),
            seeds.formula("p1", "translation.x", "{x.translation.y}", "s1", "add"),
        ],
    )
    start = evaluate(scene)
    settings = FormulaSettings("translation.x", "{x.translation.x} + 1", "add")
    looped = evaluate_after(start, applied(scene, [ChangeStep("s1", settings=settings)]))
    assert looped.graph.loops
    back = evaluate_after(looped, scene)
    assert not back.graph.loops and not back.graph.held
    assert_as_from_nothing(back)


def test_every_remedy_of_the_mooring_leaves_what_a_fresh_reading_gives() -> None:
    scene = demo("the-mooring")
    start = evaluate(scene)
    tried = 0
    for report in loop_reports(start):
        for remedy in report.remedies:
            mended = applied(scene, remedy.edits)
            after = evaluate_after(start, mended)
            assert_as_from_nothing(after)
            assert_as_from_nothing(evaluate_after(after, scene))
            tried += 1
    assert tried >= 9


@pytest.mark.parametrize(
    ("text", "mode", "first", "last"),
    [
        ("1", "scale", 1.0, 1.0),
        ("1 / 0", "set", 1.0, 1.0),
        ("{x.translation.x@final back} / 2", "add", 1.5, 2.0 - 2.0**-6),
        ("{x.translation.x@final back} / (frame - 5)", "add", 0.8, 1.0),
    ],
)
def test_a_step_begins_with_what_is_set(text: str, mode: str, first: float, last: float) -> None:
    formula = seeds.formula("p1", "translation.x", text, "s1", mode)
    scene = applied(Scene(last=5), [AddPart("x", id="p1"), formula])
    now = evaluate(scene)
    for value in (2.0, 0.0, -0.0, 7.5):
        changed = applied(now.scene, [SetValue("p1", "translation.x", value)])
        now = evaluate_after(now, changed)
        assert_as_from_nothing(now)
        # Where the step makes no number it is held at what is set.
        values = now.channel(ChannelRef("p1", "translation.x"), "driven")[[0, -1]]
        assert values.tolist() == pytest.approx([value * first, value * last])
        assert mode == "add" or np.signbit(values).tolist() == [np.signbit(value)] * 2


def test_a_layers_weight_reaches_the_other_parts_that_it_weighs() -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1"), AddPart("two", id="p2")]
    edits += [AddLayer("up", "p1", id="l1"), KeyValue(0.0, (("p2", "translation.x", 4.0),), "l1")]
    scene = applied(Scene(last=5), edits)
    now = evaluate(scene)
    for edit in (
        SetValue("p1", "l1.weight", 0.5),
        PutKeys("p1", "l1.weight", (Key(0.0, 0.0), Key(5.0, 1.0))),
    ):
        now = evaluate_after(now, applied(now.scene, [edit]))
        assert_as_from_nothing(now)


def test_what_a_layer_does_and_where_it_lies_reaches_all_that_it_holds() -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1"), AddPart("two", id="p2")]
    for layer, value in (("l1", 4.0), ("l2", -1.0)):
        edits.append(AddLayer(layer, "p1", id=layer))
        edits.append(KeyValue(0.0, (("p2", "translation.x", value),), layer))
    now = evaluate(applied(Scene(last=5), edits))
    found = []
    for edit in (
        ChangeLayer("l1", mode="replace"),
        MoveLayer("l1", 1),
        ChangeLayer("l1", on=False),
        ChangeLayer("l1", on=True, solo=True),
        RemoveLayer("l2"),
    ):
        now = evaluate_after(now, applied(now.scene, [edit]))
        assert_as_from_nothing(now)
        found.append(float(now.channel(ChannelRef("p2", "translation.x"), "final")[0]))
    # A key holds what is seen with all layers: the upper one brings 4 to -1 by adding -5.
    assert found == [-1.0, 4.0, -5.0, 4.0, 4.0]


def test_a_layers_weight_is_never_keyed_onto_that_layer() -> None:
    edits: list[AnyEdit] = [AddPart("one", id="p1"), AddLayer("up", "p1", id="l1")]
    scene = applied(Scene(last=5), edits)
    for value in (0.5, 0.0, 1.0):
        typed = (("p1", "l1.weight", value),)
        scene = applied(scene, [SetChannels(2.0, typed, "l1")])
        assert not evaluate(scene).graph.loops
        assert not scene.curves and scene.parts["p1"].values["l1.weight"] == value
    scene = applied(scene, [KeyValue(2.0, (("p1", "l1.weight", 0.25),), "l1")])
    assert [ref.channel for ref in scene.curves] == ["l1.weight"]
    with pytest.raises(Refusal, match="cannot weigh itself"):
        applied(scene, [PutKeys("p1", "l1:l1.weight", (Key(0.0, 0.5),))])
