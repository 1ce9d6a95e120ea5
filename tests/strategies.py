"""Random scenes, made of edits, for property tests."""

from __future__ import annotations

from benchmarks.generated import DOT
from hypothesis import strategies as st

from bindu.core.curves.eases import EASES
from bindu.core.curves.model import Key, Tangent
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.checks import AcceptFinding, SetCheck
from bindu.core.edits.continuous import MakeAnglesContinuous
from bindu.core.edits.driven import (
    AddDriven,
    ChangeDriven,
    PutStop,
    RemoveDriven,
    RemoveStop,
    ScaleStop,
)
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.formulas import ChangeNumber, CopyFormula, LiftNumber
from bindu.core.edits.keying import KeyChannels, KeyValue, SetChannels
from bindu.core.edits.keys import ChangeKeys, InsertKey, KeyChange, PutKeys, RemoveKeys, SetOutside
from bindu.core.edits.layers import (
    AddLayer,
    ChangeLayer,
    HoldChannel,
    MergeLayer,
    MoveLayer,
    RemoveLayer,
)
from bindu.core.edits.leads import KeyLead, PutLead, RemoveLead
from bindu.core.edits.limbs import PutLimb, RemoveLimb
from bindu.core.edits.matching import (
    MatchLimbs,
    MendSwitch,
    MoveSwitch,
    RemoveSwitch,
    SwitchLimbs,
)
from bindu.core.edits.parts import AddPart, MovePart, RemoveParts, RenamePart
from bindu.core.edits.place import PlacePart, RestFromPose
from bindu.core.edits.plants import PlantPart
from bindu.core.edits.poses import ResetChannels, SetDefaultPose
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.references import PutReference
from bindu.core.edits.retime import (
    DeleteKeys,
    InsertFrames,
    KeyPick,
    MeetEnds,
    MoveKeys,
    ScaleTime,
    ScaleValues,
    SetInterpolation,
    SetTangents,
    TakeOutFrames,
)
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.edits.rows import AddRows, Cell, CopyRows, PutCells, ShapeRows
from bindu.core.edits.scene import ChangeRate, ChangeScene, SetUnits
from bindu.core.edits.sets import PairParts, PutMarker, PutSet
from bindu.core.edits.shapers import WriteOutShaper
from bindu.core.edits.spaces import (
    KeepPlaces,
    MoveHandover,
    PickAndCarry,
    RemoveHandover,
    SwitchSpace,
)
from bindu.core.edits.steps import AddStep, ChangeStep, MoveStep, RemoveStep
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import (
    SHAPERS,
    AimSettings,
    ConstraintSettings,
    FollowSettings,
    FormulaSettings,
    LimitSettings,
    PathPoint,
    PathSettings,
    PlantSettings,
    PlantSpan,
    Space,
    SpaceSettings,
    Target,
)

FRAMES = 20
numbers = st.floats(-50.0, 50.0, allow_nan=False).map(lambda x: round(x, 3))
frames = st.integers(0, FRAMES).map(float)
orders = st.sampled_from(["xyz", "xzy", "yxz", "yzx", "zxy", "zyx"])
interpolations = st.sampled_from(["hold", "linear", *["smooth"] * 4, *EASES])
outsides = st.sampled_from(["hold", "straight on", "repeat", "repeat with offset", "mirror"])
vectors = st.tuples(numbers, numbers, numbers)


@st.composite
def keys(draw: st.DrawFn) -> Key:
    """A key with any interpolation and tangents."""
    angle = draw(st.floats(-85.0, 85.0))
    return Key(
        draw(frames),
        draw(numbers),
        draw(interpolations),
        Tangent(angle, draw(st.floats(0.0, 30.0))),
        Tangent(angle, draw(st.floats(0.0, 30.0))),
        draw(st.sampled_from(["smart", "joined", "broken"])),
    )


def curves(least: int = 2) -> st.SearchStrategy[tuple[Key, ...]]:
    """Keys of one curve, on different frames."""
    found = st.lists(keys(), min_size=least, max_size=6, unique_by=lambda key: key.frame)
    return found.map(lambda some: tuple(sorted(some, key=lambda key: key.frame)))


