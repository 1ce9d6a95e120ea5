"""Curves against closed forms and SciPy."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator
from scipy.optimize import brentq

from bindu.core.curves.bezier import limited
from bindu.core.curves.eases import EASES
from bindu.core.curves.evaluate import curve_values, end_slope, values_of_many
from bindu.core.curves.keys import changed_keys, checked, with_inserted_key, with_keys, without_keys
from bindu.core.curves.model import Curve, Interpolation, Key, Outside, Tangent
from bindu.core.curves.spans import REPEATING, written_out
from bindu.core.curves.spare import spare_keys
from bindu.core.refusal import Refusal
from tests.core.shape import assert_same_shape
from tests.strategies import curves, outsides

GRID = np.linspace(-15.0, 40.0, 331)


def monotonic(u: float, w: float) -> bool:
    """Whether time never runs back along a segment whose handles reach these shares of it."""
    rate = np.polynomial.Polynomial([u, 2 - 4 * u - 2 * w, 3 * u + 3 * w - 2])
    turning = rate.deriv().roots()
    places = [0.0, 1.0, *(float(t.real) for t in turning if abs(t.imag) < 1e-12 and 0 < t.real < 1)]
    return min(rate(place) for place in places) >= -1e-15


def largest_factor(u: float, w: float) -> float:
    """How far both handles may reach, found by bisection."""
    low, high = 0.0, 1.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if monotonic(middle * u, middle * w) else (low, middle)
    return low


def bezier_by_root(a: Key, b: Key, frame: float) -> float:
    """A smooth segment's value by a root finder on its time polynomial."""
    span = b.frame - a.frame
    right, left = np.array(a.right.reach), np.array(b.left.reach)
    for handle in (right, left):
        handle *= min(1.0, 4 / 3 * span / max(handle[0], 1e-300))
    if not monotonic(right[0] / span, left[0] / span):
        factor = largest_factor(right[0] / span, left[0] / span)
        right, left = right * factor, left * factor
    p = np.array(
        [
            [a.frame, a.value],
            [a.frame, a.value] + right,
            [b.frame, b.value] - left,
            [b.frame, b.value],
        ]
    )

    def point(s: float) -> np.ndarray:
        r = 1.0 - s
        return r**3 * p[0] + 3 * r * r * s * p[1] + 3 * r * s * s * p[2] + s**3 * p[3]

    s = brentq(lambda s: point(s)[0] - frame, 0.0, 1.0, xtol=1e-15)
    return float(point(s)[1])


@given(curves(), st.floats(0.0, 1.0))
def test_smooth_segments_are_solved_for_the_frame(keys: tuple[Key, ...], share: float) -> None:
    curve = with_keys(None, keys)
    a, b = curve.keys[0], curve.keys[1]
    frame = a.frame + share * (b.frame - a.frame)
    value = curve_values(curve, np.array([frame]))[0]
    if a.interpolation == "hold":
        expected = b.value if share == 1.0 else a.value
    elif a.interpolation in EASES:
        along = float(EASES[a.interpolation].along(np.array([share]))[0])
        expected = a.value + along * (b.value - a.value)
    elif a.interpolation == "linear":
        expected = a.value + (frame - a.frame) / (b.frame - a.frame) * (b.value - a.value)
    else:
        # On a flank that is all but vertical, rounding a time is a visible step of the value.
        near = curve_values(curve, np.array([frame - 1e-6, frame + 1e-6]))
        flank = float(np.abs(near - value).max()) if 0.0 < share < 1.0 else 0.0
        assert abs(value - bezier_by_root(a, b, frame)) <= 1e-7 + flank
        return
    assert value == pytest.approx(expected, abs=1e-9) or frame in (a.frame, b.frame)


@pytest.mark.parametrize("right", [0.0, 0.2, 1.0, 1.3, 5.0])
@pytest.mark.parametrize("left", [0.0, 0.4, 1.1, 3.0])
def test_handles_that_reach_too_far_keep_their_way_and_are_shortened_together(
    right: float, left: float
) -> None:
    span = 8.0
    handles = np.array([[right * span, 3.0]]), np.array([[left * span, -2.0]])
    made = limited(*handles, np.array([span]))
    u, w = (min(share, 4.0 / 3.0) for share in (right, left))
    factor = min(1.0, largest_factor(u, w))
    for came, now, share, reach in zip(handles, made, (right, left), (u, w), strict=True):
        shorter = factor * (reach / share if share else 1.0)
        np.testing.assert_allclose(now, shorter * came, rtol=1e-7)


