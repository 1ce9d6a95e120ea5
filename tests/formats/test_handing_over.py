"""Files out and in: what is sent is what is read back, by Bindu and by others; what others write is
read right or refused; nothing breaks on a damaged file."""

from __future__ import annotations

import json
import re
import shutil
import struct
import subprocess
import sys
import time
from collections import Counter
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh
from scipy.interpolate import CubicHermiteSpline
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.clips.baking import baked_clip
from bindu.core.clips.motion import MotionClip, MotionPart, gap_between, taken_apart
from bindu.core.curves.model import Array
from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.deforms import ChangeDeform
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.surface.deforming import deformed, in_world
from bindu.formats.bvh import read_bvh, write_bvh
from bindu.formats.gltf import read_gltf, write_gltf
from bindu.formats.onto import edits_onto
from bindu.formats.report import Report
from bindu.formats.sending import Format, send
from bindu.formats.table import read_table, write_table
from bindu.formats.taking_in import (
    chosen_clip,
    new_scene,
    read_file,
    scene_edits_of,
)
from bindu.formats.usd.layers import read_usd, write_usd
from tests.demos import RIGS, demo
from tests.formats.clips import mutated, random_clip
from tests.wide import cases

FRONT_END = Path(__file__).parents[2] / "frontend"
OTHERS = Path(__file__).parent / "read_with_others.mjs"


def in_order(back: MotionClip, clip: MotionClip) -> Array:
    """The worlds of a clip that was read, its parts in the order of the one that was sent; a file
    may list them otherwise."""
    names = [part.name for part in back.parts]
    assert sorted(names) == sorted(part.name for part in clip.parts)
    return back.worlds[[names.index(part.name) for part in clip.parts]]


def apart(one: MotionClip, other: MotionClip) -> tuple[float, float]:
    """The worst distance in shares of how far all reaches, at least 1 m, and the worst angle."""
    reach = max(1.0, float(np.abs(one.worlds[..., 3]).max()))
    gap = gap_between(one.worlds, in_order(other, one))
    return float(gap.places.max()) / reach, float(gap.turns.max())


def test_random_clips_come_back_as_they_went() -> None:
    random = np.random.default_rng(8)
    seen: Counter[str] = Counter()
    for n in range(cases(36, 120)):
        clip = random_clip(random, scaled=n % 2 == 0)
        for binary in (True, False):
            (back,) = read_gltf(write_gltf([clip], binary=binary), Report(""))
            assert apart(clip, back)[0] < 1e-5 and apart(clip, back)[1] < 1e-3
            np.testing.assert_array_equal(back.frames, clip.frames)
            assert (back.fps, back.events) == (pytest.approx(clip.fps), clip.events)
            np.testing.assert_array_equal(back.channels["a b.size"], clip.channels["a b.size"])
        (back,) = read_table(write_table(clip, Report("")), clip.fps, Report(""))
        np.testing.assert_allclose(in_order(back, clip), clip.worlds, rtol=1e-9, atol=1e-9)
        np.testing.assert_array_equal(back.channels["a b.size"], clip.channels["a b.size"])
        report = Report("")
        (back,) = read_bvh(write_bvh(clip, report), Report(""))
        if n % 2 == 0:
            assert any("scale of" in text for text in report.lost)
        else:
            assert apart(clip, back)[0] < 1e-12 and apart(clip, back)[1] < 1e-9
            assert back.fps == pytest.approx(clip.fps, rel=1e-9)
        seen["one frame"] += len(clip.frames) == 1
        seen["below 0"] += clip.frames[0] < 0
        seen["several roots"] += sum(p.parent is None for p in clip.parts) > 1
        seen["mirrored"] += bool(np.any(clip.scale < 0.0))
        seen[f"rate {clip.fps:.0f}"] += 1
    assert len(seen) == 4 + 5 and min(seen.values()) >= 3, seen


