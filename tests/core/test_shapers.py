"""Shapers, against their formulas written out by hand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter1d

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import PutKeys, SetOutside
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.shapers import WriteOutShaper
from bindu.core.edits.steps import AddStep, ChangeStep, MoveStep
from bindu.core.evaluation import evaluate, evaluate_after
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    SHAPERS,
    FormulaSettings,
    NoiseSettings,
    ShaperSettings,
    WaveSettings,
)
from bindu.core.steps.keyed.noise import value_noise
from bindu.formats.scene.scene_json import read_scene, write_scene

FIRST, LAST = -7, 60
FRAMES = np.arange(FIRST, LAST + 1)
X = ChannelRef("p", "translation.x")
KEYS = tuple(Key(float(f), float(v)) for f, v in ((-3, 0.2), (12.5, 1.0), (30, -0.4), (47, 0.7)))


def shaped(settings: ShaperSettings, *more: AnyEdit, **values: float) -> Scene:
    """A curve with a shaper on it, whose channels have these values."""
    edits = [ChangeScene(first=FIRST, last=LAST), AddPart("part", id="p"), PutKeys(*X, KEYS), *more]
    scene = applied(Scene(), [*edits, AddStep("p", "shape", settings, id="s1")])
    return applied(scene, [SetValue("p", f"s1.{key}", value) for key, value in values.items()])


def came(scene: Scene) -> np.ndarray[Any, Any]:
    """The curve without its shaper."""
    return curve_values(scene.curves[X], FRAMES.astype(float))


def went(scene: Scene, tap: str = "keyed") -> np.ndarray[Any, Any]:
    """What it comes to."""
    return np.broadcast_to(evaluate(scene).channel(X, tap), len(FRAMES))  # type: ignore[arg-type]


def test_a_wave_is_its_formula_also_where_all_of_it_is_keyed() -> None:
    scene = shaped(WaveSettings("translation.x"), amplitude=0.3, period=10.0, phase=0.25)
    expected = 0.3 * np.sin(2 * np.pi * ((FRAMES - FIRST) / 10.0 + 0.25))
    np.testing.assert_allclose(went(scene), came(scene) + expected, atol=1e-12)
    keyed = applied(scene, [PutKeys("p", "s1.amplitude", (Key(0.0, 0.0), Key(40.0, 2.0)))])
    size = evaluate(keyed).channel(ChannelRef("p", "s1.amplitude"), "final")
    np.testing.assert_allclose(went(keyed), came(scene) + size / 0.3 * expected, atol=1e-12)
    half = applied(scene, [SetValue("p", "s1.weight", 0.5)])
    np.testing.assert_allclose(went(half), came(scene) + 0.5 * expected, atol=1e-12)
    muted = applied(scene, [ChangeStep("s1", on=False)])
    np.testing.assert_array_equal(went(muted), came(scene))


def test_a_noise_is_the_same_for_ever_smooth_and_within_its_bounds() -> None:
    at = np.linspace(-40, 40, 4001)
    for octaves in (1, 3):
        made = value_noise(at, 5, octaves)
        assert np.abs(made).max() <= 1.0 and made.std() > 0.2
        assert np.abs(np.diff(made)).max() < 0.02 * 3.0 * octaves
        # Level at whole numbers, where one value is reached.
        n = np.arange(-40.0, 40.0)
        slope = (value_noise(n + 1e-6, 5, octaves) - value_noise(n - 1e-6, 5, octaves)) / 2e-6
        assert octaves > 1 or np.abs(slope).max() < 1e-3
    assert not np.allclose(value_noise(at, 5, 1), value_noise(at, 6, 1))
    # By plain whole numbers, as any machine has them.
    for x in (-3.0, 0.0, 0.25, 7.5, 1e6):
        assert value_noise(np.array([x]), 42, 2)[0] == pytest.approx(by_hand(x, 42, 2), abs=1e-15)
    scene = shaped(NoiseSettings("translation.x", 42, 2), amplitude=0.5, period=4.0)
    expected = came(scene) + 0.5 * value_noise(FRAMES / 4.0, 42, 2)
    np.testing.assert_allclose(went(scene), expected, atol=1e-12)


def by_hand(x: float, seed: int, octaves: int) -> float:
    """The noise at a place, by SplitMix64 in whole numbers."""

    def random(n: int, octave: int) -> float:
        start = seed * 0x9E3779B97F4A7C15 + octave * 0xD1B54A32D192ED03
        z = (n * 0x9E3779B97F4A7C15 + start) % 2**64
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9 % 2**64
        z = (z ^ (z >> 27)) * 0x94D049BB133111EB % 2**64
        return ((z ^ (z >> 31)) >> 11) / 2**52 - 1.0

    made = 0.0
    for octave in range(octaves):
        n, s = divmod(x * 2**octave, 1.0)
        a, b = random(int(n), octave), random(int(n) + 1, octave)
        made += 0.5**octave * (a + s * s * (3 - 2 * s) * (b - a))
    return made / sum(0.5**octave for octave in range(octaves))


@pytest.mark.parametrize("width", [0.4, 1.0, 3.7, 50.0])
def test_smoothing_is_a_gaussian_mean_with_mirrored_ends(width: float) -> None:
    scene = shaped(SHAPERS["smooth"]("translation.x"), width=width)
    expected = gaussian_filter1d(came(scene), width, mode="mirror", radius=int(4 * width))
    np.testing.assert_allclose(went(scene), expected, atol=1e-12)


def test_a_smooth_of_width_nothing_and_a_constant_stay_as_they_are() -> None:
    scene = shaped(SHAPERS["smooth"]("translation.x"), width=0.0)
    np.testing.assert_array_equal(went(scene), came(scene))
    keyed = applied(scene, [PutKeys("p", "s1.width", (Key(10.0, 0.0, "hold"), Key(30.0, 2.0)))])
    np.testing.assert_array_equal(went(keyed)[:37], came(scene)[:37])
    assert np.abs(went(keyed) - came(scene))[37:].max() > 1e-3


@pytest.mark.parametrize("n", [1, 2, 3, 7, 1000])
def test_on_nths_holds_the_last_frame_of_its_grid(n: int) -> None:
    scene = shaped(SHAPERS["on nths"]("translation.x"), n=float(n))
    expected = [came(scene)[(row // n) * n] for row in range(len(FRAMES))]
    np.testing.assert_array_equal(went(scene), expected)


@pytest.mark.parametrize("later", [0.0, 5.0, -9.0, 200.0, 2.4])
@pytest.mark.parametrize("outside", ["hold", "straight on", "repeat", "repeat with offset"])
def test_a_shift_goes_on_beyond_the_range_as_the_curve_does(later: float, outside: str) -> None:
    around = SetOutside("p", "translation.x", outside, outside)  # type: ignore[arg-type]
    scene = shaped(SHAPERS["shift"]("translation.x"), around, frames=later)
    expected = curve_values(scene.curves[X], FRAMES - float(np.round(later)))
    np.testing.assert_allclose(went(scene), expected, atol=1e-12)


def test_strength_keeps_its_pivot() -> None:
    scene = shaped(SHAPERS["strength"]("translation.x"), pivot=0.5, factor=-1.5)
    np.testing.assert_allclose(went(scene), 0.5 - 1.5 * (came(scene) - 0.5), atol=1e-12)


def test_shapers_come_after_layers_and_may_be_late() -> None:
    settings = SHAPERS["strength"]("translation.x")
    more = [AddLayer("over", "p", id="l1"), PutKeys("p", "l1:translation.x", (Key(0.0, 2.0),))]
    scene = shaped(settings, factor=3.0)
    late_layer = applied(scene, more)
    np.testing.assert_allclose(went(late_layer), 3.0 * (came(scene) + 2.0), atol=1e-12)
    formula = AddStep("p", "plus", FormulaSettings("translation.x", "1", "add"))
    late = applied(scene, [formula, MoveStep("s1", "late")])
    np.testing.assert_array_equal(went(late), came(scene))
    np.testing.assert_allclose(went(late, "final"), 3.0 * (came(scene) + 1.0), atol=1e-12)
    with pytest.raises(Refusal, match="belongs to keyed or late"):
        applied(scene, [MoveStep("s1", "driven")])


@pytest.mark.parametrize("kind", sorted(SHAPERS))
def test_each_kind_is_kept_in_files_copies_and_what_is_kept(kind: str) -> None:
    scene = shaped(SHAPERS[kind]("translation.x"))
    assert read_scene(write_scene(scene)) == scene
    before = evaluate(scene)
    assert before.graph.nodes and not before.graph.loops
    twin = evaluate(applied(scene, [DuplicatePart("p")]))
    copy = next(part for part in twin.scene.parts if part != "p")
    np.testing.assert_array_equal(
        twin.channel(ChannelRef(copy, "translation.x"), "final"), before.channel(X, "final")
    )
    moved = applied(scene, [PutKeys(*X, (Key(20.0, 3.0),))])
    np.testing.assert_array_equal(
        evaluate_after(before, moved).channel(X, "final"), evaluate(moved).channel(X, "final")
    )
    for first, last in ((3, 3), (3, 4)):
        evaluate(applied(scene, [ChangeScene(first=first, last=last)]))
    # Written out, it is gone and nothing has moved.
    out = applied(scene, [WriteOutShaper("s1")])
    assert not out.steps
    np.testing.assert_allclose(went(out), went(scene), atol=1e-12)
    few = applied(scene, [WriteOutShaper("s1", 0.01)])
    assert len(few.curves[X].keys) <= len(out.curves[X].keys)
    np.testing.assert_allclose(went(few), went(scene), atol=0.01 + 1e-9)


def test_a_shaper_on_what_stands_still_and_on_bad_numbers() -> None:
    scene = applied(
        Scene(), [AddPart("part", id="p"), AddStep("p", "n", NoiseSettings("rotation.y"))]
    )
    assert np.ptp(evaluate(scene).channel(ChannelRef("p", "rotation.y"), "final")) > 0.1
    with pytest.raises(Refusal, match="1 to 8 octaves"):
        applied(scene, [AddStep("p", "m", NoiseSettings("rotation.y", 0, 9))])
    with pytest.raises(Refusal, match="whole number from 0"):
        applied(scene, [AddStep("p", "m", NoiseSettings("rotation.y", -1))])
    with pytest.raises(Refusal, match="comes before it"):
        two = applied(scene, [AddStep("p", "m", WaveSettings("rotation.y"), id="s9")])
        applied(two, [WriteOutShaper("s9")])
    with pytest.raises(Refusal, match="outside its range"):
        applied(shaped(WaveSettings("translation.x")), [SetValue("p", "s1.period", 0.0)])
