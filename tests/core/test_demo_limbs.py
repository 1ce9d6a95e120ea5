"""The demo's limbs do what the demo tells."""

from __future__ import annotations

import numpy as np

from bindu.core.account.limbs import limb_account, switches
from bindu.core.evaluation import evaluate
from tests.core.troubles import troubles
from tests.demos import demo


def test_the_lamplighter_switches_ten_times_without_a_jump_and_is_always_in_reach() -> None:
    found = evaluate(demo("the-lamplighter"))
    assert not troubles(found)
    told = [one for limb in found.scene.limbs.values() for one in switches(found, limb)]
    assert len(told) == 10 and not any(one.jumps for one in told)
    for limb in found.scene.limbs.values():
        said = limb_account(found, limb)
        assert said.missed[said.blend == 1.0].max() < 1e-9


def test_the_heron_stands_on_the_ground_and_rolls_its_foot() -> None:
    found = evaluate(demo("heron-at-the-shallows"))
    scene = found.scene
    assert not troubles(found)
    for side in ("left", "right"):
        (limb,) = (one for one in scene.limbs.values() if one.name == f"{side} leg")
        said = limb_account(found, limb)
        height = np.broadcast_to(found.world(limb.chain[-1]), (145, 3, 4))[:38, 1, 3]
        assert said.missed[said.blend == 1.0].max() < 1e-9
        assert np.ptp(height) < 1e-9
    tip, heel = (
        found.world(scene.part_ids[f"right leg {p}"])[..., 1, 3] for p in ("ball", "ankle")
    )
    rises = np.broadcast_to(heel, 145) - np.broadcast_to(tip, 145)
    assert rises[60] > rises[0] + 0.02
