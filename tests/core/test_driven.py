"""Driven keys: mappings against SciPy, stops, capture, mirrors, and what is odd."""

from __future__ import annotations

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline

from bindu.core.curves.model import Array, Key
from bindu.core.drivers.sheets import mapping_of, sheet_of
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.driven import (
    AddDriven,
    CaptureStop,
    ChangeDriven,
    MirrorDriven,
    PutStop,
    RemoveDriven,
    RemoveStop,
    ScaleStop,
)
from bindu.core.edits.keys import KeyChange, PutKeys
from bindu.core.edits.parts import AddPart, RemoveParts, RenamePart
from bindu.core.edits.rows import AddRows, Cell, CopyRows, PutCells, RemoveRows, ShapeRows
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_named
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings

STOPS = (0.0, 2.5, 6.0, 10.0)
CELLS = (0.0, 18.0, 61.0, 92.0)
HINGE = ChannelRef("p2", "rotation.z")


def gangway(*more: AnyEdit) -> Scene:
    """A quay whose *landing* runs from -2 to 12 over frames 0 to 56 and lifts two boards."""
    return applied(
        Scene(),
        [
            ChangeScene(name="gangway", last=56),
            AddPart("quay", id="p1"),
            AddPart("left board", "p1", side="left", rest=Rest((-1, 0, 0)), id="p2"),
            AddPart("right board", "p1", side="right", rest=Rest((1, 0, 0)), id="p3"),
            AddChannel("p1", "landing", id="c1"),
            PutKeys("p1", "c1", (Key(0.0, -2.0, "linear"), Key(56.0, 12.0))),
            AddDriven("lower", "{quay.landing}", 0.0, 10.0, STOPS, "d1"),
            AddRows("d1", (HINGE,)),
            PutCells(tuple(Cell("s1", *one) for one in zip(STOPS, CELLS, strict=True))),
            *more,
        ],
    )


def values(scene: Scene, name: str = "left board.rotation.z", tap: Tap = "driven") -> Array:
    """A channel over the range."""
    found = evaluate(scene)
    return np.broadcast_to(found.channel(channel_named(scene, name), tap), (57,))


LANDING = np.linspace(-2.0, 12.0, 57)


def test_linear_rows_are_those_of_interp_held_or_straight_on_outside() -> None:
    held = values(gangway(ShapeRows(("s1",), interpolation="linear")))
    np.testing.assert_allclose(held, np.interp(LANDING, STOPS, CELLS), atol=1e-9)
    on = values(gangway(ShapeRows(("s1",), None, "linear", None, "straight on", "straight on")))
    below, above = LANDING < 0.0, LANDING > 10.0
    np.testing.assert_allclose(on[below], 7.2 * LANDING[below], atol=1e-9)
    np.testing.assert_allclose(on[above], 92.0 + 7.75 * (LANDING[above] - 10.0), atol=1e-9)
    np.testing.assert_array_equal(on[~below & ~above], held[~below & ~above])


@given(st.lists(st.floats(-90.0, 90.0), min_size=4, max_size=4))
def test_smooth_rows_are_cubic_hermite_splines(cells: list[float]) -> None:
    scene = gangway(PutCells(tuple(Cell("s1", *o) for o in zip(STOPS, cells, strict=True))))
    keys = mapping_of(scene.steps["s1"]).keys
    slopes = [np.tan(np.radians(key.right.angle)) for key in keys]
    spline = CubicHermiteSpline(STOPS, cells, slopes)
    expected = spline(np.clip(LANDING, 0.0, 10.0))
    np.testing.assert_allclose(values(scene), expected, atol=1e-6)


def test_rows_hold_a_value_until_the_next_stop() -> None:
    found = values(gangway(ShapeRows(("s1",), interpolation="hold")))
    place = np.searchsorted(STOPS, np.clip(LANDING, 0.0, 10.0), side="right") - 1
    np.testing.assert_array_equal(found, np.array(CELLS)[place])


