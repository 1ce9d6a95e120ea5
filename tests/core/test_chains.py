"""Chains of two and of many segments, computed again with SciPy."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import optimize
from scipy.spatial.transform import Rotation

from bindu.core.geometry.chain import BRANCHES, Solved, Wanted, solved
from bindu.core.geometry.reach import lengthening, softened
from tests.wide import cases

Points = list[np.ndarray[Any, Any]]
CASES = 1000
SEARCHED = 50
"""How many of them are looked for by a search, which takes a hundred times as long."""


def chains(random: np.random.Generator, joints: int, count: int) -> Points:
    """Joints of random chains, each of shape (N, 3)."""
    made = [random.normal(size=(count, 3))]
    for _ in range(joints - 1):
        step = random.normal(size=(count, 3))
        made.append(made[-1] + step * random.uniform(0.2, 1.0, (count, 1)))
    return made


def hinges(points: Points) -> np.ndarray[Any, Any]:
    """Across the planes in which chains of two segments are bent."""
    axis = np.cross(points[1] - points[0], points[2] - points[1])
    return np.asarray(axis / np.linalg.norm(axis, axis=1)[:, None])


def wanted(random: np.random.Generator, points: Points, share: tuple[float, float]) -> Wanted:
    """Random goals, at shares of the reach beyond the nearest that can be met, with all that a limb
    can be told."""
    sizes = np.array([np.linalg.norm(b - a, axis=1) for a, b in zip(points, points[1:])])  # noqa: B905
    reach, count = sizes.sum(axis=0), len(points[0])
    least = np.maximum(2 * sizes.max(axis=0) - reach, 0.0)
    way = random.normal(size=(count, 3))
    way /= np.linalg.norm(way, axis=1)[:, None]
    far = least + (reach - least) * random.uniform(*share, count)
    pole = points[0] + random.normal(size=(count, 3))
    none = np.zeros(count)
    return Wanted(points[0] + way * far[:, None], pole, none, none, none)


def joints_of(points: Points, found: Solved) -> Points:
    """Where the joints come to be."""
    made = [points[0]]
    for turn, start, end in zip(found.turns, points[:-1], points[1:], strict=True):
        moved = Rotation.from_quat(turn).apply(end - start)
        made.append(made[-1] + found.factor[:, None] * moved)
    return made


def searched(points: Points, axis: np.ndarray[Any, Any], told: Wanted, n: int) -> Rotation:
    """The turn of the upper segment of one chain of two, found by searching for the bend and with
    SciPy's alignment of vectors."""
    base, goal = points[0][n], told.goal[n]
    upper, lower = points[1][n] - base, points[2][n] - points[1][n]
    far = float(np.linalg.norm(goal - base))

    def end(bend: float) -> np.ndarray[Any, Any]:
        return np.asarray(upper + Rotation.from_rotvec(bend * axis[n]).apply(lower))

    def size(bend: float) -> float:
        return float(np.linalg.norm(end(bend)))

    # Straight is where the chain is longest; the pose that comes in is bent to one side of it.
    grid = np.linspace(-np.pi, np.pi, 25)
    near = float(grid[np.argmax([size(b) for b in grid])])
    found = optimize.minimize_scalar(lambda b: -size(b), bounds=(near - 0.3, near + 0.3))
    straight = float(np.angle(np.exp(1j * found.x)))
    reach = size(straight)
    soft = float(told.soft[n]) * reach
    if soft and far > reach - soft:
        far = reach - soft * np.exp(-(far - reach + soft) / soft)
    away = straight + (np.pi if -straight > 0 else -np.pi)
    bend = straight if far >= reach else away if far <= size(away) else 0.0
    if size(away) < far < reach:
        bend = float(optimize.brentq(lambda b: size(b) - far, straight, away, xtol=1e-15))
    line = (goal - base) / np.linalg.norm(goal - base)
    if told.pole is None:
        turn = Rotation.align_vectors([line], [end(bend) / size(bend)])[0]
    else:
        across = [v - (v @ w) * w for v, w in ((upper, end(bend) / size(bend)),)][0]
        pole = told.pole[n] - base
        pole = pole - (pole @ line) * line
        turn = Rotation.align_vectors([line, pole], [end(bend), across], weights=[np.inf, 1])[0]
    made: Rotation = Rotation.from_rotvec(np.radians(told.turn[n]) * line) * turn
    return made