def test_a_clip_in_which_no_part_moves_keeps_its_name_its_frames_and_its_channels() -> None:
    random = np.random.default_rng(4)
    walk = random_clip(random, False, 5)
    # As most rigs stand: not turned, where no rounding makes a difference to the rest.
    parts = [replace(one, rest=np.eye(3, 4) + one.rest * [0, 0, 0, 1]) for one in walk.parts]
    walk = replace(walk, parts=tuple(parts))
    rests = np.stack([[part.rest] * 5 for part in walk.parts])
    translation, rotation, scale = taken_apart(rests)
    at_rest = replace(walk, name="stand", translation=translation, rotation=rotation, scale=scale)
    for clips in ([at_rest], [at_rest, walk]):
        back = read_gltf(write_gltf(clips), Report(""))[0]
        assert (back.name, back.fps, back.events) == ("stand", pytest.approx(walk.fps), walk.events)
        np.testing.assert_array_equal(back.frames, walk.frames)
        np.testing.assert_array_equal(back.channels["a b.size"], walk.channels["a b.size"])
        assert apart(at_rest, back)[0] < 1e-5 and apart(at_rest, back)[1] < 1e-3
    (back,) = read_usd(write_usd(at_rest, Report(""), "usda"), Report(""))
    np.testing.assert_array_equal(back.frames, walk.frames)
    np.testing.assert_allclose(back.channels["a b.size"], walk.channels["a b.size"])
    (back,) = read_bvh(write_bvh(at_rest, Report("")), Report(""))
    assert len(back.frames) == 5 and apart(at_rest, back)[0] < 1e-12


@pytest.mark.parametrize(("kind", "scaled"), [("usda", True), ("usdc", False)])
def test_clips_come_back_from_usd_and_its_own_library_reads_the_same(
    kind: Any, scaled: bool, tmp_path: Path
) -> None:
    from pxr import Usd, UsdGeom

    clip = random_clip(np.random.default_rng(3), scaled, 5)
    data = write_usd(clip, Report(""), kind)
    (back,) = read_usd(data, Report(""))
    assert apart(clip, back)[0] < 1e-12 and apart(clip, back)[1] < 1e-9
    assert back.fps == pytest.approx(clip.fps)
    np.testing.assert_array_equal(back.frames, clip.frames)
    np.testing.assert_allclose(back.channels["a b.size"], clip.channels["a b.size"])
    file = tmp_path / f"clip.{kind}"
    file.write_bytes(data)
    stage = Usd.Stage.Open(str(file))
    named = {prim.GetCustomDataByKey("bindu:name"): prim for prim in stage.Traverse()}
    for part, ours in zip(clip.parts, clip.worlds, strict=True):
        for frame, world in zip(clip.frames, ours, strict=True):
            cache = UsdGeom.XformCache(Usd.TimeCode(frame))
            matrix = np.array(cache.GetLocalToWorldTransform(named[part.name])).T[:3]
            np.testing.assert_allclose(matrix, world, rtol=1e-9, atol=1e-9)
    assert UsdGeom.GetStageUpAxis(stage) == "Y" and UsdGeom.GetStageMetersPerUnit(stage) == 1.0


@pytest.mark.parametrize(("name", "to"), [("ferry-crossing", "usda"), ("the-lamplighter", "glb")])
def test_a_bake_with_a_tolerance_leaves_with_few_keys_and_stays_near(name: str, to: Format) -> None:
    scene, tolerance = demo(name), 0.01
    first, last = scene.first, scene.last
    counts = []
    for within in (0.0, tolerance):
        made = applied(scene, [PutBake("out", first, last, "all parts", tolerance=within)])
        data, report = send(evaluate(made), list(made.bakes.values()), to)
        assert (report.places or 0.0) < 1e-5 and (report.turns or 0.0) < 1e-3
        counts.append(len(data))
    assert counts[1] < {"glb": 0.75, "usda": 0.95}[to] * counts[0]


def read_with_others(tmp_path: Path, *files: tuple[bytes, float]) -> list[dict[str, Any]]:
    """What the validator and three's loader say of files, and of a time in each, in seconds."""
    script = [str(OTHERS)]
    for n, (data, seconds) in enumerate(files):
        file = tmp_path / f"made {n}.glb"
        file.write_bytes(data)
        script += [str(file), repr(seconds)]
    done = subprocess.run(
        ["node", *script], cwd=FRONT_END, capture_output=True, check=False, timeout=60
    )
    assert done.returncode == 0, done.stderr.decode()
    found: list[dict[str, Any]] = json.loads(done.stdout)
    for one in found:
        assert one["issues"]["numErrors"] == 0, one["issues"]["messages"]
        assert one["issues"]["numWarnings"] == 0, one["issues"]["messages"]
    return found


needs_node = pytest.mark.skipif(shutil.which("node") is None, reason="needs node")


