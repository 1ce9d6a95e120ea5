"""Many numbers as one binary answer.

Layout: the length of the header (uint32, little-endian); the header, JSON padded with spaces to
a multiple of four bytes; float32 blocks, little-endian. The header lists the blocks; one whose
key the browser has already carries no offset and no numbers.
"""

from __future__ import annotations

import json
import struct
from collections.abc import Iterable, Iterator

import numpy as np

from bindu.core.evaluate import Evaluation
from bindu.core.graph.build import tap_node
from bindu.core.graph.node import NodeId
from bindu.core.scene.channels import TAPS, ChannelRef
from bindu.core.scene.names import known_channel
from bindu.web.schemas import SceneView, Shown, Want
from bindu.web.views import node_name


def packed_samples(
    evaluation: Evaluation, shown: Shown, revision: int, view: SceneView | None = None
) -> bytes:
    """The wanted numbers of an evaluation; a scene's view goes into the header as ``view``.

    What is not there (any more) is listed as missing: a browser may ask just after an edit for
    what it saw just before.
    """
    known = set(shown.have)
    blocks, missing, data, size = [], [], [], 0
    for name, node_id in _nodes(evaluation, shown.wants):
        if node_id is None:
            missing.append(name)
            continue
        result = evaluation.result(node_id)
        values = result.values
        block = {
            "want": name,
            "key": result.key,
            "frames": len(values),
            "width": int(np.prod(values.shape[1:])),
        }
        if result.key not in known:
            known.add(result.key)
            packed = np.ascontiguousarray(values, dtype="<f4").tobytes()
            block["offset"] = size
            data.append(packed)
            size += len(packed)
        blocks.append(block)
    times = evaluation.times
    head: dict[str, object] = {
        "revision": revision,
        "first": times.first,
        "last": times.last,
        "blocks": blocks,
        "missing": missing,
    }
    if view is not None:
        head["view"] = view.model_dump(mode="json")
    text = json.dumps(head, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return b"".join((struct.pack("<I", len(text)), text, *data))


def _nodes(evaluation: Evaluation, wants: Iterable[Want]) -> Iterator[tuple[str, NodeId | None]]:
    for want in wants:
        if want.part == "*" and want.quantity == "world matrix":
            for part in evaluation.scene.tree_order:
                node_id = NodeId(part, "world matrix", "final")
                yield node_name(node_id), node_id
        else:
            name = f"{want.part}/{want.quantity}/{want.stage}"
            yield name, _node(evaluation, NodeId(want.part, want.quantity, want.stage))


def _node(evaluation: Evaluation, node_id: NodeId) -> NodeId | None:
    """The node that a want means; None where nothing computes it."""
    if node_id in evaluation.results:
        return node_id
    ref = ChannelRef(node_id.part, node_id.quantity)
    tap = next((tap for tap in TAPS if tap == node_id.stage), None)
    if tap is None or not known_channel(evaluation.scene, ref):
        return None
    return tap_node(evaluation.scene, ref, tap)
