"""Two segments by themselves: to which side they bend, and how near to straight they tell one."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array
from bindu.core.geometry.two_segments import Hinge, bent, hinge_of, side_of

AXIS = np.array([[0.0, 0.6, 0.8]])
UPPER, LOWER = np.array([[2.0, 0.0, 0.0]]), 1.5


def turned(degrees: float) -> Array:
    """The lower segment, bent so far from straight about the axis."""
    turn = Rotation.from_rotvec(np.radians(degrees) * AXIS[0])
    return np.asarray(turn.apply(np.array([[LOWER, 0.0, 0.0]])))


@pytest.mark.parametrize(
    ("degrees", "side"),
    [(90, 1), (0.02, 1), (0.005, 1), (0, 1), (-0.005, 1), (-0.02, -1), (-0.5, -1), (-90, -1)],
)
@pytest.mark.parametrize("scale", [1e-3, 1.0, 1e3])
def test_a_chain_keeps_its_side_unless_it_is_straight(
    degrees: float, side: int, scale: float
) -> None:
    hinge = hinge_of(UPPER * scale, turned(degrees) * scale, AXIS)
    assert side_of(hinge)[0] == side
    assert hinge.reach[0] == pytest.approx(3.5 * scale)
    assert hinge.least[0] == pytest.approx(0.5 * scale)
    for wanted in (3.4, 2.0, 0.6):
        delta = bent(hinge, np.array([wanted * scale]))
        made = UPPER + Rotation.from_rotvec(delta[:, None] * AXIS).apply(turned(degrees))
        assert np.linalg.norm(made) == pytest.approx(wanted)
        assert np.sign(delta - hinge.straight)[0] == side


def test_a_length_that_it_has_already_bends_nothing() -> None:
    for degrees in (0.0, 1e-6, 0.3, -40.0, 179.0):
        hinge = hinge_of(UPPER, turned(degrees), AXIS)
        assert bent(hinge, hinge.length)[0] == 0.0


def test_beyond_what_can_be_it_is_straight_or_folded() -> None:
    hinge: Hinge = hinge_of(UPPER, turned(-30.0), AXIS)
    longest, shortest = (bent(hinge, np.array([far])) - hinge.straight for far in (3.6, 0.4))
    assert longest[0] == pytest.approx(0.0, abs=1e-12)
    assert abs(shortest[0]) == pytest.approx(np.pi)


@pytest.mark.parametrize("degrees", [-100.0, -35.0, -5.0, 5.0, 35.0, 100.0])
@pytest.mark.parametrize(("low", "high"), [(10, 60), (-60, -10), (-20, 50), (0, 170), (-170, 0)])
def test_limits_allow_a_bend_to_the_own_side_else_to_the_other_else_the_nearest(
    degrees: float, low: float, high: float
) -> None:
    hinge = hinge_of(UPPER, turned(degrees), AXIS)
    limits = np.radians([low]), np.radians([high])
    for far in (float(hinge.length[0]), 3.4999, 3.45, 3.3, 3.0, 2.0, 0.6):
        # The law of cosines.
        size = np.degrees(np.arccos((far**2 - 2.0**2 - LOWER**2) / (2.0 * 2.0 * LOWER)))
        own = np.sign(degrees) * size
        fitting = [bend for bend in (own, -own) if low <= bend <= high]
        expected = fitting[0] if fitting else min(max(own, low), high)
        delta = bent(hinge, np.array([far]), limits)
        bend = np.degrees(delta - hinge.straight)[0]
        assert (bend + 180.0) % 360.0 - 180.0 == pytest.approx(expected, abs=1e-6)
