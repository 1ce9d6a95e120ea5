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


def options_in_use(scene: Scene, step: Step) -> dict[str, float]:
    """What a step chooses on some frame by keys of its channels that choose, such as which space
    is active, each with the first frame."""
    found: dict[str, float] = {}
    for one in step.settings.inputs:
        if one.options:
            chosen = chosen_values(scene, ChannelRef(step.part, step_channel(step.id, one.key)))
            last = len(one.options) - 1
            found |= {one.options[min(max(n, 0), last)]: f for n, f in chosen.items()}
    return found


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
    for space, frame in options_in_use(scene, step).items():
        if space not in spaces:
            text = f"{space_name(scene, space)} is active from frame {frame:g}; hand over to "
            raise Refusal(text + "another space there first.", place=step.name)
    places = {n: spaces.index(space) for n, space in enumerate(old) if space in spaces}
    return with_choices_renumbered(scene, ref, places)
