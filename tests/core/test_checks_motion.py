"""Checks of motion: pops, handovers, contact, spacing, holds, each planted with known size on known
frames."""

from __future__ import annotations

import numpy as np
import pytest

from bindu.core.checks.registry import findings, offers_of
from bindu.core.curves.model import Key
from bindu.core.curves.spacing import FINE, even_motions, even_times
from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.checks import SetCheck
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.spaces import SwitchSpace
from bindu.core.edits.spacing import EvenSpacing
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.settings import FormulaSettings
from tests.core.checked import LAST, found, moving, plain, wave
from tests.core.troubles import passing


def test_a_handover_that_jumps_moves_to_where_both_spaces_agree() -> None:
    by_hand = PutKeys("foot", "s1.space", (Key(0.0, 0.0, "hold"), Key(32.0, 1.0, "hold")))
    scene = passing(by_hand)
    (one,) = found(scene, "handover")
    assert one.amount == pytest.approx(0.8) and one.frame == 32
    offers = {offer.kind: offer for offer in offers_of(evaluate(scene), one)}
    assert offers["move"].text == "move the handover to frame 24"
    moved = applied(scene, offers["move"].edits)
    assert not found(moved, "handover") and not found(moved, "pop")
    # Another handover stands between, and none beside it is better.
    third = (Key(0.0, 0.0, "hold"), Key(31.0, 0.0, "hold"), Key(32.0, 1.0, "hold"))
    blocked = applied(scene, [PutKeys("foot", "s1.space", third)])
    offers = {o.kind: o for o in offers_of(evaluate(blocked), found(blocked, "handover")[0])}
    assert "move" not in offers


def test_a_pop_in_a_short_blend_of_spaces_is_moved_or_blended_longer() -> None:
    scene = passing(SwitchSpace("s1", 32, "boat", "jump", 2))
    (one,) = found(scene, "pop")
    assert one.frame in (33, 34) and not found(scene, "handover")
    offers = {offer.kind: offer for offer in offers_of(evaluate(scene), one)}
    assert offers["move"].text == "move the handover to frame 24"
    assert offers["blend"].text == "let it go over to boat during 12 frames"
    assert not found(applied(scene, offers["blend"].edits), "pop")
    # The boat goes 0.1 m a frame: two frames of blend are a little short for that.
    (left,) = found(applied(scene, offers["move"].edits), "pop")
    assert left.amount < 0.6 * one.amount


@pytest.mark.parametrize("straight", [0.0, 0.35, -2.0])
@pytest.mark.parametrize("jump", [0.05, -0.4])
def test_a_pop_is_found_where_it_is_and_a_straight_motion_changes_nothing(
    straight: float, jump: float
) -> None:
    def way(frame: int) -> float:
        return straight * frame + wave(frame) + (jump if frame >= 31 else 0.0)

    (one,) = found(plain(moving("translation.y", way)), "pop")
    assert one.frame == 31 and one.spans == ((31, 31),) and one.unit == "mm"
    assert one.amount == pytest.approx(1000 * abs(jump), rel=0.15)
    still = plain(moving("translation.y", lambda f: straight * f + (jump if f >= 31 else 0.0)))
    (one,) = found(still, "pop")
    assert one.amount == pytest.approx(1000 * abs(jump), rel=0.01)
    assert not found(plain(moving("translation.y", lambda f: straight * f + wave(f))), "pop")


def test_neither_starts_nor_stops_nor_bounces_nor_holds_pop() -> None:
    ease = (Key(10.0, 0.0), Key(14.0, 0.5), Key(30.0, 0.5), Key(36.0, -0.2))
    line = (Key(10.0, 0.0, "linear"), Key(20.0, 1.0, "linear"), Key(30.0, 1.0, "linear"))
    ball = (Key(0.0, 1.0, "bounce"), Key(40.0, 0.0))
    hold = (Key(0.0, 0.0, "hold"), Key(20.0, 1.0, "hold"), Key(40.0, 0.0))
    for keys in (ease, line, ball, hold):
        assert not found(plain(PutKeys("foot", "translation.x", keys)), "pop"), keys
        turns = tuple(Key(k.frame, 90 * k.value, k.interpolation) for k in keys)
        assert not found(plain(PutKeys("foot", "rotation.x", turns)), "pop"), keys


def test_a_stray_key_pops_and_taking_it_away_mends_it() -> None:
    keys = tuple(Key(float(f), 20.0 * wave(f)) for f in (0, 12, 24, 36, 60))
    scene = plain(
        PutKeys("foot", "rotation.z", (*keys, Key(30.0, 60.0), Key(29.0, 5.0), Key(31.0, 4.0)))
    )
    (one,) = found(scene, "pop")
    assert one.spans == ((30, 31),) and one.unit == "°"
    offers = offers_of(evaluate(scene), one)
    assert offers[0].kind == "take away"
    for offer in offers:
        assert not found(applied(scene, offer.edits), "pop")


