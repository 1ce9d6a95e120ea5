"""Edits of what the scene's receiver is told, and of what it moves by name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.edits.channels import AddChannel
from bindu.core.edits.parts import AddPart
from bindu.core.edits.rules import ApplyRules, NameRule
from bindu.core.formula.numbers import written_number
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names
from bindu.core.scene.parts import Shape
from bindu.core.scene.receivers import Override, Setup, check_setup

RECEIVER = "receiver"
"""The one receiver that a scene has."""
INPUTS = "inputs"
"""The part whose channels are the inputs of rules."""


@dataclass(frozen=True)
class PutReceiver:
    """Tells the scene's receiver other things; see ``Setup``."""

    setup: Setup
    do: Literal["put receiver"] = "put receiver"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"change {_changed(scene.receivers.get(RECEIVER, Setup()), self.setup)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_setup(self.setup)
        none = self.setup == Setup()
        made: Mapping[str, Setup] = {} if none else {RECEIVER: self.setup}
        return replace(scene, receivers=made)


@dataclass(frozen=True)
class WireInputs:
    """Wires parts in the scene to inputs as the receiver's overrides *by input* move them there: a
    formula of each named part that is here reads the input's channel of the part *inputs*, which is
    made where it is missing. A formula of the same name there is changed instead."""

    do: Literal["wire inputs"] = "wire inputs"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        count = sum(len(_here(scene, one)) for one in _by_input(scene))
        return f"wire {counted(count, 'part')} to inputs"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        found = [(one, _here(scene, one)) for one in _by_input(scene)]
        rules = tuple(_rule(n, one, here) for n, (one, here) in enumerate(found) if here)
        if not rules:
            text = "the receiver moves no part by its name that is in this scene."
            raise Refusal(text, code="choice", place=RECEIVER)
        if INPUTS not in scene.part_ids:
            scene = AddPart(INPUTS, role="helper", shape=Shape("none")).apply(scene)
        part = scene.part_ids[INPUTS]
        for name in (name for one, here in found if here for name in (one.input, one.by)):
            if name is not None and name not in channel_names(scene, part):
                scene = AddChannel(part, name).apply(scene)
        return ApplyRules(rules).apply(scene)


ReceiverEdit = PutReceiver | WireInputs


def _by_input(scene: Scene) -> list[Override]:
    setup = scene.receivers.get(RECEIVER, Setup())
    return [one for one in setup.overrides if one.kind == "by input" and one.on]


def _here(scene: Scene, override: Override) -> list[str]:
    """The named parts that the scene has, each once."""
    return [name for name in dict.fromkeys(override.parts) if name in scene.part_ids]


def _rule(number: int, override: Override, here: list[str]) -> NameRule:
    """The rule that does in a scene what the override does in the receiver."""
    factor = override.factor * override.weight
    formula = f"{{{INPUTS}.{override.input}}}"
    if factor != 1.0:
        formula += f" * {written_number(factor)}"
    if override.by is not None:
        formula += f" * clamp({{{INPUTS}.{override.by}}}, 0, 1)"
    name = f"by {override.input} {number + 1}" if number else f"by {override.input}"
    return NameRule(name, f"[{','.join(here)}]", override.channel, formula)


def _changed(before: Setup, after: Setup) -> str:
    """What of a setup is another one, in words."""
    if before.overrides != after.overrides:
        return "what overrides the receiver’s clips"
    if before.moves != after.moves:
        return "the receiver’s moves"
    return "what the receiver is told"
