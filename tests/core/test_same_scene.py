"""The same scene gives the same, in whatever order its things lie in memory."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, replace
from typing import Any

import numpy as np
import pytest

from bindu.core.checks.registry import findings
from bindu.core.evaluation import evaluate
from bindu.core.scene.model import Scene
from tests.core import seeds
from tests.demos import DEMO_NAMES, demo


def turned_round(scene: Scene) -> Scene:
    """The same scene with every mapping filled from its end."""
    held = {field.name: getattr(scene, field.name) for field in fields(scene)}
    turned: dict[str, Any] = {
        name: dict(reversed(value.items()))
        for name, value in held.items()
        if isinstance(value, Mapping)
    }
    assert {"parts", "steps", "curves"} <= turned.keys()
    return replace(scene, **turned)


def assert_the_same(scene: Scene) -> None:
    """Order, numbers and findings."""
    one, other = evaluate(scene), evaluate(turned_round(scene))
    assert one.graph.order == other.graph.order
    for node in one.graph.order:
        np.testing.assert_array_equal(one.results[node].values, other.results[node].values)
    assert findings(one) == findings(other)


@pytest.mark.parametrize("name", DEMO_NAMES)
def test_a_demo_gives_the_same_in_any_order(name: str) -> None:
    assert_the_same(demo(name))


@pytest.mark.parametrize("kind", seeds.SEEDS)
def test_a_seed_gives_the_same_in_any_order(kind: str) -> None:
    random = np.random.default_rng(7)
    for _ in range(3):
        assert_the_same(seeds.seeded(random, *dict.fromkeys((kind, *seeds.drawn(random)))))