def test_several_sets_add_in_their_order_unless_told_otherwise() -> None:
    second = [
        AddDriven("swell", "frame", 0.0, 56.0, (0.0, 56.0), "d2"),
        AddRows("d2", (HINGE,)),
        PutCells((Cell("s2", 56.0, 10.0),)),
        ShapeRows(("s2",), interpolation="linear"),
    ]
    alone, ramp = values(gangway()), np.linspace(0.0, 10.0, 57)
    scene = gangway(*second)
    np.testing.assert_allclose(values(scene), alone + ramp, atol=1e-9)
    np.testing.assert_allclose(
        values(applied(scene, [ShapeRows(("s2",), mode="scale")])), alone * ramp, atol=1e-9
    )
    np.testing.assert_allclose(
        values(applied(scene, [ShapeRows(("s2",), mode="set")])), ramp, atol=1e-9
    )


@given(st.floats(0.1, 9.9).map(lambda x: round(x, 3)))
def test_a_new_stop_keeps_the_shape_and_goes_again(at: float) -> None:
    scene = gangway()
    if at in STOPS:
        return
    more = applied(scene, [PutStop("d1", at)])
    assert more.driven["d1"].stops == tuple(sorted((*STOPS, at)))
    np.testing.assert_allclose(values(more), values(scene), atol=1e-9)
    fewer = applied(more, [RemoveStop("d1", at)])
    assert fewer.driven["d1"].stops == STOPS


def test_a_stop_moves_with_all_its_cells() -> None:
    scene = gangway(AddRows("d1", (ChannelRef("p3", "translation.y"),)))
    moved = applied(scene, [PutStop("d1", 4.0, old=6.0), ScaleStop("d1", 4.0, 0.5, ("s1",))])
    assert moved.driven["d1"].stops == (0.0, 2.5, 4.0, 10.0)
    for row, value in (("s1", 30.5), ("s2", 0.0)):
        key = mapping_of(moved.steps[row]).key_at(4.0)
        assert key is not None
        assert key.value == value


def test_capture_brings_the_pose_whatever_else_drives_it() -> None:
    scene = gangway(
        SetValue("p2", "rotation.z", 7.0),
        AddStep("p2", "sway", FormulaSettings("rotation.z", "0.1 * frame", "add")),
        CaptureStop("d1", 6.0, 30.0, (("p2", "rotation.z", 50.0),)),
    )
    key = mapping_of(scene.steps["s1"]).key_at(6.0)
    assert key is not None
    assert key.value == pytest.approx(50.0 - 7.0 - 3.0, abs=1e-9)
    held = applied(scene, [ChangeDriven("d1", driver="6")])
    assert values(held)[30] == pytest.approx(50.0, abs=1e-9)
    with pytest.raises(Refusal, match=r"right board\.rotation\.z: it has no row in lower"):
        applied(scene, [CaptureStop("d1", 6.0, 30.0, (("p3", "rotation.z", 1.0),))])
    with pytest.raises(Refusal, match="a later step sets the channel"):
        still = AddStep("p2", "still", FormulaSettings("rotation.z", "3"))
        applied(scene, [still, CaptureStop("d1", 6.0, 30.0, (("p2", "rotation.z", 1.0),))])


def test_a_mirrored_set_drives_the_other_side_and_back() -> None:
    scene = gangway(MirrorDriven("d1", "lower right"))
    np.testing.assert_allclose(values(scene, "right board.rotation.z"), -values(scene))
    alone = applied(scene, [RemoveDriven("d1"), MirrorDriven("d2", "lower")])
    np.testing.assert_array_equal(values(alone), values(gangway()))
    copied = gangway(CopyRows(("s1",), ("p3",)))
    np.testing.assert_array_equal(values(copied, "right board.rotation.z"), values(copied))
    with pytest.raises(Refusal, match="none of its rows is on a part with an opposite"):
        applied(gangway(), [RemoveRows(("s1",)), MirrorDriven("d1", "lower right")])


def test_the_driver_goes_by_identity_and_its_part_is_missed() -> None:
    scene = gangway(RenamePart("p1", "pier"))
    np.testing.assert_array_equal(values(scene), values(gangway()))
    apart = gangway(AddPart("far pier", id="p9"), AddChannel("p9", "landing", id="c9"))
    apart = applied(apart, [ChangeDriven("d1", driver="{far pier.landing}")])
    with pytest.raises(Refusal, match="“lower” of left board"):
        applied(apart, [RemoveParts(("p9",))])
    left = applied(apart, [RemoveParts(("p9",), readers=True)])
    assert not left.driven
    assert not left.steps


