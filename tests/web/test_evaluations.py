"""What a process keeps of the scenes that it shows: bounded, and given back."""

from __future__ import annotations

import gc
import weakref

from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.evaluation import bytes_of
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.web.evaluations import MOST_SCENES, Evaluations
from tests.demos import demo


def ferry(radius: float) -> Scene:
    """A ferry of its own."""
    return applied(demo("ferry-crossing"), [SetValue("p3", "c1", radius)])


def test_a_hundred_deleted_scenes_give_their_memory_back() -> None:
    evaluations = Evaluations()
    gone = []
    for number in range(100):
        evaluation = evaluations.of(number, ferry(0.5 + number / 1000.0))
        gone.append(weakref.ref(evaluation.results[next(iter(evaluation.results))].values))
        del evaluation
        evaluations.forget(number)
    assert evaluations.bytes == 0
    gc.collect()
    assert not any(one() is not None for one in gone)


def test_scenes_that_nobody_looks_at_are_let_go() -> None:
    one = Evaluations()
    one.of(0, ferry(0.5))
    # Room for four of them; the oldest go, and the one that is looked at stays.
    evaluations = Evaluations(most_bytes=4 * one.bytes)
    for number in range(10):
        evaluations.of(number, ferry(0.5 + number / 100.0))
        assert evaluations.bytes <= 4 * one.bytes
    small = Evaluations(most_bytes=1)
    evaluation = small.of(7, ferry(0.5))
    assert small.of(7, evaluation.scene) is evaluation
    many = Evaluations()
    for number in range(MOST_SCENES + 5):
        many.of(number, Scene())
    again = many.of(0, ferry(0.6))
    assert again.channel(ChannelRef("p3", "c1"), "final")[0] == 0.6


def test_sixty_edits_of_a_scene_hold_little_more_than_one() -> None:
    evaluations = Evaluations()
    scene, sizes = demo("ferry-crossing"), []
    for n in range(60):
        scene = applied(scene, [SetValue("p3", "c1", 0.5 + n / 1000.0)])
        sizes.append(bytes_of(evaluations.of(1, scene).results.values()))
    assert max(sizes) <= 1.5 * sizes[0]


def test_a_new_scene_is_evaluated_once_before_it_has_a_number() -> None:
    kept, scene = Evaluations(), demo("ferry-crossing")
    looked = kept.ahead(scene)
    kept.begin(7, looked)
    assert kept.of(7, scene) is looked.newest and kept.bytes > 0
