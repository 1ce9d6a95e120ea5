"""Curves in the corners: seams at fractions of frames, ends, spans, and tangents that are none."""

from __future__ import annotations

from collections import Counter
from fractions import Fraction
from itertools import product

import numpy as np
import pytest

from bindu.core.curves.evaluate import curve_values, end_slope
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Interpolation, Key, Outside, Tangent
from bindu.core.curves.spans import stepped, with_span
from bindu.core.refusal import Refusal

OUTSIDES: tuple[Outside, ...] = ("hold", "straight on", "repeat", "repeat with offset", "mirror")
SHOWN = (-12, 30)
WHOLE = np.arange(SHOWN[0], SHOWN[1] + 1, dtype=float)


def of_keys(*keys: Key, before: Outside = "hold", after: Outside = "hold") -> Curve:
    """A curve through keys."""
    return with_keys(Curve((), before, after), keys)


def test_a_seam_at_a_fraction_of_a_frame_shows_the_cycle_that_begins() -> None:
    keys = [Key(-0.6, 0.0, "linear"), Key(1.0, 10.0, "linear"), Key(3.6, 0.0, "linear")]
    curve = of_keys(*keys, before="repeat", after="repeat")
    assert curve_values(curve, np.array([12.0]))[0] == pytest.approx(0.0, abs=1e-9)
    # A saw that falls at each seam: on a seam the new cycle has begun.
    saw = of_keys(Key(-0.6, 5.0, "linear"), Key(3.6, 9.0), before="repeat", after="repeat")
    assert curve_values(saw, np.array([12.0, 54.0, -30.0])) == pytest.approx([5.0] * 3)


@pytest.mark.parametrize("after", ["repeat", "repeat with offset", "mirror"])
def test_repeats_agree_with_exact_arithmetic_also_far_away(after: Outside) -> None:
    """Keys at tenths, held, so that a wrong segment shows: against whole tenths of frames."""
    random = np.random.default_rng(5)
    on_a_key = 0
    for _ in range(40):
        tenths = np.sort(random.choice(np.arange(-40, 60), 4, replace=False))
        values = [float(v) for v in random.integers(-9, 9, 4)]
        keys = [Key(t / 10.0, v, "hold") for t, v in zip(tenths, values, strict=True)]
        curve = of_keys(*keys, after=after)
        first, last = int(tenths[0]), int(tenths[-1])
        for far in (0, 1_000, 1_000_000):
            frames = last // 10 + 1 + far + np.arange(40)
            for frame, found in zip(frames, curve_values(curve, frames.astype(float)), strict=True):
                turns, along = divmod(Fraction(int(frame) * 10 - first), last - first)
                place = first + along
                if after == "mirror" and turns % 2 == 1:
                    place = Fraction(first + last) - place
                on_a_key += int(place in tenths)
                wanted = values[int(np.searchsorted(tenths, float(place), side="right")) - 1]
                if after == "repeat with offset":
                    wanted += int(turns) * (values[-1] - values[0])
                assert abs(found - wanted) <= 1e-6 * max(1.0, abs(wanted)), (tenths, frame)
    assert on_a_key > 100


def test_straight_on_goes_the_way_in_which_the_curve_ends() -> None:
    """From a handle of length 0 the end of a cubic leads from its other control point."""
    right = Tangent.reaching(2.0, 3.0)
    start = Key(0.0, 0.0, "smooth", Tangent(), right, "broken")
    end = Key(6.0, 4.0, "smooth", Tangent(12.0, 0.0), Tangent(), "broken")
    curve = of_keys(start, end, after="straight on")
    assert end_slope(curve, True) == pytest.approx((4.0 - 3.0) / (6.0 - 2.0))
    near = curve_values(curve, np.array([6.0 - 1e-5, 6.0, 7.0]))
    assert (near[1] - near[0]) / 1e-5 == pytest.approx(0.25, rel=1e-3)
    assert near[2] == pytest.approx(4.25)
    back = of_keys(Key(0.0, 4.0, "smooth", Tangent(), Tangent(0.0, 0.0), "broken"),
                   Key(6.0, 0.0, "smooth", Tangent.reaching(2.0, -3.0), Tangent(), "broken"),
                   before="straight on")  # fmt: skip
    assert end_slope(back, False) == pytest.approx((3.0 - 4.0) / 4.0)
    upright = Key(6.0, 4.0, "smooth", Tangent(90.0, 2.0), Tangent(), "broken")
    assert end_slope(of_keys(start, upright), True) == pytest.approx(4.0 / 6.0)