@needs_node
def test_every_rig_of_the_demo_leaves_as_others_read_it(tmp_path: Path) -> None:
    sent, middles, clips = [], [], []
    for name in RIGS:
        scene = demo(name)
        made = applied(scene, [PutBake("out", scene.first, scene.last, "all parts")])
        data, report = send(evaluate(made), list(made.bakes.values()), "glb")
        assert report.places is not None and report.places < 1e-5, name
        assert report.turns is not None and report.turns < 1e-3, name
        middles.append((scene.last - scene.first) // 2)
        sent.append((data, middles[-1] / scene.fps))
        clips.append(baked_clip(next(iter(made.bakes.values()))))
    found = read_with_others(tmp_path, *sent)
    for clip, middle, (data, _), one in zip(clips, middles, sent, found, strict=True):
        assert_read_alike(clip, middle, data, one["worlds"])


def assert_read_alike(clip: MotionClip, at: int, data: bytes, worlds: dict[str, Any]) -> None:
    """Three's worlds on a frame of the clip, and trimesh's rests, are those of the clip."""
    rests = trimesh.load(trimesh.util.wrap_as_stream(data), file_type="glb")
    for part, ours in zip(clip.parts, clip.worlds[:, at], strict=True):
        matrix = np.array(worlds[part.name]).reshape(4, 4).T[:3]
        np.testing.assert_allclose(matrix, ours, atol=2e-5)
        rest, above = part.rest, part.parent
        while above is not None:
            outer = clip.parts[above]
            rest = np.vstack([outer.rest, [0, 0, 0, 1]])[:3, :3] @ rest + np.pad(
                outer.rest[:, 3:], ((0, 0), (3, 0))
            )
            above = outer.parent
        np.testing.assert_allclose(rests.graph.get(part.name)[0][:3], rest, atol=1e-5)


@needs_node
def test_a_surface_leaves_with_skin_and_shapes_and_says_how_far_off_it_is(tmp_path: Path) -> None:
    plain = applied(
        demo("the-mooring"),
        [ChangeDeform("f1", "d5", on=False), ChangeDeform("f1", "d1", on=False)],
    )
    frame = 45
    put = [PutBake("out", 0, 96, "all parts")]
    found = [evaluate(applied(scene, put)) for scene in (plain, demo("the-mooring"))]
    sent = [send(one, list(one.scene.bakes.values()), "glb") for one in found]
    others = read_with_others(tmp_path, *((data, frame / 24.0) for data, _ in sent))
    for evaluation, (_, report), read, exact in zip(
        found, sent, others, (True, False), strict=True
    ):
        (points,) = read["points"]
        surface = evaluation.scene.surfaces["f1"]
        form = deformed(evaluation, surface, [frame])[-1].form
        far = np.linalg.norm(np.array(points) - in_world(form, evaluation, surface)[0], axis=1)
        if exact:
            # Of five joints four are held, so that a little is lost where five reach.
            assert far.max() < 1e-3
        else:
            assert any("ripples" in text for text in report.lost)
            (told,) = (text for text in report.otherwise if "off by up to" in text)
            assert far.max() * 1e3 < 1.5 * float(told.split("up to ")[1].split(" mm")[0])
    (back,) = read_gltf(sent[-1][0], report := Report(""))
    assert "skin" not in [part.name for part in back.parts]
    assert any("surfaces come with a new scene" in text for text in report.lost)


def test_a_surface_comes_back_with_its_skin_and_shapes() -> None:
    muted = [ChangeDeform("f1", step, on=False) for step in ("d5", "d1")]
    scene = applied(demo("the-mooring"), [*muted, PutBake("out", 0, 96, "all parts")])
    data, _ = send(evaluate(scene), list(scene.bakes.values()), "glb")
    made, _, report = new_scene(data, "glb", "back", 24.0, None)
    assert "1 mesh as surfaces" in report.held
    (ours,), (theirs,) = scene.surfaces.values(), made.surfaces.values()
    assert [step.kind for step in theirs.steps] == ["blend shapes", "bend by joints", "carry"]
    assert set(theirs.input_names.values()) >= {"puffed", "open mouth"}
    for frame in (0, 24, 46, 90):
        forms = [
            in_world(deformed(found, one, [frame])[-1].form, found, one)[0]
            for one, found in ((ours, evaluate(scene)), (theirs, evaluate(made)))
        ]
        # The points may have come in another order.
        away = np.linalg.norm(forms[0][:, None] - forms[1][None], axis=2)
        assert len(forms[0]) == len(forms[1])
        assert max(away.min(axis=0).max(), away.min(axis=1).max()) < 1e-3


def test_meshes_that_cannot_be_surfaces_are_left_out_with_the_reason() -> None:
    corners = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1], [0, 0, -1]], "<f4")
    three = np.array([0, 1, 2, 1, 0, 3, 0, 1, 4], "<u2")
    for count, text in ((3, "1 mesh as surfaces"), (9, "three faces or more"), (5, "not there")):
        document, blob, _ = others_gltf()
        start = len(blob)
        blob += corners.tobytes() + three.tobytes()
        views = document["bufferViews"]
        views += [{"buffer": 0, "byteOffset": start, "byteLength": 60}]
        views += [{"buffer": 0, "byteOffset": start + 60, "byteLength": 18}]
        document["accessors"] += [
            {
                "bufferView": 5,
                "componentType": 5126,
                "count": 5 if count > 3 else 3,
                "type": "VEC3",
            },
            {"bufferView": 6, "componentType": 5123, "count": count, "type": "SCALAR"},
        ]
        document["buffers"] = [{"byteLength": len(blob)}]
        piece = {"attributes": {"POSITION": 4}, "indices": 5}
        document["meshes"] = [{"primitives": [piece]}]
        document["nodes"][1]["mesh"] = 0
        _, _, report = new_scene(glb(document, blob), "glb", "x", 24.0, None)
        assert text in " ".join([*report.held, *report.lost])


