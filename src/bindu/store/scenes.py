"""Scenes and their history in the database: load, edit, undo, redo."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from threading import Lock

from sqlalchemy import Engine, delete, func, select, text, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from bindu.core.edits import applied, label_of
from bindu.core.edits.base import Edit
from bindu.core.edits.patch import (
    Patch,
    inverse,
    patch_between,
    patched,
    touched,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.store.history import (
    StaleEdit,
    next_back,
    next_forth,
    refuse_stale,
    refuse_unseen,
)
from bindu.store.models import EditRow, PartRow, PictureRow, SceneRow, now
from bindu.store.rows import patch_json, patch_of, read_tables, write_patch

LONGEST_LABEL = 300
MOST_SEEN = 16
"""Scenes whose last state is kept."""
MOST_TRIES = 20
"""How often a change is made anew, since others changed the scene meanwhile."""

Check = Callable[[Scene], None]
"""Looks at a scene before it is stored; raises where it must not be."""


class NoSuchScene(LookupError):
    """There is no scene with this number."""


@dataclass(frozen=True)
class StoredScene:
    """A scene at a revision."""

    scene: Scene
    revision: int


@dataclass(frozen=True)
class Entry:
    """A line of the list of scenes; ``pictured``: the revision that its picture shows;
    ``findings``: how many nobody accepted, None where checks have not looked at it as it is."""

    id: int
    name: str
    parts: int
    fps: float
    first: int
    last: int
    revision: int
    changed: datetime
    pictured: int | None
    tags: tuple[str, ...]
    findings: int | None


@dataclass(frozen=True)
class History:
    """What undo and redo would do now, by label; None where there is nothing."""

    undo: str | None
    redo: str | None


@dataclass(frozen=True)
class _Plan:
    """What is to be stored.

    Attributes:
        patch: what it changes.
        label: of the new edit.
        told: what is said of it.
        state: of the new edit.
        target: the revision that is undone or redone.
        mark: marks older edits while the scene is locked; raises where it must not be stored.
    """

    patch: Patch
    label: str
    told: str
    state: str
    target: int | None
    mark: Callable[[Session], None]


class Scenes:
    """The scenes of a database. It keeps the last state of each scene that it loaded, and
    brings it up to date from the edits that came since."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = Lock()
        self._seen: OrderedDict[int, StoredScene] = OrderedDict()

    def reachable(self) -> bool:
        """Whether the database answers."""
        try:
            with self._engine.connect() as connection:
                connection.execute(text("SELECT 1"))
        except DBAPIError:
            return False
        return True

    def entries(self, binned: bool = False) -> list[Entry]:
        """All scenes, the last changed first; or those in the bin, the last deleted first."""
        there = SceneRow.binned.is_not(None) if binned else SceneRow.binned.is_(None)
        latest = (SceneRow.binned if binned else SceneRow.changed).desc(), SceneRow.id.desc()
        with Session(self._engine) as session:
            rows = session.scalars(select(SceneRow).where(there).order_by(*latest)).all()
            counted = select(PartRow.scene_id, func.count()).group_by(PartRow.scene_id)
            parts = {row[0]: row[1] for row in session.execute(counted)}
            shown = select(PictureRow.scene_id, PictureRow.revision)
            pictured = {row[0]: row[1] for row in session.execute(shown)}
        return [
            Entry(
                row.id,
                row.name,
                parts.get(row.id, 0),
                row.fps,
                row.first,
                row.last,
                row.revision,
                row.changed,
                pictured.get(row.id),
                tuple(row.tags.splitlines()),
                row.findings if row.checked == row.revision else None,
            )
            for row in rows
        ]

    def add(self, scene: Scene) -> int:
        """Stores a new scene whole. Returns its number."""
        with Session(self._engine) as session, session.begin():
            row = SceneRow(
                name=scene.name, fps=scene.fps, first=scene.first, last=scene.last, revision=0
            )
            session.add(row)
            session.flush()
            write_patch(session, row.id, patch_between(Scene(), scene))
            number = row.id
        self._remember(number, StoredScene(scene, 0))
        return number

    def tag(self, scene_id: int, tags: Sequence[str]) -> None:
        """Gives a scene tags in place of those that it has: single lines, 600 characters in all."""
        with Session(self._engine) as session, session.begin():
            scene_row(session, scene_id, lock=True).tags = "\n".join(tags)

    def note_findings(self, scene_id: int, revision: int, count: int) -> None:
        """Notes how many findings nobody accepted in a revision, unless a later one is noted."""
        older = SceneRow.checked.is_(None) | (SceneRow.checked < revision)
        noted = update(SceneRow).where(SceneRow.id == scene_id, older)
        with Session(self._engine) as session, session.begin():
            session.execute(noted.values(findings=count, checked=revision))

    def remove(self, scene_id: int) -> None:
        """Puts a scene into the bin, with its history."""
        with Session(self._engine) as session, session.begin():
            scene_row(session, scene_id, lock=True).binned = now()
        with self._lock:
            self._seen.pop(scene_id, None)

    def bring_back(self, scene_id: int) -> None:
        """Takes a scene out of the bin again."""
        with Session(self._engine) as session, session.begin():
            scene_row(session, scene_id, lock=True, binned=True).binned = None

    def remove_for_good(self, scene_id: int) -> None:
        """Takes a scene in the bin away, with its history."""
        with Session(self._engine) as session, session.begin():
            scene_row(session, scene_id, lock=True, binned=True)
            session.execute(delete(SceneRow).where(SceneRow.id == scene_id))

    def load(self, scene_id: int) -> StoredScene:
        """The scene as it is now.

        Raises:
            NoSuchScene: when it is gone.
        """
        with Session(self._engine) as session:
            kept = self._seen.get(scene_id)
            if kept is not None and kept.revision == _revision(session, scene_id):
                self._remember(scene_id, kept)
                return kept
            return self._present(session, scene_row(session, scene_id))

    def revision(self, scene_id: int) -> int:
        """Which revision the scene is at.

        Raises:
            NoSuchScene: when it is gone.
        """
        with Session(self._engine) as session:
            found = _revision(session, scene_id)
        if found is None:
            raise NoSuchScene(scene_id)
        return found

    def at(self, scene_id: int, revision: int) -> Scene:
        """The scene as it was at a revision.

        Raises:
            Refusal: when it has not come to that revision.
        """
        with Session(self._engine) as session:
            kept = self._present(session, scene_row(session, scene_id))
            if not 0 <= revision <= kept.revision:
                raise Refusal(f"the scene has the revisions 0 to {kept.revision}.", code="number")
            newer = select(EditRow.patch).where(
                EditRow.scene_id == scene_id,
                EditRow.revision > revision,
                EditRow.revision <= kept.revision,
            )
            scene = kept.scene
            for patch in session.scalars(newer.order_by(EditRow.revision.desc())):
                scene = patched(scene, inverse(patch_of(patch)))
            return scene

    def edit(
        self, scene_id: int, seen: int, edits: Sequence[Edit], check: Check | None = None
    ) -> tuple[StoredScene, str]:
        """Applies edits and stores what they change, all or nothing.

        Args:
            scene_id: the scene's number.
            seen: the revision that their sender saw.
            edits: at least one.
            check: sees the scene before it is stored.

        Returns:
            The scene after them, and their label.

        Raises:
            Refusal: when one cannot be done.
            StaleEdit: when they touch what changed since ``seen``.
        """

        def changed(before: Scene) -> tuple[Scene, str]:
            return applied(before, edits), label_of(before, edits)[:LONGEST_LABEL]

        return self._change(scene_id, seen, changed, check)

    def restore(
        self, scene_id: int, seen: int, revision: int, check: Check | None = None
    ) -> tuple[StoredScene, str]:
        """Brings the scene back to how it was at a revision, as a new edit.

        Args and errors are those of ``edit``; a revision that it never had is refused.
        """
        wanted = self.at(scene_id, revision)
        return self._change(scene_id, seen, lambda _: (wanted, f"back to edit {revision}"), check)

    def _change(
        self,
        scene_id: int,
        seen: int,
        changed: Callable[[Scene], tuple[Scene, str]],
        check: Check | None,
    ) -> tuple[StoredScene, str]:
        """Stores what a change makes of the present scene, under its label."""

        def plan(before: StoredScene) -> _Plan:
            if not 0 <= seen <= before.revision:
                raise Refusal(
                    f"the scene is at {before.revision}, not yet at {seen}.", place="revision"
                )
            wanted, label = changed(before.scene)
            patch = patch_between(before.scene, wanted)

            def mark(session: Session) -> None:
                refuse_stale(session, scene_id, seen, before.revision, patch)
                undone = EditRow.scene_id == scene_id, EditRow.state == "undone"
                session.execute(update(EditRow).where(*undone).values(state="dropped"))

            return _Plan(patch, label, label, "done", None, mark)

        return self._carried_out(scene_id, plan, check)

    def _carried_out(
        self, scene_id: int, plan: Callable[[StoredScene], _Plan], check: Check | None
    ) -> tuple[StoredScene, str]:
        """Stores what is planned for the present scene, all or nothing. What takes long is done
        before the scene's row is locked, and anew when others changed the scene meanwhile."""
        for _ in range(MOST_TRIES):
            before = self.load(scene_id)
            planned = plan(before)
            if not planned.patch:
                return before, planned.told
            after = StoredScene(patched(before.scene, planned.patch), before.revision + 1)
            if check is not None:
                check(after.scene)
            with Session(self._engine) as session, session.begin():
                row = scene_row(session, scene_id, lock=True)
                if row.revision != before.revision:
                    continue
                planned.mark(session)
                _store(session, row, after, planned)
            self._remember(scene_id, after)
            return after, planned.told
        raise StaleEdit(self.revision(scene_id), [])

    def undo(self, scene_id: int, seen: int, check: Check | None = None) -> tuple[StoredScene, str]:
        """Takes the newest edit back, as a new edit. Returns the scene and what was undone.

        Raises:
            Refusal: when there is nothing to undo.
            StaleEdit: when that edit was made after the revision ``seen``, so that its sender does
                not know it.
        """
        return self._retrace(scene_id, seen, check, back=True)

    def redo(self, scene_id: int, seen: int, check: Check | None = None) -> tuple[StoredScene, str]:
        """Does the edit again that was undone last. Returns the scene and what was redone; errors
        as of ``undo``."""
        return self._retrace(scene_id, seen, check, back=False)

    def history(self, scene_id: int) -> History:
        """What undo and redo would do."""
        with Session(self._engine) as session:
            back, forth = next_back(session, scene_id), next_forth(session, scene_id)
            return History(back.label if back else None, forth.label if forth else None)

    def _retrace(
        self, scene_id: int, seen: int, check: Check | None, back: bool
    ) -> tuple[StoredScene, str]:
        word = "undo" if back else "redo"

        def plan(before: StoredScene) -> _Plan:
            with Session(self._engine) as session:
                target = (next_back if back else next_forth)(session, scene_id)
                if target is None:
                    raise Refusal(f"nothing to {word}.", code="choice")
                revision, what, done = target.revision, target.label, target.patch
                refuse_unseen(session, scene_id, seen, before.revision, revision, what)

            def mark(session: Session) -> None:
                this = EditRow.scene_id == scene_id, EditRow.revision == revision
                state = "undone" if back else "done"
                session.execute(update(EditRow).where(*this).values(state=state))

            patch = inverse(patch_of(done)) if back else patch_of(done)
            label = f"{word} {what}"[:LONGEST_LABEL]
            return _Plan(patch, label, what, word, revision, mark)

        return self._carried_out(scene_id, plan, check)

    def _present(self, session: Session, row: SceneRow) -> StoredScene:
        kept = self._seen.get(row.id)
        if kept is None or kept.revision > row.revision:
            kept = StoredScene(_loaded(session, row), row.revision)
        elif kept.revision < row.revision:
            newer = select(EditRow.patch).where(
                EditRow.scene_id == row.id,
                EditRow.revision > kept.revision,
                EditRow.revision <= row.revision,
            )
            scene = kept.scene
            for patch in session.scalars(newer.order_by(EditRow.revision)):
                scene = patched(scene, patch_of(patch))
            kept = StoredScene(scene, row.revision)
        self._remember(row.id, kept)
        return kept

    def _remember(self, scene_id: int, scene: StoredScene) -> None:
        """Keeps the states of the scenes that were looked at last."""
        with self._lock:
            self._seen[scene_id] = scene
            self._seen.move_to_end(scene_id)
            if len(self._seen) > MOST_SEEN:
                self._seen.popitem(last=False)