def _random_curve(random: np.random.Generator, before: Outside, after: Outside) -> Curve:
    kinds = ["hold", "linear", "smooth", "smooth", "bounce", "ease in", "spring"]
    frames = np.sort(random.choice(np.arange(-8, 33), 4, replace=False)) / random.choice([1.0, 2.0])
    keys = []
    for frame in frames:
        angle = float(random.uniform(-80, 80))
        mode = str(random.choice(["smart", "joined", "broken"]))
        tangents = [Tangent(angle, float(random.uniform(0, 6))) for _ in range(2)]
        value = float(random.uniform(-5, 5))
        kind = str(random.choice(kinds))
        keys.append(Key(float(frame), value, kind, *tangents, mode))  # type: ignore[arg-type]
    return of_keys(*keys, before=before, after=after)


def test_nothing_outside_a_span_changes_whatever_the_ends_do() -> None:
    random = np.random.default_rng(3)
    seen: Counter[str] = Counter()
    for before, after in 5 * list(product(OUTSIDES, OUTSIDES)):
        curve = _random_curve(random, before, after)
        first, last = sorted(int(f) for f in random.integers(SHOWN[0], SHOWN[1] + 1, 2))
        frames = np.arange(first, last + 1)
        values = random.uniform(-9, 9, len(frames))
        keys = [Key(float(f), float(v), "linear") for f, v in zip(frames, values, strict=True)]
        made = with_span(curve, (first, last), keys, SHOWN)
        outside = WHOLE[(first > WHOLE) | (last < WHOLE)]
        np.testing.assert_allclose(
            curve_values(made, outside), curve_values(curve, outside), atol=2e-9
        )
        np.testing.assert_allclose(curve_values(made, frames.astype(float)), values, atol=1e-12)
        assert all(f == int(f) for f in made.frames if first - 1 < f < last + 1)
        ends = curve.keys[0].frame, curve.keys[-1].frame
        seen[f"{before} before"] += first <= ends[0]
        seen[f"{after} after"] += last >= ends[1]
        seen["inside"] += ends[0] < first and last < ends[1]
    assert len(seen) == 2 * len(OUTSIDES) + 1 and min(seen.values()) >= 6, seen


@pytest.mark.parametrize("after", OUTSIDES)
def test_a_step_changes_nothing_before_it_nor_from_the_next_key_on(after: Outside) -> None:
    random = np.random.default_rng(11)
    for _ in range(12):
        curve = _random_curve(random, "mirror", after)
        frame = int(random.integers(SHOWN[0] + 1, SHOWN[1]))
        old = float(curve_values(curve, np.array([frame - 1.0]))[0])
        made = stepped(curve, frame, old, 50.0, SHOWN)
        assert curve_values(made, np.array([float(frame)]))[0] == 50.0
        earlier = WHOLE[frame > WHOLE]
        np.testing.assert_allclose(
            curve_values(made, earlier), curve_values(curve, earlier), atol=2e-9
        )
        later = [key.frame for key in curve.keys if key.frame > frame]
        if later:
            rest = WHOLE[later[0] <= WHOLE]
            np.testing.assert_allclose(
                curve_values(made, rest), curve_values(curve, rest), atol=2e-9
            )


@pytest.mark.parametrize(
    ("left", "right", "mode", "text"),
    [
        (Tangent(120.0, 1.0), Tangent(), "broken", "between -90 and 90"),
        (Tangent(), Tangent(-90.5, 1.0), "broken", "between -90 and 90"),
        (Tangent(10.0, 1.0), Tangent(11.0, 1.0), "joined", "joined, but have the angles 10 and 11"),
    ],
)
def test_tangents_that_no_curve_can_have_are_refused(
    left: Tangent, right: Tangent, mode: str, text: str
) -> None:
    with pytest.raises(Refusal, match=text):
        of_keys(Key(3.0, 1.0, "smooth", left, right, mode))  # type: ignore[arg-type]
    none = Key(3.0, 1.0, "smooth", Tangent(0.0, 0.0), Tangent(25.0, 2.0), "joined")
    assert of_keys(none).keys[0].left.angle == 25.0


@pytest.mark.parametrize("kind", ["bounce", "spring", "overshoot"])
@pytest.mark.parametrize("size", [1e-6, 0.1, 50.0])
def test_a_curve_goes_on_with_the_slope_of_an_ease_of_which_a_part_is_written_over(
    kind: Interpolation, size: float
) -> None:
    keys = (Key(0.0, 0.0, kind), Key(12.0, 2.0 * size, kind), Key(24.0, 3.0 * size))
    curve = of_keys(*keys, before="straight on", after="straight on")
    for span in ((15, 16), (4, 5)):
        made = with_span(curve, span, [Key(float(f), size, "linear") for f in span], SHOWN)
        outside = WHOLE[(span[0] > WHOLE) | (span[1] < WHOLE)]
        expected = curve_values(curve, outside)
        np.testing.assert_allclose(curve_values(made, outside), expected, rtol=0, atol=1e-9 * size)
