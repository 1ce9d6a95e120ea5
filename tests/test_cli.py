"""The command line, as a person calls it."""

from __future__ import annotations

import csv
import io
import json
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from bindu.cli import main
from bindu.core.evaluation import evaluate
from bindu.core.scene.channels import ChannelRef
from bindu.formats.scene.scene_json import write_scene
from tests.demos import demo
from tests.wide import only_wide

SCENE = str(Path(__file__).parents[1] / "examples" / "ferry-crossing.bindu.json")


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> str:
    """What a command prints."""
    assert main(arguments) == 0
    return capsys.readouterr().out


def test_curves_are_csv_in_full_precision(capsys: pytest.CaptureFixture[str]) -> None:
    text = run(capsys, "curves", SCENE, "--channel", "paddle.rotation.z", "--tap", "driven")
    rows = list(csv.DictReader(io.StringIO(text)))
    expected = evaluate(demo("ferry-crossing")).channel(ChannelRef("p3", "rotation.z"), "driven")
    assert [int(row["frame"]) for row in rows] == list(range(121))
    np.testing.assert_array_equal([float(row["value"]) for row in rows], expected)


def test_several_channels_and_a_span_of_frames(capsys: pytest.CaptureFixture[str]) -> None:
    names = ["ferry.translation.x", "paddle.radius"]
    options = [word for name in names for word in ("--channel", name)]
    text = run(capsys, "curves", SCENE, *options, "--frames", "50:52")
    assert text.splitlines() == [
        "frame,ferry.translation.x,paddle.radius",
        "50,0.0,0.5",
        "51,0.0,0.5",
        "52,0.0,0.5",
    ]
    data = json.loads(run(capsys, "curves", SCENE, *options, "--frames", "50:50", "--json"))
    assert data == {
        "tap": "final",
        "frames": [50],
        "values": {"ferry.translation.x": [0.0], "paddle.radius": [0.5]},
    }


def test_order_lists_ranks_and_loops(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    rows = run(capsys, "order", SCENE).splitlines()
    turn = next(n for n, row in enumerate(rows) if "turn by distance" in row)
    way = next(n for n, row in enumerate(rows) if "ferry.travelled" in row)
    assert way < turn
    assert rows[turn].split(maxsplit=1) == ["4", "paddle.rotation.z @driven · turn by distance"]
    looped = write_scene(demo("ferry-crossing")).replace(
        "travelled({ferry})", "{paddle.rotation.z}"
    )
    path = tmp_path / "looped.bindu.json"
    path.write_text(looped)
    data = json.loads(run(capsys, "order", str(path), "--json"))
    assert data["loops"][0]["held"] == "paddle.rotation.z @keyed"
    assert "takes paddle.rotation.z @keyed instead" in run(capsys, "order", str(path))


def test_the_ledger_of_a_channel_on_a_frame(capsys: pytest.CaptureFixture[str]) -> None:
    command = ["ledger", SCENE, "--channel", "paddle.rotation.z", "--frame", "118"]
    data = json.loads(run(capsys, *command, "--json"))
    assert [bead["state"] for bead in data["beads"]] == ["", *["changes the value"] * 2]
    assert data["beads"][2]["out"] == data["taps"]["final"] == -240.0
    assert data["beads"][1]["reads"][1] == {"what": "paddle.radius", "tap": "final", "value": 0.5}
    text = run(capsys, *command)
    assert "final   stop pin (limit): -240° … 20°" in text
    assert "reads paddle.radius @final = 0.5" in text


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["curves", "nowhere.json", "--channel", "a.b"], "nowhere.json: No such file"),
        (["curves", SCENE, "--channel", "padle.rotation.z"], "Nearest: paddle"),
        (["curves", SCENE, "--channel", "paddle"], "part.channel"),
        (["curves", SCENE, "--channel", "paddle.radius", "--frames", "5:1"], "5 lies behind 1"),
        (["curves", SCENE, "--channel", "paddle.radius", "--frames", "a"], "write frames as"),
        (["curves", SCENE, "--channel", "paddle.radius", "--frames", "0:500"], "frame 500"),
        (["ledger", SCENE, "--channel", "paddle.radius", "--frame", "1.5"], "frame 1.5"),
        (["order", str(Path(__file__))], "no Bindu scene"),
        (["ledger", SCENE, "--channel", "paddle.radius", "--frame", "nan"], "frame nan"),
        (["ledger", SCENE, "--channel", "paddle.radius", "--frame", "inf"], "frame inf"),
        (["curves", SCENE, "--channel", "paddle.radius", "--frames", "٠:١"], "write frames as"),
        (["order", "/dev/zero"], "at most 64 MiB"),
        (["order", str(Path(__file__).parent)], "Is a directory"),
    ],
)
def test_bad_input_is_one_line_and_status_2(
    capsys: pytest.CaptureFixture[str], arguments: list[str], says: str
) -> None:
    assert main(arguments) == 2
    printed = capsys.readouterr()
    assert printed.out == ""
    assert says in printed.err
    assert printed.err.count("\n") == 1


