"""Layers of curves: values, ledger, keying on them, merging."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bindu.core.account.ledger import ledger_of
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Curve, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keying import KeyChannels, KeyValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer, ChangeLayer, HoldChannel, MergeLayer, RemoveLayer
from bindu.core.edits.parts import AddPart, RemoveParts
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FormulaSettings
from tests.strategies import FRAMES, curves

NECK = ChannelRef("p1", "rotation.z")
TIMES = np.arange(FRAMES + 1.0)


def neck(*edits: AnyEdit) -> Scene:
    """A part with two layers over it."""
    start = [AddPart("neck"), AddLayer("bow", "p1"), AddLayer("strike", "p1", "replace")]
    return applied(Scene(last=FRAMES), [*start, *edits])


def keyed(evaluation: Evaluation, tap: str = "keyed") -> np.ndarray:
    """The neck's values on all frames."""
    found = evaluation.channel(NECK, tap)  # type: ignore[arg-type]
    return np.broadcast_to(found, FRAMES + 1)


@given(curves(1), curves(1), curves(1), st.floats(0.0, 1.0))
def test_layers_add_and_replace_by_their_weights(
    base: tuple[Key, ...], bow: tuple[Key, ...], strike: tuple[Key, ...], weight: float
) -> None:
    scene = neck(
        PutKeys("p1", "rotation.z", base),
        PutKeys("p1", "l1:rotation.z", bow),
        PutKeys("p1", "l2:rotation.z", strike),
        SetValue("p1", "l1.weight", 0.25),
        SetValue("p1", "l2.weight", weight),
    )
    a, b, c = (
        curve_values(scene.curves[ChannelRef("p1", name)], TIMES)
        for name in ("rotation.z", "l1:rotation.z", "l2:rotation.z")
    )
    below = a + 0.25 * b
    expected = below + weight * (c - below)
    np.testing.assert_allclose(keyed(evaluate(scene)), expected, atol=1e-9)
    solo = applied(scene, [ChangeLayer("l1", solo=True)])
    np.testing.assert_allclose(keyed(evaluate(solo)), below, atol=1e-9)
    muted = applied(scene, [ChangeLayer("l1", on=False), ChangeLayer("l2", on=False)])
    np.testing.assert_allclose(keyed(evaluate(muted)), a, atol=1e-12)


def test_in_the_ledger_a_layer_is_a_step_of_zone_keyed() -> None:
    scene = neck(
        PutKeys("p1", "rotation.z", (Key(0.0, 10.0),)),
        PutKeys("p1", "l1:rotation.z", (Key(0.0, 4.0), Key(20.0, 4.0))),
        PutKeys("p1", "l1.weight", (Key(0.0, 0.5),)),
        AddStep("p1", "sway", FormulaSettings("rotation.z", "1", "add")),
    )
    evaluation = evaluate(scene)
    own, bow, sway = ledger_of(evaluation, NECK).beads
    assert (own.zone, bow.zone, sway.zone) == ("keyed", "keyed", "driven")
    assert (bow.name, bow.kind, bow.description) == ("bow", "layer", "adds 2 keys")
    assert [seen.label for seen in bow.reads] == ["neck.rotation.z on bow", "neck.bow.weight"]
    assert keyed(evaluation)[3] == pytest.approx(12.0)
    assert keyed(evaluation, "final")[3] == pytest.approx(13.0)


@given(curves(1), curves(1), st.sampled_from(["l1", "l2"]), st.integers(0, FRAMES))
def test_a_key_on_a_layer_brings_the_value_that_was_typed(
    base: tuple[Key, ...], bow: tuple[Key, ...], layer: str, frame: int
) -> None:
    scene = neck(
        PutKeys("p1", "rotation.z", base),
        PutKeys("p1", "l1:rotation.z", bow),
        SetValue("p1", f"{layer}.weight", 0.5),
    )
    try:
        dotted = applied(scene, [KeyChannels(frame, (NECK,), layer)])
    except Refusal:  # Inside a spring or bounce no key keeps the shape.
        return
    before = keyed(evaluate(scene))[frame]
    assert keyed(evaluate(dotted))[frame] == pytest.approx(before, abs=1e-6)
    typed = applied(scene, [KeyValue(frame, ((*NECK, 33.0),), layer)])
    assert keyed(evaluate(typed))[frame] == pytest.approx(33.0)
    assert typed.curves[NECK] == scene.curves[NECK]


