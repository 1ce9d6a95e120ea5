"""Walking by rule: feet that stand where they stand, on any path, at any speed, on any ground."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from scipy.integrate import quad

from bindu.core.account.gaits import gait_cost
from bindu.core.account.wiring import wiring_of
from bindu.core.checks.check import Finding
from bindu.core.checks.registry import findings, offers_of
from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.gaits import PutGait, RemoveGait
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_gait import MakeGait, roll_of
from bindu.core.edits.parts import AddPart, RemoveParts
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.edits.write_gait import WriteOutGait
from bindu.core.evaluation import Evaluation, answering, evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings
from bindu.core.scene.things import GaitFoot
from bindu.core.steps.bound.walk import gait_read
from tests.demos import demo
from tests.evaluated import Evaluated

LAST = 120
Way = Callable[[float], tuple[float, float, float]]
"""Where the root is at a frame: x, z, and where it looks in degrees from z toward x."""


def straight(frame: float) -> tuple[float, float, float]:
    return 0.3, 0.05 * frame, 0.0


def circle(frame: float) -> tuple[float, float, float]:
    angle = 0.03 * frame
    return 2.0 * (1 - np.cos(angle)), 2.0 * np.sin(angle), float(np.degrees(angle))


def bend(frame: float) -> tuple[float, float, float]:
    s, c = np.sin(0.05 * frame), 0.05 * np.cos(0.05 * frame)
    return float(s), 0.06 * frame, float(np.degrees(np.arctan2(c, 0.06)))


def uneven(frame: float) -> tuple[float, float, float]:
    return 0.0, 0.04 * frame + 0.5 * float(np.sin(frame / 14.0)), 0.0


def stop_and_go(frame: float) -> tuple[float, float, float]:
    return 0.0, 0.06 * float(np.clip(frame, 15, 47) + np.clip(frame, 80, 110) - 95), 0.0


def backwards(frame: float) -> tuple[float, float, float]:
    return 0.0, -0.05 * frame, 0.0


def slantwise(frame: float) -> tuple[float, float, float]:
    return 0.03 * frame, 0.04 * frame, 10.0


WAYS: dict[str, Way] = {
    way.__name__: way for way in (straight, circle, bend, uneven, stop_and_go, backwards, slantwise)
}


def walker(way: Way, *edits: AnyEdit, ground: bool = False, feet: int = 2) -> Scene:
    """A root that goes a way, and feet on both its sides, all below nothing."""
    frames = range(LAST + 1)
    placed = np.array([way(f) for f in frames])
    parts: list[AnyEdit] = [
        ChangeScene(first=0, last=LAST),
        AddPart("deck", id="deck"),
        AddPart("root", "deck" if ground else None, id="root"),
    ]
    channels = ("translation.x", "translation.z", "rotation.y")
    for n, channel in enumerate(channels):
        keys = tuple(Key(float(f), float(placed[f, n]), "linear") for f in frames)
        parts.append(PutKeys("root", channel, keys))
    walking = []
    for n in range(feet):
        side = 0.1 if n % 2 == 0 else -0.1
        parts.append(AddPart(f"foot {n}", id=f"f{n}"))
        ahead = 0.4 * (n // 2)
        phase = (0.5 * (n % 2) + 0.25 * (n // 2)) % 1.0
        walking.append(GaitFoot(f"f{n}", phase, (side, 0.05, ahead)))
    gait = PutGait("walk", "root", tuple(walking), "deck" if ground else None, width=0.2, id="w1")
    return applied(Scene(), [*parts, gait, *edits])


def solved(evaluation: Evaluation) -> np.ndarray:
    """What the gait solves, shape (F, feet + 1, 8)."""
    return evaluation.read(gait_read(evaluation.scene.gaits["w1"]))


def stands(evaluation: Evaluation, foot: int) -> np.ndarray:
    """The frames on which a foot stands."""
    return solved(evaluation)[:, foot, 7] == 0.0


def slide(evaluation: Evaluation, foot: int, ground: str | None = None) -> float:
    """How far a foot moves at most from frame to frame while it stands, in the ground's axes."""
    world = evaluation.world(f"f{foot}")
    points, turns = world[:, :, 3], world[:, :, :3]
    if ground is not None:
        under = np.broadcast_to(evaluation.world(ground), (LAST + 1, 3, 4))
        back = np.linalg.inv(under[:, :, :3])
        points = np.einsum("fij,fj->fi", back, points - under[:, :, 3])
        turns = back @ turns
    on = stands(evaluation, foot)
    # Between two frames that are most of a step apart it may have swung unseen.
    both = on[1:] & on[:-1] & (np.abs(np.diff(solved(evaluation)[:, -1, 0])) < 0.2)
    moved = np.linalg.norm(np.diff(points, axis=0), axis=1)
    turned = np.abs(np.diff(turns, axis=0)).max(axis=(1, 2))
    return float(max(moved[both].max(), turned[both].max()))


