"""Which parts are seen."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import ChannelRef


def seen_parts(evaluation: Evaluation) -> dict[str, Array]:
    """Where each part is seen: where its channel ``visible`` and those of all its ancestors are at
    least one half (as in glTF's node visibility, a hidden part hides what is below it).

    Returns:
        1 where it is seen, 0 where not, shape (F,) or (1,), by part; parts that are seen together
        share one array.
    """
    scene = evaluation.scene
    found: dict[str | None, Array] = {None: np.ones(1)}
    for part in scene.tree_order:
        above, ref = found[scene.parts[part].parent], ChannelRef(part, "visible")
        if ref in scene.curves or scene.is_written(ref) or scene.set_value(ref) < 0.5:
            above = above * (evaluation.channel(ref, "final") >= 0.5)
        found[part] = above
    return {part: shown for part, shown in found.items() if part is not None}