@pytest.mark.parametrize("jump", [0.05, -0.4])
def test_a_jump_of_keys_on_every_frame_is_smoothed_over_some_frames(jump: float) -> None:
    scene = plain(moving("translation.y", lambda f: wave(f) + (jump if f >= 31 else 0.0)))
    (one,) = found(scene, "pop")
    smooth = {offer.kind: offer for offer in offers_of(evaluate(scene), one)}["smooth"]
    mended = applied(scene, smooth.edits)
    assert not found(mended, "pop")
    a, b = (evaluate(s).world("foot")[:, 1, 3] for s in (scene, mended))
    np.testing.assert_allclose(np.delete(b - a, range(27, 35)), 0.0, atol=1e-12)
    assert np.abs(np.diff(b)).max() < 0.3 * abs(jump) + 0.05


def test_a_foot_slides_while_it_stands_and_a_plant_takes_all_of_it() -> None:
    """It stands from 10 to 40 and is pushed 62 mm by its body from 20 to 40."""

    def push(frame: int) -> float:
        return 0.0031 * float(np.clip(frame - 20, 0, 20))

    lift = (Key(0.0, 0.2), Key(10.0, 0.0), Key(40.0, 0.0), Key(50.0, 0.3))
    scene = plain(
        moving("translation.z", push, "body"),
        PutKeys("foot", "translation.y", lift),
        PutProbe("sole", "foot", (0.0, 0.0, 0.0)),
    )
    (one,) = found(scene, "slide")
    assert one.amount == pytest.approx(62.0, rel=0.01) and one.unit == "mm"
    first, last = one.spans[0]
    assert abs(first - 10) <= 2 and abs(last - 40) <= 2
    for offer in offers_of(evaluate(scene), one):
        mended = applied(scene, offer.edits)
        assert not found(mended, "slide")
        at = evaluate(mended).world("foot")[first : last + 1, :, 3]
        np.testing.assert_allclose(at, np.broadcast_to(at[0], at.shape), atol=1e-9)
    # In the air, too fast to stand, or on a ground that goes along, nothing slides.
    air = applied(scene, [SetValue("body", "translation.y", 0.2)])
    fast = applied(scene, [moving("translation.z", lambda f: 0.1 * f, "body")])
    along = applied(scene, [PutProbe("sole", "foot", ground="body", id="q1")])
    for other in (air, fast, along):
        assert not found(other, "slide")
    # Said to stand, it does, on a stone or for two frames; what is said joins what is seen.
    for spans, seen in ((((20, 30),), ((20, 30),)), (((22, 23), (30, 34)), ((22, 23), (30, 34)))):
        stone = applied(air, [PutProbe("sole", "foot", id="q1", stands=spans)])
        slides = found(stone, "slide")
        assert tuple(span for one in slides for span in one.spans) == seen
        assert sum(one.amount for one in slides) == pytest.approx(
            sum(3.1 * (b - a) for a, b in seen)
        )
        for offer in (offer for one in slides for offer in offers_of(evaluate(stone), one)):
            assert len(found(applied(stone, offer.edits), "slide")) == len(slides) - 1
    longer = applied(scene, [PutProbe("sole", "foot", id="q1", stands=((last + 1, 55),))])
    assert found(longer, "slide")[0].spans == ((first, 55),)
    for wrong in ((5, 3), (0, 10**10)):
        with pytest.raises(Refusal):
            applied(scene, [PutProbe("sole", "foot", id="q1", stands=(wrong,))])


def test_a_wheel_slips_by_what_its_factor_is_wrong_and_the_fit_mends_it() -> None:
    formula = FormulaSettings("rotation.z", "-0.8 * degrees(travelled_x({body}) / 0.5)")
    scene = plain(
        PutKeys("body", "translation.x", (Key(0.0, 0.0, "linear"), Key(60.0, 6.0))),
        AddStep("foot", "rolls", formula),
        PutProbe("rim", "foot", (0.0, -0.5, 0.0), rolling=True),
    )
    (one,) = found(scene, "slip")
    assert one.amount == pytest.approx(0.2 * 6000, rel=0.01)
    for offer in offers_of(evaluate(scene), one):
        assert not found(applied(scene, offer.edits), "slip"), offer.text


