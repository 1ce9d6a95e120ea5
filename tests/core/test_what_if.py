"""What if: which channels differ between two sides, by how much, and where most."""

from __future__ import annotations

import numpy as np
import pytest

from bindu.core.comparing.what_if import differences, differing_channels, variant_edits
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import ChangeStep, RemoveStep
from bindu.core.edits.what_ifs import PutWhatIf, RemoveWhatIf
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.things import StepVariant
from tests.demos import demo

FERRY, MOORING = demo("ferry-crossing"), demo("the-mooring")
SIDES: list[list[AnyEdit]] = [[ChangeStep(step, on=False)] for step in FERRY.steps]
SIDES += [[], [ChangeScene(last=80)], [ChangeStep(next(iter(FERRY.steps)), name="other name")]]


@pytest.mark.parametrize("edits", SIDES)
def test_the_channels_that_differ_are_those_whose_values_do(edits: list[AnyEdit]) -> None:
    """Against all transform and own channels compared number by number."""
    one, other = evaluate(FERRY), evaluate(applied(FERRY, edits))
    channels = [ChannelRef(part, name) for part in FERRY.parts for name in TRANSFORM_CHANNELS]
    channels += [ChannelRef(own.part, own.id) for own in FERRY.channels.values()]
    expected = {}
    for ref in channels:
        a, b = (np.broadcast_to(e.channel(ref, "final"), len(e.times.frames)) for e in (one, other))
        # Beyond the other's range its last value stands.
        b = np.concatenate([b, np.full(len(a) - len(b), b[-1])])
        if np.abs(a - b).max() > 1e-9:
            expected[ref] = float(np.abs(a - b).max())
    found = {d.channel: d for d in differences(one, other, differing_channels(one, other, 10_000))}
    assert {ref: d.worst for ref, d in found.items()} == expected
    worst = [d.worst for d in found.values()]
    assert worst == sorted(worst, reverse=True)
    for d in found.values():
        assert abs(d.other - d.one)[d.worst_frame - one.times.first] == d.worst


def test_a_saved_what_if_puts_steps_where_they_stood() -> None:
    """Its edits bring back zone, place and whether a step is on, whatever has become of it."""
    step = next(s for s in MOORING.steps.values() if s.zone == "late")
    saved = PutWhatIf(
        "before or after",
        (StepVariant(step.id, "driven", 0, True),),
        (StepVariant(step.id, "late", 0, False),),
        id="w2",
    ).apply(MOORING)
    what_if = saved.what_ifs["w2"]
    for variant, (zone, on) in (
        (what_if.one, ("driven", True)),
        (what_if.other, ("late", False)),
    ):
        made = applied(saved, variant_edits(saved, variant)).steps[step.id]
        assert (made.zone, made.on) == (zone, on)
    gone = applied(saved, [RemoveStep(step.id)])
    assert variant_edits(gone, what_if.one) == []
    assert RemoveWhatIf("w2").apply(saved) == MOORING


def test_what_no_step_can_be_is_not_saved() -> None:
    late = next(s for s in MOORING.steps.values() if s.settings.kind == "position")
    with pytest.raises(Refusal, match="belongs to bound or late, not driven"):
        PutWhatIf("odd", (StepVariant(late.id, "driven"),)).apply(MOORING)
    with pytest.raises(Refusal, match="there is a What if with this name already"):
        PutWhatIf(MOORING.what_ifs["w1"].name).apply(MOORING)
    with pytest.raises(Refusal, match="no step with the identity 's999'"):
        PutWhatIf("gone", (StepVariant("s999", on=False),)).apply(MOORING)
    with pytest.raises(Refusal, match="no What if with the identity 'w9'"):
        RemoveWhatIf("w9").apply(MOORING)