@st.composite
def formulas(draw: st.DrawFn, scene: Scene) -> str:
    """A formula that reads random channels at random taps; it may close a loop."""
    part = draw(st.sampled_from(sorted(scene.parts)))
    other = draw(st.sampled_from(sorted(scene.parts)))
    channel = draw(st.sampled_from(sorted(scene.channel_ids(part))))
    name = channel_name(scene, ChannelRef(part, channel))
    here, there = scene.parts[part].name, scene.parts[other].name
    tap = draw(st.sampled_from(["", "@keyed", "@driven", "@late", "@final"]))
    factor = draw(numbers)
    return draw(
        st.sampled_from(
            [
                f"{factor} * {{{here}.{name}{tap}}} + 1",
                f"sin({factor} * frame) + {{{here}.{name}{tap}}}",
                f"distance({{{here}{tap}}}, {{{there}}}) / {factor}",
                f"world_x({{{here}{tap}}}) - travelled({{{there}}})",
                f"speed({{{there}{tap}}}) % 3",
            ]
        )
    )


@st.composite
def edits(draw: st.DrawFn, scene: Scene) -> AnyEdit:
    """An edit that may or may not fit the scene."""
    if not scene.parts:
        return AddPart("root")
    part = draw(st.sampled_from(sorted(scene.parts)))
    channel = draw(st.sampled_from(TRANSFORM_CHANNELS))
    kind = draw(st.integers(0, 19))
    name = f"thing {draw(st.integers(1, 60))}"
    if kind >= 16:
        return draw(wide_edits(scene, part, channel, name))
    if kind <= 2:
        rest = Rest(draw(vectors), draw(vectors))
        return AddPart(
            name, draw(st.sampled_from([None, part])), rest=rest, rotation_order=draw(orders)
        )
    if kind == 3:
        return RenamePart(part, name)
    if kind == 4:
        return MovePart(part, draw(st.sampled_from([None, *sorted(scene.parts)])))
    if kind == 5:
        return draw(st.sampled_from([RemoveParts((part,)), DuplicatePart(part)]))
    if kind == 6:
        return AddChannel(part, name, default=draw(numbers))
    if kind == 7:
        return SetValue(part, channel, draw(numbers))
    if kind == 8:
        return PutKeys(part, channel, draw(curves(1)))
    if kind == 9:
        return SetOutside(part, channel, draw(outsides), draw(outsides))
    if kind == 10:
        return InsertKey(part, channel, draw(frames))
    if kind == 11:
        change = KeyChange(draw(frames), draw(frames), draw(numbers))
        return draw(
            st.sampled_from(
                [ChangeKeys(part, channel, (change,)), RemoveKeys(part, channel, (change.frame,))]
            )
        )
    if kind == 12:
        return ChangeScene(last=draw(st.integers(5, FRAMES)))
    if kind in (13, 14) or not scene.steps:
        zone = draw(st.sampled_from([None, "driven", "late"]))
        settings = FormulaSettings(
            channel, draw(formulas(scene)), draw(st.sampled_from(["set", "add", "scale"]))
        )
        limit = LimitSettings(channel, -draw(st.floats(0.0, 9.0)), draw(st.floats(0.0, 9.0)))
        return AddStep(part, name, *draw(st.sampled_from([(settings, zone), (limit, None)])))
    step = draw(st.sampled_from(sorted(scene.steps)))
    return draw(
        st.sampled_from(
            [
                ChangeStep(step, on=draw(st.booleans())),
                MoveStep(
                    step,
                    draw(st.sampled_from(["driven", "late", "final"])),
                    draw(st.integers(0, 3)),
                ),
                RemoveStep(step),
            ]
        )
    )


