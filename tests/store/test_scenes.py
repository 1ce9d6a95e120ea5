"""Scenes in a real MariaDB: exact storage, history, stale edits."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import Engine, inspect, text

from bindu.core.curves.model import Key
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import ChangeKeys, KeyChange, PutKeys
from bindu.core.edits.parts import AddPart, RemoveParts, RenamePart
from bindu.core.edits.patch import patch_between
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import ChangeStep
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.store.history import StaleEdit
from bindu.store.models import Base
from bindu.store.scenes import NoSuchScene, Scenes
from tests.demos import demo
from tests.strategies import edits, histories


def reloaded(engine: Engine, number: int) -> Scene:
    """The scene as a process that never saw it loads it."""
    return Scenes(engine).load(number).scene


def test_migrations_make_the_tables_of_the_models(engine: Engine) -> None:
    found = inspect(engine)
    for table in Base.metadata.sorted_tables:
        columns = {column["name"] for column in found.get_columns(table.name)}
        assert columns == {column.name for column in table.columns}


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(history=histories(20))
def test_a_scene_is_loaded_as_it_was_stored(engine: Engine, history: list[Scene]) -> None:
    scenes = Scenes(engine)
    number = scenes.add(history[-1])
    assert not patch_between(reloaded(engine, number), history[-1])
    # Who stored it need not load it.
    assert scenes.load(number).scene is history[-1]


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_edits_undo_and_redo_in_any_order_leave_what_a_plain_history_would(
    engine: Engine, data: st.DataObject
) -> None:
    scenes, plain = Scenes(engine), [demo("ferry-crossing")]
    number, ahead = scenes.add(plain[0]), list[Scene]()
    for _ in range(data.draw(st.integers(3, 12))):
        move = data.draw(st.sampled_from(["edit", "edit", "undo", "redo"]))
        try:
            if move == "edit":
                edit = data.draw(edits(plain[-1]))
                kept, _ = scenes.edit(number, scenes.load(number).revision, [edit])
                if patch_between(plain[-1], kept.scene):
                    plain.append(kept.scene)
                    ahead.clear()
            elif move == "undo":
                kept, _ = scenes.undo(number, scenes.revision(number))
                ahead.append(plain.pop())
            else:
                kept, _ = scenes.redo(number, scenes.revision(number))
                plain.append(ahead.pop())
        except Refusal:
            assert move == "edit" or not (ahead if move == "redo" else plain[1:])
        assert not patch_between(scenes.load(number).scene, plain[-1])
    assert not patch_between(reloaded(engine, number), plain[-1])


def test_history_survives_a_restart_and_says_what_it_undoes(engine: Engine) -> None:
    number = Scenes(engine).add(demo("ferry-crossing"))
    Scenes(engine).edit(number, 0, [SetValue("p3", "c1", 0.7)])
    Scenes(engine).edit(number, 1, [RenamePart("p1", "raft")])
    assert Scenes(engine).history(number).undo == "rename ferry to raft"
    assert Scenes(engine).undo(number, Scenes(engine).revision(number))[1] == "rename ferry to raft"
    history = Scenes(engine).history(number)
    assert (history.undo, history.redo) == ("set paddle.radius to 0.7", "rename ferry to raft")
    Scenes(engine).undo(number, Scenes(engine).revision(number))
    assert not patch_between(reloaded(engine, number), demo("ferry-crossing"))
    Scenes(engine).redo(number, Scenes(engine).revision(number))
    Scenes(engine).edit(number, 5, [ChangeScene(name="another way")])
    with pytest.raises(Refusal, match="nothing to redo"):
        Scenes(engine).redo(number, Scenes(engine).revision(number))


def test_stale_edits_pass_where_they_touch_nothing_that_changed(engine: Engine) -> None:
    mine, theirs = Scenes(engine), Scenes(engine)
    number = mine.add(demo("ferry-crossing"))
    move = ChangeKeys("p1", "translation.x", (KeyChange(50.0, value=1.0),))
    theirs.edit(number, 0, [move])
    kept, _ = mine.edit(number, 0, [SetValue("p3", "c1", 0.7)])
    assert kept.revision == 2
    assert kept.scene.parts["p3"].values["c1"] == 0.7
    with pytest.raises(StaleEdit) as stale:
        mine.edit(number, 0, [PutKeys("p1", "translation.x", (Key(20.0, 3.0),))])
    assert stale.value.revision == 2
    assert stale.value.labels == ["move the key of ferry.translation.x at 50"]
    assert mine.load(number).revision == 2
    with pytest.raises(Refusal, match="not yet at 9"):
        mine.edit(number, 9, [move])


def test_an_edit_is_stored_whole_or_not_at_all(engine: Engine) -> None:
    scenes = Scenes(engine)
    number = scenes.add(demo("ferry-crossing"))
    with pytest.raises(Refusal):
        scenes.edit(number, 0, [AddPart("good"), RenamePart("p1", "mast")])
    assert scenes.load(number).revision == 0
    assert not patch_between(reloaded(engine, number), demo("ferry-crossing"))


def test_only_rows_that_changed_are_written(engine: Engine) -> None:
    scenes = Scenes(engine)
    ferry = demo("ferry-crossing")
    number = scenes.add(ferry)
    with engine.connect() as connection:
        connection.execute(
            text("UPDATE curves SET data = CONCAT(data, ' ') WHERE scene_id = :n"), {"n": number}
        )
        connection.commit()
    scenes.edit(number, 0, [ChangeStep("s1", on=False), RemoveParts(("p9",))])
    with engine.connect() as connection:
        query = text("SELECT data FROM curves WHERE scene_id = :n")
        rows = connection.execute(query, {"n": number}).scalars().all()
        left = text("SELECT COUNT(*) FROM parts WHERE scene_id = :n")
        assert connection.execute(left, {"n": number}).scalar() == len(ferry.parts) - 1
    assert len(rows) == len(ferry.curves)
    assert all(data.endswith(" ") for data in rows)


def test_what_was_changed_or_deleted_last_is_listed_first(engine: Engine) -> None:
    scenes = Scenes(engine)
    numbers = [scenes.add(Scene(name=name)) for name in ("one", "two", "three")]

    def listed(binned: bool) -> list[int]:
        return [one.id for one in scenes.entries(binned) if one.id in numbers]

    def put(column: str, number: int, moment: str) -> None:
        with engine.begin() as connection:
            change = text(f"UPDATE scenes SET {column} = :moment WHERE id = :number")
            connection.execute(change, {"moment": moment, "number": number})

    for number in numbers:
        put("changed", number, "2026-03-01 10:00:00")
    assert listed(False) == numbers[::-1]
    put("changed", numbers[1], "2026-03-01 10:00:01")
    assert listed(False) == [numbers[1], numbers[2], numbers[0]]
    scenes.edit(numbers[0], 0, [AddPart("mast")])
    assert listed(False) == [numbers[0], numbers[1], numbers[2]]
    for number, second in zip(numbers, (2, 3, 1), strict=True):
        scenes.remove(number)
        put("binned", number, f"2026-03-01 10:00:0{second}")
    assert listed(True) == [numbers[1], numbers[0], numbers[2]]


def test_a_scene_goes_with_all_its_rows(engine: Engine) -> None:
    scenes = Scenes(engine)
    number = scenes.add(demo("ferry-crossing"))
    scenes.edit(number, 0, [SetValue("p3", "c1", 0.7)])
    scenes.remove(number)
    scenes.remove_for_good(number)
    with engine.connect() as connection:
        for table in ("parts", "curves", "things", "edits"):
            query = text(f"SELECT COUNT(*) FROM {table} WHERE scene_id = :n")
            assert connection.execute(query, {"n": number}).scalar() == 0
    with pytest.raises(NoSuchScene):
        scenes.load(number)
