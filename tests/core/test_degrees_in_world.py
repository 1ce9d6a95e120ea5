"""By degrees in the world: places and turns against SciPy, whatever carries the part."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.degrees_in_world import ByDegreesInWorld
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.retime import KeyPick
from bindu.core.edits.steps import AddStep
from bindu.core.edits.trees import ancestors
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import AXES
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import AimSettings, Target
from tests.core import rigs

KEYED = (0.0, 3.0, 6.0)
"""The frames on which rigs are keyed."""


def picks(part: str, frames: tuple[float, ...], *groups: str) -> tuple[KeyPick, ...]:
    """Keys of groups of a part."""
    return tuple(KeyPick(part, f"{group}.{axis}", frames) for group in groups for axis in AXES)


BOTH = ("translation", "rotation")


def place(made: Evaluation, part: str, frame: int) -> tuple[np.ndarray, Rotation]:
    """Where a part is, and how it is turned, by the oracle of the rigs."""
    matrix = rigs.world(made, part, frame)
    return matrix[:3, 3], rigs.unscaled(matrix)


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("toward", ["left", "right", "line", "ease", "frame"])
def test_parts_go_so_far_in_the_world_and_nothing_else_moves(seed: int, toward: str) -> None:
    random = np.random.default_rng(seed)
    scene = rigs.random_rig(random, scaled=bool(seed % 2))
    part = max(scene.parts, key=lambda p: len(ancestors(scene, p)))
    degree = float(random.choice([-0.5, 0.25, 0.6, 1.0]))
    before = evaluate(scene)
    edit = ByDegreesInWorld(picks(part, (3.0,), *BOTH), toward, degree, 5.0)  # type: ignore[arg-type]
    made = evaluate(applied(scene, [edit]))
    (at, turn), (left, lturn), (right, rturn), (other, oturn) = (
        place(before, part, frame) for frame in (3, 0, 6, 5)
    )
    # The key stands in the middle, where the line and the ease are half way.
    middle = Slerp([0, 1], Rotation.concatenate([lturn, rturn]))(0.5)
    wanted, wturn = {
        "left": (left, lturn), "right": (right, rturn), "frame": (other, oturn),
    }.get(toward, ((left + right) / 2, middle))  # fmt: skip
    found, fturn = place(made, part, 3)
    rigs.near(found, at + degree * (wanted - at))
    whole = (turn.inv() * wturn).as_rotvec()
    rigs.near((fturn.inv() * turn * Rotation.from_rotvec(degree * whole)).magnitude(), 0.0, 1e-7)
    for key in KEYED[::2]:
        for one in scene.parts:
            rigs.near(rigs.world(made, one, int(key)), rigs.world(before, one, int(key)))


def test_a_part_and_what_carries_it_each_go_their_own_way() -> None:
    for seed in range(20):
        scene = rigs.random_rig(np.random.default_rng(seed))
        below = next((p for p in scene.parts if scene.parts[p].parent), None)
        if below is None:
            continue
        above = str(scene.parts[below].parent)
        chosen = (*picks(below, (3.0,), *BOTH), *picks(above, (3.0,), *BOTH))
        made = evaluate(applied(scene, [ByDegreesInWorld(chosen, "left", 1.0)]))
        for part in (above, below):
            rigs.near(rigs.world(made, part, 3), rigs.world(evaluate(scene), part, 0), 1e-8)


def test_a_group_alone_leaves_the_other_and_layers_that_replace_are_heard() -> None:
    scene = rigs.random_rig(np.random.default_rng(3))
    before = evaluate(scene)
    chosen = picks("p2", (3.0,), "translation")
    made = evaluate(applied(scene, [ByDegreesInWorld(chosen, "right", 1.0)]))
    rigs.near(rigs.world(made, "p2", 3)[:3, 3], rigs.world(before, "p2", 6)[:3, 3])
    for axis in AXES:
        name = f"rotation.{axis}"
        assert rigs.channel(made, "p2", name, 3) == rigs.channel(before, "p2", name, 3)
    over = [
        AddLayer("over", "p1", "replace", "l1"),
        *(PutKeys("p2", f"l1:translation.{a}", (Key(0.0, 1.0), Key(3.0, 2.0))) for a in AXES),
    ]
    layered = applied(scene, over)
    chosen = tuple(KeyPick("p2", f"l1:translation.{axis}", (3.0,)) for axis in AXES)
    moved = applied(layered, [ByDegreesInWorld(chosen, "left", 1.0)])
    wanted = rigs.world(evaluate(layered), "p2", 0)[:3, 3]
    rigs.near(rigs.world(evaluate(moved), "p2", 3)[:3, 3], wanted, 1e-8)


def test_channels_without_keys_are_keyed_only_where_they_must_move() -> None:
    """A part with keys along x alone, below one that turns about y: x and z must move, y need not,
    and z is what it was on the part's other keys."""
    turn = (Key(0.0, 0.0, "linear"), Key(6.0, 90.0, "linear"))
    along = tuple(Key(f, v, "linear") for f, v in ((0.0, 1.0), (3.0, 2.0), (6.0, 3.0)))
    scene = applied(
        Scene(last=6),
        [
            AddPart("arm", id="p1"),
            AddPart("bead", "p1", id="p2"),
            PutKeys("p1", "rotation.y", turn),
            PutKeys("p2", "translation.x", along),
        ],
    )
    chosen = (KeyPick("p2", "translation.x", (3.0,)),)
    made = applied(scene, [ByDegreesInWorld(chosen, "left", 1.0)])
    before, after = evaluate(scene), evaluate(made)
    rigs.near(after.world("p2")[3, :, 3], [1.0, 0.0, 0.0])
    for frame in (0, 6):
        rigs.near(after.world("p2")[frame], before.world("p2")[frame])
    keyed = sorted(ref.channel for ref in made.curves if ref.part == "p2")
    assert keyed == ["translation.x", "translation.z"]


def test_what_its_own_keys_cannot_do_is_refused() -> None:
    scene = rigs.random_rig(np.random.default_rng(3))
    half = PutKeys("p2", "translation.x", (Key(0.0, 1.0), Key(2.5, 0.0)))
    aim = AddStep("p2", "aim", AimSettings((Target("p1"),)))
    lock = LockChannels("p2", ("translation.y",))
    for edits, edit, text in (
        ([], ByDegreesInWorld((), "left", 1.0), "choose keys of translations"),
        ([], ByDegreesInWorld(picks("p2", (3.0,), *BOTH), "frame", 1.0), "toward which frame"),
        ([], ByDegreesInWorld(picks("p2", (3.0,), *BOTH), "frame", 1.0, 99.0), "no whole frame"),
        ([], ByDegreesInWorld(picks("p2", (3.0,), *BOTH), "left", 99.0), "goes from"),
        ([half], ByDegreesInWorld(picks("p2", (2.5,), *BOTH)[:1], "left", 1.0), "no whole frame"),
        ([aim], ByDegreesInWorld(picks("p2", (3.0,), *BOTH), "left", 1.0), "do not decide"),
        ([lock], ByDegreesInWorld(picks("p2", (3.0,), *BOTH), "left", 1.0), "locked"),
    ):
        with pytest.raises(Refusal, match=text):
            applied(applied(scene, edits), [edit])
