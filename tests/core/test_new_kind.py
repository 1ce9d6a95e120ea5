"""A kind of step that lives in this test alone: what it takes to add one, and that nothing else in
the core has to know of it. ``docs/adding-a-step.md`` shows the same one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal, Self

import numpy as np
import pytest

from bindu.core.account.ledger import ledger_of, values_at
from bindu.core.account.wiring import wiring_of
from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart, RemoveParts, RenamePart
from bindu.core.edits.rereading import Reread
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import evaluate, evaluate_after
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.identity import Read, tap_of
from bindu.core.nodes.operation import Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, Tap, Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import ChannelSettings, Followed
from bindu.core.steps.base import StepKind
from bindu.core.steps.registry import KINDS
from tests.core.troubles import troubles


@dataclass(frozen=True)
class FloatSettings(ChannelSettings):
    """Lifts a channel by a share of how high another part is in the world."""

    channel: str
    on: str
    share: float = 1.0
    tap: Tap = "final"
    kind: Literal["float"] = "float"

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel), on=to.part(self.on))


@dataclass(frozen=True)
class FloatOperation(InBatches):
    """Inputs: incoming, the world position of what it floats on."""

    share: float

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"float {self.share!r}"

    @classmethod
    def compute_many(
        cls, operations: Sequence[FloatOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F) or (B, 1)."""
        shares = stacked([one.share for one in operations])
        return np.asarray(inputs[0] + shares * inputs[1][..., 1])


class FloatKind(StepKind):
    """See ``StepKind``."""

    name = "float"
    zones: tuple[Zone, ...] = ("driven", "late")
    zone_reason = "it writes driven values"

    def checked(self, scene: Scene, part: str, settings: FloatSettings) -> FloatSettings:
        """See ``StepKind``."""
        if settings.on not in scene.parts:
            raise Refusal("choose a part to float on.", place="on")
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """Where that part is."""
        assert isinstance(step.settings, FloatSettings)
        return (Read(step.settings.on, "world position", step.settings.tap),)

    def operation(self, scene: Scene, step: Step, quantity: str) -> FloatOperation:
        """See ``FloatOperation``."""
        assert isinstance(step.settings, FloatSettings)
        return FloatOperation(step.settings.share)

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> Any:
        """At another tap."""
        return None if new.back else replace(step.settings, tap=tap_of(new.tap))

    def described(self, scene: Scene, settings: FloatSettings) -> str:
        """What it floats on."""
        return f"floats on {scene.parts[settings.on].name}"

    def trouble(self, scene: Scene, settings: FloatSettings) -> str:
        """See ``StepKind``."""
        return "Look at what it floats on."


@pytest.fixture(autouse=True)
def kind(monkeypatch: pytest.MonkeyPatch) -> None:
    """The one entry that a new kind needs."""
    monkeypatch.setitem(KINDS, "float", FloatKind())  # type: ignore[arg-type]


def floating(on: str = "p1", share: float = 1.0) -> Any:
    """What a float is told."""
    return FloatSettings("translation.y", on, share)


def pond(*edits: AnyEdit) -> Scene:
    """Water that rises, and two corks that float on it."""
    water = PutKeys("p1", "translation.y", (Key(0.0, 0.0, "linear"), Key(10.0, 5.0)))
    parts = [ChangeScene(last=10), AddPart("water"), AddPart("cork"), AddPart("leaf"), water]
    floats = [
        AddStep("p2", "float", floating(), id="s1"),
        AddStep("p3", "float", floating(share=0.5), id="s2"),
    ]
    return applied(Scene(), [*parts, *floats, *edits])


HEIGHTS = np.linspace(0.0, 5.0, 11)


def height(scene: Scene, part: str) -> Array:
    """How high a part is on each frame."""
    evaluation = evaluate(scene)
    return evaluation.channel(ChannelRef(part, "translation.y"), "final")


def test_it_is_computed_alone_and_among_others_of_its_kind() -> None:
    scene = pond()
    np.testing.assert_allclose(height(scene, "p2"), HEIGHTS)
    np.testing.assert_allclose(height(scene, "p3"), 0.5 * HEIGHTS)
    before = evaluate(scene)
    changed = applied(scene, [ChangeStep("s2", settings=floating(share=0.25))])
    after = evaluate_after(before, changed)
    assert {node.part for node in after.seconds} == {"p3"}
    np.testing.assert_array_equal(
        after.channel(ChannelRef("p3", "translation.y"), "final"), 0.25 * HEIGHTS
    )


def test_it_has_a_line_in_the_ledger_and_a_port_in_the_wiring() -> None:
    scene = pond()
    evaluation = evaluate(scene)
    ledger = ledger_of(evaluation, ChannelRef("p2", "translation.y"))
    (bead,) = [one for one in ledger.beads if one.step and one.step.id == "s1"]
    assert bead.description == "floats on water" and bead.outgoing is not None
    assert values_at(evaluation, bead.outgoing, 4) == pytest.approx(2.0)
    assert [seen.read.part for seen in bead.reads] == ["p1"]
    ports = wiring_of(evaluation.graph).cards
    assert any(port.step == "s1" for card in ports for port in card.ports)
    assert not troubles(evaluation)


def test_copies_renames_and_removals_follow_it() -> None:
    scene = pond(RenamePart("p1", "lake"), DuplicatePart("p2"))
    copy = next(s for s in scene.steps.values() if scene.parts[s.part].name == "cork 2")
    assert copy.settings == floating()
    with pytest.raises(Refusal, match="float"):
        applied(scene, [RemoveParts(("p1",))])


def test_a_loop_through_it_is_held_and_broken_by_reading_earlier() -> None:
    drawn = AddStep("p1", "float", floating("p2"), id="s3")
    scene = pond(drawn)
    assert evaluate(scene).graph.loops
    broken = applied(scene, [Reread("s3", "p2", "world position", "final", to="keyed")])
    assert not evaluate(broken).graph.loops
