"""What all routes work with: the scenes of the database and their newest evaluations."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from bindu.core.edits.patch import patch_between
from bindu.core.evaluate import Evaluation
from bindu.store.scenes import Kept, Scenes
from bindu.web.evaluations import Evaluations
from bindu.web.samples import packed_samples
from bindu.web.schemas import Shown
from bindu.web.views import changed_parts, scene_view

BINARY = "application/octet-stream"


class Desk:
    """Scenes and their evaluations, and the answers that several routes give."""

    def __init__(self, scenes: Scenes) -> None:
        self.scenes = scenes
        self.evaluations = Evaluations()

    def evaluated(self, scene_id: int) -> tuple[Kept, Evaluation]:
        """The scene as it is now, and its evaluation."""
        kept = self.scenes.load(scene_id)
        return kept, self.evaluations.of(scene_id, kept.scene)

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


def as_json(model: BaseModel, status: int = 200) -> Response:
    """A model as a response."""
    return Response(model.model_dump_json(), status=status, mimetype="application/json")
