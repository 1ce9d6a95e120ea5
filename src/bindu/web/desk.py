"""What all routes work with: the scenes of the database and their newest evaluations."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from bindu.core.compare import compared
from bindu.core.curves.model import Array
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.base import found_channel
from bindu.core.edits.patch import patch_between
from bindu.core.evaluate import Evaluation
from bindu.core.graph.node import Times
from bindu.store.scenes import Kept, Scenes
from bindu.web.evaluations import Evaluations
from bindu.web.samples import packed_samples
from bindu.web.schemas import CompareView, CompareWish, Shown, Side
from bindu.web.views import changed_parts, scene_view

BINARY = "application/octet-stream"


class Desk:
    """Scenes and their evaluations, and the answers that several routes give."""

    def __init__(self, scenes: Scenes, documented: bool = False) -> None:
        self.scenes = scenes
        self.evaluations = Evaluations()
        self._documented = documented

    def blueprint(self, name: str, url_prefix: str) -> APIBlueprint:
        """A place for routes. Their OpenAPI document takes longer to make than all else at a
        start, so it is made only where it is asked for."""
        return APIBlueprint(name, __name__, url_prefix=url_prefix, doc_ui=self._documented)

    def evaluated(self, scene_id: int) -> tuple[Kept, Evaluation]:
        """The scene as it is now, and its evaluation."""
        kept = self.scenes.load(scene_id)
        return kept, self.evaluations.of(scene_id, kept.scene)

    def trying(self, scene_id: int, edits: Sequence[AnyEdit]) -> Evaluation:
        """The scene, evaluated with edits that are only tried."""
        kept, evaluation = self.evaluated(scene_id)
        if not edits:
            return evaluation
        return self.evaluations.tried(scene_id, applied(kept.scene, edits))

    def changed(
        self, scene_id: int, seen: Kept | None, after: Kept, label: str, shown: Shown | None
    ) -> Response:
        """The answer to an edit: what changed since ``seen``; without it, the whole scene.

        With ``shown``, the numbers on screen come along in the same answer.
        """
        evaluation = self.evaluations.of(scene_id, after.scene)
        changed = None
        if seen is not None and after.revision <= seen.revision + 1:
            changed = changed_parts(patch_between(seen.scene, after.scene))
        history = self.scenes.history(scene_id)
        view = scene_view(scene_id, after.revision, evaluation, history, changed, label)
        if shown is None:
            return as_json(view)
        packed = packed_samples(evaluation, shown, after.revision, view)
        return Response(packed, mimetype=BINARY)

    def compared(self, scene_id: int, wish: CompareWish) -> CompareView:
        """Two channels laid over each other."""
        kept, present = self.evaluated(scene_id)

        def values(side: Side) -> Array:
            evaluation = present
            if side.revision is not None and side.revision != kept.revision:
                scene = self.scenes.at(scene_id, side.revision)
                evaluation = self.evaluations.tried(scene_id, scene)
            ref = found_channel(evaluation.scene, side.part, side.channel)
            found = evaluation.channel(ref, side.tap)
            return _on_frames(found, evaluation.times, present.times)

        made = compared(
            values(wish.one),
            values(wish.other),
            kept.scene.fps,
            mirrored=wish.mirrored,
            shift=wish.shift,
            fit=wish.fit,
        )
        first = present.times.first
        return CompareView(
            first=first,
            one=made.one.tolist(),
            other=made.other.tolist(),
            slope=made.slope.tolist(),
            worst=made.worst,
            worst_frame=first + made.place,
            factor=made.factor,
            offset=made.offset,
        )


def _on_frames(values: Array, own: Times, wanted: Times) -> Array:
    """Values on the frames of another range, held beyond the ends of their own."""
    if len(values) == 1:
        return np.full(wanted.frames.shape, values[0])
    return np.interp(wanted.frames, own.frames, values)


def as_json(model: BaseModel, status: int = 200) -> Response:
    """A model as a response."""
    return Response(model.model_dump_json(), status=status, mimetype="application/json")
