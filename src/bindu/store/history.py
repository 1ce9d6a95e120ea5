"""Edits that were made: which come next for undo and redo, and which an edit cannot pass."""

from __future__ import annotations

import json

from sqlalchemy import select
from sqlalchemy.orm import Session

from bindu.core.edits.patch import Patch, touched
from bindu.core.refusal import Refusal
from bindu.store.models import EditRow


class StaleEdit(Exception):
    """An edit touches what changed since the revision that its sender saw.

    Attributes:
        revision: the present revision.
        labels: the edits in between that changed the same things.
    """

    def __init__(self, revision: int, labels: list[str]) -> None:
        super().__init__(f"changed meanwhile: {'; '.join(labels)}")
        self.revision, self.labels = revision, labels


def refuse_stale(session: Session, scene_id: int, seen: int, present: int, patch: Patch) -> None:
    """Refuses a change made from an older revision that touches what changed since.

    Raises:
        StaleEdit: with the edits that changed it.
    """
    if seen == present:
        return
    mine = touched(patch)
    since = select(EditRow.label, EditRow.touched).where(
        EditRow.scene_id == scene_id, EditRow.revision > seen
    )
    labels = [
        label
        for label, theirs in session.execute(since.order_by(EditRow.revision))
        if mine & {(table, key) for table, key in json.loads(theirs)}
    ]
    if labels:
        raise StaleEdit(present, labels)


def refuse_unseen(
    session: Session, scene_id: int, seen: int, present: int, revision: int, what: str
) -> None:
    """Refuses to take back, or do again, what its sender has not seen: an edit made, or undone,
    after the revision that they saw."""
    if not 0 <= seen <= present:
        raise Refusal(f"the scene is at {present}, not yet at {seen}.", place="revision")
    since = select(EditRow.revision).where(
        EditRow.scene_id == scene_id,
        EditRow.revision > seen,
        (EditRow.revision == revision) | (EditRow.target == revision),
    )
    if session.scalar(since.limit(1)) is not None:
        raise StaleEdit(present, [what])


def next_back(session: Session, scene_id: int) -> EditRow | None:
    """The edit that undo takes back."""
    done = select(EditRow).where(EditRow.scene_id == scene_id, EditRow.state == "done")
    return session.scalar(done.order_by(EditRow.revision.desc()).limit(1))


def next_forth(session: Session, scene_id: int) -> EditRow | None:
    """The edit that redo does again."""
    undone = select(EditRow).where(EditRow.scene_id == scene_id, EditRow.state == "undone")
    return session.scalar(undone.order_by(EditRow.revision).limit(1))
