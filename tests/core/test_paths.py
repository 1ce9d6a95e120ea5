"""Paths by true length, and aims that stay stable through the pole."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.spatial.transform import Rotation

from bindu.core.checks.poles import poles
from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.smooth_path import smooth_path
from bindu.core.nodes.identity import Stage
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import AimSettings, PathPoint, PathSettings, Target
from tests.core import rigs
from tests.wide import cases


def _pyramid(points: rigs.Matrix, way: int, s: float) -> rigs.Matrix:
    """The same curve by another algorithm: P. J. Barry, R. N. Goldman, "A recursive evaluation
    algorithm for a class of Catmull-Rom splines", SIGGRAPH 1988."""
    p = points[way : way + 4]
    knots = np.concatenate([[0.0], np.cumsum(np.sqrt(np.linalg.norm(np.diff(p, axis=0), axis=1)))])
    t = knots[1] + s * (knots[2] - knots[1])
    level = list(p)
    for reach in (1, 2, 3):
        above = []
        for n in range(4 - reach):
            # On the middle way the last levels share the two middle knots.
            low, high = (knots[n], knots[n + reach]) if reach < 3 else (knots[1], knots[2])
            share = (t - low) / (high - low)
            above.append((1.0 - share) * level[n] + share * level[n + 1])
        level = above
    return np.asarray(level[0])


@pytest.mark.parametrize("seed", range(cases(4, 16)))
@pytest.mark.parametrize("closed", [False, True])
def test_a_path_is_a_catmull_rom_curve_measured_by_its_true_length(seed: int, closed: bool) -> None:
    random, size = np.random.default_rng(seed), (4.0, 0.004)[seed % 2]
    points = random.uniform(-size, size, (int(random.integers(3, 7)), 3))
    path = smooth_path([p[None] for p in points], closed)
    if closed:
        around = np.concatenate([points[-1:], points, points[:2]])
    else:
        first, last = 2 * points[0] - points[1], 2 * points[-1] - points[-2]
        around = np.concatenate([first[None], points, last[None]])
    ways = len(points) if closed else len(points) - 1

    def speed(s: float, way: int) -> float:
        step = 1e-5
        ahead, behind = _pyramid(around, way, s + step), _pyramid(around, way, s - step)
        return float(np.linalg.norm(ahead - behind) / (2.0 * step))

    near = 1e-9 * size
    lengths = [quad(speed, 0.0, 1.0, args=(way,), epsabs=near)[0] for way in range(ways)]
    assert path.lengths[0, -1] == pytest.approx(sum(lengths), rel=1e-7)
    share = np.array([0.0, 0.2, 0.55, 0.9, 1.0])
    for wanted, place in zip(share, path.at_share(share), strict=True):
        way = min(int(place), ways - 1)
        inside = quad(speed, 0.0, place - way, args=(way,), epsabs=near)[0]
        assert sum(lengths[:way]) + inside == pytest.approx(wanted * sum(lengths), abs=1e-6 * size)
        found = path.positions(np.array([place]))[0]
        rigs.near(found, _pyramid(around, way, place - way))


def _on_a_path(settings: PathSettings, progress: tuple[float, float], last: int = 8) -> Evaluation:
    scene = applied(
        Scene(),
        [
            ChangeScene(first=0, last=last),
            AddPart("quay", rest=Rest((5.0, 1.0, -2.0), (20.0, 40.0, 60.0)), id="p2"),
            AddPart("boat", "p2", rest=Rest((1.0, 2.0, 3.0), (10.0, 0.0, 50.0)), id="p1"),
            AddPart("post", rest=Rest((4.0, 0.0, 4.0)), id="p3"),
        ],
    )
    scene = rigs.bound(scene, "p1", settings)
    start, end = progress
    keys = (Key(0.0, start, "linear"), Key(float(last), end, "linear"))
    return rigs.evaluated(PutKeys("p1", "s1.progress", keys).apply(scene))


def test_a_boat_goes_evenly_along_a_straight_path_and_looks_along_it() -> None:
    points = (PathPoint(point=(0.0, 0.0, 0.0)), PathPoint("p3"), PathPoint(point=(12.0, 0.0, 12.0)))
    made = _on_a_path(PathSettings(points), (-0.25, 1.25), last=6)
    way = np.linalg.norm((12.0, 12.0))
    for frame, share in zip(range(7), (0.0, 0.0, 0.25, 0.5, 0.75, 1.0, 1.0), strict=True):
        place = rigs.world(made, "p1", frame)
        rigs.near(place[:3, 3], np.array([1.0, 0.0, 1.0]) * share * way / np.sqrt(2.0))
        rigs.near(place[:3, 0], np.array([1.0, 0.0, 1.0]) / np.sqrt(2.0))
        rigs.near(place[:3, 1], [0.0, 1.0, 0.0])
    made = _on_a_path(PathSettings(points, ends="repeat"), (0.0, 2.0))
    rigs.near(rigs.world(made, "p1", 1)[:3, 3], rigs.world(made, "p1", 5)[:3, 3])


