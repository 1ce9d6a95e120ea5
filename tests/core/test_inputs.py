"""What formulas can measure: places, angles and ways, against SciPy and closed forms."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings

FRAMES = 48
angles = st.tuples(*[st.floats(-180.0, 180.0)] * 3)
places = st.tuples(*[st.floats(-5.0, 5.0)] * 3)


def measured(text: str, *edits: AnyEdit) -> Array:
    """A formula's value over the range, in a scene of two parts and a reader."""
    parts = [AddPart("a", id="p1"), AddPart("b", id="p2"), AddPart("reader", id="p3")]
    read = AddStep("p3", "read", FormulaSettings("translation.x", text))
    scene = applied(Scene(), [ChangeScene(last=FRAMES), *parts, *edits, read])
    found = evaluate(scene).channel(ChannelRef("p3", "translation.x"), "driven")
    return np.broadcast_to(found, (FRAMES + 1,))


def placed(part: str, place: tuple[float, ...], turn: tuple[float, ...]) -> list[AnyEdit]:
    """A part's translation and rotation, set by hand."""
    names = [f"{group}.{axis}" for group in ("translation", "rotation") for axis in "xyz"]
    numbers = (*place, *turn)
    return [SetValue(part, name, n) for name, n in zip(names, numbers, strict=True)]


@given(places, places, angles, angles, st.sampled_from("xyz"))
def test_places_along_axes_and_angles_between_them_are_those_of_scipy(
    a: tuple[float, ...],
    b: tuple[float, ...],
    turn_a: tuple[float, ...],
    turn_b: tuple[float, ...],
    axis: str,
) -> None:
    edits = (*placed("p1", a, turn_a), *placed("p2", b, turn_b))
    n = "xyz".index(axis)
    order = "xyz"
    x, y = (Rotation.from_euler(order, t, degrees=True).as_matrix()[:, n] for t in (turn_a, turn_b))
    along = measured(f"along_{axis}({{a}}, {{b}})", *edits)[0]
    assert along == pytest.approx(float((np.array(a) - np.array(b)) @ y), abs=1e-9)
    angle = measured(f"angle_{axis}({{a}}, {{b}})", *edits)[0]
    expected = np.degrees(2.0 * np.arctan2(np.linalg.norm(x - y), np.linalg.norm(x + y)))
    assert angle == pytest.approx(float(expected), abs=1e-6)


def moved(x: str, z: str) -> list[AnyEdit]:
    """Part a on a path given by two formulas."""
    return [
        AddStep("p1", "across", FormulaSettings("translation.x", x)),
        AddStep("p1", "on", FormulaSettings("translation.z", z)),
    ]


def test_the_way_round_a_circle_is_its_arc() -> None:
    found = measured("travelled({a})", *moved("3 * cos(5 * frame)", "3 * sin(5 * frame)"))
    np.testing.assert_allclose(found, 3.0 * np.radians(5.0) * np.arange(FRAMES + 1), rtol=1e-9)


def test_the_way_round_an_ellipse_is_its_integral() -> None:
    found = measured("travelled({a})", *moved("4 * cos(7.5 * frame)", "2 * sin(7.5 * frame)"))
    step = np.radians(7.5)

    def speed(frame: float) -> float:
        return float(step * np.hypot(4 * np.sin(step * frame), 2 * np.cos(step * frame)))

    whole = quad(speed, 0.0, FRAMES, limit=200)[0]
    turn = np.arange(FRAMES + 1) * step
    corners = np.stack([4 * np.cos(turn), 2 * np.sin(turn)], axis=1)
    chords = np.linalg.norm(np.diff(corners, axis=0), axis=1).sum()
    assert abs(found[-1] - whole) < 0.15 * abs(chords - whole)
    assert found[-1] == pytest.approx(whole, rel=2e-4)


def test_a_straight_way_with_a_corner_stays_straight() -> None:
    corner = (Key(0.0, 0.0, "linear"), Key(24.0, 6.0, "linear"), Key(48.0, 6.0))
    turn = (Key(0.0, 0.0, "linear"), Key(24.0, 0.0, "linear"), Key(48.0, 3.0))
    edits = [PutKeys("p1", "translation.x", corner), PutKeys("p1", "translation.z", turn)]
    assert measured("travelled({a})", *edits)[-1] == pytest.approx(9.0, abs=1e-9)


def test_a_signed_way_counts_back_and_follows_the_parts_own_axis() -> None:
    there = (Key(0.0, 0.0, "linear"), Key(24.0, 6.0, "linear"), Key(48.0, 2.0))
    edits: list[AnyEdit] = [PutKeys("p1", "translation.x", there)]
    assert measured("travelled_x({a})", *edits)[-1] == pytest.approx(2.0)
    assert measured("travelled({a})", *edits)[-1] == pytest.approx(10.0)
    about = [*edits, SetValue("p1", "rotation.y", 180.0)]
    assert measured("travelled_x({a})", *about)[-1] == pytest.approx(-2.0)


def test_a_carried_part_is_measured_in_the_world() -> None:
    rest = Rest((0.0, 2.0, 0.0), (0.0, 90.0, 0.0))
    child = AddPart("c", "p1", rest=rest, id="p4")
    ride = PutKeys("p1", "translation.x", (Key(0.0, 0.0, "linear"), Key(48.0, 12.0)))
    assert measured("world_y({c})", child, ride)[0] == pytest.approx(2.0)
    np.testing.assert_allclose(measured("travelled_z({c})", child, ride)[-1], 12.0)
    np.testing.assert_allclose(measured("angle_x({c}, {a})", child, ride), 90.0)