def scene_row(
    session: Session, scene_id: int, lock: bool = False, binned: bool = False
) -> SceneRow:
    """The row of a scene, or of one in the bin.

    Raises:
        NoSuchScene: where it is not there.
    """
    query = select(SceneRow).where(SceneRow.id == scene_id)
    row = session.scalar(query.with_for_update() if lock else query)
    if row is None or (row.binned is not None) != binned:
        raise NoSuchScene(scene_id)
    return row


def _revision(session: Session, scene_id: int) -> int | None:
    """Which revision a scene is at; None where it is gone, or in the bin."""
    query = select(SceneRow.revision).where(SceneRow.id == scene_id, SceneRow.binned.is_(None))
    return session.scalar(query)


def _loaded(session: Session, row: SceneRow) -> Scene:
    tables = read_tables(session, row.id)
    return Scene(row.name, row.fps, row.first, row.last, **tables)


def _store(session: Session, row: SceneRow, after: StoredScene, planned: _Plan) -> None:
    """Writes what a plan changes, and the edit; the row is locked."""
    scene = after.scene
    row.name, row.fps, row.first, row.last = scene.name, scene.fps, scene.first, scene.last
    row.revision, row.changed = after.revision, now()
    write_patch(session, row.id, planned.patch)
    session.add(
        EditRow(
            scene_id=row.id,
            revision=row.revision,
            label=planned.label,
            state=planned.state,
            target=planned.target,
            touched=json.dumps(sorted(touched(planned.patch))),
            patch=patch_json(planned.patch),
        )
    )