@pytest.mark.parametrize("name", WAYS)
@pytest.mark.parametrize("size", [0.2, 1.0, 5.0])
def test_no_foot_slides_and_each_lands_and_lifts_without_a_jerk(name: str, size: float) -> None:
    less = min(size, 1.0)

    def way(frame: float) -> tuple[float, float, float]:
        x, z, turn = WAYS[name](frame)
        return less * x, less * z, turn

    scene = walker(way, SetValue("root", "w1.size", size), feet=4)
    evaluation = evaluate(scene)
    for foot in range(4):
        on, world = stands(evaluation, foot), evaluation.world(f"f{foot}")
        assert on.any() and slide(evaluation, foot) <= 1e-9
        np.testing.assert_allclose(world[on, 1, 3], 0.05 * size, atol=1e-12)
        assert world[:, 1, 3].min() >= 0.05 * size - 1e-12
    if name != "stop_and_go":
        lifted = max(evaluation.world(f"f{n}")[:, 1, 3].max() for n in range(4))
        assert 0.05 * size < lifted <= (0.05 + 0.08) * size + 1e-12


@pytest.mark.parametrize("name", ["straight", "circle", "bend", "uneven"])
def test_the_phase_is_the_way_over_the_stride(name: str) -> None:
    way = WAYS[name]
    evaluation = evaluate(walker(way))
    phase = solved(evaluation)[:, -1, 0]

    def speed(frame: float) -> float:
        h = 1e-5
        a, b = way(frame - h), way(frame + h)
        return float(np.hypot(b[0] - a[0], b[1] - a[1]) / (2 * h))

    for frame in (1, 17, 60, LAST):
        length = quad(speed, 0.0, float(frame), limit=400)[0]
        assert phase[frame] == pytest.approx(length / 1.0, abs=1e-6)
    if name == "straight":
        np.testing.assert_allclose(phase, 0.05 * np.arange(LAST + 1), atol=1e-12)


def test_prints_lie_on_the_path_ahead_and_behind_by_half_a_stance() -> None:
    """Straight ahead at 0.05 a frame: a foot that lands at phase k stands where the root is at the
    middle of its stance, at 0.1 to its side."""
    evaluation = evaluate(walker(straight))
    for foot, (side, late) in enumerate(((0.1, 0.0), (-0.1, 0.5))):
        at, on = evaluation.world(f"f{foot}")[:, :, 3], stands(evaluation, foot)
        phase = 0.05 * np.arange(LAST + 1)
        cycle = np.floor(phase - late + 1e-12)
        np.testing.assert_allclose(at[on, 2], cycle[on] + late + 0.3, atol=1e-9)
        np.testing.assert_allclose(at[on, 0], 0.3 + side, atol=1e-12)


def test_on_a_circle_the_feet_keep_their_side_and_look_along_it() -> None:
    evaluation = evaluate(walker(circle, SetValue("root", "w1.turn out", 8.0)))
    for foot, side in ((0, 1.0), (1, -1.0)):
        at = evaluation.world(f"f{foot}")
        on = stands(evaluation, foot)
        from_centre = at[on, :, 3] - np.array([2.0, 0.05, 0.0])
        # The path turns to +x: its centre is on that side.
        radius = np.linalg.norm(from_centre, axis=1)
        inside = radius[20:-20]
        np.testing.assert_allclose(inside, 2.0 - 0.1 * side, atol=1e-3)
        heading = np.degrees(np.arctan2(at[on, 0, 2], at[on, 2, 2]))
        around = np.degrees(np.arctan2(from_centre[:, 2], -from_centre[:, 0]))
        off = (heading - around - 8.0 * side + 180.0) % 360.0 - 180.0
        assert np.abs(off[20:-20]).max() < 0.1


