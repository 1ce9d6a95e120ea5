"""What is wrong in an evaluated scene: where, from which frame on, and what to do."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from bindu.core.account.labels import ledger_channel, node_label, step_name
from bindu.core.checks.limbs import LimbFault, limb_faults
from bindu.core.checks.poles import Pole, poles
from bindu.core.checks.shears import Shear, shears
from bindu.core.evaluation import Evaluation, Result
from bindu.core.graph.kinds.ties import step_made
from bindu.core.graph.loops import Loop
from bindu.core.nodes.identity import NodeId
from bindu.core.placing.handovers import (
    JUMP_DEGREES,
    JUMP_METRES,
    HandoverState,
    handover_states,
)
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.settings import SpaceSettings
from bindu.core.steps.bound.space import space_name
from bindu.core.steps.registry import kind_of


@dataclass(frozen=True)
class Finding:
    """A problem at a channel; ``frame`` is the first one, None where it concerns all."""

    part: str
    channel: str
    step: str | None
    frame: int | None
    text: str


def findings(evaluation: Evaluation) -> tuple[Finding, ...]:
    """Loops, steps that made no finite number, aims along their up, handovers that jump, shears
    that are lost, and what is wrong with limbs."""
    scene = evaluation.scene
    broken = ((node, r) for node, r in evaluation.results.items() if r.broken_from is not None)
    return (
        *(_loop(scene, loop) for loop in evaluation.graph.loops),
        *(_broken(scene, node, result) for node, result in broken),
        *(_pole(scene, pole) for pole in poles(evaluation)),
        *(_jump(scene, state) for state in _jumps(evaluation)),
        *(_shear(scene, shear) for shear in shears(evaluation)),
        *(_limb(fault) for fault in limb_faults(evaluation)),
    )


def _loop(scene: Scene, loop: Loop) -> Finding:
    chain = " → ".join(node_label(scene, node) for node in loop.chain)
    text = f"Loop: {chain}. “{step_name(scene, loop.reader)}” takes "
    text += f"{node_label(scene, loop.held)} instead. Let a step read an earlier tap, or mute it."
    place = ledger_channel(scene, loop.reader.part, loop.reader.quantity)
    return Finding(*place, loop.reader.stage.name, None, text)


def _broken(scene: Scene, node: NodeId, result: Result) -> Finding:
    step = step_made(scene, node)
    part, channel = ledger_channel(scene, node.part, node.quantity)
    name = scene.parts[part].name
    if step is None or not step.settings.groups:
        name = full_name(scene, ChannelRef(part, channel))
    text = f"{name}: “{step_name(scene, node)}” makes no finite number on "
    text += f"{result.broken_frames} frames, first on {result.broken_from}; "
    text += "held there at the value that came in. "
    text += kind_of(step.settings).trouble(scene, step.settings) if step else ""
    return Finding(part, channel, step.id if step else None, result.broken_from, text.strip())


def _pole(scene: Scene, pole: Pole) -> Finding:
    name = scene.parts[pole.step.part].name
    text = f"{name}: “{pole.step.name}” looks along its up on {pole.frames} frames, first on "
    text += f"{pole.first}; up says nothing there. Give it another up, or the least turn."
    return Finding(pole.step.part, "rotation.x", pole.step.id, pole.first, text)


def _shear(scene: Scene, shear: Shear) -> Finding:
    step = scene.steps.get(shear.step or "")
    name = scene.parts[shear.part].name
    text = f"{name}: “{step.name}”" if step else f"{name}: a lead group or a limb"
    text += f" loses a shear of up to {shear.degrees:.3g}° on {shear.frames} frames, most on "
    text += f"{shear.worst}: an uneven scale above leaves axes that are not at right angles, and "
    text += "no rotation can hold that. Make that scale even."
    return Finding(shear.part, "rotation.x", shear.step, shear.first, text)


def _limb(fault: LimbFault) -> Finding:
    return Finding(fault.part, fault.channel, None, fault.frame, fault.text)


def _jumps(evaluation: Evaluation) -> Iterator[HandoverState]:
    steps = evaluation.scene.steps.values()
    spaces = [s for s in steps if s.on and isinstance(s.settings, SpaceSettings)]
    return (state for state in handover_states(evaluation, spaces) if state.jumps)


def _jump(scene: Scene, state: HandoverState) -> Finding:
    part = state.step.part
    source, target = space_name(scene, state.source), space_name(scene, state.target)
    amounts = [f"{state.metres:.3g} m"] * (state.metres > JUMP_METRES)
    amounts += [f"{state.degrees:.3g}°"] * (state.degrees > JUMP_DEGREES)
    how_far = " and ".join(amounts)
    text = f"{scene.parts[part].name}: jumps {how_far} where it goes from {source} to {target} on "
    text += f"frame {state.frame}. Keep the place again on its space lane, or blend."
    channel = f"{state.step.settings.groups[0]}.x"
    return Finding(part, channel, state.step.id, state.frame, text)
