"""What all routes work with: the scenes of the database and their newest evaluations."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager

import numpy as np
from flask import Response, g
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from bindu.core.comparing.curves import compared
from bindu.core.curves.model import Array
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.base import found_channel
from bindu.core.edits.patch import patch_between
from bindu.core.evaluation import Evaluation, answering
from bindu.core.nodes.operation import Times
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.store.pictures import Pictures
from bindu.store.scenes import Check, Scenes, StoredScene
from bindu.web.checks.kept import KeptFindings
from bindu.web.deliver.files import Files
from bindu.web.evaluations import Evaluations
from bindu.web.problems import Unshowable
from bindu.web.scene.samples import packed_samples
from bindu.web.scene.schemas import CompareView, CompareWish, SceneEntry, Shown, Side
from bindu.web.scene.views import changed_parts, scene_view
from bindu.web.sender import SenderGone, watch_sender

BINARY = "application/octet-stream"
Change = Callable[[Check], tuple[StoredScene, str]]
"""Changes a scene, once its check has passed; the scene after it, and what was done."""


class Desk:
    """Scenes and their evaluations, and the answers that several routes give."""

    def __init__(self, scenes: Scenes, pictures: Pictures, documented: bool = False) -> None:
        self.scenes = scenes
        self.pictures = pictures
        self.evaluations = Evaluations()
        self.findings = KeptFindings()
        self.files = Files()
        self._documented = documented

    def blueprint(self, name: str, url_prefix: str) -> APIBlueprint:
        """A place for routes. Their OpenAPI document takes longer to make than all else at a
        start, so it is made only where it is asked for."""
        return APIBlueprint(name, __name__, url_prefix=url_prefix, doc_ui=self._documented)

    def evaluated(self, scene_id: int) -> tuple[StoredScene, Evaluation]:
        """The scene as it is now, and its evaluation."""
        kept = self.scenes.load(scene_id)
        return kept, self.evaluations.of(scene_id, kept.scene, watch_sender())

    def trying(self, scene_id: int, edits: Sequence[AnyEdit]) -> tuple[int, Evaluation]:
        """The scene's revision, and the scene evaluated with edits that are only tried."""
        kept, evaluation = self.evaluated(scene_id)
        if not edits:
            return kept.revision, evaluation
        with self.answering(scene_id):
            changed = applied(kept.scene, edits)
        return kept.revision, self.tried(scene_id, changed)

    def answering(self, scene_id: int) -> AbstractContextManager[None]:
        """While this is open, edits of a scene get what is known of its evaluation."""
        return answering(lambda scene: self.tried(scene_id, scene))

    def tried(self, scene_id: int, scene: Scene) -> Evaluation:
        """Another state of a scene, evaluated for once."""
        return self.evaluations.tried(scene_id, scene, watch_sender())

    def added(
        self, scene: Scene, edits: Sequence[AnyEdit] = (), picture: bytes | None = None
    ) -> Response:
        """Stores a new scene that can be shown, and answers with its entry.

        Args:
            scene: as it begins.
            edits: are done to it one by one, so that each can be undone.
            picture: of it as it begins.

        Raises:
            Refusal: when it cannot be evaluated; nothing is stored then.
        """
        looked = self.evaluations.ahead(scene, watch_sender())
        number = self.scenes.add(scene)
        self.evaluations.begin(number, looked)
        g.saved = True
        if picture is not None:
            self.pictures.put(number, picture, 0)
        for revision, edit in enumerate(edits):
            self.scenes.edit(number, revision, [edit])
        return self.entry(number, 201)

    def entry(self, number: int, status: int = 200) -> Response:
        """Answers with a scene's line of the home page."""
        found = next((one for one in self.scenes.entries() if one.id == number), None)
        if found is None:
            raise Refusal("the scene was deleted at once by somebody else.")
        return as_json(SceneEntry(**vars(found)), status)

    def removed(self, scene_id: int) -> None:
        """Puts a scene into the bin, and lets go what is kept of it."""
        self.scenes.remove(scene_id)
        self.evaluations.forget(scene_id)
        self.findings.forget(scene_id)

    def changing(
        self, scene_id: int, seen: int | None, work: Change, shown: Shown | None
    ) -> Response:
        """Lets work change a scene, and answers with what changed since the revision ``seen``, or
        with the whole scene where somebody else changed it too.

        What the change leads to is evaluated before it is stored: what cannot be shown is refused,
        unless the scene could not be shown before either, so that it can be undone. With ``shown``,
        the numbers on screen come along in the same answer.
        """
        before = self.scenes.load(scene_id)

        def check(scene: Scene) -> None:
            watch = watch_sender()
            try:
                self.evaluations.of(scene_id, scene, watch)
            except (Refusal, SenderGone):
                raise
            except Exception as error:
                if self._showable(scene_id, before.scene):
                    raise Unshowable from error

        with self.answering(scene_id):
            after, label = work(check)
        g.saved = True
        evaluation = self.evaluations.of(scene_id, after.scene)
        changed = None
        if before.revision == seen and after.revision <= before.revision + 1:
            changed = changed_parts(patch_between(before.scene, after.scene))
        history = self.scenes.history(scene_id)
        view = scene_view(scene_id, after.revision, evaluation, history, changed, label)
        if shown is None:
            return as_json(view)
        packed = packed_samples(evaluation, shown, after.revision, view)
        return Response(packed, mimetype=BINARY)

    def _showable(self, scene_id: int, scene: Scene) -> bool:
        try:
            self.evaluations.of(scene_id, scene)
        except Exception:
            return False
        return True

    def compared(self, scene_id: int, wish: CompareWish) -> CompareView:
        """Two channels laid over each other."""
        kept, present = self.evaluated(scene_id)

        def values(side: Side) -> Array:
            evaluation = present
            if side.revision is not None and side.revision != kept.revision:
                scene = self.scenes.at(scene_id, side.revision)
                evaluation = self.tried(scene_id, scene)
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