@st.composite
def wide_edits(draw: st.DrawFn, scene: Scene, part: str, channel: str, name: str) -> AnyEdit:
    """An edit of layers, sets, markers, poses, places or many keys."""
    frame = draw(frames)
    layer = draw(st.sampled_from([None, *sorted(scene.layers)]))
    other = draw(st.sampled_from(sorted(scene.parts)))
    held = sorted(scene.curves) or [ChannelRef(part, channel)]
    picks = tuple(KeyPick(*ref) for ref in draw(st.lists(st.sampled_from(held), max_size=2)))
    value = draw(numbers)
    group = draw(st.sampled_from(["all", "rotation", "own channels"]))
    made: list[AnyEdit] = [
        AddLayer(name, part, draw(st.sampled_from(["add", "replace"]))),
        KeyChannels(frame, (ChannelRef(part, channel),), layer),
        KeyValue(frame, ((part, channel, value),), layer),
        SetChannels(frame, ((part, channel, value),), layer),
        PutSet(name, parts=(part,), channels=(ChannelRef(other, channel),)),
        PutMarker(frame, name),
        PairParts(part, other),
        ResetChannels((part,), group, frame, layer=layer),
        SetDefaultPose((part, other), frame),
        RestFromPose((part,), frame, draw(st.booleans()), draw(st.booleans())),
        ChangeRotationOrder(part, draw(orders), draw(st.sampled_from(["on keys", "leave"]))),
        PlacePart((part,), frame, draw(vectors), draw(vectors), layer=layer),
        MovePart(part, other, keep_place=True),
        MoveKeys(picks, draw(frames), value, draw(st.booleans())),
        ScaleTime(picks, frame, draw(st.sampled_from([-1.0, 0.5, 2.0]))),
        ScaleValues(picks, value, draw(st.sampled_from(["left", "average", "default"]))),
        SetTangents(picks, draw(st.sampled_from(["join", "break", "flat", "linear", "smart"]))),
        SetInterpolation(picks, "hold", True),
        DeleteKeys(picks),
        InsertFrames(frame, 2.0, None, draw(st.booleans())),
        TakeOutFrames(frame, 2.0),
        MeetEnds(picks),
        MakeAnglesContinuous((part, other)),
        AcceptFinding("pop", part, channel, name, abs(value), (int(frame), int(frame) + 2)),
        AcceptFinding("pop", part, channel, name, cause=f"{channel} - rotation"),
        SetCheck("pop", draw(st.booleans()), (("times", abs(value)),)),
        ChangeRate(12.0),
        SetUnits("cm", "turns"),
        PutReference(name, DOT, frame, None, 0.5, "behind"),
    ]
    shaper = SHAPERS[draw(st.sampled_from(sorted(SHAPERS)))](channel)
    made.append(AddStep(part, name, shaper, draw(st.sampled_from(["keyed", "late"]))))
    made += [WriteOutShaper(step, 0.1) for step in sorted(scene.steps)[:2]]
    made += draw(driven_edits(scene, part, channel, name))
    stands = draw(st.sampled_from([(), ((2, 4),), ((7, 9), (-3, 1), (8, 8))]))
    made.append(PutProbe(name, part, draw(vectors), draw(st.booleans()), None, stands=stands))
    made += draw(binding_edits(scene, part, other, name))
    for step in sorted(scene.steps)[:2]:
        made += [
            CopyFormula(step, (other,), draw(st.sampled_from(["stay", "own part", "by name"]))),
            ChangeNumber(step, 0, value, draw(st.booleans())),
            LiftNumber(step, 0, other, name),
        ]
    for one in sorted(scene.layers):
        made += [
            ChangeLayer(one, on=draw(st.booleans()), solo=draw(st.booleans())),
            MoveLayer(one, 0),
            HoldChannel(one, part, channel, frame),
            MergeLayer(one),
            SetValue(scene.layers[one].part, f"{one}.weight", 0.5),
            RemoveLayer(one),
        ]
    return draw(st.sampled_from(made))


