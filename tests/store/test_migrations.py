"""Databases of earlier versions, brought up to date with all that they hold."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from sqlalchemy import Connection, text

from bindu.core.edits import applied
from bindu.core.edits.checks import TakeBackAcceptance
from bindu.core.edits.limbs import RemoveLimb
from bindu.core.edits.patch import key_text, patch_between
from bindu.core.edits.references import RemoveReference
from bindu.core.edits.steps import ChangeStep
from bindu.core.scene.model import Scene
from bindu.core.scene.tables import TABLES
from bindu.run.mariadb import MariaDB
from bindu.store.database import engine_at
from bindu.store.rows import patch_json, thing_json
from bindu.store.scenes import Scenes
from bindu.store.upgrade import migrate
from tests.conftest import open_folder
from tests.demos import demo


@pytest.fixture
def empty() -> Iterator[str]:
    """The URL of a database without tables."""
    with open_folder() as folder:
        database = MariaDB(folder / "mariadb")
        database.start()
        yield database.url
        database.stop()


def stored_as_before(connection: Connection, number: int, scene: Scene, edited: Scene) -> None:
    """A scene, and one edit of it, in the tables of version 4: one for each kind of thing."""
    head = "INSERT INTO scenes VALUES (:id, :name, :fps, :first, :last, 1, '2026-01-01')"
    values = {"id": number, "name": edited.name, "fps": edited.fps}
    values |= {"first": edited.first, "last": edited.last}
    connection.execute(text(head), values)
    for table in TABLES:
        for key, thing in getattr(edited, table).items():
            row = {"id": number, "key": key_text(key), "data": thing_json(table, thing)}
            insert = f"INSERT INTO {table} (scene_id, thing, data) VALUES (:id, :key, :data)"
            connection.execute(text(insert), row)
    edit = (
        "INSERT INTO edits (scene_id, revision, label, state, touched, patch, made) "
        "VALUES (:id, 1, 'mute', 'done', '[]', :patch, '2026-01-01')"
    )
    patch = patch_json(patch_between(scene, edited))
    connection.execute(text(edit), {"id": number, "patch": patch})


def history_of(scene: Scene) -> tuple[Scene, Scene]:
    """A scene and the same with a step muted."""
    return scene, applied(scene, [ChangeStep(next(iter(scene.steps)), on=False)])


def test_a_database_with_a_table_for_each_kind_keeps_all_that_it_holds(empty: str) -> None:
    migrate(empty, "0004")
    engine = engine_at(empty)
    heron = demo("heron-at-the-shallows")
    # There were no limbs then, and nothing was accepted or pinned.
    heron = applied(heron, [RemoveLimb(limb) for limb in heron.limbs])
    heron = applied(heron, [TakeBackAcceptance(one) for one in heron.accepted])
    heron = applied(heron, [RemoveReference(one) for one in heron.references])
    made = [history_of(heron), history_of(demo("ferry-crossing"))]
    with engine.begin() as connection:
        for number, (before, after) in enumerate(made, 1):
            stored_as_before(connection, number, before, after)
        # As an upgrade leaves it that was ended while it filled the new table.
        connection.execute(text("CREATE TABLE things_filled (scene_id INT, data LONGTEXT)"))
    migrate(empty)
    with engine.begin() as connection:
        # As one leaves it that was ended while the old tables went.
        connection.execute(text("UPDATE alembic_version SET version_num = '0004'"))
        connection.execute(text("CREATE TABLE steps (scene_id INT, thing INT, data LONGTEXT)"))
    migrate(empty)
    scenes = Scenes(engine)
    for number, (before, after) in enumerate(made, 1):
        assert not patch_between(scenes.load(number).scene, after)
        undone, label = scenes.undo(number, 1)
        assert label == "mute" and not patch_between(undone.scene, before)
    engine.dispose()