@pytest.mark.parametrize("jump", [0.3, -0.06])
def test_an_even_motion_with_one_uneven_frame_is_found_and_evened_out(jump: float) -> None:
    """Up a slope at 0.1 m a frame from 10 to 50, easing in and out; one frame goes otherwise."""

    def way(frame: int) -> float:
        even = 0.1 * np.clip(frame - 10, 0, 40) - 0.05 * np.cos(np.pi * np.clip(frame, 0, 10) / 10)
        return float(even + (jump if frame > 30 else 0.0))

    scene = plain(moving("translation.x", way), moving("translation.y", lambda f: 0.5 * way(f)))
    (one,) = found(scene, "spacing")
    assert one.frame == 31 and one.spans == ((31, 31),)
    assert one.amount == pytest.approx(1000 * abs(jump), rel=1e-6)
    here, whole = offers_of(evaluate(scene), one)
    ways = {}
    for offer in (here, whole):
        mended = applied(scene, offer.edits)
        left = found(mended, "spacing")
        assert not left or left[0].amount < 0.5 * one.amount
        at = evaluate(mended).world("foot")[:, :, 3]
        np.testing.assert_allclose(at[:, 1], 0.5 * at[:, 0], atol=1e-12)
        ways[offer.kind] = np.linalg.norm(np.diff(at, axis=0), axis=1)
        assert ways[offer.kind].sum() == pytest.approx(
            np.linalg.norm(np.diff(evaluate(scene).world("foot")[:, :, 3], axis=0), axis=1).sum(),
            abs=0.15 if jump < 0 else 1e-9,
        )
    assert np.ptp(ways["here"][25:36]) < 1e-9 and np.ptp(ways["all"][12:48]) < 1e-9
    eased = plain(PutKeys("foot", "translation.x", (Key(0.0, 0.0), Key(60.0, 3.0))))
    stops = plain(moving("translation.x", lambda f: 0.1 * min(f, 20) + 0.1 * max(f - 40, 0)))
    for quiet in (eased, stops, plain(), plain(moving("translation.x", lambda f: 0.1 * f))):
        assert not found(quiet, "spacing")


def test_a_curved_way_is_evened_out_by_true_length() -> None:
    """Three quarters of a circle, at a speed that swings by a half."""
    rate = [1.0 + (0.6 if f in (25, 26) else 0.0) for f in range(LAST)]
    angle = np.concatenate([[0.0], np.cumsum(rate)]) * 270.0 / sum(rate)
    scene = plain(
        moving("translation.x", lambda f: float(np.cos(np.radians(angle[f])))),
        moving("translation.z", lambda f: float(np.sin(np.radians(angle[f])))),
    )
    (one,) = found(scene, "spacing")
    assert one.spans == ((26, 27),) and one.amount == pytest.approx(60.0, rel=0.01)
    mended = applied(scene, offers_of(evaluate(scene), one)[1].edits)
    at = evaluate(mended).world("foot")[:, :, 3]
    ways = np.linalg.norm(np.diff(at, axis=0), axis=1)
    assert np.ptp(ways) < 2e-3 * ways.mean()
    np.testing.assert_allclose(np.linalg.norm(at, axis=1), 1.0, atol=2e-3)
    for span in ((0, 1), (-3, 20), (40, 61)):
        with pytest.raises(Refusal, match="choose two frames"):
            applied(scene, [EvenSpacing("foot", *span)])
    with pytest.raises(Refusal, match="no keys of its own"):
        applied(scene, [EvenSpacing("body", 0, 20)])


def test_a_dead_hold_is_found_when_asked_and_drifts() -> None:
    keys = tuple(
        Key(float(f), v) for f, v in ((0, 0.0), (10, 1.0), (30, 1.0), (40, 0.5), (60, 0.5))
    )
    scene = plain(PutKeys("foot", "translation.y", keys))
    assert not [one for one in findings(evaluate(scene)) if one.check == "dead hold"]
    (one,) = found(scene, "dead hold")
    assert one.spans == ((10, 30),) and one.amount == 21
    mended = applied(scene, offers_of(evaluate(scene), one)[0].edits)
    assert not found(mended, "dead hold")
    at = evaluate(mended).world("foot")[:, 1, 3]
    assert at[30] == pytest.approx(1.04) and np.all(np.diff(at[10:31]) > 0)
    assert not found(
        applied(scene, [SetCheck("dead hold", limits=(("frames", 30.0),))]), "dead hold"
    )


@pytest.mark.parametrize(("frames", "told"), [(7, []), (8, [(2, 10)]), (9, [(2, 11)])])
def test_a_motion_of_eight_frames_has_a_spacing(frames: int, told: list[tuple[int, int]]) -> None:
    ways = np.concatenate([np.zeros(2), np.ones(frames), np.zeros(4)])
    assert [(one.start, one.end) for one in even_motions(ways, 0.25)] == told


@pytest.mark.parametrize(("still", "told"), [(2, [(0, 22)]), (3, [(0, 10), (13, 23)])])
def test_three_still_frames_are_a_stand(still: int, told: list[tuple[int, int]]) -> None:
    ways = np.concatenate([np.ones(10), np.zeros(still), np.ones(10)])
    assert [(one.start, one.end) for one in even_motions(ways, 0.25)] == told


def test_equal_shares_of_a_way_end_where_it_ends_though_it_stands_there() -> None:
    fine = np.linspace(0.0, 4.0, 4 * FINE + 1)
    points = np.minimum(fine, 2.0)[:, None]
    assert even_times(points, 5.0, 4).tolist() == pytest.approx([5.0, 5.5, 6.0, 6.5, 9.0])
    faster = even_times(fine[:, None] ** 2, 5.0, 4) - 5.0
    assert faster.tolist() == pytest.approx([0.0, 2.0, 8**0.5, 12**0.5, 4.0], rel=1e-4)
