"""Results that are kept: found again by content, and bounded."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import KeptResults, Result, evaluate, evaluate_after
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from tests.demos import demo


def result(key: str, numbers: int) -> Result:
    """A result of so many numbers."""
    return Result(key, np.zeros(numbers))


def test_the_least_recently_used_is_dropped_beyond_the_bound() -> None:
    kept = KeptResults(most_bytes=8 * 30)
    for key in ("a", "b", "c"):
        kept.put(result(key, 10))
    assert kept.get("a") is not None
    kept.put(result("d", 10))
    assert kept.get("b") is None
    assert kept.get("a") is not None
    kept.put(result("large", 1000))
    assert kept.get("large") is not None
    assert kept.get("a") is None


def test_another_range_or_rate_never_finds_old_results() -> None:
    kept, scene = KeptResults(), demo("ferry-crossing")
    whole = evaluate(scene, kept)
    for change in (ChangeScene(last=60), ChangeScene(first=-10), ChangeScene(fps=30.0)):
        other = applied(scene, [change])
        again = evaluate_after(whole, other, kept)
        fresh = evaluate(other)
        for node_id in fresh.graph.order:
            np.testing.assert_array_equal(
                again.results[node_id].values, fresh.results[node_id].values
            )


def test_a_second_scene_shares_what_is_the_same() -> None:
    kept = KeptResults()
    evaluate(demo("ferry-crossing"), kept)
    other = evaluate(applied(demo("ferry-crossing"), [SetValue("p3", "c1", 0.8)]), kept)
    assert {node_id.part for node_id in other.seconds} == {"p3"}


def test_a_scene_that_is_too_large_is_refused_before_it_is_computed() -> None:
    ferry = demo("ferry-crossing")
    curve = ferry.curves[ChannelRef("p1", "translation.x")]
    parts = {f"p{n}": replace(ferry.parts["p9"], id=f"p{n}", parent=None) for n in range(3000)}
    curves = {ChannelRef(part, "translation.x"): curve for part in parts}
    with pytest.raises(Refusal, match="numbers over 100,000 frames"):
        evaluate(Scene("wide", 24.0, 0, 99_999, parts, curves=curves))
