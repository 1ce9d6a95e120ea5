"""What cannot be bound is refused with its place and what to do; reads are retaken by kind."""

from __future__ import annotations

import math
import re
from dataclasses import replace

import numpy as np
import pytest

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied, label_of
from bindu.core.edits.binding import Bind, MeasureOffset
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.leads import KeyLead, PutLead, RemoveLead
from bindu.core.edits.parts import AddPart, RemoveParts
from bindu.core.edits.relations import GiveMotion, MoveRoot, PutWhere, TurnAbout, WriteOut
from bindu.core.edits.rereading import Reread
from bindu.core.edits.spaces import (
    KeepPlaces,
    MoveHandover,
    PickAndCarry,
    RemoveHandover,
    SwitchSpace,
)
from bindu.core.edits.steps import AddStep, ChangeStep, MoveStep, RemoveStep
from bindu.core.evaluation import evaluate
from bindu.core.nodes.identity import Read
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    BindingSettings,
    ConstraintSettings,
    FollowSettings,
    FormulaSettings,
    Handover,
    PathPoint,
    PathSettings,
    Space,
    SpaceSettings,
    Target,
)
from bindu.core.steps.registry import reads_of
from tests.core.troubles import troubles

NAMES = {"p1": "boat", "p2": "buoy", "p3": "post", "p4": "flag"}
BUOY, POST = Target("p2"), Target("p3")
NOWHERE = (math.nan, 0.0, 0.0)
SLIDE = (Key(0.0, 0.0, "linear"), Key(10.0, 5.0, "linear"))


def marsh(*edits: AnyEdit) -> Scene:
    """Boat, buoy and post; the flag hangs on the boat, the buoy slides."""
    parts = [AddPart(name, "p1" if key == "p4" else None, id=key) for key, name in NAMES.items()]
    return applied(Scene(last=10), [*parts, PutKeys("p2", "translation.x", SLIDE), *edits])


def position(*targets: Target, **more: object) -> ConstraintSettings:
    """A position constraint."""
    return ConstraintSettings(targets, kind="position", **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("settings", "reason"),
    [
        (position(), "targets: choose at least one target."),
        (position(Target("p1")), "targets: boat cannot be a target of its own"),
        (position(BUOY, BUOY), "targets: buoy is a target twice; give it more weight."),
        (position(Target("p9")), "targets: there is no part with the identity 'p9' any more."),
        (position(*(Target(f"p{n}") for n in range(101))), "targets: has at most 100 targets."),
        (position(Target("p2", "finall")), "targets: 'finall' is no tap."),  # type: ignore[arg-type]
        (position(BUOY, offset=NOWHERE), "offset: must be numbers within ±1e9."),
        (position(BUOY, axes=()), "axes: choose at least one of x, y, z"),
        (position(BUOY, axes=("z", "x")), "axes: choose at least one of x, y, z, in this order."),
        (position(BUOY, read=Space("part")), "read space: choose the part whose space it is."),
        (position(BUOY, write=Space("part", "p1")), "written space: boat cannot be a space of its"),
        (ConstraintSettings((BUOY,), ("x",)), "axes: a full constraint carries all axes"),
        (AimSettings((BUOY,), axis=(0.0, 0.0, 0.0)), "axis: a direction needs some length."),
        (AimSettings((BUOY,), up_axis=(-2.0, 0.0, 0.0)), "up axis: must not lie along the axis"),
        (AimSettings((BUOY,), up="part"), "up part: choose the part that is up."),
        (AimSettings((BUOY,), up="part", up_part="p1"), "up part: a part cannot be up of itself"),
        (AimSettings((BUOY,), up_direction=(0.0, 0.0, 0.0)), "up direction: a direction needs"),
        (PathSettings((PathPoint("p2"),)), "points: a path needs 2 to"),
        (PathSettings((PathPoint("p2"), PathPoint("p1"))), "points[1]: a part cannot be on a path"),
        (PathSettings((PathPoint("p2"), PathPoint("p2"))), "points[1]"),
        (FollowSettings(), "part: boat has no parent that it could follow; give it one."),
        (SpaceSettings(("0",)), "spaces: a list of spaces has 2 to 100 of them."),
        (SpaceSettings(("0", "p2", "0")), "spaces: world is listed twice."),
        (SpaceSettings(("0", "p1")), "spaces: boat cannot be a space of its own"),
        (SpaceSettings(handovers=(Handover(2.0, blend=-1),)), "handovers: blends over 0 to"),
        (
            SpaceSettings(handovers=(Handover(2.0), Handover(2.0))),
            "handovers: must be in",
        ),
    ],
)
def test_bad_settings_are_refused_with_their_field(settings: BindingSettings, reason: str) -> None:
    with pytest.raises(Refusal) as refused:
        marsh(AddStep("p1", "bound", settings))
    assert str(refused.value).startswith(f"boat · bound · {reason}")


SPACED = SpaceSettings(("0", "p2"))
CARRIED = (AddStep("p1", "spaces", SPACED, id="s1"), SwitchSpace("s1", 4, "p2"))
SHARE = AddStep("p4", "share", FollowSettings(), id="s1")
TIE = AddStep("p1", "tie", position(BUOY), id="s1")
GROUP = PutLead("feet", "p1", ("p2", "p3"), "g1")