def test_a_driver_that_its_own_row_drives_is_a_loop_and_the_rest_is_evaluated() -> None:
    scene = gangway(AddRows("d1", (ChannelRef("p1", "c1"),)))
    looped = evaluate(scene)
    assert len(looped.graph.loops) == 1
    assert looped.graph.loops[0].reader.stage.name == "s2"
    assert np.isfinite(looped.channel(HINGE, "final")).all()


def test_a_driver_without_a_finite_number_holds_the_row() -> None:
    scene = gangway(SetValue("p2", "rotation.z", 7.0), ChangeDriven("d1", driver="1 / (frame - 9)"))
    found = evaluate(scene)
    result = found.result(tap_node(scene, HINGE, "driven"))
    assert (result.broken_from, result.broken_frames) == (9, 1)
    assert found.channel(HINGE, "driven")[9] == 7.0


def test_what_is_odd_is_said() -> None:
    def said(*more: AnyEdit) -> list[str]:
        scene = gangway(*more)
        return [f.text for f in sheet_of(evaluate(scene), scene.driven["d1"], 4.2).findings]

    assert said() == ["The driver leaves the stops on 16 frames, first on 0 (-2)."]
    flat = said(AddRows("d1", (ChannelRef("p3", "translation.y"),)))
    assert flat[-1] == "right board.translation.y is flat: 0m at every stop."
    back = said(PutCells((Cell("s1", 10.0, 20.0),)))
    assert re.fullmatch(r"left board\.rotation\.z turns back near [56]\.\d+\.", back[-1])
    jump = said(ShapeRows(("s1",), (2.5,), "hold"))
    assert jump[-1] == "left board.rotation.z jumps by 43° at 6."
    late = said(PutCells((Cell("s1", 2.5, 0.0),)))
    assert late[-1] == "left board.rotation.z barely moves until 2.5 and then by 92°."
    one = said(*(RemoveStop("d1", stop) for stop in STOPS[1:]))
    assert one[0] == "There is one stop only: every row is the same everywhere."


def test_the_sheet_is_what_the_rows_make_of_the_driver() -> None:
    scene = gangway(ShapeRows(("s1",), interpolation="linear"))
    sheet = sheet_of(evaluate(scene), scene.driven["d1"], 4.2)
    (row,) = sheet.rows
    np.testing.assert_allclose(row.values, np.interp(sheet.inputs, STOPS, CELLS), atol=1e-9)
    assert row.now == pytest.approx(np.interp(4.2, STOPS, CELLS))
    np.testing.assert_allclose(sheet.driver, LANDING, atol=1e-9)


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (AddDriven("lower"), "there are driven keys with this name already"),
        (AddDriven("x", stops=(1.0, 1.0)), "different stops"),
        (AddDriven("x", stops=()), "different stops"),
        (AddDriven("x", low=2.0, high=2.0), "must go up"),
        (AddDriven("x", "{quay.landin}"), "x · driver: column 7"),
        (AddRows("d1", ()), "choose the channels"),
        (AddRows("d7", (HINGE,)), "there is no set 'd7'"),
        (PutStop("d1", 6.0), "there is a stop at 6 already"),
        (PutStop("d1", float("nan")), "must be a number"),
        (RemoveStop("d1", 7.0), "there is no stop at 7"),
        (PutCells((Cell("s1", 7.0, 1.0),)), "there is no stop at 7"),
        (PutCells((Cell("s9", 6.0, 1.0),)), "no step with the identity 's9'"),
        (ShapeRows(("s1",), changes=(KeyChange(6.0, 7.0),)), "move the stop instead"),
        (ShapeRows(("s1",), before="repeat"), "holds or goes straight on, not repeat"),
        (CopyRows(("s1",), ("p77",)), "no part with the identity 'p77'"),
    ],
)
def test_what_cannot_be_done_is_refused(edit: AnyEdit, says: str) -> None:
    with pytest.raises(Refusal, match=re.escape(says)):
        applied(gangway(), [edit])
