"""What new scenes may begin with: it works, and nothing of it is found wanting."""

from __future__ import annotations

import numpy as np
import pytest

from bindu.core.checks.registry import findings
from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.scene.model import Scene
from bindu.demo.starts import STARTS


def begun(start: str, *change: SetValue) -> Evaluation:
    """A start on its own, with changes."""
    return evaluate(applied(Scene(), [*STARTS[start], *change]))


@pytest.mark.parametrize("start", STARTS)
def test_a_start_has_no_findings(start: str) -> None:
    assert [one for one in findings(begun(start)) if one.severity != "untidy"] == []


def test_the_wheel_turns_by_the_leafs_way() -> None:
    made = begun("a water wheel", SetValue("p3", "c1", 0.5))
    way = made.world("p2")[:, 0, 3] - made.world("p2")[0, 0, 3]
    ahead = made.world("p3")[:, :2, 0]
    angles = np.unwrap(np.arctan2(ahead[:, 1], ahead[:, 0]))
    np.testing.assert_allclose(angles, -way / 0.5, atol=1e-9)


def test_the_hook_hangs_straight_by_the_length_of_its_rope() -> None:
    made = begun(
        "a boom with a hook", SetValue("p2", "rotation.z", 35.0), SetValue("p1", "c1", 2.0)
    )
    tip, hook = made.world("p3"), made.world("p5")
    np.testing.assert_allclose(hook[..., 3] - tip[..., 3], [[0.0, -2.0, 0.0]], atol=1e-12)
    np.testing.assert_allclose(made.world("p4")[0, :, 1], [0.0, 2.0, 0.0], atol=1e-12)


def test_the_wader_crouches_on_its_feet() -> None:
    made = begun("a two-legged wader", SetValue("p2", "translation.y", -0.4))
    still = begun("a two-legged wader")
    for ankle, knee in (("p5", "p4"), ("p8", "p7")):
        np.testing.assert_allclose(
            made.world(ankle)[:, :, 3], still.world(ankle)[:, :, 3], atol=1e-9
        )
        # Its knees bend backward, as a wader's do.
        assert made.world(knee)[0, 2, 3] < still.world(knee)[0, 2, 3] - 0.2
