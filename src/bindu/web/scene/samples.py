"""Many numbers as one binary answer.

Layout: the length of the header (uint32, little-endian); the header, JSON padded with spaces to
a multiple of four bytes; float32 blocks, little-endian. The header lists the blocks; one whose
key the browser has already carries no offset and no numbers.
"""

from __future__ import annotations

import hashlib
import json
import math
import struct
from collections.abc import Iterable, Iterator, Mapping

import numpy as np

from bindu.core.account.limbs import both_ways
from bindu.core.account.paths import part_path
from bindu.core.account.visibility import seen_parts
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.nodes.identity import OWN, NodeId, at_tap, stage_of, tap_of
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.names import known_channel
from bindu.core.scene.settings import WORLD_KEY
from bindu.web.scene.schemas import SceneView, Shown, Want
from bindu.web.scene.views import node_name


def packed_samples(
    evaluation: Evaluation, shown: Shown, revision: int, view: SceneView | None = None
) -> bytes:
    """The wanted numbers of an evaluation that the browser does not hold under their names; a
    scene's view goes into the header as ``view``.

    What is not there (any more) is listed as missing: a browser may ask just after an edit for
    what it saw just before. So is what it holds and does not want any more.
    """
    found = dict(_found(evaluation, shown.wants))
    missing = [name for name, block in found.items() if block is None]
    missing += [name for name in shown.have if name not in found]
    fresh = [
        (name, *block)
        for name, block in found.items()
        if block is not None and shown.have.get(name) != block[0]
    ]
    times = evaluation.times
    head: dict[str, object] = {
        "revision": revision,
        "first": times.first,
        "last": times.last,
        "missing": missing,
    }
    if view is not None:
        head["view"] = view.model_dump(mode="json")
    return packed(head, fresh, shown.have.values())


def packed(
    head: Mapping[str, object], wanted: Iterable[tuple[str, str, Array]], have: Iterable[str]
) -> bytes:
    """A header and blocks of numbers as one answer.

    Args:
        head: what the header says beside its blocks.
        wanted: names, keys and values, shape (F, …).
        have: keys of blocks whose numbers the browser holds.
    """
    known = set(have)
    blocks, data, size = [], [], 0
    for name, key, values in wanted:
        block: dict[str, object] = {
            "want": name,
            "key": key,
            "frames": len(values),
            "width": math.prod(values.shape[1:]),
        }
        if key not in known:
            known.add(key)
            numbers = np.ascontiguousarray(values, dtype="<f4").tobytes()
            block["offset"] = size
            data.append(numbers)
            size += len(numbers)
        blocks.append(block)
    text = json.dumps({**head, "blocks": blocks}, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return b"".join((struct.pack("<I", len(text)), text, *data))


FARTHEST = 1e9
"""Metres from a part's origin up to which a point on it may be."""
Block = tuple[str, Array]
"""The key of a result, and its values."""


def _found(evaluation: Evaluation, wants: Iterable[Want]) -> Iterator[tuple[str, Block | None]]:
    """The wanted numbers by name; None where nothing computes them."""
    for want in wants:
        if want.part == "*" and want.quantity == "world matrix":
            for part in evaluation.scene.tree_order:
                node_id = NodeId(part, "world matrix", at_tap("final"))
                result = evaluation.results[node_id]
                yield node_name(node_id), (result.key, result.values)
        elif want.part == "*" and want.quantity == "seen":
            yield from _seen(evaluation)
        elif want.quantity == "path":
            yield f"{want.part}/{want.quantity}/{want.stage}", _path(evaluation, want)
        elif want.quantity == "both ways":
            yield f"{want.part}/{want.quantity}/{want.stage}", _both_ways(evaluation, want)
        else:
            name = f"{want.part}/{want.quantity}/{want.stage}"
            stage = stage_of(want.stage)
            node = _node(evaluation, NodeId(want.part, want.quantity, stage)) if stage else None
            chosen = evaluation.result(node) if node else None
            yield name, (chosen.key, chosen.values) if chosen else None


def _seen(evaluation: Evaluation) -> Iterator[tuple[str, Block]]:
    keys: dict[int, str] = {}
    for part, shown in seen_parts(evaluation).items():
        # Parts that are seen together share one array.
        key = keys.get(id(shown))
        if key is None:
            key = keys[id(shown)] = hashlib.blake2b(shown.tobytes(), digest_size=16).hexdigest()
        yield f"{part}/seen/final", (key, shown)


def _path(evaluation: Evaluation, want: Want) -> Block | None:
    """The way of a point on a part; ``want.stage`` is the part in which it is counted, ``0`` for
    the world, and the point: ``p7 0.1 0 -2``."""
    space, *numbers = want.stage.split(" ")
    try:
        x, y, z = (float(number) for number in numbers)
    except ValueError:
        return None
    parts = evaluation.scene.parts
    far = not np.all(np.abs((x, y, z)) <= FARTHEST)
    if want.part not in parts or not (space in parts or space == WORLD_KEY) or far:
        return None
    try:
        way = part_path(evaluation, want.part, (x, y, z), None if space == WORLD_KEY else space)
    except Refusal:
        return None  # the other part is scaled to nothing: there is no way in it
    return f"path {hashlib.blake2b(way.tobytes(), digest_size=16).hexdigest()}", way


def _both_ways(evaluation: Evaluation, want: Want) -> Block | None:
    """The points of a limb's chain by FK and by IK."""
    limb = evaluation.scene.limbs.get(want.stage.removeprefix("owner "))
    if limb is None or limb.part != want.part:
        return None
    points = both_ways(evaluation, limb)
    key = hashlib.blake2b(points.tobytes(), digest_size=16).hexdigest()
    return f"both ways {key}", points.reshape(len(points), -1)


def _node(evaluation: Evaluation, node_id: NodeId) -> NodeId | None:
    """The node that a want means; None where nothing computes it."""
    if node_id in evaluation.results:
        return node_id
    ref = ChannelRef(node_id.part, node_id.quantity)
    if not known_channel(evaluation.scene, ref):
        return None
    if node_id.stage == OWN:
        return node_id  # nothing reads it: a constant
    tap = tap_of(node_id.stage)
    if tap is None:
        return None
    return tap_node(evaluation.scene, ref, tap)
