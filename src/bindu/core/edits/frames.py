"""What carries a frame goes along when frames move."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import replace

from bindu.core.edits.probes import joined_spans
from bindu.core.placing.spaces import evaluated_step, space_ref, with_places_kept
from bindu.core.scene.bakes import Bake
from bindu.core.scene.changes import with_step
from bindu.core.scene.channels import ChannelRef, step_and_key
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.references import PinnedReference
from bindu.core.scene.settings import Handover, SpaceSettings
from bindu.core.scene.things import Accepted, Probe

FrameMap = Callable[[float], float | None]
"""From old frames to new ones; None: what stood there goes away."""


def with_frames_moved(scene: Scene, to: Callable[[float], float]) -> Scene:
    """The scene with all that carries a frame, beside its curves and range, on other frames:
    markers, what steps keep at frames, the spans that leave, and references."""
    markers = {i: replace(m, frame=to(m.frame)) for i, m in scene.markers.items()}
    steps = {i: _retimed(step, to) for i, step in scene.steps.items()}
    accepted = {i: _accepted_at(one, to) for i, one in scene.accepted.items()}
    bakes = {i: _bake_at(one, to) for i, one in scene.bakes.items()}
    probes = {i: _probe_at(one, to) for i, one in scene.probes.items()}
    references = {i: _reference_at(one, to) for i, one in scene.references.items()}
    return replace(
        scene,
        markers=markers,
        steps=steps,
        accepted=accepted,
        bakes=bakes,
        probes=probes,
        references=references,
    )


def with_handovers_moved(
    scene: Scene, ref: ChannelRef, chosen: Collection[float], to: FrameMap
) -> Scene:
    """The scene after keys of a channel were moved: where the channel says which space is active,
    the handovers at these keys go with them, and those from there on keep the place again.

    Args:
        scene: its keys are moved already.
        ref: the channel.
        chosen: the frames where the keys were.
        to: where they have gone.
    """
    step = scene.steps.get(step_and_key(ref.channel)[0])
    if step is None or not isinstance(step.settings, SpaceSettings) or space_ref(step) != ref:
        return scene
    moving = set(chosen)
    moved = {one.frame: to(one.frame) for one in step.settings.handovers if one.frame in moving}
    if all(frame == new for frame, new in moved.items()):
        return scene
    kept = {h.frame: h for h in step.settings.handovers if h.frame not in moved}
    for one in step.settings.handovers:
        new = moved.get(one.frame)
        if new is not None:
            kept[new] = replace(one, frame=new)
    handovers = tuple(kept[frame] for frame in sorted(kept))
    settings = replace(step.settings, handovers=handovers)
    scene = with_step(scene, replace(step, settings=settings))
    first = min(frame for pair in moved.items() for frame in pair if frame is not None)
    return with_places_kept_from(scene, scene.steps[step.id], first)


def with_places_kept_from(scene: Scene, step: Step, frame: float) -> Scene:
    """The scene in which all handovers of a space step from a frame on that keep the place by an
    offset do so again."""
    settings = scene.steps[step.id].settings
    assert isinstance(settings, SpaceSettings)
    frames = {int(one.frame) for one in settings.handovers if _measured(one, frame)}
    inside = {f for f in frames if scene.first < f <= scene.last}
    if not inside:
        return scene
    changed = scene.steps[step.id]
    kept = with_places_kept(evaluated_step(scene, changed), changed, inside)
    return with_step(scene, replace(changed, settings=kept))


def chooses(scene: Scene, ref: ChannelRef) -> bool:
    """Whether a channel chooses among parts: what its last key says goes on."""
    one = scene.input_of(ref.channel)
    return one is not None and bool(one.options)


def _measured(one: Handover, frame: float) -> bool:
    return one.frame >= frame and one.keep == "offset" and one.frame == int(one.frame)


def _accepted_at(one: Accepted, to: Callable[[float], float]) -> Accepted:
    if one.span is None:
        return one
    first, last = (round(to(frame)) for frame in one.span)
    return replace(one, span=(first, max(first, last)))


def _bake_at(one: Bake, to: Callable[[float], float]) -> Bake:
    """A bake of what its span has become; what it wrote out stays, until it is taken over."""
    first, last = round(to(one.first)), round(to(one.last))
    return replace(one, first=first, last=max(first, last))


def _probe_at(one: Probe, to: Callable[[float], float]) -> Probe:
    moved = ((round(to(first)), round(to(last))) for first, last in one.stands)
    return replace(one, stands=joined_spans(tuple((a, max(a, b)) for a, b in moved)))


def _reference_at(one: PinnedReference, to: Callable[[float], float]) -> PinnedReference:
    last = None if one.last is None else max(to(one.last), to(one.first))
    return replace(one, first=to(one.first), last=last)


def _retimed(step: Step, to: Callable[[float], float]) -> Step:
    settings = step.settings.retimed(to)
    return step if settings == step.settings else replace(step, settings=settings)
