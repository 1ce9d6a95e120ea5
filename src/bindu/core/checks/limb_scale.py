"""Limbs that are scaled unevenly."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, spans_of, spread
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.group import group_node
from bindu.core.nodes.identity import at_tap

UNEVEN = 1e-6
"""By which share the scales of a part may differ to be even."""


class UnevenLimb(Check):
    """See ``Check``."""

    name = "uneven limb"
    why = "A limb bends only what is scaled alike along x, y and z; else its end misses the goal."
    severity = "wrong"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part of a chain but the end."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            for part in limb.chain[:-1]:
                node = group_node(scene, part, "scale", at_tap("solved"))
                result = evaluation.results.get(node)
                if result is None:
                    continue
                sizes = np.abs(result.values)
                share = (sizes.max(-1) - sizes.min(-1)) / np.maximum(sizes.max(-1), 1e-300)
                spans = spans_of(np.flatnonzero(spread(evaluation, share) > UNEVEN), first)
                if spans:
                    name = scene.parts[part].name
                    text = f"{limb.name}: {name} is scaled unevenly, first on {spans[0][0]}; a "
                    text += "limb bends only what is scaled alike along x, y and z. Make that "
                    text += "scale even."
                    yield Finding(
                        self.name,
                        self.severity,
                        part,
                        "scale.x",
                        limb.name,
                        text,
                        100.0 * float(share.max()),
                        "%",
                        None,
                        spans,
                        spans[0][0],
                        key=limb.id,
                    )