def glb(document: dict[str, Any], blob: bytes) -> bytes:
    """A .glb file as another program writes it."""
    text = json.dumps(document).encode()
    text += b" " * (-len(text) % 4)
    blob += b"\0" * (-len(blob) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    chunks += struct.pack("<I4s", len(blob), b"BIN\0") + blob
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def others_gltf(
    kind: str = "LINEAR", **change: Any
) -> tuple[dict[str, Any], bytes, dict[str, Array]]:
    """Two nodes, one turned and one moved; the latter's values are zeros and a sparse part."""
    random = np.random.default_rng(1)
    times = np.array([0.0, 0.25, 0.5, 1.0], "<f4")
    turns = Rotation.random(4, rng=random).as_quat().astype("<f4")
    spline = random.normal(size=(12, 3)).astype("<f4")
    blob = times.tobytes() + turns.tobytes() + spline.tobytes()
    sparse_at = np.array([1, 3], "<u2")
    sparse = random.normal(size=(2, 3)).astype("<f4")
    blob += sparse_at.tobytes() + sparse.tobytes()
    sizes = [16, 64, 144, 4, 24]
    starts = np.concatenate([[0], np.cumsum(sizes)])[:5].tolist()
    sparse_said = {
        "count": 2,
        "indices": {"bufferView": 3, "componentType": 5123},
        "values": {"bufferView": 4},
    }
    move = 2 if kind == "CUBICSPLINE" else 3
    document = {
        "asset": {"version": "2.0"},
        "scenes": [{"nodes": [0]}, {"nodes": [0]}],
        "nodes": [
            {"name": "Arm.L", "children": [1], "matrix": np.eye(4).reshape(-1).tolist()},
            {"name": "Arm.L", "scale": [2.0, 2.0, 2.0], "translation": [0.0, 1.0, 0.0]},
        ],
        "buffers": [{"byteLength": len(blob)}],
        "bufferViews": [
            {"buffer": 0, "byteOffset": start, "byteLength": size}
            for start, size in zip(starts, sizes, strict=True)
        ],
        "accessors": [
            {"bufferView": 0, "componentType": 5126, "count": 4, "type": "SCALAR"},
            {"bufferView": 1, "componentType": 5126, "count": 4, "type": "VEC4"},
            {"bufferView": 2, "componentType": 5126, "count": 12, "type": "VEC3"},
            {"componentType": 5126, "count": 4, "type": "VEC3", "sparse": sparse_said},
        ],
        "animations": [
            {
                "channels": [
                    {"sampler": 0, "target": {"node": 0, "path": "rotation"}},
                    {"sampler": 1, "target": {"node": 1, "path": "translation"}},
                ],
                "samplers": [
                    {"input": 0, "output": 1},
                    {"input": 0, "output": move, "interpolation": kind},
                ],
            }
        ],
    }
    document.update(change)
    values = np.zeros((4, 3))
    values[[1, 3]] = sparse
    return (
        document,
        blob,
        {"times": times.astype(float), "turns": turns, "moves": values, "spline": spline},
    )


@pytest.mark.parametrize("kind", ["LINEAR", "STEP", "CUBICSPLINE"])
def test_files_of_other_programs_are_read_right(kind: str) -> None:
    document, blob, expected = others_gltf(kind)
    report = Report("")
    (clip,) = read_gltf(glb(document, blob), report)
    # All key times lie on whole frames of 24 a second.
    assert clip.fps == 24.0 and len(clip.frames) == 25
    at, times = clip.frames / 24.0, expected["times"]
    turns = Slerp(times, Rotation.from_quat(expected["turns"]))(at)
    np.testing.assert_allclose(clip.worlds[0, :, :, :3], turns.as_matrix(), atol=1e-6)
    if kind == "CUBICSPLINE":
        rows = expected["spline"].reshape(4, 3, 3).astype(float)
        wanted = np.stack([
            CubicHermiteSpline(times, rows[:, 1, k], np.zeros(4))(at) for k in range(3)
        ], axis=1)  # fmt: skip
        # Tangents in and out of a key differ: each segment is one of its own.
        for n in range(3):
            inside = (at >= times[n]) & (at <= times[n + 1])
            for k in range(3):
                ends, slopes = rows[n : n + 2, 1, k], [rows[n, 2, k], rows[n + 1, 0, k]]
                spline = CubicHermiteSpline(times[n : n + 2], ends, slopes)
                wanted[inside, k] = spline(at[inside])
    elif kind == "STEP":
        wanted = expected["moves"][np.searchsorted(times, at + 1e-9, "right") - 1]
    else:
        wanted = np.stack([np.interp(at, times, expected["moves"][:, k]) for k in range(3)], axis=1)
    np.testing.assert_allclose(clip.translation[1], wanted, atol=1e-6)
    np.testing.assert_allclose(clip.scale[1], 2.0)
    assert [part.name for part in clip.parts] == ["Arm L", "Arm L 2"]
    assert any("names:" in text for text in report.otherwise)
    assert any("2 scenes are taken as one" in text for text in report.otherwise)


BAD_GLTF: list[tuple[dict[str, Any], str]] = [
    ({"asset": {"version": "1.0"}}, "asset.version: it is glTF 1.0"),
    ({"nodes": []}, "nodes: it has no nodes"),
    ({"nodes": [{"children": [0]}]}, "is its own ancestor|it is its own"),
    ({"nodes": [{"children": [7]}]}, "there is no node 7"),
    ({"nodes": [{"rotation": [0, 0, 0, 0.0]}]}, "rotation of length 0"),
    ({"nodes": [{"scale": [1, 1]}]}, "nodes.0.scale"),
    ({"buffers": [{"byteLength": 9, "uri": "../../etc/passwd"}]}, "file.*nothing is fetched"),
    ({"buffers": [{"byteLength": 9, "uri": "data:x;base64,AAAA"}]}, "9 bytes are told of, 3 are"),
    ({"extensionsRequired": ["KHR_draco_mesh_compression"]}, "without the extension KHR"),
    ({"accessors": [{"bufferView": 9, "componentType": 5126, "count": 4, "type": "SCALAR"}] * 4},
     "there is no buffer view 9"),
    ({"accessors": [{"componentType": 5126, "count": 2**30, "type": "SCALAR"}] * 4}, "more than"),
]  # fmt: skip


@pytest.mark.parametrize(("change", "text"), BAD_GLTF)
def test_gltf_files_that_cannot_be_are_refused_with_their_place(
    change: dict[str, Any], text: str
) -> None:
    document, blob, _ = others_gltf(**change)
    with pytest.raises(Refusal, match=text):
        read_gltf(glb(document, blob), Report(""))


def test_usd_of_another_program_with_z_up_in_centimetres_is_turned_and_scaled(
    tmp_path: Path,
) -> None:
    from pxr import Gf, Usd, UsdGeom

    file = tmp_path / "other.usda"
    stage = Usd.Stage.CreateNew(str(file))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.z)
    UsdGeom.SetStageMetersPerUnit(stage, 0.01)
    stage.SetTimeCodesPerSecond(25)
    base = UsdGeom.Xform.Define(stage, "/World/Base")
    base.AddTranslateOp().Set(Gf.Vec3d(100, 200, 300), 0)
    base.GetOrderedXformOps()[0].Set(Gf.Vec3d(100, 200, 500), 4)
    base.AddRotateXYZOp().Set(Gf.Vec3f(0, 0, 90))
    free = UsdGeom.Xform.Define(stage, "/World/Base/Free")
    free.SetResetXformStack(True)
    free.AddTransformOp().Set(Gf.Matrix4d().SetTranslate(Gf.Vec3d(0, 0, 50)))
    UsdGeom.Cube.Define(stage, "/World/Base/Block")
    stage.GetRootLayer().Save()
    report = Report("")
    (clip,) = read_usd(file.read_bytes(), report)
    place = {part.name: n for n, part in enumerate(clip.parts)}
    assert clip.fps == 25.0 and len(clip.frames) == 5
    # Up is y: (x, y, z) of theirs is (x, z, −y) of ours.
    np.testing.assert_allclose(clip.worlds[place["Base"], 2, :, 3], [1.0, 4.0, -2.0], atol=1e-9)
    np.testing.assert_allclose(
        clip.worlds[place["Base"], 2, :, :3] @ [1, 0, 0], [0, 0, -1], atol=1e-7
    )
    np.testing.assert_allclose(
        clip.worlds[place["Free"], :, :, 3], [[0.0, 0.5, 0.0]] * 5, atol=1e-9
    )
    told = " ".join([*report.otherwise, *report.lost])
    for text in ("z up is turned", "unit of 0.01 m", "taken out of its parent", "Cube"):
        assert text in told, told
    file.write_text('#usda 1.0\ndef "a" (references = @/etc/other.usda@) {}\n')
    with pytest.raises(Refusal, match="needs another file.*none is opened"):
        read_usd(file.read_bytes(), Report(""))