def test_it_walks_on_a_tilted_ground_that_moves() -> None:
    moving = [
        PutKeys("deck", "translation.y", (Key(0.0, 0.0), Key(60.0, 1.0), Key(120.0, -0.5))),
        PutKeys("deck", "rotation.x", (Key(0.0, 10.0), Key(120.0, -20.0))),
        PutKeys("deck", "rotation.z", (Key(0.0, 5.0), Key(120.0, 25.0))),
    ]
    evaluation = evaluate(walker(bend, *moving, ground=True))
    for foot in (0, 1):
        assert slide(evaluation, foot, "deck") <= 1e-9
        under = evaluation.world("deck")
        back = np.linalg.inv(under[:, :, :3])
        inside = np.einsum(
            "fij,fj->fi", back, evaluation.world(f"f{foot}")[:, :, 3] - under[:, :, 3]
        )
        np.testing.assert_allclose(inside[stands(evaluation, foot), 1], 0.05, atol=1e-9)
    still = evaluate(walker(bend, ground=True))
    np.testing.assert_allclose(solved(still)[:, -1, 0], solved(evaluation)[:, -1, 0], atol=1e-9)


def test_a_foot_in_the_air_comes_down_where_the_root_stands_and_goes_on() -> None:
    scene = walker(stop_and_go, feet=4)
    evaluation = evaluate(scene)
    heights = np.stack([evaluation.world(f"f{n}")[:, 1, 3] for n in range(4)], axis=1) - 0.05
    np.testing.assert_allclose(
        heights[[*range(0, 15), *range(48, 79), *range(111, 121)]], 0.0, atol=1e-12
    )
    assert heights[20:46].max() > 0.07 and heights[85:108].max() > 0.07
    for n in range(4):
        at = evaluation.world(f"f{n}")[:, :, 3]
        flat = np.linalg.norm(np.diff(at[:, [0, 2]], axis=0), axis=1)
        assert flat[48:79].max() < 1e-9


def test_a_foot_has_a_phase_of_its_own_and_lies_flat_where_its_root_rests_in_mid_swing() -> None:
    """It is the root's less its own, but where a swing ends early; the roll that is made of it is
    nothing then while the root stands."""
    steady = evaluate(walker(straight, feet=4))
    for foot in range(4):
        own = evaluate_phase(steady.scene, f"foot {foot}")
        of_root = evaluate_phase(steady.scene, "root")
        wanted = of_root - steady.scene.gaits["w1"].feet[foot].phase
        np.testing.assert_allclose(own, wanted, atol=1e-9)
    scene = walker(stop_and_go, feet=4)
    numbers = {"stance": "0.6", "toe roll": "35", "heel roll": "20"}
    rests = np.array([*range(0, 15), *range(48, 79), *range(111, 121)])
    swung = 0
    for foot in range(4):
        share = f"(phase({{foot {foot}}}) % 1)"
        roll = evaluate_formula(scene, roll_of(share, numbers.__getitem__))
        phase = evaluate_phase(scene, "root") - scene.gaits["w1"].feet[foot].phase
        shares = phase[rests] % 1.0
        caught = (shares > 0.62) & (shares < 0.98)
        np.testing.assert_allclose(roll[rests][caught], 0.0, atol=1e-9)
        swung += int(caught.sum())
        assert roll.max() > 30.0 and roll.min() < -15.0
    assert swung > 20


def evaluate_formula(scene: Scene, text: str) -> np.ndarray:
    """What a formula gives on every frame."""
    settings = FormulaSettings("translation.y", text, "set")
    made = applied(scene, [AddPart("told", id="told"), AddStep("told", "tell", settings)])
    values = evaluate(made).channel(ChannelRef("told", "translation.y"), "final")
    return np.broadcast_to(values, LAST + 1)


def evaluate_phase(scene: Scene, part: str) -> np.ndarray:
    """A part's phase."""
    return evaluate_formula(scene, f"phase({{{part}}})")


def test_style_is_keyed_muted_weighed_and_read_by_formulas() -> None:
    scene = walker(straight)
    longer = PutKeys("root", "w1.step length", (Key(0.0, 0.3), Key(120.0, 0.9)))
    evaluation = evaluate(applied(scene, [longer]))
    assert max(slide(evaluation, n) for n in (0, 1)) <= 1e-9
    step = scene.members_of["w1"]["f0"]
    for edit in (ChangeStep(step.id, on=False), SetValue("f0", f"{step.id}.weight", 0.0),
                 SetValue("root", "w1.weight", 0.0)):  # fmt: skip
        still = evaluate(applied(scene, [edit])).world("f0")
        assert np.abs(still[:, :, 3]).max() < 1e-12
    reads = FormulaSettings("translation.y", "cos(720 * phase({root})) * {root.walk.hip rise}")
    hips = applied(scene, [AddPart("hips", "root", id="hips"), AddStep("hips", "bobs", reads)])
    bob = evaluate(hips).channel(ChannelRef("hips", "translation.y"), "final")
    np.testing.assert_allclose(
        bob, 0.02 * np.cos(4 * np.pi * 0.05 * np.arange(LAST + 1)), atol=1e-12
    )
    gone = applied(hips, [RemoveGait("w1")])
    assert not gone.gaits and not gone.members_of and not gone.steps
    assert not applied(hips, [RemoveParts(("root",))]).gaits
    one = applied(scene, [RemoveParts(("f0",))])
    assert one.gaits["w1"].members == ("f1",)


