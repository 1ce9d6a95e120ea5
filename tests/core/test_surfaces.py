"""Surfaces: what each step does, what an order comes to, and cages that cannot be."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from bindu.core.account.surface_points import point_account
from bindu.core.checks.registry import findings, offers_of
from bindu.core.comparing.surface_orders import TYPICAL, orders_apart, what_differs
from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.deforms import (
    AddDeform,
    ChangeDeform,
    OrderDeforms,
    PutShape,
    RemoveDeform,
    RemoveShape,
    SetWeights,
    SmoothWeights,
    WeighByDistance,
)
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart, RemoveParts, RenamePart
from bindu.core.edits.patch import patch_between, patched
from bindu.core.edits.steps import AddStep
from bindu.core.edits.surfaces import ChangeSurface, MakeSurface, PutSurface, RemoveSurface
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings, Vector
from bindu.core.scene.surfaces import BendByJoints, BlendShapes, Face, JointWeights
from bindu.core.surface.bend import weights_of
from bindu.core.surface.deforming import deformed, in_world
from bindu.core.surface.mesh import checked_cage, mesh_of, mixed
from bindu.core.surface.solids import Solid, solid_cage
from bindu.core.surface.subdivision import divided
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.demos import demo

JOINTS = ("j1", "j2", "j3")


def arm(*more: AnyEdit) -> Scene:
    """A body that goes and turns, three joints in a row below it, and a tube over them."""
    edits: list[AnyEdit] = [
        AddPart("body", rest=Rest((0.2, 1.0, -0.3), (0.0, 40.0, 0.0)), id="body"),
        PutKeys("body", "translation.x", (Key(0.0, 0.0), Key(20.0, 3.0))),
        PutKeys("body", "rotation.y", (Key(0.0, 0.0), Key(20.0, 70.0))),
        MakeSurface("skin", "body", "tube", (2.0, 0.4, 0.3), (0.0, 0.0, 0.0), (6, 6, 1), id="f1"),
    ]
    for n, joint in enumerate(JOINTS):
        rest = Rest((-0.8, 0.0, 0.0) if n == 0 else (0.7, 0.0, 0.0), (0.0, 0.0, 5.0 * n))
        edits.append(AddPart(joint, JOINTS[n - 1] if n else "body", "joint", rest=rest, id=joint))
        edits.append(PutKeys(joint, "rotation.z", (Key(0.0, 0.0), Key(20.0, 25.0 + 10.0 * n))))
    return applied(Scene(name="arm", last=20), [*edits, *more])


def shown(scene: Scene, frame: int, order: list[str] | None = None) -> Array:
    """The finished points in the world on a frame, shape (P, 3)."""
    found = evaluate(scene)
    form = deformed(found, scene.surfaces["f1"], [frame], order)[-1].form
    return in_world(form, found, scene.surfaces["f1"])[0]


def naive_catmull_clark(
    points: Array, faces: list[Face]
) -> tuple[dict[object, Array], set[object]]:
    """Catmull-Clark read off the paper, with dictionaries, point by point: new points by what they
    come from, and the new faces as sets of these."""
    centre = {
        ("face", n): np.mean([points[p] for p in face], axis=0) for n, face in enumerate(faces)
    }
    sides: dict[frozenset[int], list[int]] = {}
    for n, face in enumerate(faces):
        for a, b in zip(face, (*face[1:], face[0]), strict=True):
            sides.setdefault(frozenset((a, b)), []).append(n)
    made: dict[object, Array] = dict(centre)
    for edge, beside in sides.items():
        ends = [points[p] for p in edge]
        more = [centre["face", n] for n in beside] if len(beside) == 2 else []
        made[edge] = np.mean([*ends, *more], axis=0)
    for p, point in enumerate(points):
        edges = [edge for edge in sides if p in edge]
        rim = [edge for edge in edges if len(sides[edge]) == 1]
        around = [n for n, face in enumerate(faces) if p in face]
        if rim:
            others = [points[next(iter(edge - {p}))] for edge in rim]
            made[p] = 0.75 * point + 0.125 * sum(others) if len(rim) == 2 else point
            continue
        valence = len(edges)
        q = np.mean([centre["face", n] for n in around], axis=0)
        r = np.mean([np.mean([points[e] for e in edge], axis=0) for edge in edges], axis=0)
        made[p] = (q + 2.0 * r + (valence - 3.0) * point) / valence
    quads: set[object] = set()
    for n, face in enumerate(faces):
        for behind, p, ahead in zip(
            (face[-1], *face[:-1]), face, (*face[1:], face[0]), strict=True
        ):
            quads.add(frozenset((p, frozenset((p, ahead)), ("face", n), frozenset((behind, p)))))
    return made, quads


@st.composite
def cages(draw: st.DrawFn) -> tuple[tuple[Vector, ...], tuple[Face, ...]]:
    """Solids with moved points, of which some faces may be missing, so that there are holes."""
    solid: Solid = draw(st.sampled_from(("box", "tube", "ball", "sheet")))
    numbers = draw(st.tuples(st.integers(1, 4), st.sampled_from((6, 1, 3, 5)), st.integers(1, 4)))
    points, faces = solid_cage(solid, (1.0, 2.0, 1.5), (0.1, 0.2, 0.3), (*map(float, numbers),))
    gone = draw(st.sets(st.integers(0, len(faces) - 1), max_size=max(len(faces) // 3, 0)))
    left = [face for n, face in enumerate(faces) if n not in gone] or list(faces)
    used = sorted({p for face in left for p in face})
    place = {p: n for n, p in enumerate(used)}
    seed = draw(st.integers(0, 10**6))
    moved = np.array(points)[used] + np.random.default_rng(seed).normal(0.0, 0.1, (len(used), 3))
    return tuple(map(tuple, moved.tolist())), tuple(tuple(place[p] for p in f) for f in left)


@given(cages())
def test_subdivision_is_what_the_paper_says(
    cage: tuple[tuple[Vector, ...], tuple[Face, ...]],
) -> None:
    points, faces = checked_cage(*cage)
    mesh = mesh_of(len(points), faces)
    fine, smooth, flat = divided(mesh)
    made, quads = naive_catmull_clark(np.array(points), list(faces))
    edges = [frozenset(edge.tolist()) for edge in mesh.edges[0]]
    keys: list[object] = [*range(len(points)), *edges, *(("face", n) for n in range(len(faces)))]
    ours = mixed(smooth, np.array([points]))[0]
    assert fine.count == len(keys) == len(ours)
    np.testing.assert_allclose(ours, np.array([made[key] for key in keys]), atol=1e-12)
    assert {frozenset(keys[p] for p in face) for face in fine.faces} == quads
    checked_cage([tuple(p) for p in ours.tolist()], fine.faces)
    # Flat, nothing changes its form: old points stay, new ones lie in the middle.
    still = mixed(flat, np.array([points]))[0]
    np.testing.assert_allclose(still[: len(points)], points)
    for shares in (smooth, flat):
        np.testing.assert_allclose(np.asarray(shares.sum(axis=1)).ravel(), 1.0)
        assert shares.min() >= -1e-15


def test_the_random_cages_hold_what_they_should() -> None:
    counts: Counter[str] = Counter()

    @settings(max_examples=100, deadline=None, database=None, derandomize=True)
    @given(cages())
    def count(cage: tuple[tuple[Vector, ...], tuple[Face, ...]]) -> None:
        mesh = mesh_of(len(cage[0]), cage[1])
        edges, of_corner = mesh.edges
        beside = np.bincount(of_corner, minlength=len(edges))
        rims = np.bincount(edges[beside == 1].ravel(), minlength=mesh.count)
        counts["closed" if np.all(beside == 2) else "with a rim"] += 1
        counts["two rims meet in a point"] += bool(np.any(rims > 2))
        counts["faces of more than four"] += any(len(face) > 4 for face in mesh.faces)
        counts["triangles"] += any(len(face) == 3 for face in mesh.faces)
        counts["five around a point or three"] += bool({3, 5} & set(np.bincount(edges.ravel())))

    count()
    assert all(n >= 3 for n in counts.values()) and len(counts) == 6, counts


def test_a_cube_goes_where_it_is_known_to_go() -> None:
    points, faces = solid_cage("box", (2.0, 2.0, 2.0), (0.0, 0.0, 0.0), (1, 1, 1))
    assert (len(points), len(faces)) == (8, 6)
    mesh, made = mesh_of(8, faces), np.array([points])
    for counts in ((26, 24), (98, 96)):
        mesh, smooth, _ = divided(mesh)
        made = mixed(smooth, made)
        assert (mesh.count, len(mesh.faces)) == counts
        corner = np.abs(made[0, 0])
    assert np.allclose(corner, corner[0])
    # The limit of a point with three edges: (n²V + 4ΣE + ΣF) / n(n + 5), here by the first round.
    first = mixed(divided(mesh_of(8, faces))[1], np.array([points]))[0]
    limit = (
        9 * first[0] + 4 * first[[8, 9, 10]].sum(axis=0) + first[[20, 22, 24]].sum(axis=0)
    ) / 24
    for _ in range(5):
        mesh, smooth, _ = divided(mesh)
        made = mixed(smooth, made)
    assert np.abs(np.abs(made[0, 0]) - np.abs(limit).mean()).max() < 2e-4


def test_a_bend_is_the_sum_that_its_paper_says() -> None:
    scene = arm(AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"), RemoveDeform("f1", "d1"))
    found, surface = evaluate(scene), scene.surfaces["f1"]
    step = surface.step("d3")
    assert isinstance(step, BendByJoints)
    weights = weights_of(step.joints, len(surface.points))
    np.testing.assert_allclose(weights.sum(axis=1), 1.0, atol=1e-8)
    assert np.count_nonzero(weights, axis=1).max() <= 4
    home = {"body": np.eye(4)}
    for part in ("body", *JOINTS):
        rest, own = scene.parts[part].rest, np.eye(4)
        order = scene.parts[part].rotation_order
        own[:3, :3] = Rotation.from_euler(order, rest.rotation, degrees=True).as_matrix()
        own[:3, 3] = rest.translation
        above = scene.parts[part].parent
        home[part] = home[above] @ own if above else own
    frame = 13
    expected = np.zeros((len(surface.points), 3))
    for p, point in enumerate(surface.points):
        start = home["body"] @ np.array([*point, 1.0])
        for j, joint in enumerate(JOINTS):
            at = np.vstack([found.world(joint)[frame], [0, 0, 0, 1]])
            expected[p] += (weights[p, j] * at @ np.linalg.inv(home[joint]) @ start)[:3]
    np.testing.assert_allclose(shown(scene, frame), expected, atol=1e-9)
    # On the rest pose it stands as it was made, wherever the body is.
    away = replace(scene, curves={r: c for r, c in scene.curves.items() if r.part == "body"})
    still = shown(away, frame)
    np.testing.assert_allclose(still, shown(away, frame, ["d2"]), atol=1e-9)


def test_shapes_displacement_and_weights_are_their_closed_forms() -> None:
    scene = arm(
        RemoveDeform("f1", "d1"),
        AddDeform("f1", "blend shapes", "shapes", id="d3"),
        PutShape("f1", "d3", "fat", (0, 1, 5), (0.1, 0.2, -0.3), "h1"),
        PutShape("f1", "d3", "thin", (5,), (0.0, -1.0, 0.0), "h2"),
        SetValue("body", "f1.d3.h1", 0.25),
        SetValue("body", "f1.d3.h2", -2.0),
        SetValue("body", "f1.d3.weight", 0.5),
    )
    cage = np.array(scene.surfaces["f1"].points)
    found, surface = evaluate(scene), scene.surfaces["f1"]
    made = deformed(found, surface, [0])[1].form.points[0] - cage
    np.testing.assert_allclose(made[0], 0.125 * np.array([0.1, 0.2, -0.3]), atol=1e-12)
    np.testing.assert_allclose(made[5], [0.0125, 0.025 + 1.0, -0.0375], atol=1e-12)
    assert not made[[2, 3, 4, 6]].any()
    ball = applied(
        Scene(),
        [
            AddPart("ball", id="body"),
            MakeSurface("skin", "body", "ball", (2.0, 2.0, 2.0), (0, 0, 0), (6, 6, 6), id="f1"),
            RemoveDeform("f1", "d1"),
            AddDeform("f1", "displace", "waves", id="d3"),
            ChangeDeform("f1", "d3", axis=(0.0, 2.0, 0.0)),
            SetValue("body", "f1.d3.amplitude", 0.1),
            SetValue("body", "f1.d3.length", 0.7),
            SetValue("body", "f1.d3.shift", 0.3),
        ],
    )
    points = np.array(ball.surfaces["f1"].points)
    np.testing.assert_allclose(np.linalg.norm(points, axis=1), 1.0, atol=1e-12)
    waves = 0.1 * np.sin(2 * np.pi * (points[:, 1] / 0.7 - 0.3))
    far = np.linalg.norm(shown(ball, 0), axis=1) - 1.0
    # The normals of a ball's cage point outwards as well as its faces are small.
    np.testing.assert_allclose(far, waves, atol=0.1 * 0.02)
    noisy = applied(ball, [ChangeDeform("f1", "d3", form="noise", seed=4)])
    depth = (np.linalg.norm(shown(noisy, 0), axis=1) - 1.0) / 0.1
    assert np.abs(depth).max() <= 1.0 and depth.std() > 0.1
    other = applied(noisy, [ChangeDeform("f1", "d3", seed=5)])
    assert not np.allclose(shown(noisy, 0), shown(other, 0))


def test_a_weight_goes_half_way_and_muted_is_nothing() -> None:
    more = [
        AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"),
        AddDeform("f1", "displace", "ripples", id="d4"),
        SetValue("body", "f1.d4.amplitude", 0.05),
    ]
    scene = arm(*more)
    for step, kind in (("d1", "subdivide"), ("d3", "bend"), ("d4", "displace"), ("d2", "carry")):
        none, half, full = (
            shown(applied(scene, [SetValue("body", f"f1.{step}.weight", value)]), 9, [step])
            for value in (0.0, 0.5, 1.0)
        )
        np.testing.assert_allclose(half, (none + full) / 2.0, atol=1e-12, err_msg=kind)
        assert not np.allclose(none, full), kind
    muted = applied(scene, [ChangeDeform("f1", "d4", on=False)])
    np.testing.assert_array_equal(shown(muted, 9), shown(scene, 9, ["d1", "d3", "d2"]))


def test_what_orders_come_to_is_as_told() -> None:
    """Every pair of kinds: the two orders differ, unless the words say that they never do."""
    more = [
        AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"),
        AddDeform("f1", "displace", "ripples", id="d4"),
        SetValue("body", "f1.d4.amplitude", 0.05),
        AddDeform("f1", "blend shapes", "shapes", id="d5"),
        PutShape("f1", "d5", "fat", tuple(range(12, 30)), (0.0, 0.1, 0.05), "h1", 0.1),
        SetValue("body", "f1.d5.h1", 1.0),
    ]
    scene = arm(*more)
    found, surface = evaluate(scene), scene.surfaces["f1"]
    steps = {step.kind: step.id for step in surface.steps}
    for (first, second), (here, there) in TYPICAL.items():
        one, other = [steps[first], steps[second]], [steps[second], steps[first]]
        apart = orders_apart(found, surface, range(21), one, other)
        assert (apart.worst < 1e-9) == (here == there), (first, second, apart)
        (text,) = what_differs(surface, one, other)
        assert here in text and there in text
    frames = range(21)
    same = orders_apart(found, surface, frames, ["d1", "d3", "d2"], ["d1", "d3", "d2"])
    assert (same.mean, same.worst) == (0.0, 0.0)
    one, other = ["d3", "d1", "d2"], ["d1", "d3", "d2"]
    apart = orders_apart(found, surface, frames, one, other)
    by_hand = np.stack([shown(scene, f, one) - shown(scene, f, other) for f in frames])
    far = np.linalg.norm(by_hand, axis=2)
    assert (apart.mean, apart.worst) == pytest.approx((far.mean(), far.max()), abs=1e-12)
    assert far[apart.frame, apart.point] == pytest.approx(apart.worst)
    with pytest.raises(Refusal, match="only one of the orders"):
        orders_apart(found, surface, frames, ["d1"], ["d3"])


def test_a_point_is_accounted_for() -> None:
    scene = demo("the-mooring")
    found, surface = evaluate(scene), scene.surfaces["f1"]
    made = deformed(found, surface, [40])
    for point in (0, 99, 150, 390):
        account = point_account(found, surface, point, 40)
        assert sum(share for _, share in account.made_of) == pytest.approx(1.0)
        for before, after in zip(account.steps, account.steps[1:], strict=False):
            assert after.before == pytest.approx(before.after)
        np.testing.assert_allclose(account.steps[-1].after, made[-1].form.points[0, point])
        assert [one.step and one.step.name for one in account.steps] == [
            None, "shapes", "bend", "ripples", "subdivide", "carry",
        ]  # fmt: skip
        assert account.steps[-1].moved is None and account.steps[-1].world
    with pytest.raises(Refusal, match="there is no point 5000"):
        point_account(found, surface, 5000, 40)


SQUARE: tuple[Vector, ...] = ((0, 0, 0), (1, 0, 0), (1, 0, 1), (0, 0, 1), (0.5, 1, 0.5))
BAD_CAGES: list[tuple[tuple[Vector, ...], tuple[Face, ...], str]] = [
    ((), (), "points: a cage has at least three points"),
    (SQUARE, ((0, 1, 2, 3),), "point 4: it belongs to no face"),
    (SQUARE, ((0, 1, 2), (0, 1, 5), (2, 3, 4)), "face 1: there is no point 5"),
    (SQUARE, ((0, 1),), "face 0: a face has 3 to 16 corners, not 2"),
    (SQUARE, ((0, 1, 1, 2),), "face 0: one point is two corners"),
    (SQUARE, ((0, 1, 2, 3), (1, 0, 4), (0, 1, 4)), "edge 0 – 1: it belongs to three faces"),
    (SQUARE, ((0, 1, 2, 3), (0, 1, 4)), "face 1: it is turned against face 0"),
    (((0, 0, 0), (1, 0, 0), (float("nan"), 0, 1)), ((0, 1, 2),), "point 2: its numbers"),
    (((0, 0, 0),) * 2001, ((0, 1, 2),), "points: a cage has at most 2,000 points"),
]


@pytest.mark.parametrize(("points", "faces", "text"), BAD_CAGES)
def test_cages_that_cannot_be_are_refused_by_what_is_at_fault(
    points: tuple[Vector, ...], faces: tuple[Face, ...], text: str
) -> None:
    scene = applied(Scene(), [AddPart("body", id="body")])
    with pytest.raises(Refusal, match=text):
        PutSurface("skin", "body", points, faces).apply(scene)


def test_edits_that_mean_nothing_are_refused_and_say_why() -> None:
    scene = arm(AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"))
    bad: list[tuple[AnyEdit, str]] = [
        (MakeSurface("skin", "body"), "there is a surface with this name"),
        (MakeSurface("two", "body", divisions=(1.5, 3.0, 1.0)), "1 to 60 faces each way, not 1.5"),
        (MakeSurface("two", "body", "tube", divisions=(2.0, 2.0, 1.0)), "3 to 16 sides, not 2"),
        (MakeSurface("two", "body", size=(0.0, 1.0, 1.0)), "a size is above 0"),
        (AddDeform("f1", "carry"), "it is carried once"),
        (AddDeform("f1", "bend by joints", "more", ("gone",)), "no part with the identity 'gone'"),
        (ChangeDeform("f1", "d3", rounds=2), "bend by joints has no rounds"),
        (ChangeDeform("f1", "d1", rounds=3), "once or twice"),
        (ChangeDeform("f1", "d1", name="bend"), "two of its steps or shapes have this name"),
        (OrderDeforms("f1", ("d1", "d2")), "an order names each of its steps once"),
        (PutShape("f1", "d3", "fat", (0,), (1, 0, 0)), "bend by joints has no such thing"),
        (SetWeights("f1", "d3", "j1", (99,), 0.5), "there is no point 99"),
        (SetWeights("f1", "d3", "j1", (1,), 1.5), "a weight is from 0 to 1"),
        (SetWeights("f1", "d3", "body", (1,), 0.5), "it does not bend by this joint"),
        (WeighByDistance("f1", "d3", ()), "choose 1 to 200 joints"),
        (ChangeSurface("f1", colour="red"), "#RRGGBB"),
        (RemoveDeform("f1", "d9"), "no step with the identity 'd9'"),
    ]
    for edit, text in bad:
        with pytest.raises(Refusal, match=text):
            applied(scene, [edit])
    with pytest.raises(Refusal, match="at most 2 times"):
        applied(scene, [ChangeDeform("f1", "d1", rounds=2), AddDeform("f1", "subdivide")])


def test_weights_by_hand_share_out_the_rest() -> None:
    scene = arm(AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"))

    def rows(scene: Scene) -> Array:
        step = scene.surfaces["f1"].step("d3")
        assert isinstance(step, BendByJoints)
        return weights_of(step.joints, len(scene.surfaces["f1"].points))

    before = rows(scene)
    after = rows(applied(scene, [SetWeights("f1", "d3", "j2", (0, 20), 0.7)]))
    np.testing.assert_allclose(after[[0, 20], 1], 0.7)
    np.testing.assert_allclose(after.sum(axis=1), 1.0, atol=1e-8)
    assert after[20, 0] / after[20, 2] == pytest.approx(before[20, 0] / before[20, 2], rel=1e-5)
    np.testing.assert_allclose(
        np.delete(after, [0, 20], axis=0), np.delete(before, [0, 20], 0), atol=1e-8
    )
    wholly = applied(scene, [SetWeights("f1", "d3", "j1", (3,), 1.0)])
    with pytest.raises(Refusal, match="point 3: no other joint holds it"):
        applied(wholly, [SetWeights("f1", "d3", "j1", (3,), 0.5)])
    smooth = rows(applied(scene, [SmoothWeights("f1", "d3", 4)]))
    assert np.abs(np.diff(smooth[::6, 1])).max() < np.abs(np.diff(before[::6, 1])).max()


def test_what_goes_takes_only_its_own_with_it() -> None:
    scene = arm(
        AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"),
        AddDeform("f1", "blend shapes", "shapes", id="d4"),
        PutShape("f1", "d4", "fat", (1,), (0, 0.1, 0), "h1"),
        PutKeys("body", "f1.d4.h1", (Key(0.0, 0.0), Key(20.0, 1.0))),
        AddPart("dial", id="dial"),
    )
    reads = FormulaSettings("translation.x", "{body.skin.fat} * 2")
    read = applied(scene, [AddStep("dial", "shows", reads, id="s9")])
    with pytest.raises(Refusal, match="read by “shows” of dial"):
        applied(read, [RemoveShape("f1", "d4", "h1")])
    without = applied(scene, [RemoveShape("f1", "d4", "h1")])
    assert not any(ref.channel.startswith("f1.") for ref in without.curves)
    fewer = applied(scene, [RemoveParts(("j3",))])
    step = fewer.surfaces["f1"].step("d3")
    assert isinstance(step, BendByJoints) and [one.joint for one in step.joints] == ["j1", "j2"]
    assert not applied(scene, [RemoveParts(("body",))]).surfaces
    gone = applied(scene, [RemoveSurface("f1")])
    assert not gone.surfaces and not any(ref.channel.startswith("f1.") for ref in gone.curves)
    assert patched(gone, patch_between(gone, scene)) == scene
    twice = applied(scene, [DuplicatePart("body")])
    (copy,) = (one for one in twice.surfaces.values() if one.id != "f1")
    bend = next(one for one in copy.steps if isinstance(one, BendByJoints))
    assert copy.name == "skin 2" and {one.joint for one in bend.joints}.isdisjoint(JOINTS)
    assert all(one.joint in twice.parts for one in bend.joints)
    assert (copy.part, f"{copy.id}.d4.h1") in twice.curves
    renamed = applied(read, [RenamePart("j2", "elbow"), ChangeSurface("f1", name="hide")])
    for made in (scene, twice, renamed):
        text = write_scene(made)
        assert write_scene(read_scene(text.encode())) == text
        assert read_scene(text.encode()).surfaces == made.surfaces
    assert "{body.hide.fat} * 2" in write_scene(renamed)


def test_weights_that_do_not_sum_to_one_are_shared_out_and_found() -> None:
    scene = arm(AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"))
    surface = scene.surfaces["f1"]
    step = surface.step("d3")
    assert isinstance(step, BendByJoints)

    def skin(factor: float) -> Scene:
        joints = tuple(
            JointWeights(one.joint, tuple((p, w * factor) for p, w in one.weights if p != 7))
            for one in step.joints
        )
        bent = replace(step, joints=joints)
        steps = tuple(bent if one.id == "d3" else one for one in surface.steps)
        made = replace(surface, steps=steps)
        put = PutSurface(made.name, made.part, made.points, made.faces, made.steps, id="f1")
        return applied(scene, [put])

    np.testing.assert_allclose(shown(skin(1.0), 9), shown(skin(3.0), 9), atol=1e-12)
    found = evaluate(skin(3.0))
    loose, sums = findings(found, ["skin"])
    assert "1 point by no joint, point 7 first" in loose.text and loose.amount == 1.0
    assert "42 points" not in sums.text and "do not sum to 1" in sums.text
    assert sums.amount == pytest.approx(2.0)
    for finding in (loose, sums):
        (offer,) = offers_of(found, finding)
        mended = applied(found.scene, offer.edits)
        assert not findings(evaluate(mended), ["skin"])


def test_points_far_away_and_nothing_scaled_make_numbers_or_stay() -> None:
    scene = arm(
        AddDeform("f1", "bend by joints", "bend", JOINTS, "d3"),
        AddDeform("f1", "displace", "ripples", id="d4"),
        SetValue("body", "translation.y", 1e8),
        SetValue("body", "scale.x", -1.0),
        SetValue("body", "scale.y", 0.2),
        SetValue("body", "f1.d4.shift", 1e6),
    )
    assert np.all(np.isfinite(shown(scene, 9)))
    blend = scene.surfaces["f1"].step("d1")
    assert not isinstance(blend, BlendShapes)
