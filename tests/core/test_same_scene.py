"""The same scene gives the same, in whatever order its things lie in memory."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Mapping
from dataclasses import fields, replace
from typing import Any

import numpy as np
import pytest
from benchmarks.generated import KINDS, edit
from pydantic import TypeAdapter, ValidationError

from bindu.core.checks.registry import findings
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.parts import RemoveParts
from bindu.core.edits.patch import patch_between
from bindu.core.evaluation import answering, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.web.scene.schemas import OneEdit
from tests.core import seeds
from tests.core.test_kept_scenes import TOGETHER
from tests.demos import RIGS, demo
from tests.evaluated import Evaluated

EDITS: TypeAdapter[AnyEdit] = TypeAdapter(OneEdit)


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


@pytest.mark.parametrize("name", RIGS)
def test_a_demo_gives_the_same_in_any_order(name: str) -> None:
    assert_the_same(demo(name))


@pytest.mark.parametrize("kinds", TOGETHER)
def test_seeds_give_the_same_in_any_order(kinds: tuple[str, ...]) -> None:
    assert_the_same(seeds.seeded(np.random.default_rng(7), *kinds))


def after(scene: Scene, made: AnyEdit) -> Scene | str:
    """The scene after an edit, or why it is refused."""
    try:
        with answering(Evaluated()):
            return applied(scene, [made])
    except Refusal as refused:
        return str(refused)


@pytest.mark.parametrize("kinds", [("limbs", "layers", "surfaces"), ("bindings", "driven")])
def test_every_kind_of_edit_does_the_same_in_any_order(kinds: tuple[str, ...]) -> None:
    random = np.random.default_rng(19)
    scene = seeds.seeded(random, *kinds)
    turned, seen = turned_round(scene), Counter[str]()
    for kind in KINDS:
        try:
            made = EDITS.validate_json(json.dumps(edit(random, scene, kind)))
        except ValidationError:
            continue
        one, other = after(scene, made), after(turned, made)
        seen["refused" if isinstance(one, str) else "done"] += 1
        # Of several reasons either may be told.
        if isinstance(one, str) or isinstance(other, str):
            assert isinstance(one, str) and isinstance(other, str), made
        else:
            assert not patch_between(one, other), made
    assert seen["done"] > 20 and seen["refused"] > 20, seen


@pytest.mark.parametrize("name", ["ferry-crossing", "heron-at-the-shallows", "the-mooring"])
def test_what_reads_a_part_is_told_in_one_order(name: str) -> None:
    scene = demo(name)
    turned = turned_round(scene)
    told = [
        (after(scene, RemoveParts((p,))), after(turned, RemoveParts((p,)))) for p in scene.parts
    ]
    assert sum(isinstance(one, str) for one, _ in told) > 3
    assert all(one == other for one, other in told if isinstance(one, str))


@pytest.mark.parametrize("name", ["ferry-crossing", "the-lamplighter", "the-water-beetles"])
def test_copies_are_called_the_same_in_any_order(name: str) -> None:
    scene = demo(name)
    for root in scene.children[None][:3]:
        one, other = (after(each, DuplicatePart(root)) for each in (scene, turned_round(scene)))
        assert isinstance(one, Scene) and isinstance(other, Scene)
        assert not patch_between(one, other)