def test_a_usd_skeleton_of_another_program_comes_in_as_joints_that_move(tmp_path: Path) -> None:
    """Three joints below a root that is moved itself; the animation names two of them, in another
    order, and the third one keeps its rest."""
    from pxr import Gf, Usd, UsdGeom, UsdSkel, Vt

    file = tmp_path / "skeleton.usdc"
    stage = Usd.Stage.CreateNew(str(file))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    root = UsdSkel.Root.Define(stage, "/Eel")
    UsdGeom.XformCommonAPI(root).SetTranslate(Gf.Vec3d(0, 0, 3))
    skeleton = UsdSkel.Skeleton.Define(stage, "/Eel/Bones")
    along = Gf.Matrix4d().SetTranslate(Gf.Vec3d(1, 0, 0))
    skeleton.CreateJointsAttr(["head", "head/neck", "head/neck/tail_end"])
    skeleton.CreateRestTransformsAttr(Vt.Matrix4dArray([along] * 3))
    skeleton.CreateBindTransformsAttr(
        Vt.Matrix4dArray([Gf.Matrix4d().SetTranslate(Gf.Vec3d(n, 0, 0)) for n in (1, 2, 3)])
    )
    moves = UsdSkel.Animation.Define(stage, "/Eel/Bones/Swim")
    moves.CreateJointsAttr(["head/neck", "head"])
    angles = {0: (0.0, 0.0), 10: (40.0, -75.0), 12: (-20.0, 30.0)}
    for frame, (neck, head) in angles.items():
        turns = [Gf.Rotation(Gf.Vec3d(0, 1, 0), a).GetQuat() for a in (neck, head)]
        moves.CreateRotationsAttr().Set(Vt.QuatfArray([Gf.Quatf(q) for q in turns]), frame)
        places = [Gf.Vec3f(1, 0, 0), Gf.Vec3f(1, 0.1 * frame, 0)]
        moves.CreateTranslationsAttr().Set(Vt.Vec3fArray(places), frame)
        moves.CreateScalesAttr().Set(Vt.Vec3hArray([Gf.Vec3h(1, 1, 1)] * 2), frame)
    UsdSkel.BindingAPI.Apply(skeleton.GetPrim())
    UsdSkel.BindingAPI(skeleton).CreateAnimationSourceRel().SetTargets([moves.GetPath()])
    stage.GetRootLayer().Save()
    report = Report("")
    (clip,) = read_usd(file.read_bytes(), report)
    names = [part.name for part in clip.parts]
    assert names == ["Eel", "Bones", "head", "neck", "tail_end"]
    assert [part.role for part in clip.parts][2:] == ["joint"] * 3
    assert len(clip.frames) == 13 and not report.lost
    ahead = np.array([1.0, 0.0, 0.0])
    for frame, (neck, head) in angles.items():
        at = np.array([1.0, 0.1 * frame, 3.0])
        by_head, by_neck = (Rotation.from_rotvec([0, a, 0], degrees=True) for a in (head, neck))
        wanted = [at, at + by_head.apply(ahead)]
        wanted.append(wanted[1] + (by_head * by_neck).apply(ahead))
        np.testing.assert_allclose(clip.worlds[2:, frame, :, 3], wanted, atol=1e-6)
    np.testing.assert_allclose(clip.parts[4].rest[:, 3], ahead, atol=1e-12)


