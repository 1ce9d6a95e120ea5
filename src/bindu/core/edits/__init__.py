"""Every change of a scene: one module for each family of edits."""

from __future__ import annotations

from collections.abc import Sequence

from bindu.core.edits.channels import ChannelEdit
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import KeyEdit
from bindu.core.edits.parts import PartEdit
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import StepEdit
from bindu.core.scene.model import Scene

AnyEdit = ChangeScene | PartEdit | DuplicatePart | ChannelEdit | KeyEdit | StepEdit
MOST_EDITS_AT_ONCE = 10_000


def applied(scene: Scene, edits: Sequence[AnyEdit]) -> Scene:
    """The scene after all of these edits, in their order.

    Raises:
        Refusal: when one cannot be done; none has been done then.
    """
    for edit in edits:
        scene = edit.apply(scene)
    return scene


def label_of(scene: Scene, edits: Sequence[AnyEdit]) -> str:
    """What these edits do, in a few words."""
    first = edits[0].label(scene)
    return first if len(edits) == 1 else f"{first} and {len(edits) - 1} more"
