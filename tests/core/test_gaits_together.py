"""Many figures that are solved at once."""

from __future__ import annotations

import numpy as np

from bindu.core.evaluation import evaluate
from bindu.core.nodes.identity import SOLVE, NodeId, Stage
from bindu.core.steps.bound.walk import GaitOperation
from tests.core.test_gaits import LAST, WAYS, walker


def test_figures_walk_by_themselves_whatever_walks_beside_them() -> None:
    """To the last bit, also beside one whose root is nowhere on some frames."""
    operations, inputs, times = [], [], evaluate(walker(WAYS["straight"])).times
    for way in WAYS.values():
        found = evaluate(walker(way, feet=4))
        node = found.graph.nodes[NodeId("root", SOLVE, Stage("owner", "w1"))]
        operations.append(node.operation)
        inputs.append([found.results[i].values for i in node.inputs])
    stacks = [
        np.stack([np.broadcast_to(one, (LAST + 1, *one.shape[1:])) for one in column])
        for column in zip(*inputs, strict=True)
    ]
    lost = [stack.copy() for stack in stacks]
    lost[0][2, LAST // 2 :, :, 3] = np.nan
    for given in (stacks, lost):
        with np.errstate(invalid="ignore"):
            made = GaitOperation.compute_many(operations, given, times)  # type: ignore[arg-type]
        for n, operation in enumerate(operations):
            if given is lost and n == 2:
                continue
            assert np.array_equal(made[n], operation.compute(inputs[n], times))
    assert np.isnan(made[2]).any()