@pytest.mark.parametrize("size", [1.0, 2.0**-16, 2.0**16])
def test_a_handle_straight_up_says_no_slope_and_one_steeply_up_says_how_steep(size: float) -> None:
    def slopes(up: Tangent) -> list[float]:
        keys = (Key(size, 1.0, right=up, mode="broken"), Key(9 * size, 1.0 + 4 * size, left=up))
        return [end_slope(Curve(keys), at_end) for at_end in (False, True)]

    for share in (1e-8, 1e-3):
        along = share * 8.0
        steep = Tangent(
            float(np.degrees(np.arctan2(6.0, along))), size * float(np.hypot(6.0, along))
        )
        assert slopes(steep) == pytest.approx([6.0 / along, 6.0 / along], rel=1e-6)
    # However long it is: rounding makes no slope of it.
    for length in (1.0, 1e5, 1e12):
        assert slopes(Tangent(90.0, length)) == pytest.approx([0.5, 0.5])
    assert end_slope(Curve((Key(3.0, 2.0),)), True) == 0.0


def test_a_cycle_shorter_than_any_seam_repeats() -> None:
    curve = Curve((Key(0.0, 0.0, "linear"), Key(2e-9, 1.0, "linear")), after="repeat")
    frames = 2e-9 * np.array([1.4, 2.5, 3.7])
    np.testing.assert_allclose(curve_values(curve, frames), [0.4, 0.5, 0.7], atol=1e-6)


def test_thirds_of_a_segment_give_the_cubic_hermite_spline() -> None:
    frames, values, slopes = np.array([0.0, 7.0, 12.0]), np.array([1.0, -4.0, 3.0]), [0.5, 2.0, -1]
    keys = []
    for n, (frame, value, slope) in enumerate(zip(frames, values, slopes, strict=True)):
        left = (frames[n] - frames[n - 1]) / 3 if n else 1.0
        right = (frames[n + 1] - frames[n]) / 3 if n < 2 else 1.0
        keys.append(
            Key(
                frame,
                value,
                "smooth",
                Tangent.reaching(left, left * slope),
                Tangent.reaching(right, right * slope),
                "broken",
            )
        )
    grid = np.linspace(0.0, 12.0, 97)
    expected = CubicHermiteSpline(frames, values, slopes)(grid)
    np.testing.assert_allclose(curve_values(Curve(tuple(keys)), grid), expected, atol=1e-12)


def test_smart_tangents_are_those_of_scipys_monotone_interpolator_inside() -> None:
    frames = np.array([0.0, 4.0, 9.0, 15.0, 18.0, 30.0])
    values = np.array([0.0, 0.0, 2.0, 5.0, 4.0, 4.5])
    curve = with_keys(None, [Key(f, v) for f, v in zip(frames, values, strict=True)])
    grid = np.linspace(4.0, 18.0, 60)
    expected = PchipInterpolator(frames, values)(grid)
    np.testing.assert_allclose(curve_values(curve, grid), expected, atol=1e-12)


def before_smart(kind: Interpolation) -> tuple[Key, ...]:
    """Keys that go on smartly behind a segment of a kind."""
    return Key(0.0, 0.0, kind), Key(10.0, 3.0), Key(20.0, 8.0)


@example(keys=before_smart("hold"), share=0.25)
@example(keys=before_smart("linear"), share=0.25)
@example(keys=before_smart("ease in"), share=0.25)
@given(curves(), st.floats(0.01, 0.99))
def test_inserting_a_key_keeps_the_shape(keys: tuple[Key, ...], share: float) -> None:
    curve = with_keys(None, keys)
    first, last = curve.keys[0].frame, curve.keys[-1].frame
    frame = first + share * (last - first)
    if curve.key_at(frame):
        return
    try:
        more = with_inserted_key(curve, frame)
    except Refusal as refusal:
        assert "would change its shape" in str(refusal)
        return
    assert len(more.keys) == len(curve.keys) + 1
    assert_same_shape(curve, more, GRID)


@pytest.mark.parametrize("frame", [1e-300, 1e-12, 10.0 - 1e-12])
def test_a_key_hardly_beside_another_can_be_written_and_read(frame: float) -> None:
    curve = with_keys(None, [Key(-10.0, 3.0), Key(0.0, 1.0), Key(10.0, 4.0), Key(20.0, -2.0)])
    more = with_inserted_key(curve, frame)
    assert len(more.keys) == 5 and [checked(key) for key in more.keys] == list(more.keys)
    assert_same_shape(curve, more, GRID)


