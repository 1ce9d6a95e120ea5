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
from bindu.core.graph.build import WORLD_QUANTITIES, tap_node
from bindu.core.graph.node import NodeId
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TAPS, ChannelRef
from bindu.core.scene.names import known_channel
from bindu.web.schemas import Want
from bindu.web.views import node_name


def packed_samples(
    evaluation: Evaluation, wants: Iterable[Want], have: Iterable[str], revision: int
) -> bytes:
    """The wanted numbers of an evaluation.

    Raises:
        Refusal: when something wanted is not there.
    """
    known = set(have)
    blocks, data, size = [], [], 0
    for name, node_id in _nodes(evaluation, wants):
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
    head = {"revision": revision, "first": times.first, "last": times.last, "blocks": blocks}
    text = json.dumps(head, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return b"".join((struct.pack("<I", len(text)), text, *data))


def _nodes(evaluation: Evaluation, wants: Iterable[Want]) -> Iterator[tuple[str, NodeId]]:
    scene = evaluation.scene
    for want in wants:
        name = f"{want.part}/{want.quantity}/{want.stage}"
        if want.part == "*" and want.quantity == "world matrix":
            for part in scene.tree_order:
                node_id = NodeId(part, "world matrix", "final")
                yield node_name(node_id), node_id
            continue
        ref = ChannelRef(want.part, want.quantity)
        tap = next((tap for tap in TAPS if tap == want.stage), None)
        node_id = NodeId(*ref, want.stage)
        if want.quantity in WORLD_QUANTITIES:
            if node_id not in evaluation.results:
                raise Refusal(f"nothing computes {name}.", place="wants")
        elif not known_channel(scene, ref):
            raise Refusal(f"there is no channel {name}.", place="wants")
        elif tap is not None:
            node_id = tap_node(scene, ref, tap)
        elif node_id not in evaluation.results:
            raise Refusal(f"nothing computes {name}.", place="wants")
        yield name, node_id
