"""The account of a limb as plain data, for the command line and the browser."""

from __future__ import annotations

from typing import Any

import numpy as np

from bindu.core.account.limbs import LimbAccount, limb_account
from bindu.core.evaluation import Evaluation
from bindu.core.placing.matching import apart
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.model import Scene
from bindu.core.scene.things import Limb


def limb_named(scene: Scene, name: str) -> Limb:
    """The limb with this name.

    Raises:
        Refusal: with the nearest names, when there is none.
    """
    found = {limb.name: limb for limb in scene.limbs.values()}
    if name not in found:
        near = nearest_names(name, found)
        raise Refusal(f"there is no limb {name!r}.", code="unknown", nearest=near)
    return found[name]


def limb_table(evaluation: Evaluation, limb: Limb, rows: slice) -> dict[str, Any]:
    """What there is to say of a limb on some frames.

    Args:
        evaluation: of the scene.
        limb: the limb.
        rows: frames, counted from the range's first one.
    """
    scene, said = evaluation.scene, limb_account(evaluation, limb)
    metres, degrees = apart(evaluation, limb, np.arange(rows.start, rows.stop))
    return {
        "limb": limb.name,
        "chain": [scene.parts[part].name for part in limb.chain],
        "goal": scene.parts[limb.goal].name,
        "pole": scene.parts[limb.pole].name if limb.pole else None,
        "frames": [
            {
                **_row(evaluation, said, row),
                "apart": {
                    scene.parts[part].name: {
                        "metres": float(metres[n, place]),
                        "degrees": float(degrees[n, place]),
                    }
                    for n, part in enumerate(limb.chain)
                },
            }
            for place, row in enumerate(range(rows.start, rows.stop))
        ],
    }


def _row(evaluation: Evaluation, said: LimbAccount, row: int) -> dict[str, Any]:
    return {
        "frame": evaluation.times.first + row,
        "blend": float(said.blend[row]),
        "solution": said.branch_name(row),
        "reach": float(said.reach[row]),
        "distance": float(said.distance[row]),
        "bend": float(said.bend[row]),
        "stretched": float(said.factor[row]),
        "goal error": float(said.missed[row]),
    }