@pytest.mark.parametrize(
    ("share", "soft", "turn"),
    [((0.02, 0.98), 0.0, 0.0), ((0.3, 1.4), 0.2, 0.0), ((0.02, 0.95), 0.0, 130.0)],
)
def test_two_segments_are_what_a_search_finds(
    share: tuple[float, float], soft: float, turn: float
) -> None:
    random = np.random.default_rng(4)
    points = chains(random, 3, CASES)
    axis, count = hinges(points), np.ones(CASES)
    told = wanted(random, points, share)
    told = told._replace(soft=soft * count, turn=turn * count)
    found = solved(points, axis, told)
    joints = joints_of(points, found)
    reachable = np.flatnonzero(found.distance <= found.reach) if soft == 0 else []
    missed = np.linalg.norm(joints[2] - told.goal, axis=1)
    assert np.all(missed[reachable] <= 1e-9) and (soft or len(reachable) == CASES)
    # Fully folded or straight, nothing says which side is the pole's.
    clear = np.flatnonzero((np.abs(found.bend) > 1e-6) & (np.abs(found.bend) < 180 - 1e-6))
    assert len(clear) > 0.95 * CASES
    for n in clear[:SEARCHED]:
        expected = searched(points, axis, told, n)
        # A search for the straightest pose knows the reach well, but its angle to some 1e-8 only.
        apart = (Rotation.from_quat(found.turns[0][n]).inv() * expected).magnitude()
        assert apart < 2e-6, n


