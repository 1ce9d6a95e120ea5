"""Checks of keys and steps: what changes nothing, what is missing, switches, stops, the grid."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from bindu.core.checks.registry import offers_of
from bindu.core.curves.model import Curve, Key
from bindu.core.edits import applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.driven import AddDriven
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.receivers import PutReceiver
from bindu.core.edits.rows import AddRows
from bindu.core.edits.sets import PutMarker, PutSet
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import evaluate
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.receivers import Override, Setup
from bindu.core.scene.settings import FormulaSettings, LimitSettings
from tests.core.checked import LAST, found, plain


def test_leavings_are_found_and_what_is_taken_away_changes_nothing() -> None:
    flat = tuple(Key(float(f), 0.5) for f in (0, 10, 20))
    line = tuple(Key(float(f), 0.1 * f, "linear") for f in (0, 10, 25, 40))
    holds = tuple(Key(float(f), v, "hold") for f, v in ((0, 1.0), (5, 1.0), (9, 2.0), (12, 3.0)))
    scene = plain(
        PutKeys("foot", "translation.x", flat),
        PutKeys("foot", "translation.y", line),
        PutKeys("foot", "translation.z", holds),
        PutKeys("body", "translation.x", (Key(0.0, 0.0), Key(30.0, 1.0), Key(60.0, 0.0))),
    )
    (one,) = found(scene, "without effect")
    assert one.part == "foot" and one.amount == 3 + 2 + 1
    assert "6 keys on 3 channels change nothing" in one.text
    (offer,) = offers_of(evaluate(scene), one)
    mended = applied(scene, offer.edits)
    assert not found(mended, "without effect")
    for axis in "xyz":
        ref = ChannelRef("foot", f"translation.{axis}")
        a, b = (evaluate(s).channel(ref, "final") for s in (scene, mended))
        np.testing.assert_allclose(
            np.broadcast_to(b, LAST + 1), np.broadcast_to(a, LAST + 1), atol=1e-12
        )


def test_a_layer_keeps_a_key_of_what_never_moves_on_it() -> None:
    over = [AddLayer("over", "foot", "replace", id="l1")]
    flat = tuple(Key(float(f), 0.5) for f in (0, 10, 20))
    moves = PutKeys("foot", "translation.x", (Key(0.0, 0.0), Key(60.0, 1.0)))
    scene = plain(moves, *over, PutKeys("foot", "l1:translation.x", flat))
    (one,) = found(scene, "without effect")
    mended = applied(scene, offers_of(evaluate(scene), one)[0].edits)
    ref = ChannelRef("foot", "translation.x")
    assert np.all(evaluate(mended).channel(ref, "final") == 0.5)
    assert not found(mended, "without effect")


def test_formulas_and_weights_that_do_nothing() -> None:
    moves = PutKeys("body", "translation.x", (Key(0.0, 0.0), Key(60.0, 1.0)))
    zero = AddStep(
        "foot", "nothing", FormulaSettings("translation.x", "0 * {body.translation.x}", "add")
    )
    waits = AddStep("foot", "waits", FormulaSettings("translation.y", "{body.rotation.x}", "add"))
    off = AddStep("foot", "off", FormulaSettings("translation.z", "frame"))
    scene = plain(moves, zero, waits, off)
    step = next(one.id for one in scene.steps.values() if one.name == "off")
    scene = applied(scene, [SetValue("foot", f"{step}.weight", 0.0)])
    assert {one.what for one in found(scene, "without effect")} == {"nothing", "off"}


def test_keys_of_a_channel_that_a_step_sets_are_never_seen() -> None:
    keys = (Key(0.0, 1.0), Key(20.0, 4.0), Key(40.0, 2.0))
    x, y = (PutKeys("foot", f"translation.{axis}", keys) for axis in "xy")
    sets = AddStep("foot", "sets", FormulaSettings("translation.x", "frame / 10", "set"), id="s1")
    layer = [AddLayer("flow", "foot", id="l1"), PutKeys("foot", "l1:translation.x", keys[:2])]
    scene = plain(x, y, sets, *layer)
    (one,) = found(scene, "without effect")
    assert (one.amount, one.step) == (5.0, "s1") and "“sets” sets it on all frames" in one.text
    away, mute = offers_of(evaluate(scene), one)
    mended = applied(scene, away.edits)
    assert {ref.channel for ref in mended.curves} == {"translation.y"}
    assert not found(mended, "without effect")
    moved = [evaluate(each).world("foot") for each in (scene, mended)]
    np.testing.assert_array_equal(*moved)
    assert not found(applied(scene, mute.edits), "without effect")
    half = SetValue("foot", "s1.weight", 0.5)
    adds = ChangeStep("s1", settings=FormulaSettings("translation.x", "frame", "add"))
    breaks = ChangeStep("s1", settings=FormulaSettings("translation.x", "1 / (frame - 5)", "set"))
    reads = AddStep("body", "reads", FormulaSettings("translation.z", "{foot.translation.x@keyed}"))
    where = AddStep("body", "looks", FormulaSettings("translation.z", "world_x({foot@keyed})"))
    locks = LockChannels("foot", ("translation.x",))
    for other in (half, adds, breaks, reads, where):
        assert not found(applied(scene, [other]), "without effect"), other
    assert not {one.key for one in found(applied(plain(x, sets), [locks]), "without effect")} - {""}
    # Read behind the step that sets it, it is not read before.
    later = FormulaSettings("translation.z", "{foot.translation.x} + {foot.translation.x@driven}")
    assert found(applied(scene, [AddStep("body", "follows", later)]), "without effect")


def test_a_step_that_reads_what_is_muted_is_found() -> None:
    moves = PutKeys("body", "translation.x", (Key(0.0, 0.0), Key(60.0, 1.0)))
    scene = plain(
        moves,
        AddStep("foot", "lifts", FormulaSettings("translation.y", "{body.translation.x}")),
        AddPart("hat", id="hat"),
        AddStep("hat", "goes along", FormulaSettings("translation.y", "2 * {foot.translation.y}")),
    )
    assert not found(scene, "missing")
    lifts, along = (next(s for s in scene.steps.values() if s.name == name).id
                    for name in ("lifts", "goes along"))  # fmt: skip
    muted = applied(scene, [ChangeStep(lifts, on=False)])
    (one,) = found(muted, "missing", "hat")
    assert one.step == along and "“lifts” is muted" in one.text
    for offer in offers_of(evaluate(muted), one):
        assert not found(applied(muted, offer.edits), "missing")
    # What has keys, another step that is on, or nobody who reads it, is not missing.
    keyed = applied(muted, [PutKeys("foot", "translation.y", (Key(0.0, 1.0),))])
    other = AddStep("foot", "also", FormulaSettings("translation.y", "frame", "add"))
    for quiet in (keyed, applied(muted, [other]), applied(muted, [ChangeStep(along, on=False)])):
        assert not found(quiet, "missing")


def test_names_that_the_receiver_goes_by_and_no_part_has_are_found_and_chosen_anew() -> None:
    there, wrong = (
        Override("gusts", "by input", parts=("foot",), input="wind"),
        ("Fot", "body", "sail"),
    )
    overrides = (there, replace(there, parts=wrong), Override("steady", "hold", parts=("mast",)))
    off = replace(overrides[2], name="off", on=False)
    scene = plain(PutReceiver(Setup(overrides=(*overrides, off), inputs={"wind": 1.0})))
    both, steady = found(scene, "missing")
    assert (both.amount, both.what) == (2.0, "gusts") and "no part has: Fot, sail." in both.text
    assert steady.amount == 1.0 and steady.id != both.id
    another, less = offers_of(evaluate(scene), both)
    assert another.text == "choose foot for Fot"
    chosen, cleared = (applied(scene, offer.edits) for offer in (another, less))
    for mended, parts in (
        (chosen, (("foot", "body", "sail"), ("mast",))),
        (cleared, (("body",), ())),
    ):
        setup = mended.receivers["receiver"]
        now = tuple(replace(one, parts=x) for one, x in zip(overrides[1:], parts, strict=True))
        assert setup == Setup(overrides=(there, *now, off), inputs={"wind": 1.0})
    assert len(found(chosen, "missing")) == 2 and not found(cleared, "missing")
    assert [offer.kind for offer in offers_of(evaluate(scene), steady)] == ["take off"]


def test_a_switch_of_a_set_without_a_key_in_a_pose_is_found_and_keyed() -> None:
    poses = [moving_pose(channel) for channel in ("translation.x", "rotation.y", "rotation.z")]
    holds = (Key(0.0, 0.0, "hold"), Key(20.0, 1.0, "hold"))
    scene = plain(
        *poses,
        AddChannel("body", "grips", "switch", id="c1"),
        PutKeys("body", "c1", holds),
    )
    assert not found(scene, "switch without key")
    scene = applied(scene, [PutSet("hand", parts=("foot",), channels=(ChannelRef("body", "c1"),))])
    (one,) = found(scene, "switch without key")
    assert one.spans == ((40, 40), (60, 60)) and "“hand”" in one.text
    mended = applied(scene, offers_of(evaluate(scene), one)[0].edits)
    assert not found(mended, "switch without key")
    ref = ChannelRef("body", "c1")
    a, b = (evaluate(s).channel(ref, "final") for s in (scene, mended))
    np.testing.assert_array_equal(a, b)


def moving_pose(channel: str) -> PutKeys:
    """Keys on 0, 20, 40, 60, and one on 50 if it is a position."""
    frames = (0, 20, 40, 50, 60) if channel.startswith("translation") else (0, 20, 40, 60)
    return PutKeys("foot", channel, tuple(Key(float(f), 0.1 * f) for f in frames))


def test_the_grid_stops_halts_and_motions_by_two_ways() -> None:
    between = plain(
        PutKeys("foot", "translation.x", (Key(2.5, 0.0), Key(30.0, 1.0), Key(80.0, 2.0)))
    )
    off = found(between, "off the grid")
    assert [(one.key, one.amount) for one in off] == [
        ("between frames", 1),
        ("outside the range", 1),
    ]
    for one in off:
        for offer in offers_of(evaluate(between), one):
            mended = found(applied(between, offer.edits), "off the grid")
            assert one.key not in {left.key for left in mended}

    late = plain(PutMarker(70.0, "fin"), PutMarker(30.0, "lands"))
    (one,) = found(late, "off the grid")
    assert one.amount == 1 and "“fin” stands outside the range on 70" in one.text
    longer = applied(late, offers_of(evaluate(late), one)[0].edits)
    assert longer.last == 70 and not found(longer, "off the grid")

    cut = plain(
        PutKeys("foot", "translation.y", (Key(0.0, 0.0, "linear"), Key(60.0, 3.0))),
        AddStep("foot", "floor", LimitSettings("translation.y", high=2.0)),
    )
    (one,) = found(cut, "outside stops")
    assert (
        one.amount == pytest.approx(1.0) and one.spans == ((41, 60),) and one.severity == "untidy"
    )
    assert not found(applied(cut, offers_of(evaluate(cut), one)[0].edits), "outside stops")

    swing = PutKeys("body", "rotation.y", (Key(0.0, -1.5, "linear"), Key(60.0, 4.5)))
    rows = AddRows("d1", (("foot", "translation.x"), ("foot", "translation.z")))
    mapped = Curve((Key(0.0, 2.0, "linear"), Key(3.0, 8.0)), after="straight on")
    scene = plain(swing, AddDriven("fan", "{body.rotation.y}", -9.0, 9.0, (0.0, 3.0), "d1"), rows)
    row = next(iter(scene.rows_of["d1"]))
    scene = applied(scene, [ChangeStep(row.id, settings=replace(row.settings, mapping=mapped))])
    (one,) = found(scene, "outside stops")
    assert one.amount == pytest.approx(1.5) and one.spans == ((0, 14), (46, 60))
    (offer,) = offers_of(evaluate(scene), one)
    assert offer.text == "add stops at -1.5 and 4.5 to fan"
    longer = applied(scene, offer.edits)
    assert longer.driven["d1"].stops == (-1.5, 0.0, 3.0, 4.5) and not found(longer, "outside stops")
    worlds = [evaluate(each).world("foot") for each in (scene, longer)]
    np.testing.assert_allclose(worlds[1], worlds[0], atol=1e-9)

    keys = (Key(0.0, 0.0), Key(20.0, 1.0, mode="joined"), Key(60.0, 2.0))
    halting = plain(PutKeys("foot", "translation.x", keys))
    (one,) = found(halting, "halt")
    assert one.frame == 20
    passed, moved = offers_of(evaluate(halting), one)
    assert not found(applied(halting, passed.edits), "halt")
    # Half of an even way is half of the time; what is there already is not moved.
    assert moved.cost.startswith("20 → 30: ")
    there = applied(halting, moved.edits)
    assert [key.frame for key in there.curves[ChannelRef("foot", "translation.x")].keys] == [
        0,
        30,
        60,
    ]
    assert not found(there, "halt")
    even = plain(PutKeys("foot", "translation.x", (keys[0], replace(keys[1], frame=30.0), keys[2])))
    (one,) = found(even, "halt")
    assert [offer.kind for offer in offers_of(evaluate(even), one)] == ["pass"]
    # However far away the neighbours are, nothing is looked at outside the range.
    far = (Key(-1e9, 0.0), Key(20.0, 1.5, mode="joined"), Key(1e9, 2.0))
    wide = plain(PutKeys("foot", "translation.x", far))
    (one,) = found(wide, "halt")
    made = applied(wide, offers_of(evaluate(wide), one)[-1].edits)
    assert [key.frame for key in made.curves[ChannelRef("foot", "translation.x")].keys][1] == 60
    # Two in a row stay in their order, with a frame for each.
    level = tuple(Key(f, v, mode="joined") for f, v in ((10.0, 0.5), (12.5, 0.6), (14.0, 0.7)))
    close = plain(PutKeys("foot", "translation.x", (keys[0], *level, Key(16.0, 2.0))))
    (one,) = found(close, "halt")
    made = applied(close, offers_of(evaluate(close), one)[-1].edits)
    frames = [key.frame for key in made.curves[ChannelRef("foot", "translation.x")].keys]
    assert frames == sorted(set(frames)) and len(frames) == 5 and not found(made, "halt")

    moves = (Key(0.0, 0.0), Key(60.0, 1.0))
    twice = plain(
        PutKeys("body", "translation.x", moves),
        AddStep("foot", "again", FormulaSettings("translation.x", "{body.translation.x}", "add")),
        PutKeys("foot", "translation.y", moves),
        AddLayer("more", "foot", id="l1"),
        PutKeys("foot", "l1:translation.y", moves),
    )
    both = found(twice, "moved twice")
    assert {one.what for one in both} == {"more", "again"}
    assert all(one.amount == pytest.approx(1.0) for one in both)
    for one in both:
        left = found(applied(twice, offers_of(evaluate(twice), one)[0].edits), "moved twice")
        assert one.what not in {other.what for other in left}
