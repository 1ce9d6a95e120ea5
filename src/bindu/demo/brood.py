"""A brood of ducklings behind their mother: one gait's numbers, one pace, one gap, a few nudges."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.make_gait import MakeGait
from bindu.core.edits.parts import AddPart
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.scene.channels import step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Shape, Side
from bindu.core.scene.settings import FormulaSettings, PathPoint, PathSettings, Vector

LAST = 216
SHORE: tuple[Vector, ...] = (
    (-3.2, 0.0, -1.4),
    (-1.6, 0.0, -0.2),
    (0.0, 0.0, -0.9),
    (1.5, 0.0, -0.1),
    (3.0, 0.0, -1.2),
)
"""Where the path passes, metres."""
LONG = 7.1
"""How long the path is, roughly: from metres to a share of it."""
SIZES = (0.5, 0.42, 0.46, 0.36)
NUDGES = (0.0, 0.03, -0.04, 0.05)
"""By how much each duckling falls behind its place, metres."""
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))
STYLE = {
    "step length": 0.16,
    "stance": 0.62,
    "lift": 0.06,
    "hip rise": 0.008,
    "hip sway": 0.02,
    "hip turn": 9.0,
}
SHARED = ("step length", "stance", "lift", "hip rise", "hip sway", "hip turn")
BROWN, DOWN, BILL = "#8A6B4A", "#E9C95A", "#D98A3A"


def the_brood() -> Scene:
    """All go along one path: the mother as far as her pace says, each duckling a gap behind the one
    before. Their gaits have her numbers, at their own size."""
    scene = applied(Scene(), [ChangeScene(name="The brood", fps=24.0, first=0, last=LAST)])
    scene = _duck(scene, "mother", 1.0)
    edits: list[AnyEdit] = []
    mother = scene.part_ids["mother"]
    for name, value, unit in (("pace", 0.3, "m/s"), ("gap", 0.42, "m"), ("start", 2.1, "m")):
        edits.append(AddChannel(mother, name, default=value, unit=unit))
    trail = f"({{mother.start}} + {{mother.pace}} * seconds) / {LONG:g}"
    scene = applied(scene, [*edits, *_goes(scene, mother, trail)])
    for n, (size, nudge) in enumerate(zip(SIZES, NUDGES, strict=True)):
        name = f"duckling {n + 1}"
        scene = _duck(scene, name, size)
        part = scene.part_ids[name]
        scene = applied(scene, [AddChannel(part, "nudge", default=nudge, unit="m")])
        behind = f"({n + 1} * {{mother.gap}} + {{{name}.nudge}}) / {LONG:g}"
        edits = [*_goes(scene, part, f"{{mother.trail.progress}} - {behind}")]
        gait = next(one for one in scene.gaits.values() if one.part == part)
        for key in SHARED:
            text = FormulaSettings(step_channel(gait.id, key), f"{{mother.walk.{key}}}")
            edits.append(AddStep(part, f"{key} as hers", text))
        scene = applied(scene, edits)
    return scene


def _goes(scene: Scene, part: str, progress: str) -> Iterator[AnyEdit]:
    """Along the shore, as far as a formula says."""
    points = tuple(PathPoint(point=point) for point in SHORE)
    trail = f"t{len(scene.steps) + 1}"
    path = PathSettings(points, axis=(0.0, 0.0, 1.0))
    yield AddStep(part, "trail", path, id=trail)
    yield AddStep(part, "goes", FormulaSettings(step_channel(trail, "progress"), progress))


def _duck(scene: Scene, name: str, size: float) -> Scene:
    """A duck of a size, standing, with its gait."""
    scene = applied(scene, list(_parts(name, size)))
    ids = scene.part_ids
    feet = tuple((ids[f"{name} {side} foot"], 0.5 * n) for n, (side, _) in enumerate(SIDES))
    walk = "walk" if size == 1.0 else f"walk of {name}"
    scene = applied(scene, [MakeGait(walk, ids[name], feet, hips=ids[f"{name} body"])])
    gait = next(one for one in scene.gaits.values() if one.name == walk)
    numbers = {"size": size} if size != 1.0 else STYLE
    edits: list[AnyEdit] = [
        SetValue(ids[name], step_channel(gait.id, key), value) for key, value in numbers.items()
    ]
    edits += [PutProbe(f"{name} {side} sole", ids[f"{name} {side} foot"]) for side, _ in SIDES]
    return applied(scene, edits)


def _parts(name: str, size: float) -> Iterator[AddPart]:
    """Body, neck, head and bill, tail, and two feet under them."""
    feathers = BROWN if size == 1.0 else DOWN

    def at(x: float, y: float, z: float) -> Vector:
        return round(size * x, 6), round(size * y, 6), round(size * z, 6)

    def part(
        what: str,
        above: str,
        rest: Vector,
        kind: str,
        box: Vector,
        colour: str,
        side: Side = "centre",
    ) -> AddPart:
        shape = Shape(kind, at(*box), colour=colour)  # type: ignore[arg-type]
        below = parts[above]
        parts[what] = f"{name} {what}".replace(" ", "").replace("duckling", "d")
        rested = Rest(at(*rest))
        return AddPart(
            f"{name} {what}", below, "control", side, rested, shape=shape, id=parts[what]
        )

    parts = {"root": name.replace(" ", "").replace("duckling", "d")}
    ring = Shape("ring", at(0.5, 0.5, 0.0), colour="#5E7A6B")
    yield AddPart(name, None, "control", rest=Rest(), shape=ring, id=parts["root"])
    yield part("body", "root", (0.0, 0.28, 0.0), "ball", (0.24, 0.22, 0.42), feathers)
    yield part("tail", "body", (0.0, 0.06, -0.22), "box", (0.12, 0.03, 0.12), feathers)
    yield part("head", "body", (0.0, 0.15, 0.19), "ball", (0.14, 0.14, 0.16), feathers)
    yield part("bill", "head", (0.0, -0.02, 0.11), "box", (0.07, 0.025, 0.1), BILL)
    for side, sign in SIDES:
        box, place = (0.09, 0.02, 0.14), (sign * 0.07, 0.01, 0.0)
        yield part(f"{side} foot", "root", place, "foot", box, BILL, side)
