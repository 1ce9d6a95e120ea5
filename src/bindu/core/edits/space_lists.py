"""Other lists of spaces: what is active stays active."""

from __future__ import annotations

from collections.abc import Sequence

from bindu.core.edits.choices import chosen_values, refuse_steps, with_choices_renumbered
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import SpaceSettings
from bindu.core.steps.bound.space import space_name


def spaces_in_use(scene: Scene, step: Step) -> dict[str, float]:
    """The spaces that are active on some frame, by the keys of the step's channel ``space``, each
    with the first frame."""
    settings = step.settings
    assert isinstance(settings, SpaceSettings)
    chosen = chosen_values(scene, ChannelRef(step.part, step_channel(step.id, "space")))
    last = len(settings.spaces) - 1
    return {settings.spaces[min(max(n, 0), last)]: frame for n, frame in chosen.items()}


def with_space_list(scene: Scene, step: Step, spaces: Sequence[str]) -> Scene:
    """The scene in which the channel ``space`` of a step means the same spaces in another list.

    Raises:
        Refusal: when a space that is active is not in it, or a step chooses by number.
    """
    settings = step.settings
    assert isinstance(settings, SpaceSettings)
    old = settings.spaces
    if tuple(spaces[: len(old)]) == old:
        return scene
    ref = ChannelRef(step.part, step_channel(step.id, "space"))
    refuse_steps(scene, ref)
    for space, frame in spaces_in_use(scene, step).items():
        if space not in spaces:
            text = f"{space_name(scene, space)} is active from frame {frame:g}; hand over to "
            raise Refusal(text + "another space there first.", place=step.name)
    places = {n: spaces.index(space) for n, space in enumerate(old) if space in spaces}
    return with_choices_renumbered(scene, ref, places)