OTHERS_BVH = """HIERARCHY
ROOT Hips
{
\tOFFSET 0.0 1.0 0.0
\tCHANNELS 6 Zrotation Yposition Xrotation Xposition Yrotation Zposition
\tJOINT Left Leg
\t{
\t\tOFFSET 0.5 -1 0
\t\tCHANNELS 2 Yrotation Zrotation
\t\tEnd Site
\t\t{
\t\t\tOFFSET 0 -1 0
\t\t}
\t}
}
MOTION
Frames:\t2
Frame Time: 0.0333667
0 0 0 0 0 0 0 0
90 2 30 1 10 3 45 -20
"""


@pytest.mark.parametrize("line", ["\n", "\r\n"])
def test_bvh_with_unusual_channels_and_end_sites_is_read_right(line: str) -> None:
    report = Report("")
    (clip,) = read_bvh(OTHERS_BVH.replace("\n", line).encode(), report)
    assert [part.name for part in clip.parts] == ["Hips", "Left Leg"]
    assert clip.fps == pytest.approx(30000 / 1001)
    hips = Rotation.from_euler("ZXY", [90, 30, 10], degrees=True)
    np.testing.assert_allclose(clip.worlds[0, 1, :, :3], hips.as_matrix(), atol=1e-12)
    np.testing.assert_allclose(clip.worlds[0, 1, :, 3], [1.0, 3.0, 3.0], atol=1e-12)
    leg = hips * Rotation.from_euler("YZ", [45, -20], degrees=True)
    np.testing.assert_allclose(clip.worlds[1, 1, :, :3], leg.as_matrix(), atol=1e-12)
    np.testing.assert_allclose(
        clip.worlds[1, 1, :, 3], hips.apply([0.5, -1.0, 0.0]) + [1.0, 3.0, 3.0], atol=1e-12
    )
    assert any("1 end sites" in text for text in report.lost)


