"""Surfaces over HTTP: points on frames, a point's account, two orders, weights."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from bindu.core.comparing.surface_orders import both_orders
from bindu.core.edits import applied
from bindu.core.edits.deforms import ChangeDeform
from bindu.core.evaluation import evaluate
from bindu.core.surface.deforming import deformed
from bindu.formats.scene.scene_json import write_scene
from tests.conftest import Server
from tests.demos import demo
from tests.web.packed import unpacked

ORDER = ["d3", "d4", "d5", "d1", "d2"]
OTHER = ["d3", "d4", "d1", "d5", "d2"]


@pytest.fixture
def path(server: Server) -> str:
    """The skin of the eel."""
    return f"/scenes/{server.bring(write_scene(demo('the-mooring')))}/surfaces/f1"


def test_points_are_those_of_the_core_and_a_second_order_comes_beside(
    server: Server, path: str
) -> None:
    found = evaluate(demo("the-mooring"))
    surface = found.scene.surfaces["f1"]
    wish: dict[str, Any] = {"frames": [3, 40], "other": OTHER}
    head, arrays = unpacked(server.post(f"{path}/points", wish).content)
    form, one, _, other, apart = both_orders(found, surface, [3, 40], ORDER, OTHER)
    assert set(head["costs"]) == set(ORDER) and head["frames"] == [3, 40]
    np.testing.assert_allclose(arrays["points"].reshape(one.shape), one, atol=1e-6)
    np.testing.assert_allclose(arrays["other points"].reshape(one.shape), other, atol=1e-6)
    np.testing.assert_allclose(arrays["apart"].reshape(apart.shape), apart, atol=1e-6)
    triangles = arrays["triangles"].reshape(-1, 3)
    assert len(triangles) == sum(len(face) - 2 for face in form.mesh.faces)
    assert triangles.max() == form.mesh.count - 1
    keys = [block["key"] for block in head["blocks"]]
    again, left = unpacked(server.post(f"{path}/points", {**wish, "have": keys}).content)
    assert [block["key"] for block in again["blocks"]] == keys and not left


def test_what_is_tried_is_seen_on_the_surface_and_saved_nowhere(server: Server, path: str) -> None:
    edit = {"do": "change deform", "surface": "f1", "step": "d5", "on": False}
    wish = {"frames": [40], "trying": [edit]}
    head, arrays = unpacked(server.post(f"{path}/points", wish).content)
    tried = applied(demo("the-mooring"), [ChangeDeform("f1", "d5", on=False)])
    made = deformed(evaluate(tried), tried.surfaces["f1"], [40])[-1].form.points
    np.testing.assert_allclose(arrays["points"].reshape(made.shape), made, atol=1e-6)
    assert head["revision"] == 0 and "d5" not in head["costs"]


def test_orders_points_and_weights_are_told(server: Server, path: str) -> None:
    wish = {"one": ORDER, "other": OTHER, "first": 0, "last": 96}
    told = server.post(f"{path}/orders", wish).json()
    assert told["frames"] == 97 and 0.0 < told["mean"] < told["worst"] < 0.05
    assert any("short waves show in full" in text for text in told["words"])
    point = server.get(f"{path}/point?point={told['point']}&frame={told['frame']}").json()
    assert [step["step"] for step in point["steps"]] == [None, *ORDER]
    weights = server.get(f"{path}/weights?step=d4").json()
    np.testing.assert_allclose(np.sum(weights["weights"], axis=1), 1.0, atol=1e-4)


@pytest.mark.parametrize(
    ("way", "body", "text"),
    [
        ("points", {"frames": []}, "frames"),
        ("points", {"frames": list(range(25))}, "frames"),
        ("points", {"frames": [97]}, "frame 97 is no whole frame"),
        ("points", {"frames": [1], "order": ["d9"]}, "no step with the identity 'd9'"),
        ("points", {"frames": [1], "order": ["d1", "d1"]}, "names each step once"),
        ("points", {"frames": [1], "other": ["d3"]}, "do not match"),
        ("orders", {"one": [], "other": [], "first": 5, "last": 2}, "ends before it begins"),
        ("orders", {"one": [], "other": [], "first": 0, "last": 400}, "frame 400"),
    ],
)
def test_wishes_that_cannot_be_are_refused(
    server: Server, path: str, way: str, body: dict[str, Any], text: str
) -> None:
    assert text in server.post(f"{path}/{way}", body, 422).text


def test_a_surface_that_is_gone_is_told(server: Server, path: str) -> None:
    gone = server.post(f"{path[:-2]}f7/points", {"frames": [1]}, 422).json()
    assert "no surface with the identity 'f7' any more" in gone["error"] and gone["code"] == "gone"
