"""Wiring by name: rules that give every part whose name fits a formula."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, check_name
from bindu.core.scene.parts import Part, Step
from bindu.core.scene.settings import FormulaMode, FormulaSettings

MOST_RULES = 200
LONGEST_PATTERN = 10_000
"""Enough for a receiving program's list of some hundred names."""
PLACE = re.compile(r"<(\d{1,2})>")


@dataclass(frozen=True)
class NameRule:
    """Which parts get which formula.

    In ``pattern``, ``*`` stands for any letters, ``?`` for one, ``[1-6]`` for a number of a range
    and ``[a,b]`` for one of some words. What the first of them stands for is written ``<1>`` in
    ``formula``, the second ``<2>``; the whole name is ``<0>``.
    """

    name: str
    pattern: str
    channel: str
    formula: str
    mode: FormulaMode = "add"


@dataclass(frozen=True)
class RuleMatch:
    """A part that a rule fits: the formula that it would get, or why it cannot."""

    part: str
    rule: str
    text: str
    problem: str | None = None


@dataclass(frozen=True)
class ApplyRules:
    """Wires all parts by rules; a step of the rule's name there gets the formula instead."""

    rules: tuple[NameRule, ...]
    do: Literal["apply rules"] = "apply rules"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"wire {counted(len(list(matches(scene, self.rules))), 'part')} by name"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        found = list(matches(scene, self.rules))
        if not found:
            raise Refusal("no part has a name that fits.", place="rules")
        kinds = {rule.name: rule for rule in self.rules}
        for match in found:
            scene = _wired(scene, kinds[match.rule], match)
        return scene


def matches(scene: Scene, rules: Iterable[NameRule]) -> Iterator[RuleMatch]:
    """What rules would wire, by the order of the tree.

    Raises:
        Refusal: when a rule's name or pattern is none, or two rules have one name.
    """
    read = [(rule, _pattern(rule)) for rule in _checked(rules)]
    for part_id in scene.tree_order:
        for rule, pattern in read:
            found = pattern.fullmatch(scene.parts[part_id].name)
            if found:
                yield _match(scene, scene.parts[part_id], rule, found)


def _checked(rules: Iterable[NameRule]) -> list[NameRule]:
    listed = list(rules)
    if not 1 <= len(listed) <= MOST_RULES:
        raise Refusal(f"give 1 to {MOST_RULES} rules.", place="rules")
    names = [check_name(rule.name, "name of the rule") for rule in listed]
    for name in names:
        if names.count(name) > 1:
            raise Refusal("two rules have this name.", place=name)
    known: dict[NameRule, str] = {}
    for rule in listed:
        same = known.setdefault(replace(rule, name=""), rule.name)
        if same != rule.name:
            text = f"it is the same as “{same}” and would wire all twice; change or delete it."
            raise Refusal(text, code="taken", place=rule.name)
    return listed


def _pattern(rule: NameRule) -> re.Pattern[str]:
    """The rule's pattern as an expression: every star, mark and bracket is one group."""
    if not rule.pattern or len(rule.pattern) > LONGEST_PATTERN:
        text = f"give a pattern of 1 to {LONGEST_PATTERN:,} characters."
        raise Refusal(text, code="text", place=rule.name)
    parts = []
    for piece in re.split(r"(\*|\?|\[[^\]]*\])", rule.pattern):
        if piece == "*":
            parts.append("(.*?)")
        elif piece == "?":
            parts.append("(.)")
        elif piece.startswith("["):
            parts.append(_choice(rule, piece[1:-1]))
        else:
            parts.append(re.escape(piece))
    return re.compile("".join(parts))


def _choice(rule: NameRule, inside: str) -> str:
    numbers = re.fullmatch(r"\s*(\d{1,4})\s*-\s*(\d{1,4})\s*", inside)
    if numbers:
        low, high = int(numbers[1]), int(numbers[2])
        if low > high:
            raise Refusal(f"[{inside}] goes down.", code="number", place=f"{rule.name} · pattern")
        return "(" + "|".join(str(n) for n in range(high, low - 1, -1)) + ")"
    words = [word.strip() for word in inside.split(",") if word.strip()]
    if not words:
        raise Refusal(f"[{inside}] holds nothing.", code="choice", place=f"{rule.name} · pattern")
    return "(" + "|".join(re.escape(word) for word in words) + ")"


def _match(scene: Scene, part: Part, rule: NameRule, found: re.Match[str]) -> RuleMatch:
    def filled(place: re.Match[str]) -> str:
        number = int(place[1])
        return found[number] if number <= len(found.groups()) else place[0]

    match = RuleMatch(part.id, rule.name, PLACE.sub(filled, rule.formula))
    try:
        _wired(scene, rule, match)
    except Refusal as refusal:
        return RuleMatch(part.id, rule.name, match.text, str(refusal))
    return match


def _wired(scene: Scene, rule: NameRule, match: RuleMatch) -> Scene:
    part = scene.parts[match.part]
    channel = channel_names(scene, part.id).get(rule.channel)
    if channel is None:
        raise Refusal(
            f"it has no channel {rule.channel!r}.",
            code="unknown",
            place=f"{rule.name} · {part.name}",
        )
    settings = FormulaSettings(channel, match.text, rule.mode)
    same = [s for s in scene.steps_of.get(part.id, ()) if s.name == rule.name]
    if same:
        return ChangeStep(_formula_step(same[0], rule).id, settings=settings).apply(scene)
    return AddStep(part.id, rule.name, settings).apply(scene)


def _formula_step(step: Step, rule: NameRule) -> Step:
    if not isinstance(step.settings, FormulaSettings):
        raise Refusal("a step of this name is no formula.", code="text", place=rule.name)
    return step