@st.composite
def binding_edits(draw: st.DrawFn, scene: Scene, part: str, other: str, name: str) -> list[AnyEdit]:
    """Edits of constraints, spaces and lead groups."""
    tap = draw(st.sampled_from(["final", "driven", "bound"]))
    targets = tuple(
        Target(t, tap, draw(st.booleans()))
        for t in draw(st.sampled_from([(other,), (other, None), (None,)]))
    )
    frame, offset = int(draw(frames)), draw(vectors)
    space = draw(st.sampled_from([Space(), Space("parent"), Space("local"), Space("part", other)]))
    members = tuple(sorted(scene.parts)[:3])
    choices: list[AnyEdit] = [
        AddStep(part, name, settings, draw(st.sampled_from(["bound", "late"])))
        for settings in (
            ConstraintSettings(targets, ("x", "z"), offset, space, space, kind="position"),
            ConstraintSettings(targets, ("y",), offset, space, kind="rotation"),
            ConstraintSettings(targets, offset=(2.0, 1.0, 1.0), kind="scale"),
            ConstraintSettings(targets, read=space, write=space, kind="full"),
            AimSettings(targets, up=draw(st.sampled_from(["none", "direction"]))),
            PathSettings((PathPoint(point=offset), PathPoint(other), PathPoint(point=(9, 9, 9)))),
            FollowSettings(("translation", "rotation", "scale")),
            SpaceSettings(("", "0", other)),
            PlantSettings("height", (PlantSpan(int(frame), int(frame) + 3, int(frame) + 1),)),
        )
    ]
    choices += [
        PickAndCarry(part, other, frame, frame + 3, keep=draw(st.sampled_from(["offset", "keys"]))),
        PutLead(name, part, members),
        PlantPart(part, frame, frame + 4, entry=2, exit=0),
    ]
    for lead in sorted(scene.leads):
        choices += [
            KeyLead(lead, frame, draw(st.sampled_from([None, *members]))),
            PutLead(name, scene.leads[lead].part, members[::-1][:2], lead),
            RemoveLead(lead),
        ]
    for limb in scene.limbs.values():
        choices += [
            PutLimb(name, limb.part, limb.chain, other, axis=offset, offset=offset, id=limb.id),
            RemoveLimb(limb.id),
            MatchLimbs((limb.id,), draw(st.sampled_from(["fk", "ik"])), frame),
            SwitchLimbs((limb.id,), draw(st.sampled_from(["fk", "ik"])), frame),
            MoveSwitch(limb.id, frame, frame + 1),
            MendSwitch(limb.id, frame),
            RemoveSwitch(limb.id, frame),
        ]
    for step in scene.steps_of.get(part, ()):
        if isinstance(step.settings, SpaceSettings):
            choices += [
                SwitchSpace(step.id, frame, draw(st.sampled_from(step.settings.spaces)), blend=1),
                MoveHandover(step.id, frame, frame + 1),
                RemoveHandover(step.id, frame),
                KeepPlaces(step.id),
            ]
    return draw(st.lists(st.sampled_from(choices), min_size=6, max_size=12))


@st.composite
def driven_edits(
    draw: st.DrawFn, scene: Scene, part: str, channel: str, name: str
) -> list[AnyEdit]:
    """Edits of driven keys."""
    made: list[AnyEdit] = [AddDriven(name, draw(formulas(scene)), -2.0, 5.0, (0.0, 1.0, 4.0))]
    value, stop = draw(numbers), draw(st.sampled_from([0.0, 1.0, 2.5, 4.0]))
    for one, driven in sorted(scene.driven.items()):
        mode = draw(st.sampled_from(["set", "add", "scale"]))
        made += [
            *[AddRows(one, (ChannelRef(part, channel),), mode)] * 3,
            ChangeDriven(one, name, draw(formulas(scene))),
            PutStop(one, value, draw(st.sampled_from([None, stop]))),
            RemoveStop(one, stop),
            ScaleStop(one, stop, value),
            RemoveDriven(one),
        ]
        for row in scene.rows_of.get(driven.id, ()):
            made += [
                PutCells((Cell(row.id, stop, value),)),
                ShapeRows((row.id,), None, draw(interpolations), after="straight on"),
                CopyRows((row.id,), (part,)),
            ]
    return made


@st.composite
def histories(draw: st.DrawFn, most: int = 14) -> list[Scene]:
    """The scenes that a random sequence of edits passes through; refused edits are left out."""
    scene = applied(Scene(), [ChangeScene(name="random", last=FRAMES), AddPart("root")])
    passed = [scene]
    for _ in range(draw(st.integers(1, most))):
        try:
            scene = draw(edits(scene)).apply(scene)
        except Refusal:
            continue
        passed.append(scene)
    return passed
