"""Formulas copied by rules, changed together, and numbers lifted out of them."""

from __future__ import annotations

import re

import pytest

from bindu.core.drivers.copying import alike
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.formulas import ChangeAlike, ChangeNumber, CopyFormula, LiftNumber
from bindu.core.edits.parts import AddPart
from bindu.core.edits.sets import PutSet
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.formula.numbers import numbers_in, shape_of, with_number
from bindu.core.formula.references import to_names
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FormulaSettings

FAN = "2 * {body.rotation.x} - 1.5 * {left feather 1.rotation.x} + {left feather 2.rotation.z}"


def wings(*more: AnyEdit) -> Scene:
    """Two wings of four feathers, the first of which follows the body and its neighbour."""
    feathers = [
        AddPart(f"{side} feather {n}", "p1", side=side, id=f"p{10 * s + n}")
        for s, side in enumerate(("left", "right"), 1)
        for n in range(1, 5)
    ]
    fan = AddStep("p11", "fan", FormulaSettings("rotation.y", FAN), id="s1")
    left = PutSet("left wing", parts=("p11", "p12", "p13", "p14"))
    return applied(Scene(), [AddPart("body", id="p1"), *feathers, left, fan, *more])


def text_of(scene: Scene, part: str) -> str:
    """The formula of a part, by names."""
    (step,) = scene.steps_of[part]
    return to_names(scene, step.settings.text)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("rule", "part", "body", "own", "other"),
    [
        ("stay", "p23", "body", "left feather 1", "left feather 2"),
        ("own part", "p23", "body", "right feather 3", "left feather 2"),
        ("opposite", "p21", "body", "right feather 1", "right feather 2"),
        ("by name", "p21", "body", "right feather 1", "right feather 2"),
        ("next in set", "p13", "body", "left feather 3", "left feather 4"),
    ],
)
def test_references_follow_by_rule(rule: str, part: str, body: str, own: str, other: str) -> None:
    scene = wings(CopyFormula("s1", (part,), rule))  # type: ignore[arg-type]
    expected = FAN.replace("body", body).replace("left feather 2", "@")
    expected = expected.replace("left feather 1", own).replace("@", other)
    assert text_of(scene, part) == expected
    evaluate(scene)


def test_a_copy_beyond_the_set_or_onto_no_channel_names_the_part() -> None:
    with pytest.raises(Refusal, match="left feather 4 .*would follow beyond the end of left wing"):
        wings(CopyFormula("s1", ("p14",), "next in set"))
    own = AddStep("p11", "own", FormulaSettings("s1.weight", "0.5"), id="s2")
    with pytest.raises(Refusal, match=re.escape("right feather 1: it has no channel")):
        wings(own, CopyFormula("s2", ("p21",)))


def test_one_number_and_the_text_change_for_all_that_are_alike() -> None:
    parts = ("p12", "p21", "p22")
    scene = wings(CopyFormula("s1", parts, "own part"))
    assert {step.part for step in alike(scene, scene.steps["s1"])} == {"p11", *parts}
    halved = applied(scene, [ChangeNumber("s1", 1, -0.75, alike=True)])
    assert "- (-0.75) * {right feather 2.rotation.x}" in text_of(halved, "p22")
    assert [n.value for n in numbers_in(text_of(halved, "p11"))] == [2.0, 0.75]
    alone = applied(scene, [ChangeNumber("s1", 0, 9.0)])
    assert text_of(alone, "p22") == text_of(scene, "p22")
    new = applied(scene, [ChangeAlike("s1", "sin({left feather 1.rotation.z} * 3)")])
    assert text_of(new, "p22") == "sin({right feather 2.rotation.z} * 3)"
    again = applied(scene, [CopyFormula("s1", parts, "own part")])
    assert again.steps == scene.steps


def test_a_number_is_lifted_into_a_channel_and_nothing_moves() -> None:
    scene = wings()
    lifted = applied(scene, [LiftNumber("s1", 1, "p1", "bend")])
    assert text_of(lifted, "p11") == FAN.replace("1.5", "{body.bend}")
    ref = ChannelRef("p11", "rotation.y")
    before, after = evaluate(scene).channel(ref, "final"), evaluate(lifted).channel(ref, "final")
    assert before.tobytes() == after.tobytes()
    copied = applied(scene, [CopyFormula("s1", ("p12", "p13"), "by name")])
    many = applied(copied, [LiftNumber("s1", 1, "p1", "bend", alike=True)])
    assert sum("{body.bend}" in text_of(many, step.part) for step in many.steps.values()) > 1
    with pytest.raises(Refusal, match="the formula has fewer numbers"):
        applied(scene, [LiftNumber("s1", 7, "p1", "bend")])


def test_numbers_are_those_of_the_text_outside_names() -> None:
    text = "atan2(.5, 2e-3) + {part 3.channel 4} * log10(7)"
    assert [n.value for n in numbers_in(text)] == [0.5, 0.002, 7.0]
    assert with_number(text, 2, "8.25").endswith("log10(8.25)")
    assert shape_of("2 * {a.b} + 1") == shape_of("(0.5)*{c.d@keyed}+.1".replace("(0.5)", "0.5"))
    assert shape_of("2 * {a.b}") != shape_of("2 + {a.b}")
