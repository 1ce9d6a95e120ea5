"""Keys between frames, and keys and markers outside the range."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.edits.retime import KeyPick, SnapKeys
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name

BETWEEN, OUTSIDE, MARKERS = "between frames", "outside the range", "markers"


class OffGrid(Check):
    """See ``Check``."""

    name = "off the grid"
    why = "A key between frames is never shown as it is, and one outside the range is forgotten."
    severity = "untidy"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part and kind of place."""
        scene = evaluation.scene
        found: dict[tuple[str, str], dict[ChannelRef, list[float]]] = {}
        for ref, curve in scene.curves.items():
            for kind, off in looked.once(
                (self.name, scene.first, scene.last, curve.digest),
                lambda at=curve.frames: _off(scene, at),  # type: ignore[misc]
            ):
                found.setdefault((kind, ref.part), {})[ref] = off
        for (kind, part), refs in sorted(found.items()):
            yield _finding(scene, part, dict(sorted(refs.items())), kind)
        yield from _of_markers(scene)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Whole frames, or a longer range."""
        scene = evaluation.scene
        curves = {ref: curve for ref, curve in scene.curves.items() if ref.part == finding.part}
        if finding.key == BETWEEN:
            picks = []
            for ref, curve in sorted(curves.items()):
                frames = tuple(k.frame for k in curve.keys if _is_off(scene, k.frame, BETWEEN))
                if frames:
                    picks.append(KeyPick(*ref, frames))
            cost = "each moves by half a frame at most"
            return (Offer("snap", "snap them to whole frames", cost, (SnapKeys(tuple(picks)),)),)
        # Of the whole scene, so that one of several such remedies does not undo another.
        at = [key.frame for curve in scene.curves.values() for key in curve.keys]
        at += [marker.frame for marker in scene.markers.values()]
        first = min(scene.first, math.floor(min(at)))
        last = max(scene.last, math.ceil(max(at)))
        longer = ChangeScene(first=first, last=last)
        return (
            Offer("range", f"range {first} … {last}", "the whole scene gets longer", (longer,)),
        )


def _off(scene: Scene, at: Array) -> list[tuple[str, list[float]]]:
    """The kinds of place at which some of the frames stand, and these."""
    kinds = {BETWEEN: at != np.floor(at), OUTSIDE: (at < scene.first) | (at > scene.last)}
    return [(kind, at[off].tolist()) for kind, off in kinds.items() if off.any()]


def _is_off(scene: Scene, frame: float, kind: str) -> bool:
    if kind == BETWEEN:
        return frame != math.floor(frame)
    return not scene.first <= frame <= scene.last


def _finding(
    scene: Scene, part: str, refs: Mapping[ChannelRef, Sequence[float]], kind: str
) -> Finding:
    ref, frames = next(iter(refs.items()))
    count = sum(len(one) for one in refs.values())
    name = scene.parts[part].name
    text = f"{name}: {counted(count, 'key stands', 'keys stand')} {kind}, first {frames[0]:g} of "
    text += f"{full_name(scene, ref)}."
    every = sorted({f for one in refs.values() for f in one if scene.first <= f <= scene.last})
    spans = tuple((math.floor(f), math.floor(f)) for f in every)
    return Finding(
        "off the grid",
        "untidy",
        part,
        ref.channel,
        kind,
        text,
        float(count),
        "keys",
        None,
        tuple(dict.fromkeys(spans)),
        spans[0][0] if spans else None,
        key=kind,
    )


def _of_markers(scene: Scene) -> Iterator[Finding]:
    """Markers belong to no part; they are told of at the first one of the tree."""
    off = [one for one in scene.markers.values() if not scene.first <= one.frame <= scene.last]
    if not off or not scene.parts:
        return
    one = min(off, key=lambda marker: (marker.frame, marker.id))
    more = f" (and {len(off) - 1} more)" if len(off) > 1 else ""
    text = f"Marker “{one.label}” stands outside the range on {one.frame:g}{more}."
    part, count = scene.children[None][0], float(len(off))
    yield Finding(
        "off the grid",
        "untidy",
        part,
        "translation.x",
        MARKERS,
        text,
        count,
        "markers",
        key=MARKERS,
    )