@pytest.mark.parametrize(
    "redirect",
    [
        ">/dev/full",
        pytest.param(">&-", marks=only_wide),
        pytest.param("| head -c 0", marks=only_wide),
    ],
)
def test_output_that_cannot_be_written_is_one_line_and_status_2(redirect: str) -> None:
    command = f"{sys.executable} -m bindu.cli order {SCENE} {redirect}; exit ${{PIPESTATUS[0]}}"
    done = subprocess.run(
        ["bash", "-c", command],
        capture_output=True,
        text=True,
        env={**os.environ, "PYTHONPATH": "src"},
    )
    assert done.returncode == 2
    assert done.stderr.startswith("bindu: ") and done.stderr.count("\n") == 1, done.stderr


MOORING = str(Path(SCENE).parent / "the-mooring.bindu.json")


@pytest.mark.parametrize(
    "kind",
    ["glb", "usda", pytest.param("bvh", marks=only_wide), pytest.param("csv", marks=only_wide)],
)
def test_a_scene_is_baked_sent_out_and_taken_in(
    kind: str, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    baked, sent, back = (str(tmp_path / name) for name in ("a.bindu.json", f"b.{kind}", "c.json"))
    text = run(capsys, "bake", MOORING, "--by", "all parts", "--tolerance", "0.001", "--to", baked)
    assert text.startswith("out: 15 parts, 0 … 96, ")
    report = json.loads(run(capsys, "export", baked, "--to", sent, "--json"))
    assert report["size"] == Path(sent).stat().st_size and report["places"] < 1e-5
    assert "15 parts" in run(capsys, "import", sent, "--to", back)
    values = run(capsys, "curves", back, "--channel", "boat.translation.x", "--frames", "40:40")
    assert values.startswith("frame,value\n40,")
    onto = run(capsys, "import", sent, "--onto", MOORING, "--to", back, "--json")
    assert json.loads(onto)["parts"] == 15


def test_a_file_is_played_by_the_receiver(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    file, setup, script = (tmp_path / name for name in ("a.glb", "setup.json", "inputs.csv"))
    baked = str(tmp_path / "b.bindu.json")
    run(capsys, "bake", MOORING, "--by", "all parts", "--to", baked)
    run(capsys, "export", baked, "--to", str(file))
    look = {"name": "look", "kind": "look at", "parts": ["lantern"], "place": "eye", "by": "on"}
    setup.write_text(json.dumps({"overrides": [look]}))
    script.write_text("seconds,on,eye.x\n0,0,2\n1,1,2\n")
    told = ("receive", str(file), "--setup", str(setup), "--script", str(script))
    text = run(capsys, *told, "--seconds", "2", "--rate", "24")
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [float(row["seconds"]) for row in rows][:3] == [0.0, 1 / 24, 2 / 24]
    assert {"lantern.quaternion.w", "boat.translation.x"} <= rows[0].keys()
    words = json.loads(run(capsys, *told, "--seconds", "2", "--rate", "24", "--json"))
    assert words["last word"]["lantern"] == [[0.0, "out"], [1.0, "look"]]
    # A scene is sent first, and told what its own receiver is told.
    scene = json.loads(Path(baked).read_text())
    scene["receiver"] = {"overrides": [{"name": "stay", "kind": "hold", "parts": ["lantern"]}]}
    Path(baked).write_text(json.dumps(scene))
    words = json.loads(run(capsys, "receive", baked, "--seconds", "1", "--json"))
    assert words["last word"]["lantern"] == [[0.0, "stay"]]
    assert main(["receive", str(file), "--setup", str(script)]) == 2
    assert "setup: it is no JSON" in capsys.readouterr().err
    alone = tmp_path / "alone.csv"
    alone.write_text("frame,lantern.light\n0,0\n1,1\n")
    assert main(["receive", str(alone)]) == 2
    assert "no part has all its columns" in capsys.readouterr().err
    assert main(["export", MOORING, "--to", str(tmp_path / "a.obj")]) == 2
    assert "--to: write a file that ends in glb" in capsys.readouterr().err