def test_the_wiring_shows_on_whose_way_a_foot_walks() -> None:
    wires = wiring_of(evaluate(walker(straight, ground=True)).graph).wires
    told = {wire.text for wire in wires if wire.target.startswith("f0/")}
    assert "“walk” (bound) of foot 0 reads root world matrix at final" in told
    assert "“walk” (bound) of foot 0 reads deck world matrix at final" in told


@pytest.mark.parametrize("text", ["world_y({foot 0})", "cos(720 * phase({root}))"])
def test_a_root_that_goes_by_its_own_gait_is_a_loop_that_its_remedies_open(text: str) -> None:
    scene = walker(straight, AddStep("root", "bobs", FormulaSettings("translation.y", text)))
    evaluation = evaluate(scene)
    (one, *_) = findings(evaluation, only={"loop"})
    assert "gait walk" in one.text and np.isfinite(evaluation.world("f0")).all()
    offers = offers_of(evaluation, one)
    assert offers
    for offer in offers:
        left = findings(evaluate(applied(scene, offer.edits)), only={"loop"})
        assert not left or "other ways round stay" in offer.cost + offer.text


def test_strange_roots_give_numbers() -> None:
    def twists(frame: float) -> tuple[float, float, float]:
        return 0.0, 0.0, 10.0 * frame

    def jumps(frame: float) -> tuple[float, float, float]:
        return 0.0, 50.0 * (frame > 60), 0.0

    def to_and_fro(frame: float) -> tuple[float, float, float]:
        return 0.0, float(np.sin(frame / 9.0)), 0.0

    for way in (twists, jumps, to_and_fro, lambda frame: (0.0, 0.0, 0.0)):
        evaluation = evaluate(walker(way))
        assert np.isfinite(solved(evaluation)).all()
        for foot in (0, 1):
            at = evaluation.world(f"f{foot}")[:, :, 3]
            on = stands(evaluation, foot)
            moved = np.linalg.norm(np.diff(at, axis=0), axis=1)[on[1:] & on[:-1]]
            # To and fro a foot may stand on another print when it comes back; it never slides.
            assert not len(moved) or np.all((moved <= 1e-9) | (moved > 0.2))
    short = applied(walker(straight), [ChangeScene(first=5, last=5)])
    assert np.isfinite(solved(evaluate(short))).all()
    tiny = evaluate(walker(straight, SetValue("root", "w1.step length", 0.0)))
    assert np.isfinite(tiny.world("f0")).all()


def test_roots_that_feet_cannot_follow_are_found() -> None:
    def told(way: Way) -> dict[str, object]:
        return {one.key: one for one in findings(evaluate(walker(way)), only={"gait"})}

    def twists(frame: float) -> tuple[float, float, float]:
        return 0.0, 0.05 * min(frame, 40.0), 3.0 * float(np.clip(frame - 60, 0, 30))

    def leaps(frame: float) -> tuple[float, float, float]:
        return 0.0, 0.05 * frame + 3.0 * (frame > 60), 0.0

    for way in WAYS.values():
        assert not told(way)
    (turned,) = told(twists).values()
    assert isinstance(turned, Finding)
    assert turned.amount == pytest.approx(90.0, abs=1e-6) and turned.spans == ((71, 120),)
    (leapt,) = told(leaps).values()
    assert isinstance(leapt, Finding)
    assert leapt.frame == 61 and leapt.amount == pytest.approx(3.05, rel=0.01)