@pytest.mark.parametrize(
    ("before", "edit", "reason"),
    [
        ((), MeasureOffset("s1", 0), "no step with the identity 's1'"),
        (
            [AddStep("p4", "share", FollowSettings(), id="s1")],
            MeasureOffset("s1", 0),
            "share: only",
        ),
        (CARRIED, SwitchSpace("s1", 4, "p3"), "spaces: post is not in its list of spaces"),
        (CARRIED, SwitchSpace("s1", 40, "p2"), "frame 40 is no whole frame of the scene's range"),
        (CARRIED, MoveHandover("s1", 5, 6), "spaces: there is no handover on frame 5."),
        (CARRIED, RemoveHandover("s1", 5), "there is no handover on frame 5."),
        (CARRIED, KeepPlaces("s1"), "spaces: no handover jumps."),
        (CARRIED, KeepPlaces("s9"), "no step with the identity 's9'"),
        (
            [AddStep("p1", "tie", position(BUOY), id="s1")],
            KeepPlaces("s1"),
            "tie: it is no list of",
        ),
        ((), PickAndCarry("p1", "p2", 6, 2), "last: frame 2 does not lie behind 6."),
        ([GROUP], KeyLead("g1", 2, "p4"), "feet: flag is no member of it."),
        (
            [AddPart("left", id="p5"), GROUP],
            PutLead("feet", "p1", ("p1", "p5")),
            "feet: there is a lead group with this name",
        ),
        ([GROUP], PutLead("toes", "p1", ("p2", "p4")), "members: buoy is in the lead group feet"),
        ((), PutLead("mast", "p1", ("p1", "p4")), "members: flag hangs on boat and is carried"),
        ([GROUP], PutLead("feet", "p2", ("p2", "p3"), "g1"), "feet: its leads are channels of the"),
        ([GROUP], RemoveParts(("p1",), readers=True), "boat: who leads 'feet' is a channel of it"),
        ((), PutWhere("p1", "p2", 5, 3), "span: frame 3 lies before 5."),
        ((), KeyLead("g9", 0, None), "no lead group with the identity 'g9'"),
    ],
)
def test_what_cannot_be_done_says_why(before: list[AnyEdit], edit: AnyEdit, reason: str) -> None:
    scene = marsh(*before)
    with pytest.raises(Refusal, match=re.escape(reason)):
        edit.apply(scene)


ALL_KINDS: list[tuple[BindingSettings | FormulaSettings, Read]] = [
    (position(BUOY), Read("p2", "world position", "final")),
    (position(BUOY, write=Space("part", "p3")), Read("p3", "world matrix", "final")),
    (ConstraintSettings((BUOY, POST)), Read("p3", "world matrix", "final")),
    (AimSettings((BUOY,)), Read("p2", "world position", "final")),
    (AimSettings((BUOY,), up="part", up_part="p3"), Read("p3", "world position", "final")),
    (PathSettings((PathPoint("p2"), PathPoint("p3"))), Read("p3", "world position", "final")),
    (FollowSettings(), Read("p1", "world matrix", "final")),
    (SpaceSettings(("", "p2")), Read("p2", "world matrix", "final")),
    (FormulaSettings("scale.y", "{buoy.scale.y}"), Read("p2", "scale.y", "final")),
]


@pytest.mark.parametrize(("settings", "read"), ALL_KINDS, ids=lambda one: getattr(one, "kind", ""))
def test_every_kind_of_step_can_read_earlier(
    settings: BindingSettings | FormulaSettings, read: Read
) -> None:
    scene = marsh(AddStep("p4", "bound", settings, id="s1"))
    assert read in reads_of(scene, scene.steps["s1"])
    edit = Reread("s1", read.part, read.quantity, "final", to="driven")
    made = edit.apply(scene)
    reads = reads_of(made, made.steps["s1"])
    assert read not in reads and read._replace(tap="driven") in reads
    assert label_of(scene, [edit]) == f"let “bound” read {NAMES[read.part]} at driven"
    back = Reread("s1", read.part, read.quantity, "driven", to="final").apply(made)
    assert back == scene


IN_BUOY = Space("part", "p2")
READ_TWICE: list[tuple[BindingSettings, Read]] = [
    (ConstraintSettings((BUOY,), write=IN_BUOY), Read("p2", "world matrix", "final")),
    (position(BUOY, read=IN_BUOY), Read("p2", "world matrix", "final")),
    (position(BUOY, POST, read=IN_BUOY), Read("p2", "world matrix", "final")),
    (AimSettings((BUOY,), up="part", up_part="p2"), Read("p2", "world position", "final")),
    (
        PathSettings((PathPoint("p1", (1.0, 0.0, 0.0)), PathPoint("p2"))),
        Read("p1", "world matrix", "final"),
    ),
]