@given(curves(), st.floats(0.1, 30.0), st.booleans())
def test_a_key_beyond_the_ends_keeps_the_shape_and_the_kind_of_segment(
    keys: tuple[Key, ...], way: float, later: bool
) -> None:
    curve = with_keys(None, keys)
    end = curve.keys[-1] if later else curve.keys[0]
    frame = end.frame + way if later else end.frame - way
    more = with_inserted_key(curve, frame)
    assert_same_shape(curve, more, np.sort([*GRID, frame, (frame + end.frame) / 2]))
    left = more.key_at(min(frame, end.frame))
    assert left is not None and left.interpolation == end.interpolation


@given(curves(), outsides, outsides, st.floats(0.1, 60.0))
def test_outside_the_keys(keys: tuple[Key, ...], before: str, after: str, way: float) -> None:
    curve = with_keys(Curve((), before, after), keys)  # type: ignore[arg-type]
    first, last = curve.keys[0], curve.keys[-1]
    span, rise = last.frame - first.frame, last.value - first.value

    def at(frame: float) -> float:
        return float(curve_values(curve, np.array([frame]))[0])

    def jumps(frame: float) -> bool:
        return any(abs(frame - key.frame) < 1e-6 for key in curve.keys)

    beyond = last.frame + way
    if after == "hold":
        assert at(beyond) == last.value
    if after == "straight on":
        assert at(beyond) - at(beyond - way / 2) == pytest.approx(
            at(beyond - way / 2) - last.value, abs=1e-6
        )
    inside = first.frame + way % span
    if after.startswith("repeat") and not jumps(inside):
        turns = 1 + way // span
        lift = rise * turns if after.endswith("offset") else 0.0
        assert at(last.frame + way) == pytest.approx(at(inside) + lift, abs=1e-3)
    if before == "mirror" and way < span and not jumps(first.frame + way):
        assert at(first.frame - way) == pytest.approx(at(first.frame + way), abs=1e-3)


def test_keys_are_moved_together_and_never_onto_one_that_stays() -> None:
    curve = with_keys(None, [Key(0.0, 0.0), Key(5.0, 1.0), Key(9.0, 2.0)])
    moved = changed_keys(curve, {0.0: Key(5.0, 7.0), 5.0: Key(0.0, 8.0)})
    assert [(k.frame, k.value) for k in moved.keys] == [(0.0, 8.0), (5.0, 7.0), (9.0, 2.0)]
    with pytest.raises(Refusal, match="key at frame 9 already"):
        changed_keys(curve, {0.0: Key(9.0, 0.0)})
    with pytest.raises(Refusal, match="no key at frame 3"):
        without_keys(curve, [3.0])
    with pytest.raises(Refusal, match="value must be a number"):
        with_keys(curve, [Key(1.0, float("nan"))])


@pytest.mark.parametrize("name", EASES)
def test_eases_begin_and_end_at_their_keys_with_their_slopes(name: Interpolation) -> None:
    curve = with_keys(None, [Key(10.0, 2.0, name), Key(30.0, 6.0)])
    assert curve_values(curve, np.array([10.0, 30.0])).tolist() == [2.0, 6.0]
    step = 1e-6
    first, last = curve_values(curve, np.array([10.0 + step, 30.0 - step]))
    ease = EASES[name]
    assert (first - 2.0) / step * 20.0 / 4.0 == pytest.approx(ease.start_slope, abs=1e-3)
    assert (6.0 - last) / step * 20.0 / 4.0 == pytest.approx(ease.end_slope, abs=1e-3)
    on = Curve(curve.keys, after="straight on")
    beyond = curve_values(on, np.array([35.0]))[0]
    assert beyond == pytest.approx(6.0 + 5.0 * ease.end_slope * 4.0 / 20.0)


@pytest.mark.parametrize(
    ("name", "share", "value"),
    [
        ("ease in", 0.5, 0.125),
        ("ease out", 0.5, 0.875),
        ("ease both", 0.25, 0.0625),
        ("ease both", 0.5, 0.5),
        ("overshoot", 5 / 9, 1 + 32 / 243),
        ("bounce", 0.4, 1.0),
        ("bounce", 0.6, 0.75),
        ("bounce", 0.9, 0.9375),
        ("spring", 1 / 9, 1.0),
        ("spring", 2 / 9, 1 + 49 / 81),
    ],
)
def test_eases_have_their_closed_forms(name: Interpolation, share: float, value: float) -> None:
    curve = with_keys(None, [Key(0.0, 0.0, name), Key(1.0, 1.0)])
    assert curve_values(curve, np.array([share]))[0] == pytest.approx(value, abs=1e-12)