@given(curves(1), curves(2), st.sampled_from(["l1", "l2"]), st.sampled_from([1.0, 0.5, None]))
def test_merging_down_changes_no_frame(
    base: tuple[Key, ...], over: tuple[Key, ...], layer: str, weight: float | None
) -> None:
    edits: list[AnyEdit] = [
        PutKeys("p1", "rotation.z", base),
        PutKeys("p1", f"{layer}:rotation.z", over),
    ]
    if weight is None:
        edits.append(PutKeys("p1", f"{layer}.weight", (Key(0.0, 0.0), Key(20.0, 1.0))))
    else:
        edits.append(SetValue("p1", f"{layer}.weight", weight))
    gone = "l2" if layer == "l1" else "l1"
    scene = applied(neck(*edits), [RemoveLayer(gone)])
    merged = applied(scene, [MergeLayer(layer)])
    assert not merged.layers
    assert set(merged.curves) == {NECK}
    np.testing.assert_allclose(keyed(evaluate(merged)), keyed(evaluate(scene)), atol=1e-8)


def test_a_merge_of_even_curves_stays_on_their_keys() -> None:
    keys = (Key(0.0, 0.0), Key(10.0, 5.0), Key(20.0, 0.0))
    scene = applied(
        neck(PutKeys("p1", "rotation.z", keys), PutKeys("p1", "l1:rotation.z", keys)),
        [RemoveLayer("l2"), MergeLayer("l1")],
    )
    assert [(k.frame, round(k.value, 9)) for k in scene.curves[NECK].keys] == [
        (0.0, 0.0),
        (10.0, 10.0),
        (20.0, 0.0),
    ]


def test_what_layers_cannot_do_is_refused() -> None:
    scene = neck(PutKeys("p1", "l1:rotation.z", (Key(0.0, 4.0),)))
    cases: list[tuple[AnyEdit, str]] = [
        (AddLayer("bow", "p1"), "bow: there is a layer with this name"),
        (SetValue("p1", "l1:rotation.z", 1.0), "neck.rotation.z on bow: a layer holds keys only"),
        (MergeLayer("l2"), "strike: bow below it adds, but it replaces"),
        (HoldChannel("l2", "p1", "rotation.x", held=False), "strike does not hold it"),
        (RemoveParts(("p1",)), "the weight of the layer 'bow' is a channel of it"),
        (AddStep("p1", "bow", FormulaSettings("rotation.z", "1")), "has a step 'bow' already"),
        (KeyValue(0.0, ((*NECK, 1.0),), "l9"), "no layer with the identity 'l9'"),
    ]
    for edit, says in cases:
        with pytest.raises(Refusal, match=says):
            applied(scene, [edit])
    silent = applied(scene, [SetValue("p1", "l1.weight", 0.0)])
    with pytest.raises(Refusal, match="bow has the weight 0 at frame 3"):
        applied(silent, [KeyValue(3.0, ((*NECK, 1.0),), "l1")])
    read = applied(
        scene, [AddStep("p1", "shake", FormulaSettings("rotation.x", "{neck.bow.weight}"))]
    )
    with pytest.raises(Refusal, match="read by “shake”"):
        applied(read, [RemoveLayer("l1")])


@pytest.mark.parametrize("far", [1e9, -1e9])
def test_a_merge_that_would_look_at_a_thousand_million_frames_is_refused(far: float) -> None:
    scene = neck(
        PutKeys("p1", "rotation.z", (Key(min(0.0, far), 0.0), Key(max(0.0, far), 40.0))),
        PutKeys("p1", "l1:rotation.z", (Key(0.0, 5.0), Key(12.0, 9.0))),
    )
    with pytest.raises(Refusal, match=r"frames lie between keys.*nearer"):
        applied(scene, [MergeLayer("l1")])


def test_a_driven_weight_feeds_the_layer_and_its_keys() -> None:
    scene = neck(
        PutKeys("p1", "l1:rotation.z", (Key(0.0, 8.0),)),
        AddStep("p1", "fade", FormulaSettings("l1.weight", "frame / 20")),
    )
    np.testing.assert_allclose(keyed(evaluate(scene)), 8.0 * TIMES / 20.0)
    typed = applied(scene, [KeyValue(10.0, ((*NECK, 3.0),), "l1")])
    assert keyed(evaluate(typed))[10] == pytest.approx(3.0)


def test_a_layer_over_a_bare_channel_needs_no_keys_below() -> None:
    scene = neck(HoldChannel("l2", "p1", "rotation.z", 5.0))
    assert scene.curves[ChannelRef("p1", "l2:rotation.z")] == Curve((Key(5.0, 0.0),))