@pytest.mark.parametrize(("settings", "read"), READ_TWICE)
def test_what_a_step_reads_for_two_ends_is_read_elsewhere_for_both(
    settings: BindingSettings, read: Read
) -> None:
    scene = marsh(AddStep("p4", "bound", settings, id="s1"))
    made = Reread("s1", read.part, read.quantity, "final", to="driven").apply(scene)
    before, after = (reads_of(one, one.steps["s1"]) for one in (scene, made))
    assert read in before and read not in after
    assert read._replace(tap="driven") in after and len(after) == len(before)
    assert Reread("s1", read.part, read.quantity, "driven", to="final").apply(made) == scene


def test_surroundings_are_not_read_one_frame_back_beside_a_target() -> None:
    scene = marsh(AddStep("p4", "bound", READ_TWICE[0][0], id="s1"))
    edit = Reread("s1", "p2", "world matrix", "final", to_back=True)
    with pytest.raises(Refusal, match="bound: it cannot read this one frame back"):
        edit.apply(scene)


def test_only_what_is_read_at_that_tap_is_read_elsewhere() -> None:
    up_by_parent = AimSettings((BUOY,), up="part", up_part="p1", up_tap="driven")
    scene = marsh(AddStep("p4", "bound", up_by_parent, id="s1"))
    made = Reread("s1", "p1", "world matrix", "final", to="keyed").apply(scene)
    assert made.steps["s1"].settings == replace(up_by_parent, tap="keyed")
    with pytest.raises(Refusal, match="bound: it cannot read this at another tap"):
        Reread("s1", "p1", "world position", "final", to="keyed").apply(scene)


@pytest.mark.parametrize(
    ("edit", "label"),
    [
        (Bind("p1", "hold", position(BUOY), 0), "bind boat by “hold”, offset kept"),
        (AddStep("p1", "look", AimSettings((POST,))), "add aim “look”"),
        (MeasureOffset("s1", 3), "measure the offset of “tie” at 3"),
        (ChangeStep("s1", on=False), "mute “tie”"),
        (MoveStep("s1", "late"), "move “tie” to late"),
        (RemoveStep("s1"), "delete “tie”"),
        (SwitchSpace("s2", 6, "0"), "hand post over to world at 6"),
        (MoveHandover("s2", 4, 5), "move a handover of post 4 → 5"),
        (RemoveHandover("s2", 4), "delete the handover of post at 4"),
        (PickAndCarry("p3", "p1", 6, 8), "boat carries post from 6 to 8"),
        (KeyLead("g1", 2, "p3"), "post leads feet from 2"),
        (KeyLead("g1", 2, None), "nobody leads feet from 2"),
        (RemoveLead("g1"), "delete the lead group feet"),
        (TurnAbout(("p2", "p4"), 0, (1.0, 0.0, 0.0), (0.0, 90.0, 0.0)), None),
        (MoveRoot("p7", 0, 0, 10, (0.0, 1.0, 0.0)), None),
        (GiveMotion("p7"), None),
        (WriteOut("p1", 0, 10), None),
    ],
)
def test_an_edit_says_what_it_does_and_leaves_the_rest(edit: AnyEdit, label: str | None) -> None:
    """By its label, with names; and what it does not touch is the same object after it."""
    spaces = AddStep("p3", "spaces", SPACED, id="s2")
    feet = (AddPart("left", id="p5"), PutLead("feet", "p2", ("p3", "p5"), "g1"))
    raft = (AddPart("raft", id="p7"), AddPart("oar", "p7"), PutKeys("p7", "translation.z", SLIDE))
    scene = marsh(TIE, spaces, SwitchSpace("s2", 4, "p2"), *feet, *raft)
    said = label_of(scene, [edit])
    assert (
        said == label
        if label
        else any(name in said for name in ("raft", "boat", "buoy and 1 more"))
    )
    made = edit.apply(scene)
    assert made != scene
    assert made.parts["p5"] is scene.parts["p5"]


def test_what_makes_no_number_is_found_and_the_rest_goes_on() -> None:
    """A target scaled to nothing, weights of nothing, an aim at itself, a path without a way."""
    nothing = [SetValue("p3", f"scale.{axis}", 0.0) for axis in "xyz"]
    same = PathSettings((PathPoint("p3"), PathPoint(None)), along=True)
    scene = marsh(
        AddStep("p1", "turns", ConstraintSettings((POST,), kind="rotation"), id="s1"),
        AddStep("p2", "rides", SpaceSettings(("p3", "0")), id="s2"),
        AddStep("p4", "looks", AimSettings((Target("p1"),)), id="s3"),
        AddStep("p4", "glides", same, id="s4"),
        *nothing,
    )
    evaluation = evaluate(scene)
    told = {found.step: found for found in troubles(evaluation)}
    assert set(told) == {"s1", "s2", "s3", "s4"}
    for found in told.values():
        assert (
            found.frame == 0 and "first on 0; held there at the value that came in." in found.text
        )
    assert told["s3"].text.endswith("move the target away or give a target some weight.")
    assert told["s4"].text.endswith("so that it has no direction; move one of them.")
    for part in scene.parts:
        assert np.isfinite(evaluation.world(part)).all()