@pytest.mark.parametrize("forward", [(0, 0, 1), (0, 0, -1), (1, 0, 0), (-1, 0, 0)])
@pytest.mark.parametrize("number", ["hip turn", "lean"])
def test_a_head_looks_ahead_whatever_the_hips_do(
    forward: tuple[float, float, float], number: str
) -> None:
    scene = applied(
        walker(straight),
        [
            RemoveGait("w1"),
            AddPart("hips", "root", rest=Rest((0.0, 1.0, 0.0)), id="hips"),
            AddPart("neck", "hips", rest=Rest((0.0, 0.3, 0.1)), id="neck"),
            AddPart("head", "neck", rest=Rest((0.0, 0.2, 0.1)), id="head"),
        ],
    )
    feet = (("f0", 0.0), ("f1", 0.5))
    made = MakeGait("walk", "root", feet, "hips", forward=forward, id="w2", head="head")
    numbers = [
        SetValue("root", f"w2.{key}", 20.0 * (key == number)) for key in ("hip turn", "lean")
    ]
    walking = evaluate(applied(scene, [made, *numbers]))
    root, hips, head = (walking.world(part)[:, :, :3] for part in ("root", "hips", "head"))
    assert np.abs(hips - root).max() > 0.3
    np.testing.assert_allclose(head - root, np.zeros_like(head), atol=1e-12)
    assert {step.name for step in walking.scene.steps_of["head"]} == {"looks ahead", "stays level"}
    none = applied(scene, [MakeGait("walk", "root", feet, forward=forward, head="head")])
    assert not none.steps_of.get("head")


def test_a_gait_that_cannot_be_is_refused() -> None:
    scene = walker(straight)
    feet = scene.gaits["w1"].feet
    under = applied(scene, [AddPart("toe", "f0", id="toe"), AddPart("shed", "root", id="shed")])
    refused: list[tuple[AnyEdit, str]] = [
        (PutGait("walk", "deck", feet), "this name already"),
        (PutGait("trot", "root", feet), "has a gait already"),
        (PutGait("trot", "deck", ()), "choose 1 to"),
        (PutGait("trot", "deck", (feet[0], feet[0])), "two feet"),
        (PutGait("trot", "deck", (GaitFoot("nobody"),)), "no part"),
        (PutGait("trot", "deck", (GaitFoot("f0", 1.0),)), "share of the cycle"),
        (PutGait("trot", "toe", (GaitFoot("f0"),)), "carries the root"),
        (PutGait("walk", "root", feet, "shed", id="w1"), "hangs on the root"),
        (PutGait("walk", "root", feet, forward=(0.0, 0.0, 0.0), id="w1"), "no direction"),
        (RemoveGait("w9"), "no gait"),
        (MakeGait("trot", "deck", (("f0", 0.0),), ground="nobody"), "no part"),
        (MakeGait("trot", "deck", (("nobody", 0.0),)), "no part"),
        (MakeGait("trot", "deck", (("f0", 0.0),), hips="nobody"), "no part"),
        (MakeGait("trot", "deck", (("f0", 0.0),), hips="deck"), "is the root"),
        (MakeGait("trot", "deck", (("f0", 0.0),), head="deck"), "is the root"),
        (MakeGait("trot", "deck", (("f0", 0.0),), "shed", head="shed"), "moves as the hips"),
        (MakeGait("trot", "deck", ()), "choose 1 to"),
        (MakeGait("trot", "deck", (("f0", float("nan")),)), "must be a number"),
        (MakeGait("trot", "deck", (("f0", 0.0),), frame=999), "no whole frame"),
    ]
    for edit, why in refused:
        with pytest.raises(Refusal, match=why):
            applied(under, [edit])


def test_written_out_gaits_are_keys_and_nothing_moves() -> None:
    before = evaluate(demo("the-water-beetles"))
    gaits = list(before.scene.gaits.values())
    with answering(Evaluated()):
        made = applied(before.scene, [WriteOutGait(gait.id) for gait in reversed(gaits)])
    after = evaluate(made)
    for part in made.parts:
        np.testing.assert_allclose(after.world(part), before.world(part), atol=1e-9)
    for gait in gaits:
        assert gait_cost(after, gait) == (0.0, 0.0)
        steps, formulas = gait_cost(before, gait)
        assert steps > 0.0 and formulas > 0.0
    with pytest.raises(Refusal, match="written out already"):
        applied(made, [WriteOutGait(gaits[0].id)])


def test_a_brood_follows_one_pace_and_one_gap_and_no_foot_slides() -> None:
    scene = demo("the-brood")
    pace, gap = (
        next(c.id for c in scene.channels.values() if c.name == name) for name in ("pace", "gap")
    )
    slower = applied(scene, [SetValue("mother", pace, 0.2), SetValue("mother", gap, 0.3)])
    for made in (scene, slower):
        assert not findings(evaluate(made))

    def behind(scene: Scene) -> Array:
        found = evaluate(scene)
        ways = [found.world(part)[:, :, 3] for part in ("mother", "d1", "d2", "d3", "d4")]
        return np.linalg.norm(np.diff(ways, axis=0), axis=2).mean(axis=1)

    assert np.all(behind(slower) < behind(scene))
    way = [np.ptp(evaluate(one).world("d4")[:, 0, 3]) for one in (scene, slower)]
    assert way[1] < 0.8 * way[0]