def test_equal_points_are_refused_and_parts_that_meet_are_told() -> None:
    twice = (PathPoint(point=(1.0, 0.0, 0.0)), PathPoint(point=(1.0, 0.0, 0.0)))
    with pytest.raises(Refusal, match="points 1 and 2 are the same"):
        _on_a_path(PathSettings(twice), (0.0, 1.0))
    scene = applied(Scene(last=4), [AddPart("boat", id="p1"), AddPart("post", id="p2")])
    scene = rigs.bound(scene, "p1", PathSettings((PathPoint(), PathPoint("p2"))))
    made = rigs.evaluated(scene)
    turned = next(
        r
        for i, r in made.results.items()
        if i.quantity == "quaternion" and i.stage == Stage("step", "s1")
    )
    assert (turned.broken_from, turned.broken_frames) == (0, 5)
    np.testing.assert_array_equal(made.world("p1")[0], np.eye(3, 4))


def _aiming(directions: rigs.Matrix, up: str = "direction") -> Evaluation:
    """An aim from the origin at a target that goes through positions."""
    edits = [
        ChangeScene(first=0, last=len(directions) - 1),
        AddPart("crane", id="p1"),
        AddPart("crate", id="p2"),
    ]
    for axis, values in zip("xyz", directions.T, strict=True):
        keys = tuple(Key(float(f), float(v), "linear") for f, v in enumerate(values))
        edits.append(PutKeys("p2", f"translation.{axis}", keys))
    settings = AimSettings((Target("p2"),), up=up)  # type: ignore[arg-type]
    return rigs.evaluated(rigs.bound(applied(Scene(), edits), "p1", settings))


def _turns(made: Evaluation) -> rigs.Matrix:
    """How far it turns from each frame to the next, degrees."""
    turns = Rotation.from_matrix(made.world("p1")[:, :, :3])
    return np.degrees((turns[:-1].inv() * turns[1:]).magnitude())


@pytest.mark.parametrize("beside", [0.0, 1e-9, 0.01, 0.5])
def test_an_aim_does_not_flip_over_the_pole(beside: float) -> None:
    angles = np.radians(np.linspace(20.0, 160.0, 29))
    over = np.stack([np.cos(angles), np.sin(angles), np.full(29, beside)], axis=1)
    made = _aiming(over)
    directions = over / np.linalg.norm(over, axis=1)[:, None]
    rigs.near(made.world("p1")[:, :, 0], directions)
    # Passing straight over it turns by 5 degrees a frame; passing beside, at most by a quarter.
    assert _turns(made).max() < (5.001 if beside < 1e-6 else 90.0)
    angles_shown = made.channel(ChannelRef("p1", "rotation.x"), "bound")
    assert np.abs(np.diff(angles_shown)).max() <= 180.0


def test_an_aim_that_turns_fast_about_up_keeps_its_up() -> None:
    angles = np.radians(np.arange(0, 1300, 130.0))
    made = _aiming(np.stack([np.cos(angles), 0.2 * np.ones(10), np.sin(angles)], axis=1))
    assert (made.world("p1")[:, 1, 1] > 0.9).all()


def test_an_aim_at_its_own_position_is_held_and_one_along_up_still_aims() -> None:
    made = _aiming(np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 0.0], [0.0, 0.0, 2.0]]))
    turned = made.results[
        next(
            i for i in made.results if i.quantity == "quaternion" and i.stage == Stage("step", "s1")
        )
    ]
    assert (turned.broken_from, turned.broken_frames) == (1, 1)
    rigs.near(made.world("p1")[2, :, 0], [0.0, 0.0, 1.0])
    made = _aiming(np.array([[0.0, 1.0, 0.0], [0.0, 2.0, 0.0]]))
    rigs.near(made.world("p1")[:, :, 0], [[0.0, 1.0, 0.0]] * len(made.world("p1")))


def test_an_aim_along_its_up_is_told() -> None:
    along = _aiming(np.array([[0.0, 1.0, 0.0], [0.0, 2.0, 0.0]]))
    assert [(p.step.id, p.first, p.frames) for p in poles(along)] == [("s1", 0, 2)]
    over = _aiming(np.array([[-1.0, 1.0, 0.0], [0.0, 1.0, 0.0], [1.0, 1.0, 0.0]]))
    assert [(p.first, p.frames) for p in poles(over)] == [(1, 1)]
    assert not list(poles(_aiming(np.array([[1.0, 1.0, 0.0], [0.0, 1.0, 1.0]]))))


def test_the_least_turn_is_the_least() -> None:
    made = _aiming(np.array([[0.0, 3.0, 4.0], [-1.0, 0.0, 0.0]]), up="none")
    for frame, direction in enumerate(([0.0, 0.6, 0.8], [-1.0, 0.0, 0.0])):
        turn = Rotation.from_matrix(made.world("p1")[frame][:, :3])
        rigs.near(turn.apply([1.0, 0.0, 0.0]), direction)
        assert turn.magnitude() == pytest.approx(np.arccos(direction[0]), abs=1e-9)