@pytest.mark.parametrize(
    ("old", "new", "text"),
    [
        ("HIERARCHY", "HIER", "line 1: HIERARCHY is wanted here, not 'HIER'"),
        ("CHANNELS 2", "CHANNELS two", "line 9: 'two' is no number"),
        ("Zrotation\n\t\tEnd", "Wrotation\n\t\tEnd", "line 9: there is no channel 'Wrotation'"),
        ("Frames:\t2", "Frames:\t3", "3 frames of 8 channels are told of"),
        ("Frames:\t2", "Frames:\t99999999", "1 to 100,000 frames"),
        ("0.0333667", "0", "a frame takes between"),
        ("45 -20", "45 nan", "not within ±1e9"),
        ("}\nMOTION", "MOTION", "is wanted here, not 'MOTION'"),
    ],
)
def test_bvh_files_that_cannot_be_are_refused_with_their_line(
    old: str, new: str, text: str
) -> None:
    assert old in OTHERS_BVH
    with pytest.raises(Refusal, match=text):
        read_bvh(OTHERS_BVH.replace(old, new).encode(), Report(""))


DAMAGED = 2000


@pytest.mark.parametrize("kind", ["glb", "gltf", "bvh", "csv"])
def test_damaged_files_are_refused_or_read_and_never_break(kind: str) -> None:
    random = np.random.default_rng(4)
    clip, report = random_clip(random, False, 4), Report("")
    document, blob, _ = others_gltf("CUBICSPLINE")
    given = {
        "glb": lambda: glb(document, blob),
        "gltf": lambda: write_gltf([clip], binary=False),
        "bvh": lambda: OTHERS_BVH.encode(),
        "csv": lambda: write_table(clip, report),
    }[kind]()
    seen: Counter[str] = Counter()
    longest = 0.0
    for _ in range(DAMAGED):
        data = mutated(random, given)
        began = time.process_time()
        try:
            clips = read_file(data, kind, 24.0, Report(""))
        except Refusal as refused:
            assert str(refused)
            seen["refused"] += 1
        else:
            assert all(np.all(np.isfinite(one.worlds)) for one in clips)
            seen["read"] += 1
        longest = max(longest, time.process_time() - began)
    assert seen["refused"] > 0.2 * DAMAGED and seen["read"] > 0.01 * DAMAGED, seen
    # Two seconds are a hang of a file of a few kilobytes, whatever else the machine does.
    assert longest < 2.0


