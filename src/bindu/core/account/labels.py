"""Nodes and loops in the words that people use."""

from __future__ import annotations

from typing import Any

from bindu.core.graph.kinds.ties import step_around, step_made
from bindu.core.graph.loops import Loop
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import (
    OWN,
    QUATERNION,
    SOLVE,
    WORLD_QUANTITIES,
    NodeId,
    Read,
    Stage,
    tap_of,
)
from bindu.core.scene.channels import GROUPS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Step


def read_label(scene: Scene, read: Read) -> str:
    """What people call something that is read, without its tap."""
    part = scene.parts[read.part].name
    if read.quantity in WORLD_QUANTITIES:
        label = f"{part} {read.quantity}"
    elif read.quantity == SOLVE:
        assert isinstance(read.tap, Stage)
        label = owner_label(scene, read.tap.name)
    elif read.quantity in GROUPS or read.quantity == QUATERNION:
        label = f"{part}.{_group_name(read.quantity)}"
    else:
        label = full_name(scene, ChannelRef(read.part, read.quantity))
    return f"{label}, one frame back" if read.back else label


def owner_label(scene: Scene, owner: str) -> str:
    """What people call what is solved for several parts."""
    what = "lead group" if owner in scene.leads else "gait" if owner in scene.gaits else "limb"
    return f"{what} {scene.owners[owner].name}"


def node_label(scene: Scene, node_id: NodeId) -> str:
    """What people call a node: part, quantity and tap, and the step that makes it."""
    part, quantity, stage = node_id
    name = scene.parts[part].name
    if stage.kind == "back":
        label = node_label(scene, read_node(scene, Read(part, quantity, tap_of(stage) or "final")))
        return f"{label}, one frame back"
    if quantity == SOLVE:
        return owner_label(scene, stage.name)
    step = step_around(scene, stage)
    if quantity in (*WORLD_QUANTITIES, *GROUPS, QUATERNION):
        label = f"{name}.{_group_name(quantity)}"
        if step is None:
            return f"{label} @{stage}"
        where = f"before {step.name}" if stage.kind == "before" else step.name
        return f"{label} @{step.zone} · {where}"
    ref = ChannelRef(part, quantity)
    label = full_name(scene, ref)
    if stage == OWN:
        layered = any(step.zone == "keyed" for step in scene.writers(ref))
        return f"{label} @keyed · base keys" if layered else f"{label} @keyed"
    return f"{label} @{stage}" if step is None else f"{label} @{step.zone} · {step.name}"


def _group_name(quantity: str) -> str:
    """A group as people call it; the angles that a quaternion is shown as are told apart."""
    names = {QUATERNION: "rotation", "rotation": "rotation angles"}
    return names.get(quantity, quantity)


def ledger_channel(scene: Scene, part: str, quantity: str) -> ChannelRef:
    """The channel whose ledger says most about a quantity of a part; of a group the first one."""
    groups = {"world position": "translation", "world matrix": "translation"}
    name = groups.get(quantity, _group_name(quantity) if quantity == QUATERNION else quantity)
    if name in GROUPS:
        return ChannelRef(part, f"{name}.x")
    return ChannelRef(part, name if name in scene.channel_ids(part) else "translation.x")


def step_name(scene: Scene, node_id: NodeId) -> str:
    """The name of the step that makes a node."""
    step = step_made(scene, node_id)
    return step.name if step else str(node_id.stage)


def read_sentence(scene: Scene, step: Step, read: Read) -> str:
    """Who reads what at which tap."""
    owner = scene.parts[step.part].name
    return f"“{step.name}” ({step.zone}) of {owner} reads {read_label(scene, read)} at {read.tap}"


def read_and_written(scene: Scene, step: Step, read: Read) -> str:
    """Who reads what at which tap, and writes what."""
    writes = ", ".join(step.settings.groups) or step.settings.writes[0]
    return f"{read_sentence(scene, step, read)} and writes {writes}"


def loop_lines(scene: Scene, loop: Loop) -> dict[str, Any]:
    """A loop's chain, the step that is held and what it takes instead, as labels."""
    return {
        "chain": [node_label(scene, node_id) for node_id in loop.chain],
        "reader": node_label(scene, loop.reader),
        "held": node_label(scene, loop.held),
    }