def test_a_pose_that_reaches_its_goal_is_left_alone() -> None:
    random = np.random.default_rng(7)
    none = np.zeros(CASES)
    for joints in (3, 4, 7):
        points = chains(random, joints, CASES)
        axis = hinges(points)
        middle = points[joints // 2] - points[0]
        pole = points[0] + 3.0 * middle
        for one in (None, pole):
            found = solved(points, axis, Wanted(points[-1], one, none, none, none))
            still = Rotation.identity(CASES).as_quat()
            assert max(np.abs(turn - still).max() for turn in found.turns) < 1e-12
            assert np.all(found.factor == 1.0)


def test_reach_soft_and_stretch_have_continuous_value_and_slope() -> None:
    far = np.linspace(0.0, 3.0, 300_001)
    reach = np.full_like(far, 1.25)
    for soft in (0.0, 0.05, 0.3):
        gone = softened(far, reach, np.full_like(far, soft))
        slope = np.diff(gone) / np.diff(far)
        assert np.all(gone <= 1.25) and np.abs(np.diff(gone)).max() < 1.01e-5
        # Without soft the slope falls from 1 to 0 at once; with it, it never jumps.
        assert np.abs(np.diff(slope)).max() < (1e-2 if soft else 1.01)
        edge = 1.25 - soft * 1.25
        np.testing.assert_allclose(gone[far <= edge], far[far <= edge])
        beyond = far > edge
        if soft:
            exact = 1.25 - soft * 1.25 * np.exp(-(far[beyond] - edge) / (soft * 1.25))
            np.testing.assert_allclose(gone[beyond], exact, rtol=1e-13)
    # A chain that goes nowhere gets no longer.
    near = np.array([0.0, 1.0, 4.0])
    assert lengthening(near, np.zeros(3), np.array([0.0, 0.5, 1.0])).tolist() == [1.0] * 3


def test_a_stretched_chain_meets_any_goal_beyond_its_reach() -> None:
    random = np.random.default_rng(9)
    points = chains(random, 3, CASES)
    told = wanted(random, points, (0.9, 6.0))._replace(stretch=np.ones(CASES))
    for soft in (0.0, 0.25):
        found = solved(points, hinges(points), told._replace(soft=np.full(CASES, soft)))
        assert np.linalg.norm(joints_of(points, found)[2] - told.goal, axis=1).max() < 1e-9
        assert (found.distance > found.reach).sum() > CASES / 2
    half = solved(points, hinges(points), told._replace(stretch=np.full(CASES, 0.5)))
    out = np.linalg.norm(joints_of(points, half)[2] - points[0], axis=1)
    far = half.distance > half.reach
    np.testing.assert_allclose(out[far], ((half.distance + half.reach) / 2)[far], rtol=1e-12)


def test_hinge_limits_are_obeyed_and_what_is_missed_is_said() -> None:
    random = np.random.default_rng(12)
    points = chains(random, 3, CASES)
    count = np.ones(CASES)
    told = wanted(random, points, (0.02, 0.98))._replace(limits=(20.0 * count, 100.0 * count))
    found = solved(points, hinges(points), told)
    joints = joints_of(points, found)
    upper, lower = joints[1] - joints[0], joints[2] - joints[1]
    cosine = np.sum(upper * lower, axis=1) / np.prod(
        [np.linalg.norm(v, axis=1) for v in (upper, lower)], axis=0
    )
    bend = np.degrees(np.arccos(np.clip(cosine, -1, 1)))
    assert np.all((bend > 20 - 1e-6) & (bend < 100 + 1e-6))
    missed = np.linalg.norm(joints[2] - told.goal, axis=1)
    limited = found.branch == BRANCHES.index("at its limit")
    assert 100 < limited.sum() < CASES - 100
    assert np.all(missed[~limited] < 1e-9) and np.all(missed[limited] > 1e-9)


def test_straight_and_the_half_turn_of_the_pole_are_passed_without_a_jump() -> None:
    """A goal that goes out through the reach and comes back; a pole that goes once round."""
    steps = 4001
    points = [np.tile(p, (steps, 1)) for p in ((0.0, 0, 0), (1.0, 0.02, 0), (2.0, 0, 0))]
    axis, none = hinges(points), np.zeros(steps)
    way = np.linspace(1.9, 2.05, steps)
    goal = np.stack([way, none, none], axis=1)
    told = Wanted(goal, np.tile((1.0, 1.0, 0.0), (steps, 1)), none, none, none)
    turns = [Rotation.from_quat(turn) for turn in solved(points, axis, told).turns]
    apart = max((turn[1:] * turn[:-1].inv()).magnitude().max() for turn in turns)
    # The bend goes as the root of what is missing to straight: steep there, and continuous.
    assert apart < 2.2 * np.sqrt(2 * (way[1] - way[0]))
    round_ = np.linspace(0, 2 * np.pi, steps)
    pole = np.stack([none + 1.0, np.cos(round_), np.sin(round_)], axis=1)
    told = Wanted(np.tile((1.5, 0, 0), (steps, 1)), pole, none, none, none)
    turn = Rotation.from_quat(solved(points, axis, told).turns[0])
    assert (turn[1:] * turn[:-1].inv()).magnitude().max() < 1.01 * 2 * np.pi / (steps - 1)


@pytest.mark.parametrize("joints", [4, 9])
def test_many_segments_reach_what_can_be_reached(joints: int) -> None:
    random, count = np.random.default_rng(joints), cases(200, 1000)
    for share in ((0.05, 0.9), (0.97, 1.0), (0.9999, 1.0)):
        points = chains(random, joints, count)
        told = wanted(random, points, share)
        axis = np.tile((0.0, 0.0, 1.0), (count, 1))
        found = solved(points, axis, told)
        made = joints_of(points, found)
        missed = np.linalg.norm(made[-1] - told.goal, axis=1) / found.reach
        assert missed.max() < 1e-8
        # One chain alone is the same as among others, to the last bit.
        for n in (0, 7, count - 1):
            alone = solved(
                [p[n : n + 1] for p in points],
                axis[n : n + 1],
                Wanted(
                    *(None if f is None else f[n : n + 1] for f in told[:5])  # type: ignore[arg-type]
                ),
            )
            for one, other in zip(alone.turns, found.turns, strict=True):
                assert np.array_equal(one[0], other[n])


@pytest.mark.parametrize("joints", [4, 5, 8])
@pytest.mark.parametrize("comes", ["straight", "folded up", "nearly straight"])
def test_a_straight_chain_reaches_whatever_is_near(joints: int, comes: str) -> None:
    """Also where bowing it evenly does not bring its end so near."""
    random, count = np.random.default_rng(joints), cases(1000, 4000)
    sizes = random.uniform(0.3, 1.0, joints - 1)
    signs = np.where((comes == "folded up") & (np.arange(joints - 1) % 2 == 1), -1.0, 1.0)
    steps = np.cumsum([0.0, *sizes * signs])
    points = [np.tile((0.0, -step, 0.0), (count, 1)) for step in steps]
    if comes == "nearly straight":
        off = 10.0 ** random.uniform(-14, -3, (count, 1))
        points = [point + off * random.normal(size=(count, 3)) for point in points]
    lengths = np.linalg.norm(np.diff(points, axis=0), axis=2)
    reach, least = lengths.sum(axis=0), np.maximum(2 * lengths.max(axis=0) - lengths.sum(axis=0), 0)
    far = least + 1e-3 + (reach - least - 1e-3) * np.linspace(0.0, 1.0, count)
    none = np.zeros(count)
    goal = points[0] + np.array([0.3, -0.8, np.sqrt(0.27)]) * far[:, None]
    pole = np.tile((1.0, 2.0, 5.0), (count, 1))
    axis = np.tile((1.0, 0, 0), (count, 1))
    found = solved(points, axis, Wanted(goal, pole, none, none, none))
    # Each for itself, to the last bit.
    for n in (1, count // 2):
        row = slice(n, n + 1)
        told = Wanted(goal[row], pole[row], none[row], none[row], none[row])
        for one, other in zip(
            solved([p[row] for p in points], axis[row], told).turns, found.turns, strict=True
        ):
            assert np.array_equal(one[0], other[n])
    made = np.stack(joints_of(points, found))
    assert (np.linalg.norm(made[-1] - goal, axis=1) < 1e-8 * reach).all()
    np.testing.assert_allclose(np.linalg.norm(np.diff(made, axis=0), axis=2), lengths)


@pytest.mark.parametrize("joints", [4, 5, 6])
def test_a_chain_in_one_plane_bends_in_it_wherever_its_goal_goes(joints: int) -> None:
    """A bird's leg, whose joints bend to and fro: its knee does not go aside with the goal, and
    its pole always tells to which side its middle goes."""
    steps, heights = 200, np.array([0.0, 0.14, -0.05, 0.09, -0.03, 0.0])
    points = [
        np.tile((0.002, -0.3 * n, heights[n] if n < joints - 1 else 0.0), (steps, 1))
        for n in range(joints)
    ]
    round_, none = np.linspace(0, 2 * np.pi, steps), np.zeros(steps)
    far = np.linalg.norm(points[-1] - points[0], axis=1) * (1.0 - 0.04 * np.sin(3 * round_))
    aside = np.stack([0.3 * np.cos(round_), none - 1.0, 0.3 * np.sin(round_)], axis=1)
    goal = points[0] + aside * (far / np.linalg.norm(aside, axis=1))[:, None]
    pole = points[0] + (0.05, -0.5, 2.0)
    found = solved(points, np.tile((1.0, 0, 0), (steps, 1)), Wanted(goal, pole, none, none, none))
    made = joints_of(points, found)
    plane = np.cross(goal - points[0], pole - points[0])
    plane /= np.linalg.norm(plane, axis=1)[:, None]
    off = np.abs(np.einsum("fi,jfi->jf", plane, np.stack(made) - points[0]))
    assert off.max() < 1e-9
    turns = [Rotation.from_quat(turn) for turn in found.turns]
    steps_made = [(turn[1:] * turn[:-1].inv()).magnitude().max() for turn in turns]
    assert max(steps_made) < np.radians(3.0)


def test_a_chain_that_closes_opens_again() -> None:
    """Its end lies on its base, so that it has no line along which to be drawn."""
    square = [(0.0, 0, 0), (1.0, 0, 0), (1.0, 1, 0), (0.0, 1, 0), (0.0, 0, 0)]
    points, none = [np.array([one]) for one in square], np.zeros(1)
    told = Wanted(np.array([[0.3, -1.1, 0.4]]), None, none, none, none)
    found = solved(points, np.array([[0.0, 0, 1.0]]), told)
    np.testing.assert_allclose(joints_of(points, found)[-1], told.goal, atol=1e-9)


def test_a_straight_chain_bends_about_its_axis_toward_its_pole() -> None:
    none = np.zeros(1)
    for joints in (3, 5):
        points = [np.array([[0.0, -float(n), 0.0]]) for n in range(joints)]
        goal = points[-1] + (0.0, 0.6, 0.0)
        told = Wanted(goal, np.array([[0.0, -1.0, 5.0]]), none, none, none)
        found = solved(points, np.array([[1.0, 0.0, 0.0]]), told)
        made = joints_of(points, found)
        np.testing.assert_allclose(made[-1], goal, atol=1e-9)
        assert made[joints // 2][0, 2] > 0.3 and abs(made[joints // 2][0, 0]) < 1e-9
