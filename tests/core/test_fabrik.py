"""Chains of many segments by themselves: as far out as is wanted, bent as the pose that came in."""

from __future__ import annotations

import numpy as np
import pytest

from bindu.core.curves.model import Array
from bindu.core.geometry.fabrik import reached

COUNT = 200


def directions(random: np.random.Generator, *shape: int) -> Array:
    """Random vectors of length 1."""
    made = random.normal(size=(*shape, 3))
    return np.asarray(made / np.linalg.norm(made, axis=-1)[..., None])


def joints(ways: Array) -> Array:
    """The joints of chains, seen from their base, shape (J, N, 3) from (J - 1, N, 3)."""
    return np.concatenate([np.zeros((1, *ways.shape[1:])), np.cumsum(ways, axis=0)])


def sizes(points: Array) -> Array:
    """How long each segment is."""
    return np.asarray(np.linalg.norm(np.diff(points, axis=0), axis=-1))


def reaches(points: Array) -> tuple[Array, Array]:
    """The nearest and the farthest that the ends can be."""
    all_of = sizes(points)
    return np.maximum(2 * all_of.max(axis=0) - all_of.sum(axis=0), 0.0), all_of.sum(axis=0)


def chains(random: np.random.Generator, segments: int) -> Array:
    """Chains of every kind: bent anyhow, bent in one plane, nearly straight, folded, closed."""
    ways = directions(random, segments, COUNT) * random.uniform(0.2, 1.5, (segments, COUNT, 1))
    flat = directions(random, COUNT)
    kind = np.arange(COUNT) % 5
    plane = kind == 1
    ways[:, plane] -= (ways * flat).sum(axis=-1)[:, plane, None] * flat[plane]
    near = kind == 2
    ways[:, near] = ways[:1, near] + 1e-3 * ways[:, near]
    folded = kind == 3
    ways[:, folded] = ways[:1, folded] * random.choice([-1.0, 1.0], (segments, folded.sum(), 1))
    closed = kind == 4
    ways[-1, closed] = -ways[:-1, closed].sum(axis=0) + 1e-10 * ways[-1, closed]
    return joints(ways)


@pytest.mark.parametrize("segments", [3, 4, 7])
def test_the_end_is_as_far_out_as_is_wanted_and_all_segments_stay(segments: int) -> None:
    random = np.random.default_rng(segments)
    points = chains(random, segments)
    least, most = reaches(points)
    wanted = least + (most - least) * random.choice([0.02, 0.3, 0.7, 0.99, 1.0], COUNT)
    axis = directions(random, COUNT)
    made = reached(points, wanted, axis)
    assert not made[0].any()
    np.testing.assert_allclose(sizes(made), sizes(points), rtol=0, atol=2e-14 * most.max())
    assert (np.abs(np.linalg.norm(made[-1], axis=-1) - wanted) <= 1.1e-12 * most).all()
    # What a chain comes to depends on no other chain, and not on how large it is: a scale by a
    # power of two changes no digit.
    alone = [reached(points[:, n : n + 1], wanted[n : n + 1], axis[n : n + 1]) for n in range(25)]
    assert np.array_equal(np.concatenate(alone, axis=1), made[:, :25])
    for scale in (2.0**-20, 2.0**20):
        assert np.array_equal(reached(points * scale, wanted * scale, axis), made * scale)


def test_a_chain_that_is_as_far_out_as_wanted_already_stays_as_it_is() -> None:
    points = chains(np.random.default_rng(3), 5)
    wanted = np.linalg.norm(points[-1], axis=-1)
    made = reached(points, wanted, directions(np.random.default_rng(4), COUNT))
    longest = wanted >= (1.0 - 1e-12) * reaches(points)[1]
    assert 0 < longest.sum() < COUNT / 10
    assert np.array_equal(made[:, ~longest], points[:, ~longest])
    np.testing.assert_allclose(made, points, rtol=0, atol=1e-14)


def test_a_chain_that_is_bent_in_a_plane_stays_in_it_whatever_its_axis() -> None:
    random = np.random.default_rng(8)
    points = chains(random, 5)[:, 1::5]
    normal = np.cross(points[1], points[2])
    normal /= np.linalg.norm(normal, axis=-1)[:, None]
    least, most = reaches(points)
    for share in (0.0, 0.1, 0.5, 0.95, 1.0):
        wanted = least + (most - least) * share
        made = reached(points, wanted, directions(random, points.shape[1]))
        assert np.abs((made * normal).sum(axis=-1)).max() < 1e-9


@pytest.mark.parametrize("by", [-1e-6, 1e-6])
def test_a_little_nearer_or_farther_the_joints_move_a_little(by: float) -> None:
    random = np.random.default_rng(9)
    points = chains(random, 5)[:, 0::5]
    far = np.linalg.norm(points[-1], axis=-1)
    made = reached(points, far * (1 + by), directions(random, points.shape[1]))
    assert np.abs(made - points).max() < 1e-4 * reaches(points)[1].max()


def test_stretched_out_all_segments_lie_on_the_way_to_the_end() -> None:
    points = chains(np.random.default_rng(5), 4)
    most = reaches(points)[1]
    made = reached(points, most, directions(np.random.default_rng(6), COUNT))
    out = points[-1].copy()
    closed = np.linalg.norm(out, axis=-1) < 1e-9 * sizes(points)[0]
    # A chain that closes has no such way: its first segment tells one.
    assert 0 < closed.sum() < COUNT / 3
    out[closed] = points[1, closed]
    out /= np.linalg.norm(out, axis=-1)[:, None]
    far = np.concatenate([np.zeros((1, COUNT)), np.cumsum(sizes(points), axis=0)])
    np.testing.assert_allclose(made, far[..., None] * out, rtol=0, atol=1e-14 * most.max())


@pytest.mark.parametrize("share", [0.0, 0.3, 0.9, 0.999, 1.0 - 1e-9])
def test_a_straight_chain_of_equal_segments_becomes_an_arc(share: float) -> None:
    """Of n equal segments the one whose joints all bend by one angle b is sin(n b/2) / sin(b/2)
    segments long; it bends about its axis, as far as that is across it."""
    segments = 6
    ways = np.zeros((segments, 1, 3))
    ways[..., 0] = 0.5
    axis = np.array([[0.6, 0.0, 0.8]])
    made = reached(joints(ways), np.array([0.5 * segments * share]), axis)
    along = np.diff(made, axis=0)[:, 0]
    assert np.abs(along[:, 2]).max() < 1e-12
    angles = np.unwrap(np.arctan2(along[:, 1], along[:, 0]))
    bend = np.diff(angles)
    assert np.ptp(bend) < 1e-7
    found = np.sin(segments * bend[0] / 2) / np.sin(bend[0] / 2)
    assert found == pytest.approx(segments * share, abs=1e-7)
    # A positive turn about the axis bends it, so its middle goes where y is less.
    assert made[3, 0, 1] < 0.0
