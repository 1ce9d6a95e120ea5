"""Wiring by name: which parts a rule fits, what they get, and what is refused."""

from __future__ import annotations

import re

import pytest

from bindu.core.edits import applied
from bindu.core.edits.parts import RenamePart
from bindu.core.edits.rules import ApplyRules, NameRule, matches
from bindu.core.evaluation import evaluate
from bindu.core.formula.references import to_names
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.names import parts_by_name
from tests.demos import demo

FAN = NameRule("open", "* feather [1-6]", "rotation.y", "{body.spread} * <2> * 8", "set")
HERON = demo("heron-at-the-shallows")


def test_twelve_feathers_fan_by_their_numbers() -> None:
    found = list(matches(HERON, [FAN]))
    assert len(found) == 12
    assert not any(match.problem for match in found)
    scene = applied(HERON, [ApplyRules((FAN,))])
    feather = parts_by_name(scene)["right feather 4"]
    step = next(s for s in scene.steps_of[feather] if s.name == "open")
    assert to_names(scene, step.settings.text) == "{body.spread} * 4 * 8"  # type: ignore[union-attr]
    fanned = evaluate(scene).channel(ChannelRef(feather, "rotation.y"), "driven")
    assert fanned[0] == 0.0
    assert fanned[114] == 32.0
    assert applied(scene, [ApplyRules((FAN,))]).steps == scene.steps


def test_a_renamed_part_is_wired_when_the_rules_run_again() -> None:
    feather = parts_by_name(HERON)["left feather 6"]
    scene = applied(HERON, [RenamePart(feather, "left plume"), ApplyRules((FAN,))])
    assert not any(s.name == "open" for s in scene.steps_of.get(feather, ()))
    again = applied(scene, [RenamePart(feather, "left feather 6"), ApplyRules((FAN,))])
    assert any(s.name == "open" for s in again.steps_of[feather])


def test_what_a_formula_cannot_read_is_told_for_each_part_and_nothing_is_wired() -> None:
    odd = NameRule("odd", "[left,right] w*", "rotation.x", "{<1> claw.rotation.x}")
    found = list(matches(HERON, [odd]))
    assert [match.text for match in found] == ["{left claw.rotation.x}", "{right claw.rotation.x}"]
    assert all("there is no part" in (match.problem or "") for match in found)
    with pytest.raises(Refusal, match="there is no part 'left claw'"):
        applied(HERON, [ApplyRules((odd,))])


@pytest.mark.parametrize(
    ("rules", "says"),
    [
        ((), "give 1 to 200 rules"),
        ((FAN, FAN), "two rules have this name"),
        ((NameRule("x", "", "rotation.x", "0"),), "give a pattern"),
        ((NameRule("x", "a [6-1]", "rotation.x", "0"),), "[6-1] goes down"),
        ((NameRule("x", "a []", "rotation.x", "0"),), "[] holds nothing"),
        ((NameRule("x", "nothing like it", "rotation.x", "0"),), "no part has a name that fits"),
        ((NameRule("x", "body", "rotation.w", "0"),), "x · body: it has no channel 'rotation.w'"),
    ],
)
def test_rules_that_make_no_sense_are_refused(rules: tuple[NameRule, ...], says: str) -> None:
    with pytest.raises(Refusal, match=re.escape(says)):
        applied(HERON, [ApplyRules(rules)])
