"""Lanes of spans: in which space a part moves when, who leads, whether a limb is FK or IK, and when
the feet of a gait are on the ground."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bindu.core.account.gaits import feet_in_the_air
from bindu.core.account.limbs import switches
from bindu.core.evaluation import Evaluation
from bindu.core.placing.handovers import handover_states
from bindu.core.placing.matching import control_of
from bindu.core.placing.spaces import active_space, space_ref
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import SpaceSettings
from bindu.core.scene.things import Gait, LeadGroup, Limb
from bindu.core.steps.bound.space import active_spaces, space_name
from bindu.web.order.schemas import HandoverView, LanesView, LaneView, StripView

LIMB_STATES = ("FK", "IK", "between")
FOOT_STATES = ("ground", "air")


def lanes_view(evaluation: Evaluation, revision: int) -> LanesView:
    """The limbs, the feet of gaits, the space lanes by the tree, then the leads."""
    scene = evaluation.scene
    lanes = [_limb_lane(evaluation, limb) for limb in sorted(scene.limbs.values(), key=_name)]
    for gait in sorted(scene.gaits.values(), key=lambda one: one.name):
        lanes += _gait_lanes(evaluation, gait)
    lanes += [
        _space_lane(evaluation, step)
        for part in scene.tree_order
        for step in scene.steps_of.get(part, ())
        if isinstance(step.settings, SpaceSettings)
    ]
    for lead in sorted(scene.leads.values(), key=lambda one: one.name):
        lanes += [_lead_lane(evaluation, lead, key) for key in ("position", "rotation")]
    return LanesView(revision=revision, lanes=lanes)


def _space_lane(evaluation: Evaluation, step: Step) -> LaneView:
    scene, settings = evaluation.scene, step.settings
    assert isinstance(settings, SpaceSettings)
    names = [space_name(scene, space) for space in settings.spaces]
    active = active_space(evaluation, step)
    states = handover_states(evaluation, [step] if step.on else [])
    return LaneView(
        kind="space",
        id=step.id,
        name=f"{scene.parts[step.part].name} · {step.name}",
        part=step.part,
        channel=space_ref(step).channel,
        choices=names,
        keys=list(settings.spaces),
        strips=list(_strips(active, names, evaluation.times.first)),
        handovers=[
            HandoverView(
                frame=state.frame,
                source=space_name(scene, state.source),
                target=space_name(scene, state.target),
                kept=state.kept,
                blend=state.blend,
                metres=state.metres,
                degrees=state.degrees,
                jumps=state.jumps,
            )
            for state in states
        ],
    )


def _lead_lane(evaluation: Evaluation, lead: LeadGroup, key: str) -> LaneView:
    scene = evaluation.scene
    ref = ChannelRef(lead.part, step_channel(lead.id, key))
    names = ["nobody", *(scene.parts[part].name for part in lead.members)]
    frames = len(evaluation.times.frames)
    chosen = active_spaces(evaluation.channel(ref, "final"), len(names), frames)
    return LaneView(
        kind="lead",
        id=lead.id,
        name=f"{lead.name} · {key}",
        part=lead.part,
        channel=ref.channel,
        choices=names,
        keys=["", *lead.members],
        strips=list(_strips(chosen, names, evaluation.times.first)),
        handovers=[],
    )


def _name(limb: Limb) -> str:
    return limb.name


def _in_hand(scene: Scene, limb: Limb) -> list[str]:
    """The parts with which people move a limb."""
    poles = [limb.pole] if limb.pole else []
    return list(dict.fromkeys([*limb.chain, limb.goal, control_of(scene, limb.goal), *poles]))


def _limb_lane(evaluation: Evaluation, limb: Limb) -> LaneView:
    """When a limb is FK, IK, or between."""
    scene = evaluation.scene
    ref = ChannelRef(limb.part, step_channel(limb.id, "blend"))
    values = np.broadcast_to(evaluation.channel(ref, "final"), len(evaluation.times.frames))
    chosen = np.select([values <= 0.0, values >= 1.0], [0, 1], 2)
    return LaneView(
        kind="limb",
        id=limb.id,
        name=limb.name,
        part=limb.part,
        channel=ref.channel,
        choices=list(LIMB_STATES),
        keys=_in_hand(scene, limb),
        strips=list(_strips(chosen, list(LIMB_STATES), evaluation.times.first)),
        handovers=[
            HandoverView(
                frame=one.frame,
                source=LIMB_STATES[int(one.before > 0.5)],
                target=LIMB_STATES[int(one.after > 0.5)],
                kept=not one.jumps,
                blend=0,
                metres=one.metres,
                degrees=one.degrees,
                jumps=one.jumps,
            )
            for one in switches(evaluation, limb)
        ],
    )


def _gait_lanes(evaluation: Evaluation, gait: Gait) -> Iterator[LaneView]:
    """When each foot is on the ground; none of feet whose steps are muted."""
    scene = evaluation.scene
    for part, air in feet_in_the_air(evaluation, gait).items():
        yield LaneView(
            kind="gait",
            id=gait.id,
            name=f"{scene.parts[part].name} · {gait.name}",
            part=gait.part,
            channel=step_channel(gait.id, "step length"),
            choices=list(FOOT_STATES),
            keys=[part],
            strips=list(_strips(air.astype(int), list(FOOT_STATES), evaluation.times.first)),
            handovers=[],
        )


def _strips(
    chosen: np.ndarray[tuple[int, ...], np.dtype[np.int_]], names: list[str], first: int
) -> Iterator[StripView]:
    edges = [0, *(np.flatnonzero(np.diff(chosen)) + 1), len(chosen)]
    for start, end in zip(edges, edges[1:], strict=False):
        choice = int(chosen[start])
        yield StripView(
            first=first + int(start),
            last=first + int(end) - 1,
            choice=choice,
            name=names[choice],
        )
