"""Which parts are seen."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import ChannelRef


def seen(evaluation: Evaluation, part: str) -> Array:
    """Where a part is seen: where its channel ``visible`` and those of all its ancestors are at
    least one half (as in glTF's node visibility, a hidden part hides what is below it).

    Returns:
        Booleans of shape (F,) or (1,).
    """
    found = np.array([True])
    above: str | None = part
    while above is not None:
        own = evaluation.channel(ChannelRef(above, "visible"), "final") >= 0.5
        found = found & own
        above = evaluation.scene.parts[above].parent
    return found