@given(st.lists(st.tuples(curves(), outsides, outsides), min_size=1, max_size=6), st.data())
def test_many_curves_at_once_are_what_each_is_by_itself(
    drawn: list[tuple[tuple[Key, ...], Outside, Outside]], data: st.DataObject
) -> None:
    made = [Curve(with_keys(None, keys).keys, before, after) for keys, before, after in drawn]
    # A single key, whatever it is said to do outside, stands beside curves that go on.
    made.append(Curve(made[0].keys[:1], *data.draw(st.tuples(outsides, outsides))))
    together = values_of_many(made, GRID)
    assert together.shape == (len(made), len(GRID))
    for values, curve in zip(together, made, strict=True):
        np.testing.assert_array_equal(values, curve_values(curve, GRID))


@pytest.mark.parametrize("number", [1.1e9, 1e300, np.inf, np.nan])
@pytest.mark.parametrize(
    ("name", "key"),
    [
        ("frame", lambda n: Key(n, 0.0)),
        ("frame", lambda n: Key(-n, -5.0)),
        ("value", lambda n: Key(0.0, n)),
        ("value", lambda n: Key(3.0, -n)),
        ("left length", lambda n: Key(0.0, 0.0, left=Tangent(0.0, n))),
        ("right length", lambda n: Key(0.0, 0.0, right=Tangent(0.0, n))),
    ],
)
def test_numbers_of_keys_that_cannot_be_are_refused_by_their_name(
    name: str, key: Callable[[float], Key], number: float
) -> None:
    with pytest.raises(Refusal, match=f"a key's {name} must be a number within"):
        checked(key(number))


@pytest.mark.parametrize("begin", [0.0, -7.5, 1000.0])
def test_keys_without_which_a_curve_is_the_same(begin: float) -> None:
    line = [(0, 0), (1, 2), (3, 6), (4, 8), (6, 3), (8, 3)]
    steps = [(9, 5), (10, 5), (12, 5), (13, 1)]
    keys = [Key(begin + frame, float(value), "linear") for frame, value in line]
    keys += [Key(begin + frame, float(value), "hold") for frame, value in steps]
    curve = with_keys(None, keys)
    spare = spare_keys(curve, 1e-9)
    assert spare == tuple(begin + frame for frame in (1, 3, 10, 12))
    if begin == 0.0:
        assert spare_keys(curve, 0.0) == spare
    times = begin + np.linspace(-1.0, 14.0, 301)
    without = curve_values(without_keys(curve, spare), times)
    assert without == pytest.approx(curve_values(curve, times), abs=1e-9)


@pytest.mark.parametrize(("right", "left", "level"), [(0, 0, True), (5, 0, False), (0, 5, False)])
def test_a_curve_of_equal_keys_needs_none_of_them_if_it_is_level_between(
    right: float, left: float, level: bool
) -> None:
    start = Key(0.0, 2.0, right=Tangent(right, 3.0), mode="broken")
    curve = Curve((start, Key(9.0, 2.0, left=Tangent(left, 3.0), mode="broken")))
    assert spare_keys(curve, 1e-9) == ((0.0, 9.0) if level else ())
    assert bool(np.ptp(curve_values(curve, GRID)) < 1e-9) == level


@given(curves(), outsides, outsides, st.integers(-30, 30), st.integers(1, 90))
@example((Key(0.0, 1.0), Key(10.0, 5.0), Key(20.0, 2.0)), "repeat", "mirror", 4, 10)
def test_what_repeats_is_written_out_as_keys(
    keys: tuple[Key, ...], before: Outside, after: Outside, first: int, count: int
) -> None:
    curve = with_keys(Curve((), before, after), keys)
    shown = (first, first + count)
    made = written_out(curve, shown)
    times = np.arange(first, first + count + 1.0)
    assert curve_values(made, times) == pytest.approx(curve_values(curve, times), abs=1e-6)
    for goes, mode, reaches in (
        (before, made.before, first < keys[0].frame),
        (after, made.after, first + count > keys[-1].frame),
    ):
        assert mode == ("hold" if goes in REPEATING and reaches else goes)


@pytest.mark.parametrize(("span", "step"), [(1.0, 1.0), (3.0, 1.0), (40.0, 5.0), (45.0, 5.625)])
def test_a_repeat_is_written_out_by_its_keys_or_by_whole_frames_whichever_are_fewer(
    span: float, step: float
) -> None:
    """Of nine keys in 1 or 3 frames there would be more than two for each frame."""
    keys = [Key(8.0 + n * span / 8.0, float(n % 8 % 3), "linear") for n in range(9)]
    made = written_out(Curve(tuple(keys), after="repeat"), (0, 100))
    frames = [key.frame for key in made.keys if key.frame > 8.0 + span]
    expected = np.arange(8.0 + span + step, 100.0, step)
    assert frames == pytest.approx([*expected.tolist(), 100.0])