@pytest.mark.parametrize("kind", ["usda", "usdc"])
def test_damaged_usd_layers_are_refused_or_read_and_none_takes_long(kind: str) -> None:
    count = cases(80, 400)
    command = [sys.executable, "-m", "tests.formats.damaged_usd", kind, str(count)]
    done = subprocess.run(command, capture_output=True, check=True, text=True)
    seen = Counter(json.loads(done.stdout))
    # A reader that dies is one that refused: the application waits for it in another process.
    assert seen["refused"] + seen["read"] + seen["killed its reader"] == count, (seen, done.stderr)
    assert seen["refused"] > count / 2 and seen["read"] > 2, seen
    assert seen["killed its reader"] < count / 30, seen


def test_a_damaged_usd_layer_is_refused_with_its_line() -> None:
    text = write_usd(random_clip(np.random.default_rng(4), False, 2), Report(""), "usda")
    for cut in (b"timeCodesPerSecond = 24 \xbf", b"timeCodesPerSecond = )"):
        spoiled = re.sub(rb"timeCodesPerSecond = [\d.]+", cut, text)
        with pytest.raises(Refusal, match=r"line \d+, column \d+: (Expected|something else is)"):
            read_usd(spoiled, Report(""))


@pytest.mark.parametrize(
    "data", [b"", b"hello\nworld", b"\xff\xfe#usda", b"\xef\xbb\xbf#usda 1.0\n"]
)
def test_what_is_no_usd_text_is_refused_with_what_stands_there(data: bytes) -> None:
    begin = data.split(b"\n")[0].decode(errors="replace")
    with pytest.raises(Refusal) as refused:
        read_usd(data, Report(""))
    assert str(refused.value).endswith(
        f"line 1: USD text begins with “#usda 1.0”, this with “{begin}”."
    )


def test_a_file_is_taken_in_as_a_scene_and_onto_parts_by_their_names() -> None:
    scene = demo("the-mooring")
    made = applied(scene, [PutBake("out", 0, 96, "all parts")])
    source = baked_clip(next(iter(made.bakes.values())))
    for kind in ("glb", "bvh", "csv"):
        data, _ = send(evaluate(made), list(made.bakes.values()), kind)  # type: ignore[arg-type]
        clip = chosen_clip(read_file(data, kind, 24.0, Report("")), None, Report(""))
        new = applied(Scene(), list(scene_edits_of(clip, "a: scene", Report(""))))
        found = evaluate(new)
        assert (new.fps, new.first, new.last) == (24.0, 0, 96)
        for part, ours in zip(clip.parts, clip.worlds, strict=True):
            world = np.broadcast_to(found.world(new.part_ids[part.name]), (97, 3, 4))
            np.testing.assert_allclose(world, ours, atol=1e-8)
        assert {p.name for p in new.parts.values()} >= {p.name for p in source.parts} - {"skin"}
    # Onto parts: what writes them is muted, so that the keys are all that moves them.
    still = applied(scene, [])
    data, _ = send(evaluate(made), list(made.bakes.values()), "glb")
    (clip,) = read_file(data, "glb", 24.0, Report(""))
    only_some = MotionClip(
        clip.name, 12.0, clip.frames[::2],
        (*clip.parts[:-1], MotionPart("nobody", None, clip.parts[-1].rest)),
        clip.translation[:, ::2], clip.rotation[:, ::2], clip.scale[:, ::2],
    )  # fmt: skip
    report = Report("")
    moved = applied(still, edits_onto(evaluate(still), only_some, report))
    told = " ".join([*report.lost, *report.otherwise])
    assert "nobody" in told and "12 frames a second are 24 here" in told
    post = evaluate(moved).world(moved.part_ids["post"])
    index = [part.name for part in clip.parts].index("post")
    np.testing.assert_allclose(
        np.broadcast_to(post, (97, 3, 4))[40], clip.worlds[index, 20], atol=1e-5
    )
    with pytest.raises(Refusal, match="no part or channel of the file has the name"):
        edits_onto(evaluate(Scene()), clip, Report(""))
    with pytest.raises(Refusal, match="no clip 'other'"):
        chosen_clip([clip], "other", Report(""))
