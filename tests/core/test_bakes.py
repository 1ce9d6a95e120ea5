"""Bakes: what was seen, written out; stale by how much; nothing cut in silence."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest

from bindu.core.checks.registry import findings, offers_of
from bindu.core.clips.baking import baked_clip, baked_frames, leaving, worlds_on
from bindu.core.clips.motion import gap_between
from bindu.core.clips.standing import standing
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.bakes import PutBake, RemoveBake, TakeOver
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.lay_out import laid_out
from bindu.core.edits.parts import AddPart, MovePart, RemoveParts, RenamePart
from bindu.core.edits.patch import patch_between, patched
from bindu.core.edits.sets import PutSet, RemoveSet
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake, BakedCurve
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.core import seeds
from tests.demos import demo
from tests.wide import cases


def only(scene: Scene) -> Bake:
    """The one bake of a scene."""
    (bake,) = scene.bakes.values()
    return bake


def apart(found: Evaluation, bake: Bake) -> float:
    """How far a bake is from its source, metres, on the frames that it writes."""
    frames = baked_frames(bake.first, bake.last, bake.step)
    ours = baked_clip(bake).worlds[:, frames - bake.first]
    return float(
        gap_between(worlds_on(found, leaving(found.scene, bake), frames), ours).places.max()
    )


@pytest.mark.parametrize("name", ["ferry-crossing", "the-mooring", "the-water-beetles"])
def test_a_bake_is_what_was_seen_and_within_its_tolerance_in_fewer_keys(name: str) -> None:
    scene = demo(name)
    put = PutBake("out", scene.first, scene.last, "all parts")
    exact, rough = (only(applied(scene, [replace(put, tolerance=t)])) for t in (0.0, 0.002))
    found = evaluate(scene)
    assert apart(found, exact) < 1e-12
    assert apart(found, rough) <= 0.002

    def keys(bake: Bake) -> int:
        assert bake.made is not None
        return sum(len(curve.unpacked()[0]) for part in bake.made.parts for curve in part.curves)

    assert keys(rough) < 0.6 * keys(exact)
    text = write_scene(applied(scene, [put]))
    assert write_scene(read_scene(text)) == text
    assert only(read_scene(text)) == exact


@pytest.mark.parametrize(
    "name", ["ferry-crossing", "two-ferries", "the-mooring", "the-lamplighter"]
)
def test_a_bake_is_laid_out_as_a_scene_that_looks_and_moves_as_it_in_as_few_keys(name: str) -> None:
    put = PutBake("out", demo(name).first, demo(name).last, "all parts", tolerance=0.002)
    scene = applied(demo(name), [put])
    bake = only(scene)
    assert bake.made is not None
    made = read_scene(write_scene(laid_out(scene, bake)))
    clip, found = baked_clip(bake), evaluate(made)
    for part, seen in zip(bake.made.parts, clip.worlds, strict=True):
        ours, theirs = made.parts[made.part_ids[part.name]], scene.parts[part.part]
        assert (ours.shape, ours.side, ours.role) == (theirs.shape, theirs.side, theirs.role)
        np.testing.assert_allclose(
            np.broadcast_to(found.world(ours.id), seen.shape), seen, atol=1e-8
        )
    keys = sum(len(curve.keys) for curve in made.curves.values())
    written = (len(c.unpacked()[0]) for part in bake.made.parts for c in part.curves)
    assert 0 < keys <= sum(count for count in written if count > 1)
    assert [*made.markers] == [*scene.markers] and made.fps == scene.fps


def test_own_channels_are_laid_out_as_what_they_are_where_their_numbers_fit() -> None:
    gears = [Key(float(f), float(v), "hold") for f, v in enumerate([0, 1, 2, 2, 0])]
    edits: list[AnyEdit] = [
        AddPart("cart", id="p1"),
        AddChannel("p1", "gear", "choice", options=("slow", "middle", "quick"), id="c1"),
        AddChannel("p1", "lit", "switch", 1.0, id="c2", shows="brightness"),
        AddChannel("p1", "load", low=0.0, high=2.0, unit="t", id="c3"),
        AddChannel("p1", "still", default=2.5, low=1.0, unit="m", id="c4"),
        PutKeys("p1", "c1", tuple(gears)),
        PutKeys("p1", "c2", (Key(0.0, 1.0, "hold"), Key(3.0, 0.0, "hold"))),
        PutBake("out", 0, 20, "all parts"),
    ]
    scene = applied(Scene(name="rig", last=20), edits)
    made = laid_out(scene, only(scene))
    found, own = evaluate(made), {channel.name: channel for channel in made.channels.values()}
    for channel in scene.channels.values():
        ours = own[channel.name]
        like = replace(channel, id=ours.id, part=ours.part, position=ours.position)
        assert ours == like
        before = evaluate(scene).channel(ChannelRef("p1", channel.id), "final")
        after = found.channel(ChannelRef(ours.part, ours.id), "final")
        assert np.broadcast_to(after, 21).tolist() == np.broadcast_to(before, 21).tolist()
    # A range that is left, and a list that has become too short since, are given up.
    changed = replace(
        scene,
        channels={
            **scene.channels,
            "c1": replace(scene.channels["c1"], options=("slow", "quick")),
            "c4": replace(scene.channels["c4"], low=3.0, default=3.0),
        },
    )
    own = {c.name: c for c in laid_out(changed, only(scene)).channels.values()}
    assert (own["gear"].kind, own["gear"].options) == ("number", ())
    assert (own["still"].low, own["still"].unit) == (None, "m")


def test_random_rigs_are_baked_as_they_are() -> None:
    random = np.random.default_rng(5)
    seen: Counter[str] = Counter()
    for n in range(cases(15, 40)):
        kinds = seeds.drawn(random)
        scene = replace(seeds.seeded(random, *kinds), bakes={})
        if random.random() < 0.7:
            scene = applied(scene, [SetValue("p2", f"scale.{axis}", -1.5) for axis in "xyz"])
        chosen = tuple(sorted(p for p in scene.parts if random.random() < 0.7)) or ("p1",)
        step = 1 + n % 3
        put = PutBake("out", 2, 11, "by hand", parts=chosen, step=step)
        made = applied(scene, [put])
        found = evaluate(made)
        clip, bake = baked_clip(only(made)), only(made)
        frames = baked_frames(2, 11, step)
        places = worlds_on(found, leaving(made, bake), frames)[..., 3]
        ours = clip.worlds[:, frames - 2][..., 3]
        linear = worlds_on(found, list(scene.parts), frames)[..., :3]
        with np.errstate(invalid="ignore", divide="ignore"):
            axes = linear / np.linalg.norm(linear, axis=-2, keepdims=True)
            square = np.swapaxes(axes, -1, -2) @ axes - np.eye(3)
        # A shear above a part, which no rest and channels hold, moves what hangs on it.
        sheared = not np.all(np.abs(square) < 1e-9)
        seen["sheared"] += sheared
        if not sheared and "loops" not in kinds:
            np.testing.assert_allclose(ours, places, atol=1e-9)
            seen["exact"] += 1
        seen[f"step {step}"] += 1
    assert min(seen.values()) >= 3 and len(seen) == 5, seen


def rig(*more: AnyEdit) -> Scene:
    """A body with two joints in a row, keyed, and a set of them."""
    edits: list[AnyEdit] = [
        AddPart("body", id="body"),
        AddPart("hip", "body", "joint", rest=Rest((0.0, 1.0, 0.0), (0.0, 30.0, 0.0)), id="hip"),
        AddPart("knee", "hip", "joint", rest=Rest((0.0, -0.5, 0.0)), id="knee"),
        AddChannel("knee", "squash", id="c1"),
        PutKeys("knee", "c1", (Key(0.0, 0.0), Key(20.0, 1.0))),
        PutKeys("body", "translation.x", (Key(0.0, 0.0), Key(20.0, 3.0))),
        PutKeys("hip", "rotation.z", (Key(0.0, -30.0), Key(20.0, 40.0))),
        PutSet("legs", parts=("hip", "knee"), id="t1"),
        PutBake("out", 0, 20, id="k1"),
    ]
    return applied(Scene(name="rig", last=24), [*edits, *more])


def stands(scene: Scene) -> object:
    return standing(evaluate(scene), scene.bakes["k1"])


def test_it_says_when_it_is_stale_by_how_much_and_where() -> None:
    scene = rig()
    assert [part.name for part in baked_clip(only(scene)).parts] == ["hip", "knee"]
    assert stands(scene).state == "fresh"  # type: ignore[attr-defined]
    # What is outside of the span, or of the parts, changes nothing.
    for edit in (
        PutKeys("body", "translation.x", (Key(24.0, 9.0),)),
        SetValue("body", "visible", 0.0),
        AddPart("bell"),
    ):
        assert stands(applied(scene, [edit])).state in ("fresh", "stale")  # type: ignore[attr-defined]
    later = applied(scene, [AddPart("bell"), SetValue("body", "visible", 0.0)])
    assert stands(later).state == "fresh"  # type: ignore[attr-defined]
    moved = applied(scene, [PutKeys("body", "translation.x", (Key(10.0, 1.7),))])
    told = standing(evaluate(moved), moved.bakes["k1"])
    assert told.state == "stale" and told.gap is not None and told.frame is not None
    before, after = (evaluate(one).world("hip")[:21, 0, 3] for one in (scene, moved))
    far = np.abs(after - before)
    assert told.gap.places.max() == pytest.approx(far.max(), abs=1e-12)
    assert told.frame == int(np.argmax(far))
    fresh = applied(moved, [TakeOver("k1")])
    assert stands(fresh).state == "fresh"  # type: ignore[attr-defined]
    assert patched(fresh, patch_between(fresh, moved)) == moved
    squashed = applied(scene, [PutKeys("knee", "c1", (Key(10.0, 5.0),))])
    assert stands(squashed).state == "stale"  # type: ignore[attr-defined]
    renamed = applied(scene, [RenamePart("hip", "thigh")])
    assert stands(renamed).state == "stale"  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("edits", "text"),
    [
        ([AddPart("ankle", "knee", "joint")], "add ankle"),
        ([RemoveParts(("knee",))], "cut knee"),
        ([PutBake("out", 5, 20, id="k1")], "cut 5 frames"),
        ([PutBake("out", 0, 24, id="k1")], "add 4 frames"),
        (
            [PutBake("out", 4, 22, "by hand", parts=("body",), id="k1")],
            "cut hip, knee and",
        ),
    ],
)
def test_other_parts_or_another_length_ask_first(edits: list[AnyEdit], text: str) -> None:
    scene = applied(rig(), edits)
    assert stands(scene).state == "asks"  # type: ignore[attr-defined]
    with pytest.raises(Refusal, match=f"would {text}") as refused:
        applied(scene, [TakeOver("k1")])
    assert refused.value.code == "choice"
    assert stands(applied(scene, [TakeOver("k1", agreed=True)])).state == "fresh"  # type: ignore[attr-defined]


def test_what_leaves_with_a_set_or_by_hand_stays_when_these_go() -> None:
    scene = applied(rig(), [PutBake("out", 0, 20, "a set", set="t1", id="k1"), TakeOver("k1")])
    without = applied(scene, [RemoveSet("t1")])
    assert only(without).by == "by hand" and leaving(without, only(without)) == ("hip", "knee")
    assert stands(without).state == "fresh"  # type: ignore[attr-defined]
    text = write_scene(without)
    assert write_scene(read_scene(text)) == text
    for edit, told in (
        (PutBake("bad", 4, 3), "1 to 100,000 frames"),
        (PutBake("out", 0, 9), "there is a bake with this name"),
        (PutBake("bad", 0, 9, step=0), "every 1st to 1,000th"),
        (PutBake("bad", 0, 9, tolerance=-1.0), "from 0, which is every frame"),
        (PutBake("bad", 0, 90), "is no whole frame of the scene"),
        (PutBake("bad", 0, 9, "by hand"), "no parts leave"),
        (RemoveBake("k9"), "no bake with the identity 'k9'"),
    ):
        with pytest.raises(Refusal, match=told):
            applied(scene, [edit])
    hung = applied(rig(), [MovePart("hip", None, keep_place=True)])
    assert stands(hung).state in ("fresh", "stale")  # type: ignore[attr-defined]


def test_packed_curves_are_exact_and_spoiled_ones_are_told() -> None:
    random = np.random.default_rng(2)
    frames = np.array([-7, 0, 1, 90_000], dtype=np.int32)
    values = random.normal(0.0, 1e9, 4)
    curve = BakedCurve.of("scale.x", frames, values)
    back = curve.unpacked()
    np.testing.assert_array_equal(back[0], frames)
    np.testing.assert_array_equal(back[1], values)
    spoiled = ["", "!", curve.packed[:-8], BakedCurve.of("x", frames[::-1], values).packed]
    spoiled.append(BakedCurve.of("x", frames, values * np.nan).packed)
    for text in spoiled:
        with pytest.raises(Refusal):
            BakedCurve("scale.x", text).unpacked()


def test_what_no_bake_can_have_written_is_refused() -> None:
    made = only(rig()).made
    assert made is not None
    first = made.parts[0]
    spoiled = [
        (replace(made, parts=()), "no parts"),
        (replace(made, fps=0.0), "a rate that is none"),
        (replace(made, last=-1), "its span is none"),
        (replace(made, parts=(replace(first, parent=0),)), "must stand before it"),
        (replace(made, parts=(replace(first, parent=-1),)), "must stand before it"),
        (replace(made, parts=(replace(first, rest=Rest((1e99, 0, 0))),)), "within ±1e9"),
        (replace(made, parts=(replace(first, curves=(BakedCurve("x", "!"),)),)), "no packed curve"),
    ]
    for bad, text in spoiled:
        with pytest.raises(Refusal, match=text):
            applied(rig(), [PutBake("other", 0, 20, made=bad)])
    with pytest.raises(Refusal, match="no set with the identity 't9'"):
        applied(rig(), [PutBake("other", 0, 20, "by hand", "t9", ("hip",))])


def test_a_stale_bake_is_found_and_taken_over() -> None:
    moved = applied(rig(), [PutKeys("body", "translation.x", (Key(10.0, 1.7),))])
    (finding,) = findings(evaluate(moved), ["stale bake"])
    assert "mm" in finding.text and finding.frame == stands(moved).frame  # type: ignore[attr-defined]
    (offer,) = offers_of(evaluate(moved), finding)
    assert not findings(evaluate(applied(moved, offer.edits)), ["stale bake"])
    cut = applied(rig(), [RemoveParts(("knee",))])
    (finding,) = findings(evaluate(cut), ["stale bake"])
    assert "would cut knee" in finding.text
    follows = applied(moved, [PutBake("out", 0, 20, follows=True, id="k1")])
    assert not findings(evaluate(follows), ["stale bake"])
    assert not findings(evaluate(rig()), ["stale bake"])
